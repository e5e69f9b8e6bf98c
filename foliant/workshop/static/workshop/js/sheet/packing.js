// Packing, which a worker does beside the page, and filling what is left of the sheet.

import { ask, get, post } from "../api.js";

const LOOK_EVERY = 400; // ms

export const packing = ({ project, toasts }) => ({
  packed: { state: "", answers: 0 },
  better: null, // the instances as the best answer so far lays them
  more: [], // how many more of each piece what is left takes
  moreOf: 0, // for which revision
  watching: false,

  beginPacking() {
    this.watch();
    this.lookForRoom();
  },
  // Until what was found is taken.
  get packingBusy() {
    return this.watching && ["waiting", "packing", "found"].includes(this.packed.state);
  },
  get packingSays() {
    return this.packingBusy ? this.packed.says : this.packed.state === "failed" ? this.packed.message : "";
  },

  async pack() {
    try {
      this.packed = await post(`${project.address}/packing`, { bench: project.bench });
      this.watch();
    } catch (problem) {
      project.complain(problem);
    }
  },
  async thisWillDo() {
    try {
      this.packed = await ask("DELETE", `${project.address}/packing`);
    } catch (problem) {
      project.complain(problem);
    }
  },

  // Follow the worker; what it found at the end is taken as an edit, after those that were made meanwhile.
  async watch() {
    if (this.watching) return;
    this.watching = true;
    try {
      let seen = 0;
      do {
        const told = await get(`${project.ofSheet("packing")}&seen=${seen}`);
        this.packed = told;
        if (told.instances) [this.better, seen] = [told.instances, told.answers];
        if (told.busy) await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY));
      } while (this.packed.busy);
      if (this.packed.state === "found") await this.take();
    } catch (problem) {
      project.complain(problem);
    } finally {
      this.watching = false;
      this.better = null;
    }
  },
  async take() {
    const { placed, wanted } = this.packed;
    await project.change("packing/take", {});
    await project.showing;
    this.packed = { state: "", answers: 0 };
    toasts.say(placed < wanted ? `${placed} of ${wanted} are packed; the others find no room` : `${placed} packed`, { seconds: 4 });
    this.lookForRoom();
  },

  // What the room that is left would take is asked for when it is looked at, since it is worked out beside the pages.
  async lookForRoom() {
    const found = await get(project.ofSheet("filling")).catch(() => null);
    if (found) [this.more, this.moreOf] = [found.more.filter((one) => one.more), found.revision];
  },
  get roomIsOld() {
    return this.moreOf !== project.revision;
  },
  get roomSays() {
    return this.moreOf ? "takes no more of any piece" : "is being looked at …";
  },
  async fill(piece) {
    try {
      await project.change("filling", { piece, sheet: project.view.sheet.number });
      this.lookForRoom();
    } catch (problem) {
      project.complain(problem);
    }
  },
});
