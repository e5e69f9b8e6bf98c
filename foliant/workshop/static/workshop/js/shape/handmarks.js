// What is drawn over the piece for the hand: what is chosen, its handles and holds, dimensions and guides, nodes, and
// what the pen and the measure have so far. Pure markup, like `marks.js`.

import { safe } from "../drawing.js";
import { said } from "../lengths.js";
import { apply, middle, pointOf, REFERENCES, union } from "./geometry.js";
import { dimension, shapes } from "./marks.js";

const FOLLOWING = ["surround", "tabs"];

export function handMarkup(station, scene) {
  const { project } = station;
  const { unit } = project;
  const { drag } = station.hand;
  const { scale } = station.view;
  const saved = project.scenes[station.piece] ?? scene;
  const chosen = new Set(station.chosen);
  // What is dragged follows the pointer at once; the rest of the piece follows when the server has answered.
  const parts = (drag?.kind === "move" ? saved : scene).parts.filter((part) => chosen.has(part.id));
  const out = [];
  if (station.tool === "pen") return out.join("") + penMarkup(station.pen, scale);
  if (station.tool === "measure") return out.join("") + measureMarkup(station.measure, unit, scale);
  if (station.opened === "align") out.push(anchorMarkup(scene, station.align.to));
  if (station.opened === "spread") out.push(anchorMarkup(scene, station.spread.within));
  if (drag?.kind === "marquee") {
    const [left, top, right, bottom] = drag.box;
    out.push(`<rect class="marquee ${station.marquee}" x="${left}" y="${top}" width="${right - left}" height="${bottom - top}"/>`);
  }
  if (!parts.length) return out.join("");
  const outlines = parts.map((part) => shapes(part, "chosen-shape")).join("");
  if (drag?.kind === "move") {
    out.push(`<g transform="translate(${drag.dx} ${drag.dy})">${outlines}</g>`);
    const [left, top, right, bottom] = drag.box;
    out.push(`<rect class="chosen-box" x="${left}" y="${top}" width="${right - left}" height="${bottom - top}"/>`);
    out.push(guides([...drag.gaps, ...drag.snap.guides], drag.box, unit, scale), snapMark(drag.snap, scale));
    return out.join("");
  }
  out.push(outlines);
  const outlineMarks = station.outlining && !drag && station.tool === "choose" ? station.outlining.marks(parts, scale) : "";
  if (station.tool === "nodes" && parts.length === 1) {
    out.push(nodes(parts[0], station.chosenNodes, scale), snapMark(drag?.snap, scale));
    return out.join("");
  }
  if (parts.some((part) => part.data.locked)) return out.join("");
  out.push(outlineMarks.faces ?? "");
  const box = union(parts.map((part) => part.bounds));
  if (drag?.kind === "size") {
    out.push(handles(drag.box, drag.map, scale), snapMark(drag.snap, scale));
    out.push(chosenDimensions(box, scene.bounds, unit, scale));
    return out.join("");
  }
  if (parts.some((part) => FOLLOWING.includes(part.kind))) return out.join("") + (outlineMarks.corners ?? ""); // they size themselves
  if (!drag) {
    out.push(holds(parts, scale));
    if (!parts.some((part) => part.holds.length)) out.push(chosenDimensions(box, scene.bounds, unit, scale));
  }
  const alone = parts.length === 1 && !drag;
  out.push(handles(alone ? parts[0].own : box, alone ? parts[0].matrix : [1, 0, 0, 1, 0, 0], scale));
  out.push(outlineMarks.corners ?? "");
  return out.join("");
}

// What stays while the others are aligned with it, shown before anything moves.
function anchorMarkup(scene, to) {
  if (to === "piece") return `<path class="anchor" d="${scene.outline}"/>`;
  const anchor = scene.parts.find((part) => part.id === to);
  return anchor ? shapes(anchor, "anchor") : "";
}

function label(x, y, text, scale, style = "") {
  const size = 13 * scale;
  return `<text class="${style}" x="${x}" y="${y}" font-size="${size}" paint-order="stroke" stroke="#fff8e8" stroke-width="${3.5 * scale}">${safe(text)}</text>`;
}

