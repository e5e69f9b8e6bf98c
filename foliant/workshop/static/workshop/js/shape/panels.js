// The panels under the buttons, the box of commands, and the box of points to put a part on.

import { act } from "../hands.js";
import { keyCaps } from "./keys.js";

// What a command needs that there is not, as it is said.
const WANTS = {
  parts: "Choose a part first",
  one: "Choose one part",
  several: "Choose two parts or more",
  copy: "Press one of several copies",
  repeated: "Choose a part that is repeated",
  nodes: "Choose a node first, with the nodes tool (8)",
};

export const panels = ({ Alpine, project, toasts, boot }) => ({
  opened: "", // the panel that is open
  instead: null, // the value that a pressed motif is for, where it does not put on another
  aside: 0, // how wide the panel is that the piece moves aside for, in pixels

  open(panel) {
    if (panel === "points") return this.openPoints();
    project.endTryOut();
    this.instead = null;
    const wanted = this.opened === panel ? "" : panel;
    const bring = { motifs: () => this.bringMotifs(), combine: () => this.outliner(), treat: () => this.outliner(), findings: () => this.makeRoom(), came: () => this.makeRoom(), clean: () => this.bringClean(), trace: () => this.bringTrace(), letters: () => this.bringLetters() }[wanted];
    return wanted ? this.enter(panel, bring) : this.close();
  },
  async bringMotifs() {
    const { registerMotifs } = await import("./motifs.js");
    await registerMotifs(Alpine);
    this.bringMotifs = () => null;
  },
  // For a value; it is an act already.
  openMotifs(instead) {
    this.instead = instead;
    this.makeRoom(530);
    return this.show("motifs", () => this.bringMotifs());
  },
  useMotif(key) {
    return this.instead ? this.change(this.instead.edit(key)) : this.put("motif", { motif: key });
  },
  // The value that the library was opened for, another way.
  change(edit) {
    return act(async () => {
      const { left } = this.instead;
      this.close();
      await project.try(edit);
      await left();
    });
  },
  async bringLetters() {
    const { registerLettering } = await import("./lettering.js");
    registerLettering(Alpine, this, project);
    this.bringLetters = () => this.makeRoom();
    return this.bringLetters();
  },
  async bringClean() {
    const [{ registerCleaning }] = await Promise.all([import("./cleaning.js"), this.outliner()]);
    registerCleaning(Alpine, this, project);
    this.makeRoom();
  },
  async bringTrace() {
    (await import("./tracing.js")).registerTracing(Alpine, this, project, boot.tracing);
    this.makeRoom();
  },
  // Go into a panel once it is there.
  enter(panel, bring) {
    return act(() => this.show(panel, bring));
  },
  async show(panel, bring) {
    await bring?.();
    this.opened = panel;
    let field = null;
    for (let frame = 0; frame < 40 && !field; frame += 1) {
      await new Promise(requestAnimationFrame);
      const found = document.querySelectorAll(`[data-panel="${panel}"] :is(input, select, button):not([hidden])`);
      field = [...found].find((one) => "first" in one.dataset && one.offsetParent) ?? found[0];
    }
    onPage(document.querySelector(`[data-panel="${panel}"]`));
    field?.focus();
    return field;
  },
  close() {
    if (!this.opened) return;
    const opener = document.querySelector(`[aria-controls="panel-${this.opened}"]`);
    const { instead } = this;
    this.opened = "";
    this.instead = null;
    this.endRoom();
    project.endTryOut();
    if (instead) instead.left();
    else opener?.focus();
  },

  // The piece moves aside for a panel, so that what it tells of can be seen, and goes back.
  makeRoom(aside = 410) {
    this.aside = aside;
    if (this.view.fitted) this.fit();
  },
  endRoom() {
    if (["letters", "findings", "came", "clean", "trace"].includes(this.opened)) return;
    this.aside = 0;
    if (this.view.fitted) this.fit();
  },

  // Open a box to find something in.
  find(what) {
    return act(async () => {
      const [{ openPicker }, boxes] = await Promise.all([import("./picker.js"), import("./boxes.js")]);
      openPicker(await boxes[what](this, project));
    });
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
  wants({ needs, name }) {
    toasts.say(`${name}: ${WANTS[needs]}.`, { seconds: 4 });
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

// A panel under its button stays on the page, all of it within reach.
function onPage(panel) {
  if (!panel?.matches(".menu *")) return;
  panel.style.translate = "";
  panel.style.maxHeight = "";
  const { left, right, top } = panel.getBoundingClientRect();
  const shift = Math.max(8 - left, Math.min(0, window.innerWidth - 8 - right));
  panel.style.translate = `${shift}px 0`;
  if (top > 0 && panel.scrollHeight > window.innerHeight - 8 - top) Object.assign(panel.style, { maxHeight: `${window.innerHeight - 8 - top}px`, overflowY: "auto" });
}
