// The drawing in layers, so that a frame of a drag costs only what moves: the bench, the piece, what can be pressed,
// and the marks above it all, which lie in an SVG of their own.

import { defs, guideMarkup, pieceMarkup } from "../drawing.js";
import { Layer } from "../layer.js";
import { shapes } from "./marks.js";
import { settled } from "./settling.js";

export class Layers {
  constructor(ground, over) {
    this.over = over;
    this.layers = { bench: new Layer(ground), piece: new Layer(ground), hits: new Layer(ground) };
    this.latest = null; // what the piece was drawn from last
  }

  bench(view, material) {
    this.layers.bench.fill([material, ...view.box, view.unit, view.svg.clientWidth], () => `<defs>${defs(material, view.scale)}</defs>${view.gridMarkup()}`);
  }

  piece(scene, material, look) {
    const { outline, slits, scored, guides, loose, pictures, beads, raised } = scene;
    const engraved = scene.parts.filter((part) => part.roles.includes("engraves"));
    const at = (address) => settled(address, () => {
      this.layers.piece.shows([]);
      if (this.latest) this.piece(...this.latest);
    });
    this.latest = [scene, material, look];
    this.layers.piece.fill([outline, slits, scored, guides, loose, material, look, pictures, beads[0], ...raised.map(({ d, face }) => d + face), ...engraved], () =>
      `${pieceMarkup(scene, material, look, at)}${guideMarkup(scene)}${loose ? `<path class="loose" d="${loose}"/>` : ""}`);
  }

  // What lies later in the piece lies above, and is pressed first.
  hits(scene) {
    this.layers.hits.fill([scene.parts], () =>
      scene.parts
        .filter((part) => !part.data.hidden && !scene.combined.includes(part.id))
        .map((part) => {
          const bare = part.role === "guides" || part.open;
          return shapes(part, `hit${bare ? " outline-only" : ""}${part.data.locked ? " locked" : ""}`);
        })
        .join(""));
  }

  marks(markup, box) {
    this.over.setAttribute("viewBox", box);
    this.over.innerHTML = markup;
  }

  clear() {
    this.latest = null;
    for (const layer of Object.values(this.layers)) layer.clear();
    this.over.innerHTML = "";
  }
}
