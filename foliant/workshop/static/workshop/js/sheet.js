// The Sheet station: the stock with the pieces on it, each to be dragged, packed close together, and what that costs.

import { get } from "./api.js";
import { instanceKey } from "./drawing.js";
import { rosterHost } from "./roster/host.js";
import { plain } from "./plain.js";
import { packing } from "./sheet/packing.js";
import { paper } from "./sheet/paper.js";
import { lying } from "./sheet/lying.js";
import { placing } from "./sheet/placing.js";
import { SheetView } from "./sheetview.js";

export function register(Alpine) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  const station = () => ({
    chosen: "", // by its key
    look: "finished",
    orders: "", // the column by which the prices tell orders apart
    costs: null,
    costsProblem: "", // why it cannot be said what it costs
    sheetView: null,

    init() {
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => this.look, interactive: true }));
      Alpine.effect(() => {
        void this.look;
        Object.assign(this.sheetView, { chosen: this.chosen, ghost: this.ghost });
        const sheet = Alpine.raw(project.view.sheet);
        this.sheetView.set(this.better ? { ...sheet, instances: Alpine.raw(this.better) } : sheet);
      });
      Alpine.effect(() => project.looked && queueMicrotask(() => this.price())); // for nothing else that it reads
      this.beginRoster();
      this.beginPacking();
      Alpine.effect(() => this.follow(project.row?.id));
      window.addEventListener("keydown", (event) => this.key(event));
      project.refresh();
    },

    get words() {
      return project.view.words;
    },
    // What it costs is asked for once it is known where the project stands, as every sheet is planned for that.
    async price() {
      const { looked } = project;
      const { costs = null, message = "" } = await get(project.ofSheet("costs")).catch((problem) => problem);
      if (project.looked === looked) Object.assign(this, { costs, costsProblem: message });
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
    // The foot of the page says what is chosen, or else the sheet.
    get sentence() {
      return this.instance ? lying(this.instance, this.arrayOf(this.instance), project.unit, project.view.sheet.own) : this.words.spec;
    },
    // The array that was laid last, if that was of this piece.
    arrayOf({ piece }) {
      const last = project.last;
      return last?.do === "array-instances" && last.piece === piece ? last : { columns: 1, rows: 1, way: "straight" };
    },
    async split(piece) {
      const { name } = project.scenes[piece];
      const count = project.order.length;
      if (!(await project.try({ do: "split-piece", piece }))) return;
      const sizes = project.order.filter((one) => project.scenes[one].name.startsWith(`${name} (`)).map((one) => project.scenes[one].size);
      toasts.say(`${name} is ${project.order.length - count} pieces now, which fit together: ${[...new Set(sizes)].join(" and ")}. It stays itself, with none of it wanted.`, { action: "Undo", run: () => project.walk("undo"), seconds: 15 });
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

  const parts = [rosterHost({ Alpine, project, toasts }), packing({ Alpine, project, toasts }), placing({ project, toasts }), paper({ project }), station()];
  const together = () => parts.reduce((whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part)), {});
  Alpine.data("sheetStation", together);
}
