// Saying: what is chosen, the tool and the piece, in words.

import { post } from "../api.js";
import { act } from "../hands.js";

let newest = {}; // what was asked last: nothing that Alpine need watch

export const saying = ({ project }) => ({
  spoken: null, // the sentence of several parts, or of a node, as the server said it
  tried: null, // the step whose result is shown
  steps: [], // what is likely done next with what is chosen

  // What several parts, or a node, are, and what is likely done with what is chosen, is said by the server.
  async speak() {
    const [piece, parts, node] = [this.piece, [...this.chosen], this.tool === "nodes" && this.chosenNodes.length === 1 ? [...this.chosenNodes[0]] : null];
    void project.version; // said anew after each change
    const asked = { whose: [piece, parts].join() };
    if (asked.whose !== newest.whose) this.steps = []; // what was likely for other parts is not for these
    newest = asked;
    if (parts.length < 2 && !node) this.spoken = null;
    if (!project.scenes[piece]?.parts.length || project.scenes[piece].trouble) {
      this.steps = [];
      return;
    }
    // What has just gone, or is too much to work out, has nothing to say.
    const { sentence, steps } = await post(project.asShown("selection"), { piece, parts, node }).catch(() => ({ sentence: null, steps: [] }));
    if (asked === newest) Object.assign(this, { spoken: sentence, steps });
  },
  // Not for a pointer that only rests where the step has just come.
  tryStep(step, event) {
    if (this.tried === step || (event && [event.clientX, event.clientY].join() === this.rested)) return;
    this.tried = step;
    project.tryOut(step.edit);
  },
  // One press; what it puts on is chosen, and the value that is typed next opens.
  takeStep(step, event) {
    const { piece } = this;
    this.rested = [event.clientX, event.clientY].join();
    return act(async () => {
      const before = new Set(project.scenes[piece].ids);
      if (!(await project.try(step.edit))) return null;
      const fresh = project.scenes[piece].ids.filter((id) => !before.has(id));
      if (fresh.length) this.chosen = fresh;
      const [of, id, field] = step.opens.split(" ");
      return !field || this.openValue(`${of} ${id === "new" ? fresh[0] : id}`, field);
    }, { types: true });
  },

  get sentence() {
    if (!this.scene) return [{ text: "This project has no piece yet. Add one to begin." }];
    if (this.tool === "pen") return [{ text: "The pen: press for a corner, press and pull for a curve. The first node closes the shape, Enter ends a line, Esc gives up." }];
    if (this.tool === "measure") return [{ text: "Measure: press one point or edge, then another. The distance can then be pressed and typed." }];
    const parts = this.chosenParts;
    if (this.spoken && (parts.length > 1 || this.chosenNodes.length === 1)) return this.spoken;
    if (this.tool === "nodes" && parts.length === 1) {
      return [{ text: `Nodes of ${parts[0].label}: drag one, or press one to say where it lies. Press the outline twice to add one.` }];
    }
    if (parts.length === 1) return parts[0].spec;
    if (parts.length > 1) return [{ text: `${parts.length} parts of ` }, { text: this.scene.name, style: "name" }, { text: "." }];
    return this.scene.spec;
  },
  get sceneName() {
    return this.scene?.name ?? "";
  },
  get holdsTogether() {
    return this.scene?.bodies === 1;
  },
  get bodiesSay() {
    if (this.scene?.trouble) return project.unfinished ? "Being worked out" : "Cannot be worked out";
    const bodies = this.scene?.bodies ?? 0;
    const says = bodies === 0 ? "No material yet" : bodies === 1 ? "One body" : `${bodies} bodies`;
    return this.findings.length ? `${says} · ${this.findings.length} to look at` : says;
  },
  get timeSays() {
    return project.standing.pieceSeconds?.[this.piece] ?? "";
  },
  get nudgeBits() {
    return [{ of: "project", field: "nudge", kind: "length", label: "The nudge", text: project.nudgeSays, raw: project.nudgeSays }];
  },
});
