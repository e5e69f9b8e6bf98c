// Clean-up of lines that were brought in or drawn: every fault counted, shown on the drawing and mended by a press.

import { get } from "../api.js";

export function registerCleaning(Alpine, station, project) {
  Alpine.data("cleanPanel", () => ({
    asked: false,
    faults: [],
    title: "",

    init() {
      Alpine.effect(() => {
        void [station.chosen.join(), station.piece, project.revision];
        this.fetch();
      });
    },
    destroy() {
      station.faulty = "";
    },
    // What is chosen, or all that is drawn.
    async fetch() {
      const wanted = `${station.piece} ${station.chosen.join()} ${project.version}`;
      this.wanted = wanted;
      station.faulty = "";
      try {
        const found = await get(`${project.address}/pieces/${station.piece}/faults?parts=${station.chosen.join()}`);
        if (this.wanted !== wanted) return;
        Object.assign(this, { asked: true, faults: found.faults, title: found.title, parts: found.parts });
      } catch (problem) {
        project.complain(problem);
      }
    },
    // What is mended by one press for all: not what may be meant.
    get usual() {
      return this.faults.filter((fault) => fault.usual);
    },
    get mendSays() {
      return this.usual.length < this.faults.length ? "Mend the others" : "Mend all of it";
    },
    point(fault) {
      station.faulty = fault.d;
      station.draw();
    },
    leave() {
      station.faulty = "";
      station.draw();
    },
    mend(faults) {
      return project.try({ do: "clean-parts", piece: station.piece, parts: this.parts, faults });
    },
    mendOne(way) {
      return this.mend([way.key]);
    },
    mendAll() {
      return this.mend(this.usual.map((fault) => fault.key));
    },
  }));
}