// How far what is chosen lies from the piece's left and upper edges, and its own size: each can be typed.
function chosenDimensions(box, whole, unit, scale) {
  const [left, top, right, bottom] = box;
  const [mx, my] = middle(box);
  const off = roomy(box, scale);
  const out = [];
  if (left - whole[0] > 14 * scale) {
    out.push(`<line x1="${whole[0]}" x2="${left}" y1="${my}" y2="${my}"/>`);
    // Where the gap is too narrow for its number, the number stands outside the piece, clear of the handles.
    const x = off[0] - whole[0] > 84 * scale ? (whole[0] + off[0]) / 2 : Math.min(whole[0] - 22 * scale, off[0] - 40 * scale);
    out.push(dimension(x, my, said(left - whole[0], unit), scale, "left", "Distance to the left edge"));
  }
  if (top - whole[1] > 14 * scale) {
    out.push(`<line x1="${mx}" x2="${mx}" y1="${whole[1]}" y2="${top}"/>`);
    const above = Math.min(whole[1] + (top - whole[1]) * 0.4, off[1] - 16 * scale);
    const aside = top - whole[1] > 90 * scale ? 0 : 34 * scale;
    out.push(dimension(mx - aside, above, said(top - whole[1], unit), scale, "top", "Distance to the upper edge"));
  }
  // What is as wide or as tall as the piece has its dimension there already; what is nearly so makes way for it.
  const all = [0, 1].map((axis) => Math.abs(box[axis] - whole[axis]) + Math.abs(box[axis + 2] - whole[axis + 2]) < 1e-3);
  if (right - left > 1e-6 && !all[0]) out.push(dimension(mx, off[3] + 17 * scale, said(right - left, unit), scale, "width", "Chosen width"));
  const close = whole[2] - off[2] < 24 * scale && Math.abs(my - (whole[1] + whole[3]) / 2) < 48 * scale;
  if (bottom - top > 1e-6 && !all[1]) out.push(dimension(off[2] + 19 * scale, my + (close ? 52 * scale : 0), said(bottom - top, unit), scale, "height", "Chosen height", true));
  return `<g class="dimension brass">${out.join("")}</g>`;
}

// The box with a handle at each of its eight points, and one off its upper right corner, clear of all dimensions, to
// turn by. One part's box turns with it.
function handles(box, map, scale) {
  // A small part keeps its middle free to be dragged: its handles stand off.
  const off = roomy(box, scale);
  const at = (name) => apply(map, pointOf(off, name));
  const corners = ["top-left", "top-right", "bottom-right", "bottom-left"].map(at);
  const outline = `<path class="chosen-box" d="M${corners.map((p) => p.join(" ")).join("L")}Z"/>`;
  const r = 4.5 * scale;
  const flat = [box[2] - box[0] < 1e-6, box[3] - box[1] < 1e-6];
  const squares = Object.keys(REFERENCES)
    .filter((name) => name !== "middle" && !(flat[0] && REFERENCES[name][0] !== 0.5) && !(flat[1] && REFERENCES[name][1] !== 0.5))
    .map((name) => {
      const [x, y] = at(name);
      return `<rect class="handle" data-handle="${name}" x="${x - r}" y="${y - r}" width="${2 * r}" height="${2 * r}" transform="rotate(45 ${x} ${y})"/>`;
    });
  const [tx, ty] = at("top-right");
  const [hx, hy] = apply(map, [off[2] + 15 * scale, off[1] - 15 * scale]);
  const turn = `<line class="turn-arm" x1="${tx}" y1="${ty}" x2="${hx}" y2="${hy}"/><circle class="handle turn" data-handle="turn" cx="${hx}" cy="${hy}" r="${5 * scale}"/>`;
  return outline + turn + squares.join("");
}

function roomy([left, top, right, bottom], scale) {
  const [x, y] = [right - left, bottom - top].map((size) => Math.max(0, (44 * scale - size) / 2));
  return [left - x, top - y, right + x, bottom + y];
}

// Each hold as a pin on the line it goes by, and the way from there to the part.
function holds(parts, scale) {
  return parts
    .flatMap((part) => part.holds.map((hold) => ({ ...hold, part })))
    .map((hold) => {
      const from = hold.axis === "across" ? [hold.theirs, hold.at] : [hold.at, hold.theirs];
      const to = hold.axis === "across" ? [hold.mine, hold.at] : [hold.at, hold.mine];
      const r = 4 * scale;
      const reach = 13 * scale;
      const line = hold.axis === "across" ? `M${from[0]} ${from[1] - reach}v${2 * reach}` : `M${from[0] - reach} ${from[1]}h${2 * reach}`;
      const aside = hold.axis === "across" ? [0, -14 * scale] : [24 * scale, 0];
      const at = [(from[0] + to[0]) / 2 + aside[0], (from[1] + to[1]) / 2 + aside[1]];
      const typed = () => dimension(...at, hold.says, scale, `hold-${hold.axis}`, "Distance of the hold");
      const words = !hold.says ? "" : parts.length === 1 ? typed() : label(...at, hold.says, scale);
      return `<g class="hold"><title>held to ${safe(hold.name)}</title><path d="${line}"/><line x1="${from[0]}" y1="${from[1]}" x2="${to[0]}" y2="${to[1]}"/>
        <circle cx="${from[0]}" cy="${from[1]}" r="${r}"/><circle cx="${to[0]}" cy="${to[1]}" r="${r * 0.5}"/>${words}</g>`;
    })
    .join("");
}

