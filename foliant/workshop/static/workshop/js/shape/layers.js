// The drawing in layers, so that a frame of a drag costs only what moves: the bench, the piece, what can be pressed,
// and the marks above it all, which lie in an SVG of their own.

import { defs, guideMarkup, pieceMarkup } from "../drawing.js";
import { shapes } from "./marks.js";
import { settled } from "./settling.js";

export class Layers {
  constructor(ground, over) {
    this.over = over;
    this.layers = {};
    this.drawn = {};
    this.latest = null; // what the piece was drawn from last
    for (const name of ["bench", "piece", "hits"]) {
      const layer = document.createElementNS("http://www.w3.org/2000/svg", "g");
      ground.append(layer);
      this.layers[name] = layer;
    }
  }

  // Draw a layer anew only where what it shows is not what it showed; `key` tells that without writing it.
  fill(name, key, markup) {
    const same = this.drawn[name] && key.length === this.drawn[name].length && key.every((part, i) => part === this.drawn[name][i]);
    if (same) return;
    this.drawn[name] = key;
    this.layers[name].innerHTML = markup();
  }

  bench(view, material) {
    this.fill("bench", [material, ...view.box, view.unit, view.svg.clientWidth], () => `<defs>${defs(material, view.scale)}</defs>${view.gridMarkup()}`);
  }

  piece(scene, material, look) {
    const { outline, slits, scored, guides, loose, pictures, beads, raised } = scene;
    const engraved = scene.parts.filter((part) => part.roles.includes("engraves"));
    const at = (address) => settled(address, () => {
      this.drawn.piece = null;
      if (this.latest) this.piece(...this.latest);
    });
    this.latest = [scene, material, look];
    this.fill("piece", [outline, slits, scored, guides, loose, material, look, pictures, beads[0], ...raised.map(({ d, face }) => d + face), ...engraved], () =>
      `${pieceMarkup(scene, material, look, at)}${guideMarkup(scene)}${loose ? `<path class="loose" d="${loose}"/>` : ""}`);
  }

  // What lies later in the piece lies above, and is pressed first.
  hits(scene) {
    this.fill("hits", [scene.parts], () =>
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
    this.drawn = {};
    this.latest = null;
    for (const layer of Object.values(this.layers)) layer.innerHTML = "";
    this.over.innerHTML = "";
  }
}
