// Pieces, and what is put on them.

import { get } from "../api.js";
import { act } from "../hands.js";

export const putting = ({ Alpine, project, toasts, boot }) => ({
  shelf: boot.shelf,
  ready: [], // the ready pieces, once they were asked for
  putRole: "", // the role the next part takes; empty for its own

  addPiece() {
    return act(() => this.freshPiece({ do: "add-piece" }));
  },
  // Ready pieces, and what is kept of this one for others.
  async openReady() {
    if (this.opened !== "ready" && !this.ready.length) this.ready = (await get("/starters")).starters;
    return this.open("ready");
  },
  keeping(what, ...args) {
    return act(async () => (await import("./keeping.js"))[what](this, { project, toasts }, ...args), { types: what === "addReady" });
  },
  duplicatePiece() {
    return act(() => this.freshPiece({ do: "duplicate-piece", piece: this.piece }));
  },
  // Do an edit that adds a piece, and open it.
  async freshPiece(edit) {
    const before = new Set(project.order);
    const done = await project.try(edit);
    if (done) this.openPiece(project.order.find((id) => !before.has(id)));
    return done;
  },
  async removePiece() {
    const name = this.scene.name;
    if (await project.try({ do: "remove-piece", piece: this.piece })) {
      toasts.say(`${name} is deleted.`, { action: "Undo", run: () => project.walk("undo") });
      this.openPiece(this.piece);
    }
  },

  came: [], // drawings that were read, of which the first is shown

  chooseFiles() {
    this.$refs.files.value = ""; // the same file may be wanted again
    this.$refs.files.click();
  },
  async bringFiles(files) {
    const chosen = [...files];
    this.opened = "";
    this.setTool("choose");
    return (await import("./bringing.js")).bring(this, { project, toasts }, chosen);
  },
  dropped({ dataTransfer: { files } }) {
    return files.length ? this.bringFiles(files) : null;
  },
  async showCame(drawings) {
    const { registerCame } = await import("./bringing.js");
    registerCame(Alpine, this, project);
    this.came = drawings;
    if (this.opened !== "came") await this.open("came");
  },
  // The first is taken, or left: the next is shown.
  async nextCame() {
    const rest = this.came.slice(1);
    this.close();
    if (!rest.length) return;
    await Alpine.nextTick();
    await this.showCame(rest);
  },

  // Put a part on, choose it, and open the value that is typed first.
  put(kind, values = {}) {
    this.opened = "";
    this.setTool("choose");
    return act(async () => {
      const part = await this.putOn({ kind, values });
      const field = this.shelf.find((item) => item.kind === kind).first;
      return part && field ? this.openValue(`part ${part.id}`, field) : part;
    }, { types: true });
  },
  // Open a value of what is chosen, so that it can be typed at once; null where there is none.
  async openValue(of, field) {
    const detail = { of, field };
    if (this.tool === "nodes") this.setTool("choose"); // a value is one of the whole part
    await Alpine.nextTick();
    this.specLine.dispatchEvent(new CustomEvent("open-value", { detail }));
    return detail.opened;
  },
  async putOn(what) {
    if (!this.piece) await this.freshPiece({ do: "add-piece" });
    const first = this.scene.ids.length === 0;
    const [part] = await this.adding({ do: "add-part", piece: this.piece, onto: this.chosen, held: this.holdsNew, ...what, ...(this.putRole ? { role: this.putRole } : {}) });
    if (part && first) this.fit();
    return part ?? null;
  },
  // Do an edit that adds parts, and choose them.
  async adding(edit) {
    const before = new Set(project.scenes[this.piece].ids); // what is only tried out is not there yet
    if (!(await project.try(edit))) return [];
    const parts = this.scene.parts.filter((found) => !before.has(found.id));
    this.chosen = parts.map((part) => part.id);
    return parts;
  },
});
