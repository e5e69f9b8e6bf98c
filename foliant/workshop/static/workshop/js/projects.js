// The projects page: rename in place, delete with a way back.

import Alpine from "../vendor/alpine-csp.min.js";
import { ask, get, post, savesFiles, send } from "./api.js";
import { act } from "./hands.js";
import { registerSentence } from "./sentence.js";
import { registerStarter } from "./starters.js";
import { registerToasts } from "./toasts.js";

registerToasts(Alpine);
registerSentence(Alpine, "starter");
registerStarter(Alpine);
const say = (text, options) => Alpine.store("toasts").say(text, options);
savesFiles((problem) => say(problem.message, { bad: true, seconds: 10 }));

Alpine.data("projectCard", (id) => ({
  gone: false,
  renaming: false,
  name: "",
  init() {
    this.name = this.$refs.link.textContent.trim();
  },
  rename() {
    this.renaming = true;
    this.$refs.input.value = this.name;
    queueMicrotask(() => this.$refs.input.select()); // once it is shown, and before any key
  },
  async keep() {
    if (!this.renaming) return;
    const name = this.$refs.input.value;
    if (name === this.name) {
      this.renaming = false;
      return;
    }
    try {
      const state = await get(`/projects/${id}`);
      const answer = await post(`/projects/${id}/edits`, { revision: state.revision, edit: { do: "rename", name } });
      this.name = answer.name;
      this.renaming = false;
    } catch (problem) {
      say(problem.message, { bad: true, seconds: 10 });
      this.$refs.input.focus();
    }
  },
  leave() {
    this.renaming = false;
  },
  async remove() {
    try {
      await ask("DELETE", `/projects/${id}`);
      this.gone = true;
      say(`${this.name} is deleted.`, { action: "Undo", run: () => this.restore(), seconds: 15 });
    } catch (problem) {
      say(problem.message, { bad: true });
    }
  },
  async restore() {
    try {
      await post(`/projects/${id}/restore`);
      this.gone = false;
    } catch (problem) {
      say(problem.message, { bad: true });
    }
  },
}));

// A ready piece is chosen, what it asks for is typed, and then it is made.
Alpine.data("starters", () => ({
  query: "",
  init() {
    window.addEventListener("paste-list", (/** @type {CustomEvent} */ event) => this.make(event.detail.text));
  },
  meant(words) {
    return this.query.toLowerCase().split(/\s+/).every((word) => words.toLowerCase().includes(word));
  },
  choose(key) {
    act(async () => {
      if (!(await Alpine.store("starter").choose(key))) return null;
      await Alpine.nextTick();
      const first = Alpine.store("starter").sentence.find((bit) => bit.field);
      if (!first) return true;
      const detail = { of: first.of, field: first.field };
      this.$refs.asks.dispatchEvent(new CustomEvent("open-value", { detail }));
      await detail.opened;
      return true;
    }, { types: true });
  },
  // Begin the project; with a list, whose rows its words are.
  make(list = null) {
    act(() => Alpine.store("starter").make(list));
  },
  leave() {
    Alpine.store("starter").key = "";
  },
}));

// A design file, chosen or dropped on the button, becomes a project of its own.
Alpine.data("designFile", () => ({
  async open() {
    const form = new FormData();
    form.append("file", this.$refs.file.files[0]);
    this.$refs.file.value = "";
    try {
      const { id } = await send("/designs", form);
      window.location.assign(`/projects/${id}/shape/`);
    } catch (problem) {
      say(problem.message, { bad: true, seconds: 15 });
    }
  },
}));

Alpine.data("deletedProject", (id, name) => ({
  gone: false,
  sure: false,
  async restore() {
    try {
      await post(`/projects/${id}/restore`);
      window.location.reload();
    } catch (problem) {
      say(problem.message, { bad: true });
    }
  },
  async purge() {
    if (!this.sure) {
      this.sure = true;
      return;
    }
    try {
      await ask("DELETE", `/projects/${id}/for-good`);
      this.gone = true;
      say(`${name} is deleted for good.`);
    } catch (problem) {
      say(problem.message, { bad: true });
    }
  },
}));

Alpine.start();
