// Walking the rows of the roster: the row that is shown, whom a change is for, and the strip of pictures.

import { act } from "../hands.js";
import { plain } from "../plain.js";

const FEW = 12; // that are drawn in a moment
const MOST_LOOKED_AT = 300; // rows that are drawn by themselves; others once they come into sight

export const rows = ({ Alpine, project, toasts }) => ({
  strip: null,
  drawn: 0, // how many rows are drawn as they are now

  get tied() {
    return project.roster.tied.includes(this.piece) && project.roster.order.length > 0;
  },
  get rowAt() {
    return project.roster.order.indexOf(project.row?.id);
  },
  get rowSays() {
    const { row, roster } = project;
    const at = row ? this.rowAt : 0;
    const called = roster.rows[roster.order[at]]?.called || `row ${at + 1}`;
    return `${called}, row ${at + 1} of ${roster.order.length.toLocaleString("en-GB")}`;
  },
  get onlySays() {
    return `${project.roster.rows[project.row?.id]?.called || "this row"} only`;
  },
  get allSays() {
    return `all ${project.roster.order.length.toLocaleString("en-GB")}`;
  },
  get looksSay() {
    const looked = project.roster.order.filter((id) => id in project.looks);
    const count = looked.filter((id) => project.looks[id]).length;
    const all = project.roster.order.length;
    return count ? `${count} of ${looked.length < all ? `${looked.length.toLocaleString("en-GB")} drawn` : all.toLocaleString("en-GB")} to look at` : "";
  },
  // While many are drawn anew it is said how far that is.
  get drawnSays() {
    const all = Math.min(project.roster.order.length, MOST_LOOKED_AT);
    return this.drawn < all && all > FEW ? `${this.drawn} of ${all} drawn` : "";
  },
  get ownSays() {
    const count = project.row?.own.length ?? 0;
    return count === 1 ? "1 change of its own" : `${count} changes of its own`;
  },
  get wordsAsked() {
    const words = (this.scene?.parts ?? []).filter((part) => part.kind === "words");
    return (words.find((part) => this.isChosen(part.id)) ?? words[0])?.id ?? "";
  },

  beginRows() {
    this.beginRoster();
    Alpine.effect(() => {
      void [project.roster, project.row, project.materials, this.piece];
      if (!this.tied) return;
      if (this.strip) Alpine.nextTick(() => this.drawStrip());
      else if (this.strip === null) this.bringStrip();
    });
  },
  async bringStrip() {
    this.strip = false;
    const [{ Strip }, { Pictures }] = await Promise.all([import("../roster/strip.js"), import("../roster/pictures.js")]);
    const pictures = new Pictures(project, MOST_LOOKED_AT, () => {
      project.looks = pictures.looks;
      this.drawn = pictures.fresh.size;
      this.strip.draw();
    });
    this.drawn = 0;
    this.strip = plain(new Strip(this.$refs.strip, { project, pictures }));
    this.drawStrip();
  },
  drawStrip() {
    if (!this.strip || !this.tied) return;
    this.strip.of(this.piece);
    if (this.revealed !== project.row?.id) this.strip.reveal();
    this.revealed = project.row?.id;
  },

  showDesign() {
    project.showRow("");
  },
  showRowAgain() {
    if (!project.row) project.showRow(project.roster.order[0]);
  },
  walkRows(step) {
    const { order } = project.roster;
    if (!this.tied) {
      toasts.say("No value of this piece comes from the roster yet: press a value, then a column.", { seconds: 5 });
      return;
    }
    const at = project.row ? this.rowAt + step : step > 0 ? 0 : order.length - 1;
    if (order[at]) project.showRow(order[at]);
  },
  nextLook() {
    const { order } = project.roster;
    const from = Math.max(0, this.rowAt + 1);
    const next = [...order.slice(from), ...order.slice(0, from)].find((id) => project.looks[id]);
    if (next) project.showRow(next);
  },
  setOnly(only) {
    project.only = only;
  },
  // A part that is there in some rows only, as a column says.
  showWhere(name) {
    const of = `part ${this.chosen[0]} shown`;
    return act(() => project.try(name ? { do: "tie", of, text: `{${name}}` } : { do: "untie", of, row: project.row?.id ?? null }));
  },
  takeBack(of = "") {
    return act(() => project.try({ do: "revert-row", row: project.row.id, of }));
  },
});
