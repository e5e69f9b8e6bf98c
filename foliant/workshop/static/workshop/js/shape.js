// The Shape station: pieces and their parts, the shelf, and the drawing with its tools.

import { get, post } from "./api.js";
import { plain } from "./plain.js";
import { arranging } from "./shape/arranging.js";
import { choosing } from "./shape/choosing.js";
import { clipboard } from "./shape/clipboard.js";
import { commands, keyOf } from "./shape/commands.js";
import { distance, union } from "./shape/geometry.js";
import { Layers } from "./shape/layers.js";
import { panels } from "./shape/panels.js";
import { Pen } from "./shape/pen.js";
import { outline } from "./shape/outline.js";
import { picture } from "./shape/picture.js";
import { putting } from "./shape/putting.js";
import { Snapping } from "./shape/snapping.js";
import { tools } from "./shape/tools.js";
import { Viewport } from "./viewport.js";

const NO_SNAPS = { points: [], edges: [] };

export function register(Alpine, boot) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  // The shortcut sheet lives beside the station, and reads the same list of commands.
  Alpine.data("shortcutSheet", () => ({
    get groups() {
      return Alpine.store("shortcuts").groups;
    },
  }));
  Alpine.store("shortcuts", { groups: [] });

  const context = { Alpine, project, toasts };
  const parts = [choosing, putting, arranging, outline, panels, tools, clipboard, picture].map((part) => part(context));

  const station = () => ({
    project,
    shelf: boot.shelf,
    roles: boot.roles,
    piece: "", // the open piece
    chosen: [], // ids of the chosen parts
    copyChosen: 0, // the number of the copy that was pressed, of a repeated part
    chosenNodes: [], // [contour, node] of the drawn shape whose nodes are edited
    look: "finished",
    tool: "choose",
    opened: "", // the panel that is open
    marquee: localStorage.getItem("foliant-marquee") ?? "touching",
    snapping: true,
    aside: 0, // how wide the panel is that the piece moves aside for, in pixels
    each: false, // whether several are sized and turned each, or as one
    putRole: "", // the role the next part takes; empty for its own
    overRole: "",
    status: "", // what is snapped to, in words
    hand: null, // what the hand does just now; changes on every frame, so Alpine does not watch it
    pen: null,
    measure: null,
    snaps: NO_SNAPS,
    snapsOf: "",
    snapsReady: Promise.resolve(),
    snappedTo: null, // the part that what is chosen was last put on
    lastMove: [4, 4],
    copied: { piece: "", times: 0 },
    spoken: null, // the sentence of several parts, or of a node, as the server said it
    align: { to: "piece", asOne: false, hold: false },
    spread: { axis: "across", by: "gap", distance: "", within: "", margin: "" },
    view: null,
    layers: null,
    commandList: [],
    putting: null, // the last of the parts being put on
    early: null, // keys pressed while a value is about to open, so that fast hands lose nothing

    init() {
      const wanted = window.location.hash.slice(1);
      this.piece = project.order.includes(wanted) ? wanted : (project.order[0] ?? "");
      this.commandList = plain(commands(this));
      Alpine.store("shortcuts").groups = this.shortcuts;
      this.pen = plain(new Pen());
      this.measure = plain({ from: null, to: null, over: null });
      this.hand = plain({ drag: null });
      this.layers = plain(new Layers(this.$refs.svg, this.$refs.over));
      this.view = plain(new Viewport(this.$refs.svg, { rulerX: this.$refs.rulerX, rulerY: this.$refs.rulerY, changed: () => this.draw() }));
      this.fit();
      Alpine.effect(() => this.follow());
      Alpine.effect(() => this.speak());
      window.addEventListener("keydown", (event) => this.key(event));
      for (const [kind, act] of [["copy", "copy"], ["cut", "cut"], ["paste", "paste"]]) {
        document.addEventListener(kind, (event) => this[act](event));
      }
      if (!project.standing.sheet) project.refresh();
      // So that they open at once; what there is to say about the piece comes with them.
      setTimeout(() => Promise.all([this.outliner(), import("./shape/picker.js"), import("./shape/asking.js"), import("./shape/chooser.js")]), 2000);
    },

    // Whenever the project, the choice or the look changes: keep the choice real, then draw.
    follow() {
      if (!project.order.includes(this.piece)) this.piece = project.order[0] ?? "";
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

    // Several parts, or a node, are said by the server.
    async speak() {
      const [piece, parts, node] = [this.piece, [...this.chosen], this.tool === "nodes" && this.chosenNodes.length === 1 ? [...this.chosenNodes[0]] : null];
      const { revision } = project;
      if (parts.length < 2 && !node) {
        this.spoken = null;
        return;
      }
      try {
        const { sentence } = await post(`${project.address}/selection`, { piece, parts, node });
        if (revision === project.revision && parts.join() === this.chosen.join()) this.spoken = sentence;
      } catch {
        this.spoken = null; // what is chosen has just gone
      }
    },

    fetchSnaps() {
      const wanted = `${this.piece} ${project.revision}`;
      if (!this.piece || this.snapsOf === wanted) return this.snapsReady;
      this.snapsOf = wanted;
      const take = (found) => {
        if (this.snapsOf === wanted) this.snaps = plain(found);
      };
      // Without them a drag goes on all the same.
      this.snapsReady = get(`${project.address}/pieces/${this.piece}/snaps`).then(take, () => take({ ...NO_SNAPS }));
      return this.snapsReady;
    },
    candidates(moving) {
      const snapping = new Snapping();
      const { parts } = this.scene;
      snapping.prepare(this.snaps, parts, moving);
      this.snapsReady.then(() => snapping.prepare(this.snaps, parts, moving));
      return snapping;
    },
    // The point of what is chosen that it was grabbed by, if the pointer is on one.
    grabbed(at) {
      const own = new Set(this.chosen);
      const near = this.snaps.points.filter((point) => own.has(point[3])).map((point) => [point[0], point[1]]);
      return near.filter((point) => distance(point, at) < 10 * this.view.scale).sort((a, b) => distance(a, at) - distance(b, at))[0];
    },

    get scene() {
      return project.scene(this.piece);
    },
    get chosenParts() {
      const chosen = new Set(this.chosen);
      return (this.scene?.parts ?? []).filter((part) => chosen.has(part.id));
    },
    get drawnPart() {
      return this.chosen.length === 1 ? this.chosenParts.find((part) => part.kind === "drawn") : undefined;
    },
    get nudgeStep() {
      return project.nudge;
    },
    get sentence() {
      if (!this.scene) return [{ text: "This project has no piece yet. Add one to begin." }];
      if (this.tool === "pen") return [{ text: "The pen: press for a corner, press and pull for a curve. The first node closes the shape, Enter ends a line, Esc gives up." }];
      if (this.tool === "measure") return [{ text: "Measure: press one point or edge, then another. The distance can then be pressed and typed." }];
      const parts = this.chosenParts;
      if (this.spoken && (parts.length > 1 || this.chosenNodes.length === 1)) return this.spoken;
      if (this.tool === "nodes" && parts.length === 1) {
        return [{ text: `Nodes of ${parts[0].label}: drag one, or press one to say where it lies. Press the outline twice to add one.` }];
      }
      if (parts.length === 1) return parts[0].spec;
      if (parts.length > 1) return [{ text: `${parts.length} parts of ` }, { text: this.scene.name, style: "name" }, { text: "." }];
      return this.scene.spec;
    },
    get sceneName() {
      return this.scene?.name ?? "";
    },
    get holdsTogether() {
      return this.scene?.bodies === 1;
    },
    get bodiesSay() {
      if (this.scene?.trouble) return project.unfinished ? "Being worked out" : "Cannot be worked out";
      const bodies = this.scene?.bodies ?? 0;
      const says = bodies === 0 ? "No material yet" : bodies === 1 ? "One body" : `${bodies} bodies`;
      return this.findings.length ? `${says} · ${this.findings.length} to look at` : says;
    },
    get timeSays() {
      const time = project.standing.pieceSeconds?.[this.piece];
      return time ? `${time} each` : "";
    },
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

    // The parts of a role in the list, as they are kept: a drag does not write the list anew. What a combination is
    // made of stands under it.
    partsOf(role) {
      const { parts = [], combined = [] } = project.scenes[this.piece] ?? {};
      if (!combined.length) return parts.filter((part) => part.role === role);
      const known = new Map(parts.map((part) => [part.id, part]));
      const rows = (part, depth) => [{ ...part, depth }, ...part.members.flatMap((id) => (known.has(id) ? rows(known.get(id), depth + 1) : []))];
      return parts.filter((part) => part.role === role && !combined.includes(part.id)).flatMap((part) => rows(part, 0));
    },
    partStyle(part) {
      return [this.isChosen(part.id) ? "chosen" : "", part.data.hidden ? "hidden-part" : "", part.groups.length ? "grouped" : "", part.depth ? "member" : ""].join(" ");
    },
    partSays(part) {
      const { locked, hidden, across, down } = part.data;
      const notes = [part.copies.length ? `× ${part.copies.length + 1}` : "", across || down ? "held" : "", locked ? "locked" : "", hidden ? "hidden" : "", this.idle[part.id]];
      return [part.summary, ...notes.filter(Boolean)].join(", ");
    },
    get nudgeBits() {
      return [{ of: "project", field: "nudge", kind: "length", label: "The nudge", text: project.nudgeSays, raw: project.nudgeSays }];
    },
    isChosen(id) {
      return this.chosen.includes(id);
    },
    sizeSays(id) {
      const scene = project.scenes[id];
      return scene.copies === 1 ? scene.size : `${scene.size} · ${scene.copies}`;
    },
    // What can stand still while others are aligned with it.
    get anchors() {
      return (project.scenes[this.piece]?.parts ?? []).slice(0, 200);
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
      if (this.early && !key.startsWith("Ctrl+")) {
        this.early.push({ key: event.key, shiftKey: event.shiftKey });
        event.preventDefault();
        return;
      }
      if (event.altKey) return;
      if (this.tool === "pen" && ["Enter", "Backspace"].includes(key)) {
        event.preventDefault();
        if (key === "Enter") this.finishPen(false);
        else this.pen.undo();
        this.draw();
        return;
      }
      const command = this.commandList.find((found) => !found.own && found.keys?.includes(key));
      if (!command && !this.outliningReady) this.outliner().then(() => this.key(event)); // its keys come with it
      if (!command || !this.can(command)) return;
      if (["Enter", " "].includes(event.key)) return;
      event.preventDefault();
      command.run(event);
    },
  });

  // One component in the page, one idea a file: their properties, getters too, are put together here.
  Alpine.data("shapeStation", () =>
    [station(), ...parts].reduce((whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part)), {}),
  );
}
