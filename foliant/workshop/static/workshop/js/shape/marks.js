// What is always drawn over a piece: the outlines of parts, and its dimensions.
// Pure markup; `scale` is how many mm a screen pixel shows, so that marks keep their size on the screen.

import { safe } from "../drawing.js";
import { said } from "../lengths.js";

const matrix = (map) => `matrix(${map.join(" ")})`;

// A part's outline wherever it shows: itself and its copies.
export function shapes(part, style, attributes = "") {
  const maps = [[0, part.matrix], ...part.copies];
  return maps
    .map(([number, map]) => `<path class="${style}" ${attributes} data-part="${part.id}" data-copy="${number}" d="${part.d}" transform="${matrix(map)}"/>`)
    .join("");
}

// A dimension that can be pressed to type it: `what` names it for the station.
export function dimension(x, y, text, scale, what, name, turned = false) {
  const [wide, tall] = [(text.length * 8 + 12) * scale, 20 * scale];
  const place = `translate(${x} ${y})${turned ? " rotate(90)" : ""}`;
  return `<g class="typed-dimension" data-dimension="${what}" role="button" tabindex="-1" aria-label="${safe(`${name}: ${text}`)}" transform="${place}">
    <rect x="${-wide / 2}" y="${-tall / 2}" width="${wide}" height="${tall}" rx="${3 * scale}"/>
    <text font-size="${13 * scale}">${safe(text)}</text></g>`;
}

// Width above the piece, height to its right, as on a workshop drawing.
export function pieceDimensions([left, top, right, bottom], unit, scale) {
  const off = 26 * scale;
  const tick = 8 * scale;
  const gap = 26 * scale;
  const [mx, my] = [(left + right) / 2, (top + bottom) / 2];
  const [x, y] = [right + off, top - off];
  const room = (size) => Math.min(gap, size / 2 - 2 * scale);
  const [gx, gy] = [room(right - left), room(bottom - top)];
  return `<g class="dimension">
    <line x1="${left}" x2="${left}" y1="${y - tick}" y2="${y + tick}"/><line x1="${right}" x2="${right}" y1="${y - tick}" y2="${y + tick}"/>
    ${gx > 0 ? `<line x1="${left}" x2="${mx - gx}" y1="${y}" y2="${y}"/><line x1="${mx + gx}" x2="${right}" y1="${y}" y2="${y}"/>` : ""}
    <line x1="${x - tick}" x2="${x + tick}" y1="${top}" y2="${top}"/><line x1="${x - tick}" x2="${x + tick}" y1="${bottom}" y2="${bottom}"/>
    ${gy > 0 ? `<line x1="${x}" x2="${x}" y1="${top}" y2="${my - gy}"/><line x1="${x}" x2="${x}" y1="${my + gy}" y2="${bottom}"/>` : ""}
    ${dimension(mx, y, said(right - left, unit), scale, "piece-width", "Piece width")}
    ${dimension(x, my, said(bottom - top, unit), scale, "piece-height", "Piece height", true)}</g>`;
}
