// Drawing the piece and the marks above it.

import { union } from "./geometry.js";
import { pieceDimensions } from "./marks.js";

// The marks for the hand come when something is chosen, or a moment after the page.
/** @type {any} */
let handMarkup = null;
export async function bringHandMarks() {
  ({ handMarkup } = await import("./handmarks.js"));
}

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
    const { drag } = this.hand;
    const out = [];
    if (this.traced) out.push(this.traced);
    if (this.outlining && !drag && !project.preview[this.piece]) out.push(this.outlining.ground());
    if (scene.outline && !drag) out.push(pieceDimensions(scene.bounds, project.unit, scale));
    if (handMarkup) out.push(handMarkup(this, scene));
    else if (this.chosen.length || this.tool !== "choose" || drag) bringHandMarks().then(() => this.draw(), () => {});
    return out.join("");
  },
});
