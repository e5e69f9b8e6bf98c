// What is done to what is chosen: role, place, align, spread, hold, repeat. All of it is asked of the server.

import { act } from "../hands.js";

export const arranging = ({ project, toasts, boot }) => ({
  roles: boot.roles,
  overRole: "",
  each: false, // whether several are sized and turned each, or as one
  lastMove: [],
  holdsNew: localStorage.getItem("foliant-holds-new") === "yes", // whether what is put on is held where it lands
  align: { to: "piece", gap: "", asOne: false, hold: false },
  spread: { axis: "across", by: "gap", distance: "", within: "", margin: "" },

  plays(role) {
    const parts = this.chosenParts;
    return parts.length ? parts.every((part) => part.roles.includes(role)) : this.putRole === role;
  },
  get anyHeld() {
    return this.chosenParts.some((part) => part.data.across || part.data.down);
  },
  get anyRepeated() {
    return this.chosenParts.some((part) => part.data.repeat);
  },
  all(mark) {
    return this.chosenParts.length > 0 && this.chosenParts.every((part) => part.data[mark]);
  },

  // What can stand still while others are aligned with it.
  get anchors() {
    return (project.scenes[this.piece]?.parts ?? []).slice(0, 200);
  },

  doParts(what, more = {}) {
    if (!this.chosen.length) return null;
    return project.try({ do: what, piece: this.piece, parts: this.chosen, ...more });
  },
  // With Shift, `also`, it is one role more, or one less.
  setRole(role, also = false) {
    return act(() => {
      if (this.chosen.length) return this.doParts("set-role", { role, also });
      this.putRole = this.putRole === role ? "" : role;
      return true;
    });
  },
  turnRole() {
    const keys = this.roles.map((role) => role.key);
    this.setRole(keys[(keys.findIndex((key) => this.plays(key)) + 1) % keys.length]);
  },
  toggle(mark) {
    const chosen = [...this.chosen];
    const on = !this.all(mark);
    const done = this.doParts("mark-parts", { [mark]: on });
    if (mark === "hidden" && on) {
      toasts.say(chosen.length === 1 ? "It is hidden, and not made until it is shown again." : `${chosen.length} parts are hidden, and not made until they are shown again.`, { action: "Undo", run: () => project.walk("undo") });
    }
    return done;
  },
  showAll() {
    const hidden = this.scene.parts.filter((part) => part.data.hidden).map((part) => part.id);
    if (hidden.length) project.try({ do: "mark-parts", piece: this.piece, parts: hidden, hidden: false });
  },
  remove() {
    if (this.tool === "nodes" && this.chosenNodes.length) return this.nodes("remove");
    return this.doParts("remove-parts");
  },

  // Place
  centre(way) {
    const edges = { both: { across: "middle", down: "middle" }, across: { across: "middle" }, down: { down: "middle" }, eye: { across: "visual" }, eyeBoth: { across: "visual", down: "visual" } };
    return this.doParts("align-parts", { ...edges[way], as_one: true });
  },
  async move(dx, dy) {
    const done = await this.doParts("move-parts", { dx, dy });
    if (done) this.lastMove = [dx, dy];
    return done;
  },
  nudge(x, y, event) {
    const step = project.nudge * (event?.shiftKey ? 10 : 1);
    if (this.tool === "nodes" && this.chosenNodes.length) return this.nodes("move", { dx: x * step, dy: y * step });
    return this.move(x * step, y * step);
  },
  turn(by) {
    return this.doParts("rotate-parts", { by, each: this.each });
  },
  // Beside the first, unless it is said where.
  duplicate(dx, dy) {
    return act(async () => {
      const parts = this.chosen;
      return parts.length > 0 && (await this.adding({ do: "duplicate-parts", piece: this.piece, parts, dx, dy })).length > 0;
    });
  },
  duplicateAgain() {
    return this.duplicate(...this.lastMove);
  },

  // Hold where it is: to the part it was just put on, else to the piece; or let go what is held.
  async hold() {
    if (this.anyHeld) {
      if (await this.doParts("release-parts")) this.status = "Let go";
      return;
    }
    const to = this.snappedTo?.chosen === this.chosen.join() ? this.snappedTo.part : "piece";
    if (await this.doParts("hold-parts", { to })) this.status = "Held";
  },

  turnHoldsNew() {
    this.holdsNew = !this.holdsNew;
    localStorage.setItem("foliant-holds-new", this.holdsNew ? "yes" : "no");
    this.status = this.holdsNew ? "What is put on is held from now on" : "What is put on is free from now on";
  },

  alignEdit(lines) {
    const { to, gap, asOne, hold } = this.align;
    const beside = gap.trim() ? { gap } : {};
    return { do: "align-parts", piece: this.piece, parts: this.chosen, to, ...lines, ...beside, as_one: asOne && to !== "chosen", hold: hold && to !== "chosen" };
  },
  tryAlign(lines) {
    if (this.chosen.length) project.tryOut(this.alignEdit(lines));
  },
  async keepAlign(lines) {
    if (this.chosen.length) await project.try(this.alignEdit(lines));
  },
  spreadEdit() {
    const { axis, by, distance: apart, within, margin } = this.spread;
    return {
      do: "spread-parts", piece: this.piece, parts: this.chosen, axis, by,
      ...(apart.trim() ? { distance: apart } : {}),
      ...(within ? { within, ...(margin.trim() ? { margin } : {}) } : {}),
    };
  },
  trySpread() {
    if (this.chosen.length > 1) project.tryOut(this.spreadEdit());
  },
  async keepSpread() {
    if (await project.try(this.spreadEdit())) this.opened = "";
  },
  leaveTry() {
    this.tried = null;
    project.endTryOut();
  },
  async repeat(kind, more = {}) {
    this.opened = "";
    await this.doParts("repeat-parts", { kind, ...more });
  },
  letGo(every) {
    return this.doParts("let-go", every ? {} : { copy_number: this.copyChosen });
  },
});
