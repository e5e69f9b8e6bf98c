// The Ticket station: operations in run order with their settings.

import { get, post } from "./api.js";
import { act } from "./hands.js";
import { plain } from "./plain.js";
import { facing, SheetView } from "./sheetview.js";

export function register(Alpine, boot) {
  const project = Alpine.store("project");

  Alpine.data("ticketStation", () => ({
    look: "toolpaths",
    saving: false,
    every: false, // whether all sheets are saved
    only: "", // what of the job is saved alone
    sheetView: null,
    works: boot.works,
    carried: "", // the operation that is dragged, and the one it is dragged over
    over: "",
    known: [],
    compared: "", // the operation whose ways to fill are compared
    ways: [],

    init() {
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => this.look, frame: () => facing(project.view.sheet) }));
      Alpine.effect(() => {
        void this.look;
        this.sheetView.set(Alpine.raw(project.view.sheet));
      });
      Alpine.effect(() => void this.openNew());
      project.refresh();
    },

    get words() {
      return project.view.words;
    },
    style(line) {
      return [line.on ? "" : "off", this.over === line.id && this.carried && this.carried !== line.id ? "over" : ""].join(" ");
    },
    turn(line) {
      project.try({ do: "switch-operation", operation: line.id, on: !line.on });
    },
    revert(line) {
      project.try({ do: "revert-operation", operation: line.id });
    },
    // What worked is kept in the workshop, and the operation then follows that.
    async keep(line) {
      try {
        await post(`${project.address}/operations/${line.id}/recipe?bench=${project.bench}`);
        await project.edit({ do: "revert-operation", operation: line.id });
        Alpine.store("toasts").say(`Kept: ${line.title} is done so from now on. You find it in the Workshop.`);
      } catch (problem) {
        project.complain(problem);
      }
    },
    // Every way to fill what it takes, one under the other.
    async compare(line) {
      if (this.compared === line.id) {
        this.compared = "";
        return;
      }
      [this.compared, this.ways] = [line.id, []];
      const found = await get(project.ofSheet(`operations/${line.id}/fills`)).catch((problem) => project.complain(problem));
      if (found && this.compared === line.id) this.ways = found.ways;
      else if (!found) this.compared = "";
    },
    async take(way) {
      if (await project.try(way.edit)) this.compared = "";
    },
    encoded: (line) => encodeURIComponent(`operation ${line.id}`),
    // The field of the card that came out best.
    async best(field) {
      try {
        await post(`${project.address}/card/${field.row}/${field.column}`);
        Alpine.store("toasts").say(`Kept: ${field.says} is the recipe from now on. You find it in the Workshop.`, { seconds: 8 });
      } catch (problem) {
        project.complain(problem);
      }
    },
    remove(line) {
      project.try({ do: "remove-operation", operation: line.id });
    },
    add(work) {
      return act(async () => (await project.try({ do: "add-operation", work })) && project.shown());
    },
    usual() {
      project.try({ do: "usual-operations" });
    },
    mend(edit) {
      project.try(edit);
    },

    // An operation that is new wants its power, so the field for it opens by itself.
    openNew() {
      const ids = this.words.lines.map((line) => line.id);
      const fresh = this.words.lines.find((line) => line.own && !this.known.includes(line.id));
      const opens = this.known.length > 0 && fresh;
      this.known = ids;
      if (opens) act(() => this.openPower(`operation ${fresh.id}`), { follows: true });
    },
    async openPower(of) {
      await Alpine.nextTick();
      const detail = { of, field: "power" };
      document.querySelector(`.value[data-of="${of}"][data-field="power"]`)?.closest(".sentence").dispatchEvent(new CustomEvent("open-value", { detail }));
      return detail.opened;
    },

    async move(index, step) {
      const { lines } = this.words;
      const line = lines[index];
      const to = index + step;
      if (to < 0 || to >= lines.length) return;
      const before = lines[step < 0 ? to : to + 1]?.id ?? null;
      await project.try({ do: "order-operations", operation: line.id, before });
      await project.shown();
      document.querySelectorAll(".line .number")[to]?.focus();
    },
    lay() {
      this.carried = "";
      this.over = "";
    },
    drop(line) {
      const { lines } = this.words;
      const [from, to] = [this.carried, line.id].map((id) => lines.findIndex((found) => found.id === id));
      this.over = "";
      if (from < 0 || from === to) return;
      const before = from < to ? (lines[to + 1]?.id ?? null) : line.id;
      project.try({ do: "order-operations", operation: this.carried, before });
      this.carried = "";
    },
  }));
}
