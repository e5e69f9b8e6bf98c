// The sheet as the last four stations show it, in one place.

import { defs, ghostMarkup, instanceBox, instanceKey, matrixOf, sheetMarkup } from "./drawing.js";
import { group, Layer } from "./layer.js";
import { Viewport } from "./viewport.js";

// Whether nothing differs between two sheets but where the same instances lie: as one answer of packing after another.
function onlyMoved(before, after) {
  const same = (one, at) => instanceKey(one) === instanceKey(after.instances[at]) && one.locked === after.instances[at].locked;
  return before.pieces === after.pieces && before.instances !== after.instances && before.instances.length === after.instances.length && before.instances.every(same);
}

// How a sheet lies before the machine: turned over, where it lies face down.
export const facing = ({ mirrored, width }) => (mirrored ? [-1, 0, 0, 1, width, 0] : [1, 0, 0, 1, 0, 0]);

// Draws a sheet into an SVG, in layers. `over` gives markup on top, `under` below; both are asked on every drawing.
export class SheetView {
  /**
   * @param {any} svg
   * @param {Record<string, any>} [how] its look, what lies over and under it, and the room round it
   */
  constructor(svg, how = {}) {
    const { look = () => "toolpaths", over = () => "", under = () => "", interactive = false, inset = [0, 0, 0, 0], bounds = null, frame = null, room = 0.04 } = how;
    this.look = look;
    this.over = over;
    this.under = under;
    this.interactive = interactive;
    this.inset = inset;
    this.bounds = bounds;
    this.frame = frame; // how the sheet lies in what is drawn
    this.sheet = null;
    this.chosen = ""; // the key of an instance
    this.ghost = null; // where one more would lie
    this.dragged = null; // has what is dragged where the hand has it
    const [ground, beneath] = [new Layer(svg), new Layer(svg)];
    this.framed = group(svg);
    const [pieces, more, above] = [new Layer(this.framed), new Layer(this.framed), new Layer(this.framed)];
    this.layers = { ground, beneath, pieces, more, above };
    this.view = new Viewport(svg, { room, changed: () => this.draw() });
  }

  set(sheet) {
    const first = !this.sheet;
    const resized = this.sheet && (this.sheet.width !== sheet.width || this.sheet.height !== sheet.height);
    const moved = !first && !resized && onlyMoved(this.sheet, sheet);
    this.sheet = sheet;
    if (moved) this.lay();
    if (first || resized) this.fit();
    else this.draw();
  }

  fit() {
    this.view.fit(this.bounds?.() ?? [0, 0, this.sheet.width, this.sheet.height], this.inset);
  }

  draw() {
    if (!this.sheet) return;
    const { layers, sheet, view } = this;
    layers.ground.fill([sheet.material, view.scale], () => `<defs>${defs(sheet.material, view.scale)}</defs>`);
    const under = this.under(view.scale);
    layers.beneath.fill([under], () => under);
    this.framed.setAttribute("transform", this.frame ? `matrix(${this.frame().join(" ")})` : "");
    layers.pieces.fill(this.shown(), () => sheetMarkup(sheet, this.look(), this.interactive));
    layers.more.fill([this.ghost], () => (this.ghost ? ghostMarkup(this.ghost) : ""));
    const over = this.over(view.scale);
    layers.above.fill([over], () => over);
    for (const one of this.instances) one.classList.toggle("chosen", one.dataset.instance === this.chosen);
    this.dragged?.();
  }

  get instances() {
    return this.layers.pieces.element.querySelectorAll("[data-instance]");
  }
  shown() {
    return [this.sheet, this.look()];
  }

  // Has every instance where the sheet has it.
  lay() {
    const groups = new Map([...this.instances].map((one) => [one.dataset.instance, one]));
    for (const instance of this.sheet.instances) {
      const found = groups.get(instanceKey(instance));
      if (!found) continue;
      found.classList.toggle("wrong", instance.wrong);
      found.removeAttribute("transform");
      found.querySelector("g").setAttribute("transform", matrixOf(instance));
      for (const [name, value] of Object.entries(instanceBox(instance))) found.querySelector(".instance-box").setAttribute(name, value);
    }
    this.layers.pieces.shows(this.shown());
    this.dragged?.();
  }
}
