// Tracing a picture: its shapes are shown over it while what is said of them changes.

import { get } from "../api.js";
import { act } from "../hands.js";

export function registerTracing(Alpine, station, project, usual) {
  Alpine.data("tracePanel", () => ({
    said: { ...usual },
    about: "",

    async init() {
      // What is tried out lies over the picture in a colour of its own.
      Alpine.effect(() => {
        const known = new Set(project.scenes[station.piece]?.ids);
        const fresh = project.preview[station.piece]?.parts.filter((part) => !known.has(part.id)) ?? [];
        station.traced = fresh.map((part) => `<path class="traced" d="${part.d}" transform="matrix(${part.matrix.join(" ")})"/>`).join("");
        station.draw();
      });
      this.part = station.chosenParts.find((part) => part.kind === "picture");
      if (!this.part) return;
      try {
        const found = await get(`${project.address}/pieces/${station.piece}/tracing/${this.part.id}`);
        this.said = { ...this.said, dark: found.dark };
        this.about = found.about;
        this.show();
      } catch (problem) {
        project.complain(problem);
      }
    },
    destroy() {
      station.traced = "";
    },
    get title() {
      return this.part ? `Trace ${this.part.label}` : "Choose a picture first";
    },
    get edit() {
      const { role, ...rest } = this.said;
      const numbers = Object.fromEntries(["dark", "tones", "speck", "smooth", "corner"].map((name) => [name, Number(rest[name])]));
      return { do: "trace-pictures", piece: station.piece, parts: [this.part.id], ...rest, ...numbers, ...(role ? { role } : {}) };
    },
    // Have it shown over the picture.
    show() {
      if (this.part) project.tryOut({ ...this.edit, picture: "guides" });
    },
    set(name, value) {
      this.said = { ...this.said, [name]: value };
      this.show();
    },
    typed(name, event) {
      this.set(name, event.target.value);
    },
    turn(name, event) {
      this.set(name, event.target.checked);
    },
    keep(event) {
      this.said = { ...this.said, picture: event.target.checked ? "guides" : "goes" };
    },
    is(name, value) {
      return this.said[name] === value;
    },
    take() {
      return act(async () => {
        const done = await station.adding(this.edit);
        if (done.length) station.close();
        return done.length ? done : null;
      });
    },
  }));
}
