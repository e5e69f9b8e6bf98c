// The sheet as the last four stations show it, in one place.

import { defs, instanceBox, instanceKey, matrixOf, sheetMarkup } from "./drawing.js";
import { Viewport } from "./viewport.js";

// Whether nothing differs between two sheets but where the same instances lie: as one answer of packing after another.
function onlyMoved(before, after) {
  const same = (one, at) => instanceKey(one) === instanceKey(after.instances[at]) && one.locked === after.instances[at].locked;
  return before.pieces === after.pieces && before.instances !== after.instances && before.instances.length === after.instances.length && before.instances.every(same);
}

function moveInstances(svg, instances) {
  const groups = new Map([...svg.querySelectorAll("[data-instance]")].map((group) => [group.dataset.instance, group]));
  for (const instance of instances) {
    const group = groups.get(instanceKey(instance));
    if (!group) continue;
    group.classList.toggle("wrong", instance.wrong);
    group.removeAttribute("transform");
    group.querySelector("g").setAttribute("transform", matrixOf(instance));
    for (const [name, value] of Object.entries(instanceBox(instance))) group.querySelector(".instance-box").setAttribute(name, value);
  }
}

// Draws a sheet into an SVG. `over` gives markup on top, `under` below; both are asked on every drawing.
export class SheetView {
  /**
   * @param {any} svg
   * @param {Record<string, any>} [how] its look, what lies over and under it, and the room round it
   */
  constructor(svg, how = {}) {
    const { look = () => "toolpaths", over = () => "", under = () => "", options = () => ({}), inset = [0, 0, 0, 0], bounds = null, frame = null, room = 0.04 } = how;
    this.look = look;
    this.over = over;
    this.under = under;
    this.options = options;
    this.inset = inset;
    this.bounds = bounds;
    this.frame = frame; // how the sheet lies in what is drawn
    this.sheet = null;
    this.view = new Viewport(svg, { room, changed: () => this.draw() });
  }

  set(sheet) {
    const first = !this.sheet;
    const resized = this.sheet && (this.sheet.width !== sheet.width || this.sheet.height !== sheet.height);
    const moved = !first && !resized && onlyMoved(this.sheet, sheet);
    this.sheet = sheet;
    if (first || resized) this.fit();
    else if (moved) moveInstances(this.view.svg, sheet.instances);
    else this.draw();
  }

  fit() {
    this.view.fit(this.bounds?.() ?? [0, 0, this.sheet.width, this.sheet.height], this.inset);
  }

  draw() {
    if (!this.sheet) return;
    const { view, sheet } = this;
    view.svg.innerHTML = `<defs>${defs(sheet.material, view.scale)}</defs>${this.under(view.scale)}
      <g${this.frame ? ` transform="matrix(${this.frame().join(" ")})"` : ""}>${sheetMarkup(sheet, this.look(), this.options())}${this.over(view.scale)}</g>`;
  }
}
