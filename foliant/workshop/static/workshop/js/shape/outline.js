// Outlines: what is treated, combined and surrounded, and what the checks say of the piece. The work is done by
// `outlining.js`, which comes when it is first wanted, or a moment after the page.

import { act } from "../hands.js";
import { plain } from "../plain.js";

export const outline = ({ Alpine, project }) => ({
  findings: [], // what the checks say of the open piece
  idle: {}, // what parts that do nothing say of themselves, by id
  limit: [], // the sentence of the thin limit
  shownFinding: -1,
  combining: { keeper: "", lapWith: "" },
  faulty: "", // the lines of a fault that is pointed at, as path data
  traced: "", // what is being traced, as markup
  neck: null, // where the piece is narrowest, while its letters are looked at
  outlining: null,
  outliningReady: false,

  async outliner() {
    const { Outlining } = await import("./outlining.js");
    if (!this.outlining) {
      this.outlining = plain(new Outlining(this, project, Alpine));
      this.outliningReady = true;
    }
    return this.outlining;
  },
  outlines(what, ...args) {
    return act(async () => (await this.outliner())[what](...args));
  },
  treats(key) {
    return this.chosenParts.length > 0 && this.chosenParts.every((part) => part.data.treatments?.[key]);
  },
  get anyComposite() {
    return this.chosenParts.some((part) => part.data.shape.of);
  },
  get onlyHoles() {
    return this.chosen.length === 1 && this.chosenParts[0]?.kind === "hole";
  },
  get otherPieces() {
    return project.order.filter((id) => id !== this.piece).map((id) => ({ id, name: project.scenes[id].name }));
  },
});
