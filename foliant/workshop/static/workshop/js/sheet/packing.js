// Packing, which a worker does beside the page, and filling what is left of the sheet.

import { ask, get, post } from "../api.js";
import { plain } from "../plain.js";

const LOOK_EVERY = 400; // ms
const LOOK_LATER = 3; // ms more for each instance, as many take longer to draw anew
const ROOM_AFTER = 900; // ms without an edit
const EASY = 150; // instances among which room is looked for by itself

export const packing = ({ Alpine, project, toasts }) => ({
  packed: { state: "", answers: 0 },
  better: null, // the instances as the best answer so far lays them
  room: [], // what is left of the sheet takes of each piece, and a whole one
  moreOf: 0, // for which revision
  watching: false,

  beginPacking() {
    this.watch();
    this.lookForRoom();
    let timer = 0;
    Alpine.effect(() => {
      const { revision } = project;
      clearTimeout(timer);
      if (Alpine.raw(this).moreOf === revision || project.view.sheet.instances.length > EASY) return;
      timer = setTimeout(() => this.roomIsOld && !this.packingBusy && this.lookForRoom(), ROOM_AFTER);
    });
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
        if (told.busy) await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY + LOOK_LATER * project.view.sheet.instances.length));
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
    if (found) [this.room, this.moreOf] = [plain(found.more), found.revision];
  },
  get more() {
    return this.room.filter((one) => one.more);
  },
  // How many of a piece a whole sheet takes.
  wholeOf(piece) {
    const found = this.room.find((one) => one.piece === piece);
    return found?.whole ? `a whole sheet takes ${found.whole}` : "";
  },
  // Where one more of the chosen piece, or else of the first that finds room, would lie; unless all changes.
  get ghost() {
    if (this.packingBusy || this.roomIsOld) return null;
    return (this.more.find((one) => one.piece === this.instance?.piece) ?? this.more[0]) || null;
  },
  async oneMore() {
    if (this.ghost) await this.fill(this.ghost.piece, 1);
  },
  get roomIsOld() {
    return this.moreOf !== project.revision;
  },
  get roomSays() {
    return this.moreOf ? "takes no more of any piece" : "is being looked at …";
  },
  async fill(piece, most = undefined) {
    try {
      await project.change("filling", { piece, most, sheet: project.view.sheet.number });
      this.lookForRoom();
    } catch (problem) {
      project.complain(problem);
    }
  },
});
