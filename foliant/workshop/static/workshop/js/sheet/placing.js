// Placing by hand: dragged, pushed by the arrows, turned, aligned, locked.

import { post } from "../api.js";
import { instanceKey } from "../drawing.js";

const ASK_EVERY = 40; // ms, while something is dragged
const round = (value) => Math.round(value * 1000) / 1000;
const named = ({ piece, row, number }) => ({ piece, row, number });

export const placing = ({ project, toasts }) => ({
  place(instance, x, y, sheet = project.view.sheet.own) {
    return project.try({ do: "place", ...named(instance), sheet, x: round(x), y: round(y) });
  },
  // An edit of the chosen one where it lies.
  there(what, more) {
    if (!this.instance) return null;
    const [x, y] = this.instance.bounds;
    return project.try({ do: what, ...named(this.instance), sheet: project.view.sheet.own, x, y, ...more });
  },
  align(lines) {
    this.there("align-instance", lines);
  },
  turn(by) {
    this.there("turn-instance", { by });
  },
  lock() {
    this.there("lock-instance", { locked: !this.instance.locked });
  },
  inRows() {
    project.try({ do: "arrange-in-rows" });
  },

  key(event) {
    if (event.target.closest("input, textarea, dialog, .choices, .grid") || event.ctrlKey || event.metaKey || !this.instance) return;
    const step = event.shiftKey ? 10 : 1;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    if (event.key === "Escape") this.chosen = "";
    else if (event.key.toLowerCase() === "t") this.turn(event.shiftKey ? -90 : 90);
    else if (event.key.toLowerCase() === "l") this.lock();
    else if (way) this.there("push-instance", { dx: way[0], dy: way[1] });
    else return;
    event.preventDefault();
  },

  // Dropped on the picture of another sheet: near its left and top, where there is room. Where that is of another
  // material, the whole piece is cut from that. Says whether it was.
  async toSheet(instance, sheet) {
    const there = project.view.sheet.sheets.find((one) => one.number === sheet);
    if (there.bench !== project.view.sheet.bench) {
      this.chosen = "";
      if (!(await project.try({ do: "cut-from", pieces: [instance.piece], onto: there.bench }))) return false;
      toasts.say(`${project.scenes[instance.piece].name} is cut from ${project.materials[there.bench]?.name ?? "another material"} now`, { action: "Undo", run: () => project.walk("undo"), seconds: 8 });
      return true;
    }
    const at = await post(`${project.address}/slide`, { ...named(instance), sheet, x: 0, y: 0 }).catch(() => ({ x: 0, y: 0 }));
    this.chosen = "";
    return this.place(instance, at.x, at.y, there.own);
  },

  press(event) {
    if (event.button !== 0) return;
    if (event.target.closest("[data-ghost]")) {
      this.oneMore();
      return;
    }
    const group = event.target.closest("[data-instance]");
    const view = this.sheetView.view;
    const slot = group ? null : event.target.closest("[data-slot]");
    if (slot) {
      project.try({ do: "switch-slot", slot: Number(slot.dataset.slot), on: slot.classList.contains("off") });
      return;
    }
    if (!group || this.packingBusy) {
      this.chosen = "";
      view.pan(event);
      return;
    }
    this.chosen = group.dataset.instance;
    const instance = this.instance;
    if (instance.row) project.showRow(instance.row);
    this.drag(instance, view.at(event));
  },

  // While it is dragged the server says where it comes to lie: along the others at the gap, or red where it cannot.
  drag(instance, start) {
    const view = this.sheetView.view;
    const key = instanceKey(instance);
    const [left, top] = instance.bounds;
    let wish = null;
    let asking = null;
    let free = false; // just where it is dragged, whatever lies there
    let at = { x: left, y: top, clear: !instance.wrong };
    const show = (this.sheetView.dragged = () => {
      const group = this.$refs.svg.querySelector(`[data-instance="${key}"]`);
      if (!group) return;
      if (group.nextElementSibling) group.parentNode.append(group); // above all others
      group.setAttribute("transform", `translate(${at.x - left} ${at.y - top})`);
      group.classList.toggle("wrong", !at.clear);
    });
    const ask = async () => {
      while (wish) {
        const asked = wish;
        wish = null;
        const found = await post(`${project.address}/slide`, { ...named(instance), sheet: project.view.sheet.number, ...asked }).catch(() => ({ ...asked, clear: true }));
        if (!free) at = found;
        this.sheetView.dragged?.();
        await new Promise((resolve) => setTimeout(resolve, ASK_EVERY));
      }
      asking = null;
    };
    const moved = (next) => {
      const now = view.at(next);
      wish = { x: left + now[0] - start[0], y: top + now[1] - start[1] };
      free = next.altKey;
      if (free) [at, wish] = [{ ...wish, clear: true }, null];
      if (wish) asking ??= ask();
      else show();
    };
    const dropped = async (last) => {
      const tab = document.elementFromPoint(last.clientX, last.clientY)?.closest(".sheet-tab");
      if (tab) return this.toSheet(instance, Number(tab.dataset.sheet));
      await asking;
      return (at.x !== left || at.y !== top) && this.place(instance, at.x, at.y);
    };
    const up = async (last) => {
      for (const [name, does] of events) window.removeEventListener(name, does);
      const kept = last.type === "pointerup" && (await dropped(last)); // a second finger gives it up
      if (this.sheetView.dragged === show) this.sheetView.dragged = null;
      if (!kept) this.sheetView.lay();
    };
    const events = Object.entries({ pointermove: moved, pointerup: up, pointercancel: up });
    for (const [name, does] of events) window.addEventListener(name, does);
  },
});
