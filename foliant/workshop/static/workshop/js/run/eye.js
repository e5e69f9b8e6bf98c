// The eye: the bed as the camera sees it lies under the sheet, with the place where the sheet was found.

import { post } from "../api.js";

export const eye = ({ project, toasts }) => ({
  look: null, // what was seen: {picture, found, says}
  looking: false,
  closer: null, // a place of the bed that is looked at closely: {source, says}

  get seenSays() {
    if (!this.look) return "";
    return this.look.found ? `The sheet is seen. ${this.look.liesSays}` : this.look.says;
  },
  get proposes() {
    return Boolean(this.look?.found && !this.active);
  },
  async lookAtBed() {
    if (this.looking) return;
    this.looking = true;
    this.closer = null;
    try {
      this.look = await this.asked("look");
    } catch (problem) {
      project.complain(problem);
    }
    this.looking = false;
    this.sheetView.draw();
  },
  // The work is laid where the sheet was seen.
  takePlace() {
    this.marks = {};
    this.takeLie(this.look);
    this.taken();
  },
  taken() {
    this.look = { ...this.look, found: null, says: "The work lies where the sheet was seen." };
  },
  async takeSize() {
    const [width, height] = this.look.found.size;
    await project.edit({ do: "change", of: "stock", bench: project.bench, values: { width, height } });
    await this.lain(this.look.lie); // how it lies is another map, now that the sheet has another size
    this.taken();
  },
  lookAway() {
    this.look = null;
    this.closer = null;
    this.sheetView.draw();
  },
  async learnLens() {
    this.looking = true;
    try {
      toasts.say(`The lens is learnt. ${(await this.asked("learn")).says}`);
      await project.refresh();
    } catch (problem) {
      project.complain(problem);
    }
    this.looking = false;
  },
  async makeMarks() {
    try {
      const { id } = await post("/shop/cards", { machine: this.machine.key, material: project.view.sheet.material.key, work: "marks" });
      window.location.assign(`/projects/${id}/run/`);
    } catch (problem) {
      project.complain(problem);
    }
  },
  // Of a simulated machine: what lies on its bed is laid there as hands would.
  async layByHand(what) {
    try {
      await this.asked("lay", { what });
      this.lookAway();
      toasts.say({ sheet: "The sheet lies on the bed, somehow.", marks: "The marks lie on the bed.", nothing: "The bed is empty." }[what]);
    } catch (problem) {
      project.complain(problem);
    }
  },
  lookCloser(x, y) {
    const [width, height] = this.machine.bed;
    if (!this.look || x < 0 || y < 0 || x > width || y > height) return;
    const asked = new URLSearchParams({ sheet: project.view.sheet.number, x: x.toFixed(2), y: y.toFixed(2) });
    this.closer = { source: `/api${project.address}/eye/closer.jpg?${asked}`, says: `40 × 40 mm of the bed, about ${x.toFixed(1)} × ${y.toFixed(1)} mm` };
  },
  asked(what, body = {}) {
    return post(`${project.address}/eye/${what}`, { sheet: project.view.sheet.number, ...body });
  },
  // The picture on the bed as it is drawn, and the edges that were found.
  get seenMarkup() {
    if (!this.look) return "";
    const [width, height] = this.machine.bed;
    const { found } = this.look;
    const corners = found ? `<path class="found" d="M${found.corners.map(([x, y]) => `${x} ${height - y}`).join("L")}Z"/>` : "";
    return `<image href="${this.look.picture}" width="${width}" height="${height}" preserveAspectRatio="none"/>${corners}`;
  },
});
