// The Ticket station: operations in run order with their settings.

import { plain } from "./plain.js";
import { SheetView } from "./sheetview.js";

export function register(Alpine) {
  const project = Alpine.store("project");

  Alpine.data("ticketStation", () => ({
    look: "toolpaths",
    saving: false,
    sheetView: null,

    init() {
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => this.look }));
      Alpine.effect(() => {
        void this.look;
        this.sheetView.set(Alpine.raw(project.view.sheet));
      });
      project.refresh();
    },

    get words() {
      return project.view.words;
    },
    turn(line) {
      project.try({ do: "switch-operation", kind: line.kind, on: !line.on });
    },
    revert(line) {
      project.try({ do: "revert-operation", kind: line.kind });
    },
  }));
}
