// The Sheet station: the stock with the pieces on it, each to be dragged, and how many of each.

import { instanceKey, pieceMarkup } from "./drawing.js";
import { plain } from "./plain.js";
import { rosterHost } from "./roster/host.js";
import { SheetView } from "./sheetview.js";

export function register(Alpine) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  const station = () => ({
    chosen: "", // by its key
    look: "toolpaths",
    sheetView: null,
    dragging: false,

    init() {
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => this.look, options: () => ({ chosen: this.chosen, interactive: true }) }),
      );
      Alpine.effect(() => {
        void [this.look, this.chosen];
        this.sheetView.set(Alpine.raw(project.view.sheet));
      });
      this.beginRoster();
      Alpine.effect(() => this.follow(project.row?.id));
      window.addEventListener("keydown", (event) => this.key(event));
      project.refresh();
    },

    get words() {
      return project.view.words;
    },
    get instance() {
      return project.view.sheet.instances.find((found) => instanceKey(found) === this.chosen);
    },
    // The row that is shown is chosen on the sheet.
    follow(row) {
      if (!row || Alpine.raw(this).instance?.row === row) return;
      const found = Alpine.raw(project.view.sheet).instances.find((instance) => instance.row === row);
      if (found) this.chosen = instanceKey(found);
    },
    get usedSays() {
      const { placed, used, leftOver } = this.words;
      return `${placed} laid out · ${used} % used${leftOver ? ` · ${leftOver} without room` : ""}`;
    },
    get chosenSays() {
      return this.instance ? `${this.instance.label}: drag it, or use the arrows` : "Drag a piece to move it";
    },

    picture(id) {
      const scene = project.scenes[id];
      return pieceMarkup(scene, project.material, "finished");
    },
    box(id) {
      const [left, top, right, bottom] = project.scenes[id].bounds;
      return `${left - 1} ${top - 1} ${right - left + 2} ${bottom - top + 2}`;
    },
    inRows() {
      project.try({ do: "arrange-in-rows" });
    },

    place({ piece, row, number }, x, y) {
      const round = (value) => Math.round(value * 1000) / 1000;
      return project.try({ do: "place", piece, row, number, x: round(x), y: round(y) });
    },
    align(lines) {
      const { piece, row, number, bounds } = this.instance;
      const [left, top, right, bottom] = bounds;
      return project.try({ do: "align-instance", piece, row, number, x: left, y: top, size: [right - left, bottom - top], ...lines });
    },
    key(event) {
      if (event.target.closest("input, dialog, .choices") || event.ctrlKey || event.metaKey || !this.instance) return;
      const step = event.shiftKey ? 10 : 1;
      const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
      if (event.key === "Escape") this.chosen = "";
      if (!way) return;
      event.preventDefault();
      const [left, top] = this.instance.bounds;
      this.place(this.instance, left + way[0], top + way[1]);
    },
    press(event) {
      if (event.button !== 0) return;
      const group = event.target.closest("[data-instance]");
      const view = this.sheetView.view;
      if (!group) {
        this.chosen = "";
        view.pan(event);
        return;
      }
      this.chosen = group.dataset.instance;
      const instance = this.instance;
      if (instance.row) project.showRow(instance.row);
      const start = view.at(event);
      let shift = [0, 0];
      const moved = (next) => {
        const at = view.at(next);
        shift = [Math.round((at[0] - start[0]) * 2) / 2, Math.round((at[1] - start[1]) * 2) / 2];
        const now = this.$refs.svg.querySelector(`[data-instance="${this.chosen}"]`);
        now?.setAttribute("transform", `translate(${shift[0]} ${shift[1]})`);
      };
      const up = async () => {
        window.removeEventListener("pointermove", moved);
        window.removeEventListener("pointerup", up);
        if (shift[0] || shift[1]) {
          const kept = await this.place(instance, instance.bounds[0] + shift[0], instance.bounds[1] + shift[1]);
          if (!kept) this.sheetView.draw();
        }
      };
      window.addEventListener("pointermove", moved);
      window.addEventListener("pointerup", up);
    },
  });

  Alpine.data("sheetStation", () => Object.defineProperties(rosterHost({ Alpine, project, toasts }), Object.getOwnPropertyDescriptors(station())));
}
