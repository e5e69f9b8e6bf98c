// The project as the page holds it. Every change goes to the server with the revision it was made on;
// changes wait for each other, so that fast keys never overtake themselves.

import { AGAIN_AFTER, Problem, get, giveUp, post, postOnce, save } from "./api.js";
import { busy } from "./hands.js";
import { plain } from "./plain.js";

const PREVIEW_EVERY = 60; // ms
const FRAME = 17; // ms

// How long showing something has held up the page's frames, in ms.
async function held(show) {
  const next = () => new Promise((resolve) => requestAnimationFrame(resolve));
  await next();
  const begun = performance.now();
  show();
  await next();
  await next();
  await next();
  return Math.max(0, performance.now() - begun - 3 * FRAME);
}

export function registerProject(Alpine, boot) {
  let queue = Promise.resolve();
  let previewing = false;
  let waiting = null;
  let lookingOver = Promise.resolve(); // what the stations say, being asked for
  let wish = null; // the row that is to be shown
  let tries = 0; // what was tried before the last change, or given up, is of no use when it is answered

  Alpine.store("project", {
    ...boot.state,
    scenes: Object.fromEntries(Object.entries(boot.state.scenes).map(([id, scene]) => [id, plain(scene)])),
    roster: plain(boot.state.roster),
    standing: { alert: "", pieceSeconds: {}, ...boot.state.standing },
    view: boot.view,
    open: "", // the piece that is being drawn
    preview: {}, // scenes by piece id while something is dragged or tried
    saving: false,
    files: 0, // how many are being made to be saved
    working: 0, // for how many seconds something heavy has been worked out
    now: Date.now(),
    only: false, // whether a change is for the row shown alone
    rowsChosen: 0, // how many whole rows of the roster are chosen
    looks: {}, // rows of the open piece that there is something to look at in: how much

    // What is cut on each bench, and on which the maker is: that of the sheet, or of the piece that is open.
    get bench() {
      return this.view?.sheet?.bench ?? this.scenes[this.open]?.bench ?? "";
    },
    face(piece) {
      return this.materials[this.scenes[piece]?.bench ?? ""] ?? this.materials[""];
    },
    get stuffSays() {
      const names = Object.values(this.materials).map((material) => material.name);
      return names.length > 1 ? `${names.length} materials` : names[0];
    },

    get address() {
      return `/projects/${this.id}`;
    },
    // The sheet that this page is about, from 1; there may be fewer by now.
    sheet: boot.sheet,
    ofSheet(what) {
      return `${this.address}/${what}?sheet=${this.sheet}`;
    },
    // What is shown, so that what follows from it is asked for once.
    get version() {
      return `${this.revision} ${this.row?.id ?? ""}`;
    },
    // The address of something that is as the row shown has it.
    asShown(what) {
      return `${this.address}/${what}${this.row ? `?row=${this.row.id}` : ""}`;
    },

    scene(id) {
      return this.preview[id] ?? this.scenes[id];
    },

    giveUp,

    get savedSays() {
      if (this.saving) return "saving…";
      if (this.unfinished) return "opening…";
      const seconds = Math.max(0, Math.round((this.now - Date.parse(this.changed)) / 1000));
      if (seconds < 5) return "saved just now";
      if (seconds < 90) return `saved ${seconds} s ago`;
      if (seconds < 5400) return `saved ${Math.round(seconds / 60)} min ago`;
      return `saved ${new Date(this.changed).toLocaleDateString("en-GB", { day: "numeric", month: "long" })}`;
    },

    // A scene with all its parts: an answer leaves out those that are as they were. Scenes are never changed
    // in place, so Alpine need not watch what is in them.
    whole(scene) {
      if (!scene) return null;
      const known = new Map((this.scenes[scene.id]?.parts ?? []).map((part) => [part.id, part]));
      for (const part of scene.parts) known.set(part.id, part);
      return plain({ ...scene, parts: scene.ids.map((id) => known.get(id)) });
    },

    // Take over what the server answered: the pieces that changed, and all the rest of the state.
    adopt(answer) {
      const scenes = Object.fromEntries(
        answer.order.map((id) => [id, this.whole(answer.scenes[id]) ?? this.scenes[id]]).filter(([, scene]) => scene),
      );
      const roster = this.wholeRoster(answer.roster);
      Object.assign(this, answer, { scenes, roster, preview: {}, standing: { ...this.standing, ...answer.standing } });
      if (answer.roster) window.dispatchEvent(new CustomEvent("roster-changed", { detail: answer.roster }));
      if (this.unfinished) setTimeout(finish, AGAIN_AFTER); // too much is being worked out already
      this.refresh();
    },

    // The roster with all its rows: an answer leaves out those that are as they were.
    wholeRoster(roster) {
      if (!roster) return this.roster;
      const rows = Object.fromEntries(roster.order.map((id) => [id, roster.rows[id] ?? this.roster.rows[id]]));
      return plain({ ...roster, rows });
    },

    // Show the pieces as a row of the roster has them, or as they are by themselves; the newest wish counts.
    showRow(id) {
      if (id === (this.row?.id ?? "")) return queue;
      const mine = (wish = {});
      this.row = id ? { id, called: this.roster.rows[id]?.called, own: [] } : null;
      this.only = false; // what is meant for one row is not for the next
      const turn = queue.then(async () => {
        if (mine !== wish) return;
        const { row, scenes } = await get(this.asShown("rows"));
        if (mine !== wish) return;
        this.forgetTries();
        const told = Object.entries(scenes).map(([key, scene]) => [key, plain(scene)]);
        Object.assign(this, { row, scenes: { ...this.scenes, ...Object.fromEntries(told) }, preview: {} });
      });
      queue = turn.catch((problem) => this.complain(problem));
      return queue;
    },

    // An edit as it is meant: for all, or for the row shown alone. The roster itself is the same for all.
    meant(asked) {
      const edit = this.bench ? { bench: this.bench, ...asked } : asked;
      const about = edit.piece ?? this.pieceOf(edit.of);
      return this.only && this.row && this.roster.tied.includes(about) ? { do: "for-row", row: this.row.id, edit } : edit;
    },
    pieceOf(of = "") {
      const [kind, id] = of.split(" ");
      return kind === "piece" ? id : this.order.find((one) => this.scenes[one].ids.includes(id));
    },

    // What the stations say, and what this station shows, follow a moment later.
    refreshTimer: 0,
    showing: null,
    looked: 0, // how often it came what the stations say
    async shown() {
      await this.showing;
      await Alpine.nextTick();
    },
    // Whether the station is drawn as the project is now, where its body says so.
    async drawn(showing) {
      document.body.dataset.view = "late";
      await this.shown();
      if (this.showing === showing) document.body.dataset.view = "drawn";
    },
    refresh() {
      if (this.unfinished) return; // one thing after the other: this is worked out from what is still to come
      const { revision } = this;
      // An answer that comes after a newer edit tells of the past.
      const unlessPast = (take) => (answer) => revision === this.revision && take(answer);
      clearTimeout(this.refreshTimer);
      this.refreshTimer = setTimeout(() => {
        // One at a time: what is worked out for the last is remembered for the next.
        lookingOver = lookingOver.then(() => revision === this.revision && get(this.ofSheet("standing")).then(unlessPast((found) => Object.assign(this, { standing: found, looked: this.looked + 1 })), () => {}));
      }, 250);
      if (boot.station !== "shape") {
        const showing = get(this.ofSheet(`stations/${boot.station}`))
          .then(unlessPast((view) => this.showing === showing && (this.view = view))) // the answer that was asked for last
          .catch((problem) => this.complain(problem));
        this.showing = showing;
        this.drawn(showing);
      }
    },

    change(address, body) {
      this.forgetTries();
      const turn = queue.then(async () => {
        this.saving = true;
        const asked = this.row?.id;
        try {
          const answer = await post(this.asShown(address), { ...body, revision: this.revision });
          this.adopt(asked === this.row?.id ? answer : { ...answer, row: this.row });
          return answer;
        } catch (problem) {
          this.preview = {};
          if (problem.status === 409) this.adopt(problem.data.state);
          throw problem;
        } finally {
          this.saving = false;
        }
      });
      queue = turn.catch(() => {});
      return turn;
    },

    // Save a file, as the project is once all that was done is answered.
    async saveFile(address) {
      this.files += 1;
      try {
        await this.settled();
        await save(address);
      } finally {
        this.files -= 1;
      }
    },

    get busy() {
      return this.saving || busy();
    },
    // When every change so far has been answered.
    answered: () => queue,
    // The same, and those that follow from it.
    async settled() {
      while (this.busy) {
        await queue;
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
    },

    last: null, // the edit that was made last
    edit(edit) {
      this.last = plain(edit);
      return this.change("edits", { edit: this.meant(edit) });
    },

    // Edit, and say what went wrong at the foot of the page if it does.
    async try(edit) {
      try {
        return await this.edit(edit);
      } catch (problem) {
        this.complain(problem);
        return null;
      }
    },

    async walk(way) {
      const says = this[way];
      if (!says) return;
      try {
        await this.change(way, {});
        Alpine.store("toasts").say(`${way === "undo" ? "Undone" : "Done again"}: ${says}`, { seconds: 3 });
      } catch (problem) {
        this.complain(problem);
      }
    },

    // Said to the maker; what no sentence was written for is a fault of the page, and is reported as one.
    complain(problem) {
      if (!(problem instanceof Problem)) reportError(problem);
      Alpine.store("toasts").say(problem.message, { bad: true, seconds: 12 });
    },

    // Ask what an edit would give, at most every 60 ms; only the newest wish counts.
    tryOut(edit) {
      waiting = edit;
      if (previewing) return;
      previewing = true;
      const step = async () => {
        if (!waiting) {
          previewing = false;
          return;
        }
        const [tried, mine] = [this.meant(waiting), tries];
        waiting = null;
        const begun = performance.now();
        let rest = 0; // what is slow to draw is shown less often, so that the hand is followed smoothly
        try {
          await queue; // an edit under way comes first, and changes the revision
          const answer = await postOnce(this.asShown("preview"), { revision: this.revision, edit: tried });
          const show = () => {
            if (mine !== tries) return;
            this.preview = Object.fromEntries(Object.entries(answer.scenes).map(([id, scene]) => [id, this.whole(scene)]));
          };
          rest = 6 * (await held(show));
        } catch {
          // A preview that cannot be had is no loss: the edit itself will say why.
        }
        if (!waiting) previewing = false;
        else setTimeout(step, Math.max(0, PREVIEW_EVERY - (performance.now() - begun), rest));
      };
      step();
    },

    forgetTries() {
      tries += 1;
      waiting = null;
    },

    endTryOut() {
      this.forgetTries();
      this.preview = {};
    },
  });

  const store = Alpine.store("project");
  // The pieces that were too heavy to come with the page.
  function finish() {
    queue = queue.then(async () => {
      if (!store.unfinished) return;
      try {
        store.adopt(await get(store.row ? `${store.address}?row=${store.row.id}` : store.address));
      } catch (problem) {
        store.complain(problem);
        setTimeout(finish, 10 * AGAIN_AFTER);
      }
    });
  }
  setInterval(() => {
    store.now = Date.now();
  }, 5000);
  // What takes longer than a moment says so, and can be given up.
  const look = async () => {
    const asked = store.saving || store.unfinished || store.files || previewing;
    store.working = asked ? Math.ceil((await get("/computing").catch(() => ({ seconds: 0 }))).seconds) : 0;
    setTimeout(look, asked ? 500 : 800);
  };
  setTimeout(look, 800);
  if (store.unfinished) finish();
  return store;
}
