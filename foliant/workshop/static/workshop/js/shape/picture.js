// Drawing the piece and the marks above it.

import { union } from "./geometry.js";
import * as marks from "./marks.js";

const FOLLOWING = ["surround", "tabs"];

export const picture = ({ project }) => ({
  look: "finished",
  view: null,
  layers: null,

  draw() {
    const { scene, view, layers } = this;
    if (!view || !layers) return;
    if (!scene) {
      layers.clear();
      return;
    }
    const { scale } = view;
    layers.bench(view, project.face(this.piece));
    layers.piece(scene, project.face(this.piece), this.look);
    if (!this.hand.drag) layers.hits(project.scenes[this.piece] ?? scene);
    layers.marks(this.marksMarkup(scene, scale), view.svg.getAttribute("viewBox"));
    const parts = this.chosenParts;
    view.marks = this.hand.drag?.kind === "move" ? this.hand.drag.box : parts.length ? union(parts.map((part) => part.bounds)) : null;
    view.drawRulers();
  },
  marksMarkup(scene, scale) {
    const { unit } = project;
    const { drag } = this.hand;
    const saved = project.scenes[this.piece] ?? scene;
    const chosen = new Set(this.chosen);
    // What is dragged follows the pointer at once; the rest of the piece follows when the server has answered.
    const parts = (drag?.kind === "move" ? saved : scene).parts.filter((part) => chosen.has(part.id));
    const out = [];
    if (this.traced) out.push(this.traced);
    if (this.outlining && !drag && !project.preview[this.piece]) out.push(this.outlining.ground());
    if (scene.outline && !drag) out.push(marks.pieceDimensions(scene.bounds, unit, scale));
    if (this.tool === "pen") return out.join("") + marks.penMarkup(this.pen, scale);
    if (this.tool === "measure") return out.join("") + marks.measureMarkup(this.measure, unit, scale);
    if (this.opened === "align") out.push(anchorMarkup(scene, this.align.to));
    if (this.opened === "spread") out.push(anchorMarkup(scene, this.spread.within));
    if (drag?.kind === "marquee") {
      const [left, top, right, bottom] = drag.box;
      out.push(`<rect class="marquee ${this.marquee}" x="${left}" y="${top}" width="${right - left}" height="${bottom - top}"/>`);
    }
    if (!parts.length) return out.join("");
    const outlines = parts.map((part) => marks.shapes(part, "chosen-shape")).join("");
    if (drag?.kind === "move") {
      out.push(`<g transform="translate(${drag.dx} ${drag.dy})">${outlines}</g>`);
      const [left, top, right, bottom] = drag.box;
      out.push(`<rect class="chosen-box" x="${left}" y="${top}" width="${right - left}" height="${bottom - top}"/>`);
      out.push(marks.guides([...drag.gaps, ...drag.snap.guides], drag.box, unit, scale), marks.snapMark(drag.snap, scale));
      return out.join("");
    }
    out.push(outlines);
    const outlineMarks = this.outlining && !drag && this.tool === "choose" ? this.outlining.marks(parts, scale) : "";
    if (this.tool === "nodes" && parts.length === 1) {
      out.push(marks.nodes(parts[0], this.chosenNodes, scale), marks.snapMark(drag?.snap, scale));
      return out.join("");
    }
    if (parts.some((part) => part.data.locked)) return out.join("");
    out.push(outlineMarks.faces ?? "");
    const box = union(parts.map((part) => part.bounds));
    if (drag?.kind === "size") {
      out.push(marks.handles(drag.box, drag.map, scale), marks.snapMark(drag.snap, scale));
      out.push(marks.chosenDimensions(box, scene.bounds, unit, scale));
      return out.join("");
    }
    if (parts.some((part) => FOLLOWING.includes(part.kind))) return out.join("") + (outlineMarks.corners ?? ""); // they size themselves
    if (!drag) {
      out.push(marks.holds(parts, scale));
      if (!parts.some((part) => part.holds.length)) out.push(marks.chosenDimensions(box, scene.bounds, unit, scale));
    }
    const alone = parts.length === 1 && !drag;
    out.push(marks.handles(alone ? parts[0].own : box, alone ? parts[0].matrix : [1, 0, 0, 1, 0, 0], scale));
    out.push(outlineMarks.corners ?? "");
    return out.join("");
  },
});

// What stays while the others are aligned with it, shown before anything moves.
function anchorMarkup(scene, to) {
  if (to === "piece") return `<path class="anchor" d="${scene.outline}"/>`;
  const anchor = scene.parts.find((part) => part.id === to);
  return anchor ? marks.shapes(anchor, "anchor") : "";
}
