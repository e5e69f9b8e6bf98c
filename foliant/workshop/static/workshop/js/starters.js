// The starter that is chosen, with what is typed for what it asks for: how it looks so is shown at once.

import { post } from "./api.js";
import { keepList } from "./roster/waiting.js";

const EVERY = 120; // ms between two looks while something is typed

export function registerStarter(Alpine) {
  let waiting = null;
  let timer = 0;

  Alpine.store("starter", {
    key: "",
    name: "",
    values: [],
    sentence: [],
    svg: "",
    size: "",
    words: [],
    only: false,
    order: [],
    scenes: {},
    roster: { columns: [] },

    async choose(key) {
      this.values = [];
      return this.look(key, []);
    },
    async look(key, values) {
      try {
        const found = await post(`/starters/${key}`, { values });
        Object.assign(this, { key, values: found.sentence.filter((bit) => bit.field).map((bit) => bit.raw), ...found });
        return true;
      } catch (problem) {
        Alpine.store("toasts").say(problem.message, { bad: true });
        return false;
      }
    },
    // The values with one of them typed anew.
    typed({ at, ...typed }) {
      return this.values.map((value, index) => (index === at ? Object.values(typed)[0] : value));
    },
    async edit(edit) {
      this.endTryOut();
      const values = this.typed(edit);
      const found = await post(`/starters/${this.key}`, { values });
      Object.assign(this, { values, ...found });
      return true;
    },
    async try(edit) {
      return this.edit(edit).catch((problem) => Alpine.store("toasts").say(problem.message, { bad: true }));
    },
    tryOut(edit) {
      waiting = this.typed(edit);
      clearTimeout(timer);
      timer = setTimeout(async () => {
        const mine = waiting;
        const found = await post(`/starters/${this.key}`, { values: mine }).catch(() => null); // it will say why when it is kept
        if (found && mine === waiting) Object.assign(this, { svg: found.svg, size: found.size });
      }, EVERY);
    },
    endTryOut() {
      clearTimeout(timer);
      waiting = null;
    },
    // Enter makes it; Tab goes on to the next value.
    entered() {
      return this.make(null);
    },
    async make(list) {
      try {
        const { id, words } = await post(`/starters/${this.key}/projects`, { values: this.values });
        if (list !== null) keepList({ project: id, text: list, words });
        window.location.assign(`/projects/${id}/shape/`);
        return true;
      } catch (problem) {
        Alpine.store("toasts").say(problem.message, { bad: true, seconds: 12 });
        return null;
      }
    },
  });
  // <svg x-markup> as at the stations.
  Alpine.directive("markup", (element, { expression }, { evaluateLater, effect }) => {
    const read = evaluateLater(expression);
    effect(() => read((markup) => (element.innerHTML = markup)));
  });
}
