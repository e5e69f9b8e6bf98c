// The Sheet station: the stock with the pieces on it, each to be dragged, packed close together, and what that costs.

import { instanceKey } from "./drawing.js";
import { rosterHost } from "./roster/host.js";
import { plain } from "./plain.js";
import { packing } from "./sheet/packing.js";
import { paper } from "./sheet/paper.js";
import { placing } from "./sheet/placing.js";
import { SheetView } from "./sheetview.js";

export function register(Alpine) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  const station = () => ({
    chosen: "", // by its key
    look: "finished",
    sheetView: null,

    init() {
      const options = () => ({ chosen: this.chosen, interactive: true });
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => this.look, options }));
      Alpine.effect(() => {
        void [this.look, this.chosen];
        const sheet = Alpine.raw(project.view.sheet);
        this.sheetView.set(this.better ? { ...sheet, instances: Alpine.raw(this.better) } : sheet);
      });
      this.beginRoster();
      this.beginPacking();
      Alpine.effect(() => this.follow(project.row?.id));
      window.addEventListener("keydown", (event) => this.key(event));
      project.refresh();
    },

    get words() {
      return project.view.words;
    },
    get costs() {
      return project.standing.costs;
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
      if (!this.instance) return "Drag a piece";
      const { label, locked, turn } = this.instance;
      return `${label}${turn ? `, turned ${turn}°` : ""}${locked ? ", locked" : ""}`;
    },
  });

  const parts = [rosterHost({ Alpine, project, toasts }), packing({ project, toasts }), placing({ project, toasts }), paper({ project }), station()];
  const together = () => parts.reduce((whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part)), {});
  Alpine.data("sheetStation", together);
}
