// The panel of letters: all that can be said of the chosen words, the shapes of their font, and what is done with words.

import { get } from "../api.js";
import { safe } from "../drawing.js";
import { act } from "../hands.js";

export function registerLettering(Alpine, station, project) {
  Alpine.data("letterPanel", () => ({
    of: "", // the words that are shown
    rows: [],
    features: [],
    holds: "",
    upper: "",
    lower: "",

    init() {
      Alpine.effect(() => {
        void [station.chosen.join(), station.piece, project.revision];
        this.fetch();
      });
    },
    destroy() {
      station.neck = null;
    },
    get words() {
      return station.chosenParts.find((part) => part.kind === "words");
    },
    get others() {
      return station.chosenParts.filter((part) => part.kind !== "words");
    },
    get title() {
      return this.words?.label ?? this.others[0]?.label ?? "Nothing is chosen";
    },
    get onEdge() {
      return this.others.length === 1 && !this.words;
    },
    get canFit() {
      return Boolean(this.words) && this.others.length === 2;
    },
    get canSpell() {
      return station.chosen.length === 1 && Boolean(this.words);
    },

    async fetch() {
      const part = this.words;
      const wanted = `${part?.id} ${project.version}`;
      this.wanted = wanted;
      if (!part) {
        Object.assign(this, { of: "", rows: [], features: [], holds: "" });
        station.neck = null;
        return;
      }
      try {
        const found = await get(project.asShown(`pieces/${station.piece}/words/${part.id}`));
        if (this.wanted !== wanted) return;
        Object.assign(this, { of: part.id, rows: found.rows, features: found.features, holds: found.holds });
        station.neck = found.neck;
        station.draw();
      } catch {
        // It has just gone; what is chosen next asks anew.
      }
    },
    picture({ d, box: [left, top, right, bottom] }) {
      return `<svg viewBox="${left - 0.5} ${top - 0.5} ${right - left + 1} ${bottom - top + 1}" preserveAspectRatio="xMinYMid meet" aria-hidden="true"><path d="${safe(d)}"/></svg>`;
    },
    featureEdit(key) {
      return { do: "set-letters", piece: station.piece, parts: [this.of], what: "feature", to: key };
    },
    tryFeature(key) {
      project.tryOut(this.featureEdit(key));
    },
    turnFeature(key) {
      return project.try(this.featureEdit(key));
    },
    leave() {
      project.endTryOut();
    },

    putRim() {
      return act(async () => {
        const added = await station.adding({ do: "words-on-edge", piece: station.piece, part: this.others[0].id, top: this.upper, bottom: this.lower });
        if (added.length) Object.assign(this, { upper: "", lower: "" });
      });
    },
    fitBetween(stay) {
      return station.doParts("fit-between", { stay });
    },
    async spell() {
      const { piece } = station;
      if (await project.try({ do: "spell-pieces", piece, part: this.words.id })) station.openPiece(piece);
    },
    split() {
      return station.doParts("split-words");
    },
  }));
}