// Lines that are level, and gaps that are equal or near.
function guides(found, box, unit, scale) {
  return found
    .map((guide) => {
      if (guide.gap !== undefined) {
        const across = guide.gap === 0;
        const ends = across ? [guide.from, guide.at, guide.to, guide.at] : [guide.at, guide.from, guide.at, guide.to];
        const text = label((ends[0] + ends[2]) / 2, (ends[1] + ends[3]) / 2 - (across ? 9 * scale : 0), said(guide.to - guide.from, unit), scale);
        return `<line class="gap-line" x1="${ends[0]}" y1="${ends[1]}" x2="${ends[2]}" y2="${ends[3]}"/>${text}`;
      }
      const whole = union([box, guide.box]);
      const more = 8 * scale;
      return guide.axis === 0
        ? `<line class="level-line" x1="${guide.line}" x2="${guide.line}" y1="${whole[1] - more}" y2="${whole[3] + more}"/>`
        : `<line class="level-line" y1="${guide.line}" y2="${guide.line}" x1="${whole[0] - more}" x2="${whole[2] + more}"/>`;
    })
    .join("");
}

// The ring and words at the point something was snapped to.
function snapMark(snap, scale) {
  if (!snap?.at) return "";
  const [x, y] = snap.at;
  return `<circle class="snap" cx="${x}" cy="${y}" r="${6 * scale}"/><circle class="snap-dot" cx="${x}" cy="${y}" r="${1.6 * scale}"/>`;
}

// The nodes of a drawn shape, with the handles of those that are chosen.
function nodes(part, chosen, scale) {
  const r = 4.5 * scale;
  const out = [];
  part.data.shape.contours.forEach((contour, c) =>
    contour.nodes.forEach((node, n) => {
      const on = chosen.some(([i, j]) => i === c && j === n);
      const [x, y] = apply(part.matrix, [node.x, node.y]);
      if (on) {
        for (const side of ["arrive", "leave"]) {
          if (!node[side]) continue;
          const [hx, hy] = apply(part.matrix, [node.x + node[side][0], node.y + node[side][1]]);
          out.push(`<line class="arm" x1="${x}" y1="${y}" x2="${hx}" y2="${hy}"/><circle class="arm-end" data-arm="${side}" data-node="${c} ${n}" cx="${hx}" cy="${hy}" r="${4 * scale}"/>`);
        }
      }
      const style = `node ${node.kind ?? "corner"}${on ? " on" : ""}`;
      out.push(
        (node.kind ?? "corner") === "corner"
          ? `<rect class="${style}" data-node="${c} ${n}" x="${x - r}" y="${y - r}" width="${2 * r}" height="${2 * r}"/>`
          : `<circle class="${style}" data-node="${c} ${n}" cx="${x}" cy="${y}" r="${r * 1.1}"/>`,
      );
    }),
  );
  return out.join("");
}

// What the pen has drawn so far, and where its next segment would go.
function penMarkup(pen, scale) {
  if (!pen.nodes.length) return "";
  const d = pen.path(true);
  const dots = pen.nodes.map(([x, y], i) => `<circle class="node${i === 0 ? " first" : ""}" cx="${x}" cy="${y}" r="${4 * scale}"/>`);
  return `<path class="pen-line" d="${d}"/>${dots.join("")}`;
}

// The distance between two points: along, across and down.
function measureMarkup(measure, unit, scale) {
  const [from, to] = [measure.from, measure.to];
  if (!from) return measure.over ? snapMark(measure.over, scale) : "";
  const end = to ?? measure.over;
  if (!end) return snapMark(from, scale);
  const [[x1, y1], [x2, y2]] = [from.at, end.at];
  const away = Math.hypot(x2 - x1, y2 - y1);
  const [mx, my] = [(x1 + x2) / 2, (y1 + y2) / 2];
  // Between two free points there is nothing that a typed distance could move.
  const words = to && (from.part || to.part)
    ? dimension(mx, my - 13 * scale, said(away, unit), scale, "measure", "Measured distance")
    : label(mx, my - 13 * scale, said(away, unit), scale);
  return `<g class="dimension measure"><line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}"/>
    <path d="M${x1} ${y1}H${x2}V${y2}"/>${words}</g>${snapMark(from, scale)}${snapMark(end, scale)}`;
}
