// The pictures of rows, drawn as they come: those in sight first, then the rest, so that all are looked at.

import { post } from "../api.js";

const FIRST = 4; // in one question, of those in sight
const THEN = 24;
const MOST_KEPT = 400;
const AGAIN = 2000; // ms
const MOST_TRIES = 5;

export class Pictures {
  constructor(project, most, changed) {
    this.project = project;
    this.most = most; // rows that are drawn by themselves
    this.changed = changed;
    this.piece = "";
    this.kept = new Map(); // by row; stale ones are shown until the new one comes
    this.fresh = new Set();
    this.looks = {};
    this.sight = [];
    this.tick = 0;
    this.running = false;
    window.addEventListener("roster-changed", (/** @type {CustomEvent} */ event) => this.stale(event.detail));
  }

  // Of which piece, and which rows are in sight.
  want(piece, sight) {
    if (piece !== this.piece) Object.assign(this, { piece, kept: new Map(), fresh: new Set(), looks: {}, tick: this.tick + 1 });
    this.sight = sight;
    this.run();
  }
  stale({ touched, rows }) {
    this.tick += 1;
    if (touched.includes(this.piece)) this.fresh.clear();
    for (const id of Object.keys(rows)) this.fresh.delete(id);
    this.changed();
    this.run();
  }
  get missing() {
    return this.project.roster.order.slice(0, this.most).filter((id) => !this.fresh.has(id));
  }

  async run() {
    if (this.running) return;
    this.running = true;
    let refused = 0;
    while (this.piece && this.project.roster.tied.includes(this.piece)) {
      const seen = this.sight.filter((id) => !this.fresh.has(id) && this.project.roster.rows[id]);
      const rows = seen.length ? seen.slice(0, FIRST) : this.missing.slice(0, THEN);
      if (!rows.length) break;
      const [piece, tick] = [this.piece, this.tick];
      try {
        await this.project.answered();
        const { pictures } = await post(`${this.project.address}/pieces/${piece}/rows`, { rows });
        if (piece !== this.piece) continue;
        if (tick === this.tick) rows.forEach((id) => this.fresh.add(id));
        refused = 0;
        for (const [id, picture] of Object.entries(pictures)) this.take(id, picture);
        this.changed();
      } catch (problem) {
        // It may be too much just now; what is in sight is asked for again when the hand comes back.
        refused += 1;
        if (problem.status === 422 && refused > MOST_TRIES) break;
        await new Promise((resolve) => setTimeout(resolve, AGAIN));
      }
    }
    this.running = false;
  }
  take(id, picture) {
    this.kept.delete(id);
    this.kept.set(id, picture);
    this.looks = { ...this.looks, [id]: picture.looks.length };
    const far = this.kept.size - MOST_KEPT;
    if (far <= 0) return;
    const near = new Set(this.sight);
    // Out of sight, only what there is to look at is remembered.
    for (const old of [...this.kept.keys()].filter((one) => !near.has(one)).slice(0, far)) this.kept.delete(old);
  }
}
