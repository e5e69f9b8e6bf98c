// SVG markup for materials, pieces and sheets, in the two looks: finished, and toolpaths.

const escapes = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };
export const safe = (text) => String(text).replace(/[&<>"]/g, (character) => escapes[character]);

// `scale` is how many mm a screen pixel shows, so that hatching and grain keep their size on the screen.
export function defs(material, scale) {
  const hatch = 3.2 * scale;
  return `
    <pattern id="hatch" width="${hatch}" height="${hatch}" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="${hatch}" height="${hatch}" fill="#4d5f73" fill-opacity="0.1"/>
      <line x1="0" y1="0" x2="0" y2="${hatch}" stroke="#4d5f73" stroke-width="${1.5 * scale}"/>
    </pattern>
    <pattern id="gone" width="${3 * hatch}" height="${3 * hatch}" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="${3 * hatch}" height="${3 * hatch}" fill="#d9d0c1"/>
      <line x1="0" y1="0" x2="0" y2="${3 * hatch}" stroke="#a99a80" stroke-width="${scale}"/>
    </pattern>
    ${grain(material)}`;
}

function grain(material) {
  const face = material.face;
  if (material.grain === "wood") {
    return `<linearGradient id="face" gradientUnits="userSpaceOnUse" x1="0" x2="46" spreadMethod="reflect">
      <stop offset="0" stop-color="${face}"/><stop offset="0.22" stop-color="#e9d2a2"/>
      <stop offset="0.5" stop-color="${face}"/><stop offset="0.68" stop-color="#dfbf8a"/>
      <stop offset="0.82" stop-color="#e4c692"/><stop offset="1" stop-color="${face}"/></linearGradient>`;
  }
  if (material.grain === "fibre") {
    return `<pattern id="face" width="7" height="7" patternUnits="userSpaceOnUse">
      <rect width="7" height="7" fill="${face}"/>
      <path d="M1 1.2l1 .5M4.2 .8l-.6 .9M5.9 3.1l.7 .6M2.2 4.4l.9-.3M.8 6l.5.6M4.6 5.6l1 .2" stroke="#000" stroke-opacity="0.09" stroke-width="0.35" fill="none"/></pattern>`;
  }
  return `<linearGradient id="face" gradientUnits="userSpaceOnUse" x1="0" y1="0" x2="90" y2="120" spreadMethod="reflect">
    <stop offset="0" stop-color="${face}"/><stop offset="1" stop-color="${face}" stop-opacity="0.9"/></linearGradient>`;
}

export function pieceMarkup(drawing, material, look, at) {
  if (look === "bare") return "";
  if (look === "finished") {
    // The soft edge is a pale broad stroke: a blurred shadow would cost more than all else.
    return `<path class="face-shade" d="${drawing.outline}"/><path class="face" d="${drawing.outline}" fill="url(#face)" stroke="${material.edge}"/>
      ${picturesMarkup(drawing, material, at)}${engravedMarkup(drawing, `fill="${material.mark}"`, `class="look-score" stroke="${material.mark}"`)}
      <path class="look-score" d="${drawing.scored}" stroke="${material.mark}"/><path class="look-slit" d="${drawing.slits}" stroke="${material.edge}"/>${standingMarkup(drawing)}`;
  }
  return `<path class="tool-face" d="${drawing.outline}"/>
    ${picturesMarkup(drawing, material, at)}${engravedMarkup(drawing, 'class="tool-engrave"', 'class="tool-stroke"')}
    <path class="tool-score" d="${drawing.scored}"/>
    <path class="tool-cut" d="${drawing.outline}${drawing.slits}"/>`;
}

// What stands out from a piece: letters that are applied to it, and the dots of Braille.
function standingMarkup({ raised = [], beads = [] }) {
  const applied = raised.map(({ d, face, edge }) => `<path class="raised-shade" d="${d}" transform="translate(0.7 0.8)"/><path class="face" d="${d}" fill="${face}" stroke="${edge}"/>`);
  const [dots, glints] = beads;
  const standing = dots ? `<path class="raised-shade" d="${dots}" transform="translate(0.3 0.35)"/><path class="bead" d="${dots}"/><path class="glint" d="${glints}"/>` : "";
  return applied.join("") + standing;
}

let clips = 0; // clips go by names, which are the document's

// Pictures as they will be burnt, faintly where they are only guides; where one is gone, its empty frame.
export function picturesMarkup({ pictures = [] }, material, at = (address) => address) {
  return pictures
    .map(({ href, box: [x, y, width, height], matrix, d, faint }) => {
      if (!href) return `<path class="picture-gone" d="${d}"/>`;
      clips += 1;
      const image = `<image href="${safe(at(`${href}&${material.burns}`))}" x="${x}" y="${y}" width="${width}" height="${height}" preserveAspectRatio="none" transform="matrix(${matrix.join(" ")})"/>`;
      return `<clipPath id="clip-${clips}"><path d="${d}"/></clipPath><g clip-path="url(#clip-${clips})"${faint ? ' opacity="0.35"' : ""}>${image}</g>`;
    })
    .join("");
}

// A sheet's pieces bring the engraved area welded; a scene shows its own parts, which fill the same area.
// Open lines are followed as strokes.
function engravedMarkup(drawing, fill, stroke) {
  if (drawing.engraved !== undefined) return `<path d="${drawing.engraved}" ${fill}/>${drawing.strokes ? `<path d="${drawing.strokes}" ${stroke}/>` : ""}`;
  return drawing.parts
    .filter((part) => part.roles.includes("engraves") && part.kind !== "picture" && !part.data.hidden && !drawing.combined.includes(part.id))
    .flatMap((part) => [part.matrix, ...part.copies.map(([, matrix]) => matrix)].map((matrix) => `<path d="${part.d}" transform="matrix(${matrix.join(" ")})" ${part.open ? stroke : fill}/>`))
    .join("");
}

export function guideMarkup(drawing) {
  return drawing.guides ? `<path class="guide" d="${drawing.guides}"/>` : "";
}

// What an instance is known by, wherever it lies.
export const instanceKey = ({ piece, row, number }) => [piece, row, number].filter(Boolean).join(" ");

export const matrixOf = ({ matrix }) => `matrix(${matrix.join(" ")})`;
// The frame round an instance, which shows that it is chosen.
export const instanceBox = ({ bounds: [left, top, right, bottom] }) => ({ x: left - 1, y: top - 1, width: right - left + 2, height: bottom - top + 2 });

// Where one more would lie; a press asks for it.
export const ghostMarkup = ({ name, next }) =>
  `<g class="ghost" data-ghost="1" role="button" aria-label="One more ${safe(name)} fits here"><title>One more ${safe(name)} fits here</title><g transform="matrix(${next.matrix.join(" ")})"><path class="ghost-ground" d="${next.d}"/><path d="${next.d}"/></g></g>`;

// A sheet of stock with every instance on it. Where it is worked on it shows its margin, and what is locked.
export function sheetMarkup(sheet, look, interactive = false) {
  const { width, height, margin, material, gone, slots, marks, weeding } = sheet;
  const face = look !== "toolpaths" ? "url(#face)" : "#f4ead2";
  const inner =
    margin > 0 && interactive
      ? `<rect class="stock-margin" x="${margin}" y="${margin}" width="${Math.max(0, width - 2 * margin)}" height="${Math.max(0, height - 2 * margin)}"/>`
      : "";
  const instances = sheet.instances.map((instance) => {
    const key = instanceKey(instance);
    const [left, top, right] = instance.bounds;
    const { x, y, width: wide, height: high } = instanceBox(instance);
    const box = `<rect class="instance-box" x="${x}" y="${y}" width="${wide}" height="${high}"/>`;
    const pin = instance.locked && interactive ? `<circle class="instance-pin" cx="${(left + right) / 2}" cy="${top}" r="1.6"/>` : "";
    return `<g class="instance${instance.wrong ? " wrong" : ""}" data-instance="${key}" role="img" aria-label="${safe(instance.label)}">${box}
      <g transform="${matrixOf(instance)}">${pieceMarkup(sheet.pieces[instance.drawn], material, look)}</g>${pin}</g>`;
  });
  // The slots of a jig are only looked at and switched: no machine ever sees them.
  const holes = slots.map(({ number, d, off }) => `<g class="slot${off ? " off" : ""}" data-slot="${number}" role="img" aria-label="Slot ${number}${off ? ", off" : ""}"><path d="${d}"/></g>`);
  const crosses = marks.map(([x, y]) => `<path class="jig-mark" d="M${x - 4} ${y}h8M${x} ${y - 4}v8"/>`);
  const missing = gone.map((corners) => `<path class="stock-gone" d="M${corners.map((corner) => corner.join(" ")).join("L")}Z"/>`);
  return `<rect class="stock-edge" width="${width}" height="${height}" fill="${face}"/>${missing.join("")}${inner}${holes.join("")}${crosses.join("")}${instances.join("")}${weeding ? `<path class="tool-cut" d="${weeding}"/>` : ""}`;
}
