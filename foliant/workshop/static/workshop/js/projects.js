// The projects page: rename in place, delete with a way back.

import Alpine from "../vendor/alpine-csp.min.js";
import { ask, get, post } from "./api.js";
import { registerToasts } from "./toasts.js";

registerToasts(Alpine);
const say = (text, options) => Alpine.store("toasts").say(text, options);

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

Alpine.start();
