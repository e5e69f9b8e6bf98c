// The tools: choosing, nodes, pen and measure, and what a press on the drawing means to each.

import { act } from "../hands.js";
import { unapply, union, within } from "./geometry.js";

export const tools = ({ project, toasts }) => ({
  tool: "choose",
  chosenNodes: [], // [contour, node] of the drawn shape whose nodes are edited
  nodeRadius: "2 mm", // by which corners are rounded
  hand: null, // what the hand does just now; changes on every frame, so Alpine does not watch it
  pen: null,
  measure: null,

  // Tools
  setTool(tool) {
    if (tool === "nodes" && this.chosen.length === 1 && !this.drawnPart) {
      const { label } = this.chosenParts[0];
      toasts.say(`${label} has measures of its own. Made plain, it has nodes instead.`, { action: "Make plain", run: () => this.makePlain().then(() => this.setTool("nodes")), seconds: 8 });
      return;
    }
    this.tool = this.tool === tool ? "choose" : tool;
    if (tool === "nodes" && !this.drawnPart) this.tool = "choose";
    this.pen.nodes = [];
    Object.assign(this.measure, { from: null, to: null, over: null });
    this.chosenNodes = [];
    if (this.tool === "pen" || this.tool === "measure") this.chosen = [];
    this.status = "";
    this.draw();
  },
  makePlain() {
    return this.doParts("make-plain");
  },
  escape() {
    if (this.opened) this.close();
    else if (this.tool === "pen" && this.pen.nodes.length) {
      this.pen.nodes = [];
      this.draw();
    } else if (this.tool === "nodes" && this.chosenNodes.length) this.chosenNodes = [];
    else if (this.tool !== "choose") this.setTool("choose");
    else this.choose("");
  },

  async finishPen(closed) {
    const { pen } = this;
    if (pen.nodes.length < 2) return;
    const contour = pen.contour(closed);
    pen.nodes = [];
    this.tool = "choose";
    await act(() => this.putOn({ kind: "drawn", contours: [contour] }));
  },

  async nodes(op, more = {}) {
    const part = this.drawnPart;
    if (!part || !this.chosenNodes.length) return null;
    const done = await project.try({ do: "edit-nodes", part: part.id, op, nodes: this.chosenNodes, ...more });
    if (done && ["remove", "break", "join", "round"].includes(op)) this.chosenNodes = [];
    return done;
  },
  nextNode(step) {
    const all = this.drawnPart.data.shape.contours.flatMap((contour, c) => contour.nodes.map((_, n) => [c, n]));
    const at = this.chosenNodes.length ? all.findIndex(([c, n]) => c === this.chosenNodes[0][0] && n === this.chosenNodes[0][1]) : -1;
    this.chosenNodes = [all[(at + step + all.length) % all.length]];
  },
  press(event) {
    if (event.button !== 0 || this.view.spaceHeld) return;
    document.activeElement?.blur?.();
    const { part: id, copy, handle, dimension, node, arm, face, corner, bridge } =
      event.target.closest("[data-part], [data-handle], [data-dimension], [data-node], [data-face], [data-corner], [data-bridge]")?.dataset ?? {};
    if (dimension) {
      event.preventDefault();
      this.askDimension(dimension, event);
    } else if (this.tool === "pen") this.pressPen(event);
    else if (this.tool === "measure") this.pressMeasure(event);
    else if (handle === "turn") this.drag("Turn", event);
    else if (handle) this.drag("Handle", event, handle);
    else if (bridge) this.outlining.pressBridge(event, ...bridge.split(" ").map(Number));
    else if (corner) this.outlines("turnCorner", Number(corner));
    else if (face) this.pressFace(event, face.split(" ").map(Number));
    else if (node) this.pressNode(event, node.split(" ").map(Number), arm);
    else if (this.tool === "nodes") this.drag("Marquee", event, () => (this.chosenNodes = []));
    else if (!(event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) && this.isHeldBy(event, id)) this.pressInside(event, id, Number(copy ?? 0));
    else if (!id || event.ctrlKey || event.metaKey) {
      this.drag("Marquee", event, () => this.choose(id ?? "", { through: true, more: event.shiftKey, copy: Number(copy ?? 0) }));
    } else if (event.altKey) this.chooseUnder(event);
    else if (event.shiftKey) this.choose(id, { more: true });
    else {
      if (event.pointerType === "touch") this.longPress(event, id);
      if (!this.isChosen(id)) this.choose(id, { copy: Number(copy) });
      else this.copyChosen = Number(copy);
      this.drag("Parts", event);
    }
  },
  // Whether a press is one on what is chosen: anywhere in its box, but on a part that lies above it.
  isHeldBy(event, id) {
    const parts = this.chosenParts;
    if (!parts.length || this.isChosen(id)) return false;
    const alone = parts.length === 1;
    const at = alone ? unapply(parts[0].matrix, this.view.at(event)) : this.view.at(event);
    const box = alone ? parts[0].own : union(parts.map((part) => part.bounds));
    if (!within([...at, ...at], box)) return false;
    const order = this.scene.parts.map((part) => part.id);
    return !id || parts.some((part) => order.indexOf(part.id) > order.indexOf(id));
  },
  // A drag moves what is chosen; a press alone chooses what lies there.
  async pressInside(event, id, copy) {
    if (id && event.pointerType === "touch") this.longPress(event, id);
    const released = new Promise((resolve) => {
      for (const end of ["pointerup", "pointercancel"]) window.addEventListener(end, resolve, { once: true });
    });
    const [up] = await Promise.all([released, this.drag("Parts", event)]); // or what it drags were chosen anew meanwhile
    if (up.type === "pointerup" && Math.hypot(up.clientX - event.clientX, up.clientY - event.clientY) < 3) this.choose(id ?? "", { copy });
  },
  // What is known of dragging comes a moment after the page; a hand that was faster has its gesture to the end.
  async drag(what, event, ...rest) {
    /** @type {any} */
    let done = null;
    for (const end of ["pointerup", "pointercancel"]) window.addEventListener(end, (last) => (done ??= last), { once: true });
    const gestures = await import("./gestures.js");
    gestures[`drag${what}`](this, event, ...rest);
    if (done?.type === "pointerup") window.dispatchEvent(new PointerEvent("pointermove", done));
    if (done) window.dispatchEvent(new PointerEvent(done.type, done));
  },
  // A finger that rests on a part adds it to what is chosen, as Shift does.
  longPress(event, id) {
    const before = this.chosen;
    const done = (next) => {
      if (next.type === "pointermove" && Math.hypot(next.clientX - event.clientX, next.clientY - event.clientY) < 8) return;
      clearTimeout(timer);
      for (const kind of ["pointermove", "pointerup", "pointercancel"]) window.removeEventListener(kind, done);
    };
    const timer = setTimeout(() => {
      window.dispatchEvent(new PointerEvent("pointercancel"));
      this.chosen = before;
      this.choose(id, { more: true });
    }, 450);
    for (const kind of ["pointermove", "pointerup", "pointercancel"]) window.addEventListener(kind, done);
  },
  // A press on a face drops it or keeps it; a drag moves the whole.
  pressFace(event, at) {
    window.addEventListener("pointerup", (up) => {
      if (Math.hypot(up.clientX - event.clientX, up.clientY - event.clientY) < 3) this.outlines("turnFace", ...at);
    }, { once: true });
    this.drag("Parts", event);
  },
  pressTwice(event) {
    if (this.tool === "nodes") this.outlines("addNodeAt", event);
    else if (event.target.dataset?.part) this.choose(event.target.dataset.part, { through: true });
  },
  pressNode(event, at, arm) {
    if (arm) {
      this.drag("Arm", event, at, arm);
      return;
    }
    const same = ([c, n]) => c === at[0] && n === at[1];
    const on = this.chosenNodes.some(same);
    if (event.shiftKey) this.chosenNodes = on ? this.chosenNodes.filter((node) => !same(node)) : [...this.chosenNodes, at];
    else if (!on) this.chosenNodes = [at];
    if (!event.shiftKey || !on) this.drag("Nodes", event, at);
  },
  pressPen(event) {
    const at = this.snapped(event);
    if (this.pen.isFirst(this.view.at(event), 9 * this.view.scale)) {
      this.finishPen(true);
      return;
    }
    // Pressed twice in one place: the line ends there. (The drawing changes in between, so no dblclick may come.)
    const again = event.timeStamp - this.pen.pressed < 450 && this.pen.isLast(at, 4 * this.view.scale);
    this.pen.pressed = event.timeStamp;
    if (again) {
      this.finishPen(false);
      return;
    }
    this.pen.add(at);
    this.pen.over = at;
    this.draw();
    this.drag("Pen", event);
  },
  async pressMeasure(event) {
    await this.aimed();
    const over = this.measured(event);
    const { measure } = this;
    if (!measure.from || measure.to) Object.assign(measure, { from: over, to: null });
    else measure.to = over;
    this.draw();
  },
  // The pointer over the drawing: the pen and the measure show where they would go.
  hover(event) {
    if (this.hand.drag || (this.tool !== "pen" && this.tool !== "measure") || this.measure.to) return;
    if (this.tool === "pen") {
      this.pen.over = this.snapped(event);
      if (!this.pen.nodes.length) return;
    } else this.measure.over = this.measured(event);
    this.draw();
  },
  snapped(event) {
    const at = this.view.at(event);
    if (!this.snapping || event.altKey || !this.scene) return at;
    const found = this.candidates(new Set()).nearest(at, this.view.scale, { grid: project.nudge });
    this.status = found && found.says !== "grid" ? `On: ${found.says}` : "";
    return found?.at ?? at;
  },
  measured(event) {
    const at = this.view.at(event);
    const found = this.scene ? this.candidates(new Set()).nearest(at, this.view.scale) : null;
    this.status = found ? `On: ${found.says}` : "";
    return found ?? { at, says: "", part: "" };
  },

  // Any dimension can be pressed and typed.
  askDimension(what, event) {
    return act(async () => (await import("./asking.js")).askDimension(this, what, event));
  },
});
