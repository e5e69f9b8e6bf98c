// Copy, cut and paste go through the clipboard as text, so that any other project can take it.

import { act } from "../hands.js";

const FORMAT = "foliant-parts";
const PIECE = "foliant-piece";

export const clipboard = ({ project, toasts }) => ({
  copied: { piece: "", times: 0 },

  copy(event) {
    if (event.target.closest?.("input, textarea")) return false;
    if (!this.chosen.length) return this.copyPiece(event);
    event.clipboardData.setData("text/plain", JSON.stringify({ format: FORMAT, parts: this.whole().map((part) => part.data) }));
    event.preventDefault();
    this.copied = { piece: `${project.id} ${this.piece}`, times: 0 };
    toasts.say(this.chosen.length === 1 ? `${this.chosenParts[0].label} is copied.` : `${this.chosen.length} parts are copied.`, { seconds: 3 });
    return true;
  },
  // With nothing chosen the piece itself is copied, to be pasted into any project.
  copyPiece(event) {
    if (!this.scene || String(getSelection())) return false;
    event.clipboardData.setData("text/plain", JSON.stringify({ format: PIECE, project: project.id, piece: this.piece }));
    event.preventDefault();
    toasts.say(`${this.scene.name} is copied: paste it here or in another project.`, { seconds: 4 });
    return false;
  },
  // What is chosen, with what its combinations are made of.
  whole() {
    const wanted = new Set(this.chosen);
    const parts = this.scene?.parts ?? [];
    for (let size = 0; size < wanted.size; ) {
      size = wanted.size;
      for (const part of parts) if (wanted.has(part.id)) part.members.forEach((id) => wanted.add(id));
    }
    return parts.filter((part) => wanted.has(part.id));
  },
  cut(event) {
    if (!this.copy(event)) return;
    this.copied = { piece: "", times: 0 }; // what was cut goes back to where it was
    this.remove();
  },
  async paste(event) {
    if (event.target.closest?.("input, textarea")) return;
    event.preventDefault();
    if (event.clipboardData.files?.length) return this.bringFiles(event.clipboardData.files);
    return this.pasteText(event.clipboardData.getData("text/plain"));
  },
  async pasteAsked() {
    try {
      await this.pasteText(await navigator.clipboard.readText());
    } catch {
      toasts.say("The browser keeps the clipboard to itself here; press Ctrl and V.", { seconds: 6 });
    }
  },
  pasteText(text) {
    // A drawing that was copied as text is a file without a name.
    if (/^\s*(<\?xml[^]*?\?>\s*)?(<!--[^]*?-->\s*)*(<!DOCTYPE[^]*?>\s*)?<svg[\s>]/.test(text)) return this.bringFiles([new File([text], "Pasted drawing.svg", { type: "image/svg+xml" })]);
    return act(async () => {
      if (text.startsWith(`{"format":"${PIECE}"`)) return (await import("./keeping.js")).pastePiece(this, { project }, JSON.parse(text));
      if (!this.piece) await this.freshPiece({ do: "add-piece" });
      const here = this.copied.piece === `${project.id} ${this.piece}`;
      if (here) this.copied.times += 1;
      return this.adding({ do: "paste-parts", piece: this.piece, text, step: here ? 4 * this.copied.times : 0 });
    });
  },
});
