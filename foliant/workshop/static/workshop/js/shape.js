// The Shape station, put together from components that each own their state, one idea a file.

import { act, again, ours } from "./hands.js";
import { plain } from "./plain.js";
import { aiming } from "./shape/aiming.js";
import { arranging } from "./shape/arranging.js";
import { choosing } from "./shape/choosing.js";
import { clipboard } from "./shape/clipboard.js";
import { union } from "./shape/geometry.js";
import { keyOf } from "./shape/keys.js";
import { Layers } from "./shape/layers.js";
import { listing } from "./shape/listing.js";
import { panels } from "./shape/panels.js";
import { Pen } from "./shape/pen.js";
import { outline } from "./shape/outline.js";
import { bringHandMarks, picture } from "./shape/picture.js";
import { putting } from "./shape/putting.js";
import { rosterHost } from "./roster/host.js";
import { rows } from "./shape/rows.js";
import { saying } from "./shape/saying.js";
import { tools } from "./shape/tools.js";
import { Viewport } from "./viewport.js";

const STEPS = ["Tab", "Enter", " ", "Shift", "Control", "Alt", "Meta"]; // keys that are no commands by themselves

export function register(Alpine, boot) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  Alpine.store("shortcuts", { groups: [] }); // the shortcut sheet, which lives beside the station

  const station = () => ({
    project,
    piece: "", // the open piece
    commandList: [], // every command; they come with the outliner
    specLine: null,

    init() {
      const wanted = window.location.hash.slice(1);
      this.piece = project.order.includes(wanted) ? wanted : (project.order[0] ?? "");
      this.specLine = this.$refs.spec; // for acts whose own button is gone when they come to it
      this.pen = plain(new Pen());
      this.measure = plain({ from: null, to: null, over: null });
      this.hand = plain({ drag: null });
      this.layers = plain(new Layers(this.$refs.svg, this.$refs.over));
      this.view = plain(new Viewport(this.$refs.svg, { rulerX: this.$refs.rulerX, rulerY: this.$refs.rulerY, changed: () => this.draw() }));
      project.openMotifs = (instead) => this.openMotifs(instead);
      this.fit();
      Alpine.effect(() => this.follow());
      Alpine.effect(() => this.speak());
      window.addEventListener("keydown", (event) => this.key(event));
      for (const act of ["copy", "cut", "paste"]) document.addEventListener(act, (event) => this[act](event));
      this.beginRows();
      if (!project.standing.sheet) project.refresh();
      // So that they open at once; what there is to say about the piece comes with them. While the server is away they
      // cannot come; then they do when they are wanted.
      const ahead = () => [bringHandMarks(), this.outliner(), import("./shape/gestures.js"), import("./shape/picker.js"), import("./shape/asking.js"), import("./shape/chooser.js")];
      setTimeout(() => Promise.allSettled(ahead()), 2000);
    },

    // Whenever the project, the choice or the look changes: keep the choice real, then draw.
    follow() {
      if (!project.order.includes(this.piece)) this.piece = project.order[0] ?? "";
      project.open = this.piece;
      const ids = new Set(project.scenes[this.piece]?.ids ?? []);
      if (this.chosen.some((id) => !ids.has(id))) this.chosen = this.chosen.filter((id) => ids.has(id));
      void [this.findings, this.shownFinding, this.combining.keeper, this.look, project.unit, this.scene, this.chosen.length, this.tool, this.chosenNodes.length, this.opened, this.align.to, this.spread.within];
      if (this.tool === "nodes" && !this.drawnPart) this.tool = "choose";
      this.view.unit = project.unit;
      this.view.drawRulers();
      this.keepInView();
      this.draw();
      if (!this.hand.drag) this.fetchSnaps();
    },
    // A piece that outgrows the window is fitted to it again, unless the maker has chosen the view.
    keepInView() {
      const [left, top, right, bottom] = project.scenes[this.piece]?.bounds ?? [0, 0, 0, 0];
      const [x, y, width, height] = this.view.box;
      const out = left < x || top < y || right > x + width || bottom > y + height;
      const lost = (right - left) * 8 < width && (bottom - top) * 8 < height;
      if (this.view.fitted && right > left && (out || lost)) this.fit();
    },

    get scene() {
      return project.scene(this.piece);
    },
    fit() {
      const bounds = this.scene?.bounds ?? [0, 0, 0, 0];
      const empty = bounds[2] - bounds[0] <= 0;
      this.view.fit(empty ? [0, 0, 80, 50] : bounds, [24, 40, 70 + this.aside, 40]);
    },
    fitChosen() {
      this.view.fit(union(this.chosenParts.map((part) => part.bounds)), [60, 60, 80, 60]);
      this.view.fitted = false;
    },
    zoom(factor) {
      this.view.zoomAt(factor, 0.5, 0.5);
    },
    turnLook() {
      this.look = this.look === "finished" ? "toolpaths" : "finished";
    },
    setUnit(unit) {
      if (unit !== project.unit) project.try({ do: "set-unit", unit });
    },

    openPiece(id) {
      this.piece = id;
      this.choose("");
      this.setTool("choose");
      window.history.replaceState(null, "", `#${id}`);
      this.$nextTick(() => this.fit());
    },

    key(event) {
      if (event.defaultPrevented || event.target.closest("input, textarea, select, dialog, .choices")) return;
      const key = keyOf(event);
      if (event.altKey) return;
      if (this.tool === "pen" && ["Enter", "Backspace"].includes(key)) {
        event.preventDefault();
        if (key === "Enter") this.finishPen(false);
        else this.pen.undo();
        this.draw();
        return;
      }
      const command = this.commandList.find((found) => !found.own && found.keys?.includes(key));
      if (!this.outliningReady && !STEPS.includes(event.key)) {
        if (!ours(event)) return; // pasting and reloading are the browser's, also now
        event.preventDefault();
        act(() => this.outliner().then(() => again(event))); // its keys come with it
        return;
      }
      if (!command || ["Enter", " "].includes(event.key)) return;
      if (!this.can(command)) {
        this.wants(command);
        return;
      }
      event.preventDefault();
      command.run(event);
    },
  });

  const context = { Alpine, project, toasts, boot };
  const components = [station, listing, choosing, putting, arranging, outline, panels, tools, aiming, saying, clipboard, rosterHost, rows, picture].map((component) => component(context));
  Alpine.data("shapeStation", () =>
    components.reduce((whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part)), {}),
  );
}
