// Where the sheet lies on the bed: told by points of it that the head is led to, by numbers, or by dragging it there.

import { post } from "../api.js";
import { ends, said } from "../lengths.js";

const sized = (two, unit) => `${two.map((one) => said(one, unit)).join(" × ")}${ends(unit)}`;

const STILL = 4; // px that a press may waver and is no drag

export const placing = ({ Alpine, project, toasts }) => ({
  placing: false, // whether it is being said where the sheet lies
  step: 0, // mm that the head is led by a press
  stands: null, // [x, y] of the head on the bed
  going: false,
  lit: false, // whether its light shows where the head is
  marks: {}, // points of the sheet that the head was led to
  lie: { x: 0, y: 0, turn: 0 },
  lieSays: "",
  typedAs: null, // how it lies as it is typed
  laid: null, // the maps between the bed and the sheet where it lies

  stand(place) {
    this.stands = place;
    this.at = this.onSheet(place[0], place[1]);
  },
  get canGo() {
    return this.connected && !this.active && !this.going;
  },
  get bedSays() {
    return sized(this.machine.bed, project.unit);
  },
  get standsSays() {
    return this.stands ? `The head is at ${sized(this.stands, project.unit)}${this.lit ? ", its light on" : ""}.` : "";
  },
  // The head is led by steps, with its tool off, and stays on the bed.
  async go(across, away) {
    if (!this.canGo || !this.stands) return;
    const [width, height] = this.machine.bed;
    const x = Math.min(width, Math.max(0, this.stands[0] + across * this.step));
    const y = Math.min(height, Math.max(0, this.stands[1] + away * this.step));
    await this.goTo(x, y);
  },
  async goTo(x, y) {
    this.going = true;
    try {
      const { bed, light } = await post(`${project.address}/machine/go`, { bench: project.bench, x, y });
      this.lit = light;
      this.stand(bed);
    } catch (problem) {
      project.complain(problem);
    }
    this.going = false;
  },
  // What follows from the thickness, slots and recipes, follows at once.
  async measure() {
    this.going = true;
    try {
      const { thickness } = await post(`${project.address}/machine/measure`, { bench: project.bench });
      await project.edit({ do: "change", of: "stock", bench: project.bench, values: { measured: thickness } });
      toasts.say(`The sheet is ${thickness} mm thick, and the focus is on its face. What follows from that is changed; Undo takes it back.`);
    } catch (problem) {
      project.complain(problem);
    }
    this.going = false;
  },
  goKey(event) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!way) return;
    event.preventDefault();
    this.go(...way);
  },
  // The head stands at a point of the sheet.
  mark(spot) {
    return this.marked({ ...this.marks, [spot]: Alpine.raw(this.stands) });
  },
  // It stands at the near edge; at a second place along that the angle is known.
  get squaring() {
    return Boolean(this.marks.edge && !this.marks["edge-too"]);
  },
  markEdge() {
    const { edge, "edge-too": too, ...others } = this.marks;
    const here = Alpine.raw(this.stands);
    return this.marked(edge && !too ? { ...others, edge, "edge-too": here } : { ...others, edge: here });
  },
  straight() {
    return this.marked({});
  },
  marked(marks) {
    return this.askLie({ marks }, marks);
  },
  get lieTyped() {
    return this.typedAs ?? (this.active ? this.run.typed : this.machine.typed);
  },
  // What cannot be read stays in its field, with the reason.
  typed(name, event) {
    return this.askLie({ typed: { ...this.lieTyped, [name]: event.target.value } }, {});
  },
  lain(lie) {
    return this.askLie({ lie }, {});
  },
  async askLie(asked, marks) {
    try {
      this.takeLie(await post(`${project.address}/machine/lie`, { ...asked, sheet: project.view.sheet.number }));
      this.marks = marks;
    } catch (problem) {
      project.complain(problem);
    }
  },
  takeLie(answer) {
    this.lie = answer.lie;
    this.lieSays = answer.liesSays;
    this.typedAs = answer.typed;
    this.laid = answer.lies;
    if (this.stands) this.stand(this.stands);
    this.traced = false;
    this.sheetView.fit();
  },

  get lies() {
    return this.active ? this.run.lies : (this.laid ?? this.machine.lies);
  },
  // How the sheet lies on the bed as it is drawn, its far edge above.
  get frame() {
    const [a, b, c, d, e, f] = this.lies.toBed;
    return [a, -b, c, -d, e, this.machine.bed[1] - f];
  },
  // A place of the bed on the sheet, mm.
  onSheet(x, y) {
    const [a, b, c, d, e, f] = this.lies.toSheet;
    return [a * x + c * y + e, b * x + d * y + f];
  },
  // A press on the bed: on the sheet it is dragged, and one that goes nowhere is a closer look at that place.
  pressBed(event) {
    if (event.button !== 0 || this.active || !(this.placing || this.look)) return;
    const { view } = this.sheetView;
    const start = view.at(event);
    const began = { ...this.lie };
    const { lies } = this;
    const held = event.target.closest(".stock-edge, .instance");
    const far = (next) => [next.clientX - event.clientX, next.clientY - event.clientY];
    const to = (next) => {
      const [x, y] = view.at(next);
      return [x - start[0], start[1] - y];
    };
    const move = (next) => {
      if (!held || Math.hypot(...far(next)) < STILL) return;
      const [dx, dy] = to(next);
      const [a, b, c, d, e, f] = lies.toBed;
      this.laid = { ...lies, toBed: [a, b, c, d, e + dx, f + dy] };
      view.changed();
    };
    const up = (last) => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      const [dx, dy] = to(last);
      if (Math.hypot(...far(last)) < STILL) this.lookCloser(start[0], this.machine.bed[1] - start[1]);
      else if (held) this.lain({ ...began, x: began.x + dx, y: began.y + dy });
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  },
});
