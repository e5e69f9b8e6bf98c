// Pieces, and what is put on them.

export const putting = ({ Alpine, project, toasts, boot }) => ({
  shelf: boot.shelf,
  putting: null, // the last of the parts being put on
  early: null, // keys pressed while a value is about to open, so that fast hands lose nothing
  putRole: "", // the role the next part takes; empty for its own

  // What is put on in haste waits for its piece.
  addPiece() {
    const before = new Set(project.order);
    this.putting = project.try({ do: "add-piece" }).then((done) => done && this.openPiece(project.order.find((id) => !before.has(id))));
    return this.putting;
  },
  async duplicatePiece() {
    const before = new Set(project.order);
    if (await project.try({ do: "duplicate-piece", piece: this.piece })) {
      this.openPiece(project.order.find((id) => !before.has(id)));
    }
  },
  async removePiece() {
    const name = this.scene.name;
    if (await project.try({ do: "remove-piece", piece: this.piece })) {
      toasts.say(`${name} is deleted.`, { action: "Undo", run: () => project.walk("undo") });
      this.openPiece(this.piece);
    }
  },

  // Put a part on, choose it, and open the value that is typed first. Parts put on in haste follow each
  // other, and each gets the keys that were pressed for it.
  put(kind, values = {}) {
    const keys = [];
    this.early = keys;
    this.opened = "";
    this.setTool("choose");
    project.pending += 1;
    this.putting = (this.putting ?? Promise.resolve()).then(async () => {
      const part = await this.putOn({ kind, values });
      await Alpine.nextTick();
      await closed(this.$refs.spec);
      if (Alpine.raw(this.early) === keys) this.early = null;
      const field = this.shelf.find((item) => item.kind === kind).first;
      if (part && field) {
        this.$refs.spec.dispatchEvent(new CustomEvent("open-value", { detail: { of: `part ${part.id}`, field, keys } }));
      }
      project.pending -= 1;
    });
    return this.putting;
  },
  async putOn(what) {
    if (!this.piece) await this.addPiece();
    const first = this.scene.ids.length === 0;
    const [part] = await this.adding({ do: "add-part", piece: this.piece, ...what, ...(this.putRole ? { role: this.putRole } : {}) });
    if (part && first) this.fit();
    return part;
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

// Until the value typed before is kept; one with a problem stays open and waits for the maker.
async function closed(sentence) {
  while (sentence.dataset.editing && !sentence.querySelector(".problem")) await new Promise(requestAnimationFrame);
}
