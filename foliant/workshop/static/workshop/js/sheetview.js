// The sheet as the last four stations show it, in one place.

import { defs, sheetMarkup } from "./drawing.js";
import { Viewport } from "./viewport.js";

// Draws a sheet into an SVG. `over` gives markup on top, `under` below; both are asked on every drawing.
export class SheetView {
  /**
   * @param {any} svg
   * @param {Record<string, any>} [how] its look, what lies over and under it, and the room round it
   */
  constructor(svg, how = {}) {
    const { look = () => "toolpaths", over = () => "", under = () => "", options = () => ({}), inset = [0, 0, 0, 0], bounds = null, room = 0.04 } = how;
    this.look = look;
    this.over = over;
    this.under = under;
    this.options = options;
    this.inset = inset;
    this.bounds = bounds;
    this.sheet = null;
    this.view = new Viewport(svg, { room, changed: () => this.draw() });
  }

  set(sheet) {
    const first = !this.sheet;
    const resized = this.sheet && (this.sheet.width !== sheet.width || this.sheet.height !== sheet.height);
    this.sheet = sheet;
    if (first || resized) this.fit();
    else this.draw();
  }

  fit() {
    this.view.fit(this.bounds?.() ?? [0, 0, this.sheet.width, this.sheet.height], this.inset);
  }

  draw() {
    if (!this.sheet) return;
    const { view, sheet } = this;
    view.svg.innerHTML = `<defs>${defs(sheet.material, view.scale)}</defs>${this.under(view.scale)}
      ${sheetMarkup(sheet, this.look(), this.options())}${this.over(view.scale)}`;
  }
}
