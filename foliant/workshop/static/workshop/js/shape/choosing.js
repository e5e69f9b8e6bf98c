// Choosing: by a press, by a box, by what is alike; groups are chosen as one, unless they are reached through.

import { apply } from "./geometry.js";

export const choosing = () => ({
  chosen: [], // ids of the chosen parts
  copyChosen: 0, // the number of the copy that was pressed, of a repeated part
  marquee: localStorage.getItem("foliant-marquee") ?? "touching",

  get chosenParts() {
    const chosen = new Set(this.chosen);
    return (this.scene?.parts ?? []).filter((part) => chosen.has(part.id));
  },
  get drawnPart() {
    return this.chosen.length === 1 ? this.chosenParts.find((part) => part.kind === "drawn") : undefined;
  },
  isChosen(id) {
    return this.chosen.includes(id);
  },
  // The part with the others of its outermost group.
  mates(id) {
    const outer = this.scene.parts.find((part) => part.id === id)?.groups.at(-1);
    return outer ? this.scene.parts.filter((part) => part.groups.at(-1) === outer).map((part) => part.id) : [id];
  },
  choose(id, { more = false, through = false, copy = 0 } = {}) {
    const wanted = id ? (through ? [id] : this.mates(id)) : [];
    this.combining.keeper = "";
    this.copyChosen = copy;
    this.snappedTo = null;
    this.status = "";
    this.chosenNodes = [];
    if (!more) this.chosen = wanted;
    else if (this.isChosen(id)) this.chosen = this.chosen.filter((other) => !wanted.includes(other));
    else this.chosen = [...this.chosen, ...wanted.filter((other) => !this.isChosen(other))];
  },
  chooseAll() {
    this.chosen = (this.scene?.parts ?? []).filter((part) => !part.data.locked && !part.data.hidden && !this.scene.combined.includes(part.id)).map((part) => part.id);
  },
  chooseSame(what) {
    const wanted = new Set(this.chosenParts.map((part) => part[what]));
    this.chosen = this.scene.parts.filter((part) => wanted.has(part[what])).map((part) => part.id);
  },
  chooseNext(step) {
    if (this.tool === "nodes" && this.drawnPart) return this.nextNode(step);
    const ids = (this.scene?.parts ?? []).filter((part) => !part.data.hidden).map((part) => part.id);
    if (!ids.length) return;
    const at = ids.indexOf(this.chosen.at(-1));
    this.choose(ids[(at + step + ids.length) % ids.length]);
  },
  chooseIn(box, before, caught) {
    if (this.tool === "nodes" && this.drawnPart) {
      const part = this.drawnPart;
      this.chosenNodes = part.data.shape.contours.flatMap((contour, c) =>
        contour.nodes.flatMap((node, n) => {
          const [x, y] = apply(part.matrix, [node.x, node.y]);
          return x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3] ? [[c, n]] : [];
        }),
      );
      return;
    }
    const ids = caught(this, box).flatMap((part) => this.mates(part.id));
    this.chosen = [...new Set([...before, ...ids])];
  },
  // The parts under a point, from above.
  under(event) {
    const found = document.elementsFromPoint(event.clientX, event.clientY).map((element) => element.dataset?.part);
    return [...new Set(found.filter(Boolean))];
  },
  chooseUnder(event = null) {
    const part = this.chosenParts[0];
    if (event) {
      const ids = this.under(event);
      this.choose(ids[(ids.indexOf(this.chosen[0]) + 1) % ids.length] ?? "", { through: true });
      return;
    }
    const rect = this.$refs.svg.getBoundingClientRect();
    const [x, y] = [0, 1].map((i) => (part.bounds[i] + part.bounds[i + 2]) / 2);
    const { box, scale } = this.view;
    this.chooseUnder({ clientX: rect.left + (x - box[0]) / scale, clientY: rect.top + (y - box[1]) / scale });
  },
  turnMarquee() {
    this.setMarquee(this.marquee === "touching" ? "enclosing" : "touching");
  },
  setMarquee(marquee) {
    this.marquee = marquee;
    localStorage.setItem("foliant-marquee", marquee);
  },
  turnSnapping() {
    this.snapping = !this.snapping;
  },
  turnEach() {
    this.each = !this.each;
  },

  // Dragging a part from one list to another changes its role.
  carry(event, id) {
    if (!this.isChosen(id)) this.choose(id);
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", id);
  },
  drop(role) {
    this.overRole = "";
    this.setRole(role);
  },
});
