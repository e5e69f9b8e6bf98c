// The roster beside the drawing and at the Sheet: what is heavy of it comes when there is one, or when it is wanted.

import { act } from "../hands.js";
import { plain } from "../plain.js";
import { takeList } from "./waiting.js";

let coming = null; // the grid, once it is wanted

export const rosterHost = ({ Alpine, project, toasts }) => ({
  grid: null,
  wideRoster: false,
  savingRoster: false,

  get hasRoster() {
    return project.roster.columns.length > 0;
  },
  get rosterSays() {
    const count = project.roster.order.length;
    return count === 1 ? "1 row" : `${count.toLocaleString("en-GB")} rows`;
  },
  get deleteSays() {
    return project.rowsChosen === 1 ? "Delete the row" : `Delete ${project.rowsChosen.toLocaleString("en-GB")} rows`;
  },
  deleteRows() {
    return act(() => this.grid.removeRows());
  },
  // The grid is there as soon as there is a column.
  beginRoster() {
    Alpine.effect(() => {
      void [project.roster, project.row, project.looks, this.wideRoster];
      if (!this.hasRoster) return;
      if (this.grid) Alpine.nextTick(() => this.grid.draw());
      else this.bringGrid();
    });
    const waits = takeList(project.id);
    if (waits) this.openList(waits);
    window.addEventListener("paste-list", (/** @type {CustomEvent} */ event) => this.openList(event.detail));
  },
  bringGrid() {
    coming ??= Promise.all([import("./grid.js"), import("./ways.js")]).then(([{ Grid }, { waysOf }]) => {
      project.ways = (bit) => waysOf(project, bit);
      this.grid = plain(new Grid(this.$refs.grid, { project, toasts }));
      return this.grid;
    });
    return coming;
  },
  // Paste, type or open a list: it is shown as it was read, before it is taken.
  openList({ text = "", part = this.wordsAsked, words = [part] } = {}) {
    return act(async () => {
      const { openList } = await import("./list.js");
      return openList({ Alpine, project, toasts, text, words });
    });
  },
  get wordsAsked() {
    return "";
  },
  addColumn() {
    return act(async () => (await import("./acts.js")).addColumn(this, { Alpine, project }));
  },
  async saveFile(what) {
    this.savingRoster = false;
    (await import("./acts.js")).saveFile({ project, toasts }, what);
  },
  openSaving() {
    this.savingRoster = !this.savingRoster;
  },
  leaveSaving() {
    this.savingRoster = false;
  },
  turnWideRoster() {
    this.wideRoster = !this.wideRoster;
  },
  leaveWideRoster() {
    this.wideRoster = false;
  },
});
