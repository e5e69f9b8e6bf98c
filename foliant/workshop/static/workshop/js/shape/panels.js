// The panels under the buttons, the box of commands, and the box of points to put a part on.

import { keyCaps } from "./commands.js";

export const panels = ({ Alpine, project }) => ({
  opened: "", // the panel that is open
  aside: 0, // how wide the panel is that the piece moves aside for, in pixels

  open(panel) {
    if (panel === "points") return this.openPoints();
    project.endTryOut();
    const wanted = this.opened === panel ? "" : panel;
    const bring = { motifs: () => this.bringMotifs(), combine: () => this.outliner(), treat: () => this.outliner(), findings: () => this.outlines("makeRoom"), letters: () => this.bringLetters() }[wanted];
    return wanted ? this.enter(panel, bring) : this.close();
  },
  async bringMotifs() {
    const { registerMotifs } = await import("./motifs.js");
    registerMotifs(Alpine);
    this.bringMotifs = () => null;
  },
  async bringLetters() {
    const { registerLettering } = await import("./lettering.js");
    registerLettering(Alpine, this, project);
    this.bringLetters = () => this.outlines("makeRoom");
    return this.bringLetters();
  },
  // Go into a panel once it is there, with the keys that fast hands have pressed for it meanwhile.
  async enter(panel, bring = null) {
    const keys = [];
    this.early = keys;
    await bring?.();
    this.opened = panel;
    let field = null;
    for (let frame = 0; frame < 40 && !field; frame += 1) {
      await new Promise(requestAnimationFrame);
      const found = document.querySelectorAll(`[data-panel="${panel}"] :is(input, select, button):not([hidden])`);
      field = [...found].find((one) => "first" in one.dataset && one.offsetParent) ?? found[0];
    }
    this.early = null;
    field?.focus();
    for (const { key, shiftKey } of keys) {
      if (field?.matches("input") && key.length === 1) {
        field.value += key;
        field.dispatchEvent(new Event("input"));
      } else (field ?? document.body).dispatchEvent(new KeyboardEvent("keydown", { key, shiftKey, bubbles: true, cancelable: true }));
    }
  },
  close() {
    if (!this.opened) return;
    const opener = document.querySelector(`[aria-controls="panel-${this.opened}"]`);
    this.opened = "";
    this.endRoom();
    project.endTryOut();
    opener?.focus();
  },

  // What moved aside for a panel goes back.
  endRoom() {
    if (["letters", "findings"].includes(this.opened)) return;
    this.aside = 0;
    if (this.view.fitted) this.fit();
  },

  // Open a box to find something in; what is typed before it is there goes into it all the same.
  async find(what) {
    const keys = [];
    this.early = keys;
    const [{ openPicker }, boxes] = await Promise.all([import("./picker.js"), import("./boxes.js")]);
    const found = await boxes[what](this, project);
    this.early = null;
    openPicker(found, keys);
  },
  openPoints() {
    return this.find("points");
  },
  openCommands() {
    return this.find("everyCommand");
  },
  get shortcuts() {
    const groups = new Map();
    for (const command of this.commandList) {
      if (!command.keys) continue;
      if (!groups.has(command.group)) groups.set(command.group, []);
      groups.get(command.group).push({ name: command.name, caps: keyCaps(command.keys[0]) });
    }
    return [...groups].map(([name, items]) => ({ name, items }));
  },
  can(command) {
    const chosen = this.chosen.length;
    return {
      undefined: true,
      parts: chosen > 0,
      one: chosen === 1,
      several: chosen > 1,
      copy: this.copyChosen > 0 && this.anyRepeated,
      repeated: this.anyRepeated,
      nodes: this.tool === "nodes" && this.chosenNodes.length > 0,
    }[command.needs];
  },
});
