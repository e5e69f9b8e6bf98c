// Aiming: the points and edges that a drag is drawn to.

import { get } from "../api.js";
import { plain } from "../plain.js";
import { distance } from "./geometry.js";

let Snapping = null; // comes with the first gesture or tool that aims

export async function bringSnapping() {
  ({ Snapping } = await import("./snapping.js"));
}

const NO_SNAPS = { points: [], edges: [] };

export const aiming = ({ project }) => ({
  snapping: true,
  status: "", // what is snapped to, in words
  snaps: NO_SNAPS,
  snapsOf: "",
  snapsReady: Promise.resolve(),
  snappedTo: null, // the part that what is chosen was last put on

  fetchSnaps() {
    const wanted = `${this.piece} ${project.version}`;
    if (!this.piece || this.snapsOf === wanted || project.unfinished) return this.snapsReady;
    this.snapsOf = wanted;
    const take = (found) => {
      if (this.snapsOf === wanted) this.snaps = plain(found);
    };
    // Without them a drag goes on all the same.
    this.snapsReady = get(project.asShown(`pieces/${this.piece}/snaps`)).then(take, () => take({ ...NO_SNAPS }));
    return this.snapsReady;
  },
  // All that a press is drawn to is here, as the drawing is now.
  async aimed() {
    await bringSnapping();
    await this.fetchSnaps();
  },
  candidates(moving) {
    if (!Snapping) {
      bringSnapping();
      return { nearest: () => null };
    }
    const snapping = new Snapping();
    const { parts } = this.scene;
    snapping.prepare(this.snaps, parts, moving);
    this.snapsReady.then(() => snapping.prepare(this.snaps, parts, moving));
    return snapping;
  },
  // The point of what is chosen that it was grabbed by, if the pointer is on one.
  grabbed(at) {
    const own = new Set(this.chosen);
    const near = this.snaps.points.filter((point) => own.has(point[3])).map((point) => [point[0], point[1]]);
    return near.filter((point) => distance(point, at) < 10 * this.view.scale).sort((a, b) => distance(a, at) - distance(b, at))[0];
  },
});
