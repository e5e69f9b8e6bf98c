// Bringing files in, chosen, dropped on the drawing, or pasted: pictures are put on at once, designs give their pieces,
// and of drawings it is shown first what they hold.

import { get, post, send } from "../api.js";
import { act } from "../hands.js";

const LOOK_EVERY = 400; // ms

// Read every file, one after the other; the width of the last picture is typed next.
export async function bring(station, { project, toasts }, files) {
  let part = null;
  const drawings = [];
  for (const file of files) {
    const found = await read(file, { project, toasts });
    if (found?.kind === "picture") part = await act(() => station.putOn({ kind: "picture", values: { picture: found.key, name: found.name } }));
    if (found?.kind === "design") await act(() => station.freshPiece({ do: "add-pieces", text: found.text }));
    if (found?.kind === "drawing") drawings.push(found);
  }
  if (drawings.length) return station.showCame(drawings);
  return part && act(() => station.openValue(`part ${part.id}`, "width"), { types: true });
}

// What a file is, once it was read; null where it could not be, or was given up.
async function read(file, { project, toasts }) {
  const giving = new AbortController();
  const says = `Reading ${file.name}…`;
  const stop = () => (giving.abort(), project.giveUp());
  const note = toasts.say(says, { seconds: 90, action: "Cancel", run: stop });
  const looking = setInterval(async () => {
    const { read: share } = await get("/computing").catch(() => ({ read: 0 }));
    if (share) toasts.tell(note, `${says} ${Math.floor(100 * share)} %`);
  }, LOOK_EVERY);
  const form = new FormData();
  form.append("file", file);
  try {
    return await send("/brought", form, giving.signal);
  } catch (problem) {
    if (!giving.signal.aborted) project.complain(problem);
    return null;
  } finally {
    clearInterval(looking);
    toasts.drop(note);
  }
}

const LEFT = "left";
const WORDS = "words";
const FILLED = { adds: "#e6cb98", cuts: "#c9c1b0", engraves: "#4d5f73", scores: "none", guides: "none", left: "none" };
const LINED = { adds: "#9a7647", cuts: "#5a4a3c", engraves: "#4d5f73", scores: "#b57a14", guides: "#85796a", left: "#d8cdb8" };

export function registerCame(Alpine, station, project) {
  Alpine.data("camePanel", () => ({
    view: null,
    said: { factor: 1, width: "", roles: {}, told: {}, into: "parts" },
    typed: "",
    wishes: 0,
    shown: "", // the group that is pointed at

    init() {
      this.ask(true);
    },
    get drawing() {
      return station.came[0];
    },
    get address() {
      return `brought/${this.drawing.key}`;
    },
    get title() {
      return this.drawing?.name ?? "";
    },
    // Have it shown as it is said now; what comes too late for a newer wish is let go.
    async ask(again = false) {
      const mine = (this.wishes += 1);
      try {
        const view = await post(`${project.address}/${this.address}`, { ...this.said, piece: station.piece, again });
        if (mine !== this.wishes) return;
        this.view = view;
        this.typed = view.width;
        this.said = { factor: view.factor, width: "", into: view.into, told: this.said.told, roles: Object.fromEntries(view.groups.map((group) => [group.key, group.role])) };
        if (again) this.said.told = Object.fromEntries(view.groups.filter((group) => group.said).map((group) => [group.key, group.told]));
        if (view.words.length) this.said.roles[WORDS] = view.wordsRole;
        await Alpine.nextTick();
        if (document.activeElement === this.$refs.wide) this.$refs.wide.select(); // the next key types another
      } catch (problem) {
        this.typed = this.view?.width ?? "";
        project.complain(problem);
      }
    },

    get sizeSays() {
      return this.view?.size ?? "It is being looked at…";
    },
    meanAs(factor) {
      this.said = { ...this.said, factor, width: "" };
      this.ask();
    },
    isMeant(factor) {
      return Math.abs((this.view?.factor ?? 1) / factor - 1) < 1e-6;
    },
    get isTyped() {
      return this.view !== null && this.typed.trim() !== "" && this.typed !== this.view.width;
    },
    setWidth() {
      if (!this.isTyped) return null;
      this.said = { ...this.said, width: this.typed };
      return this.ask();
    },

    get groups() {
      return this.view?.groups ?? [];
    },
    get words() {
      return this.view?.words ?? [];
    },
    get wordsSay() {
      return this.words.length === 1 ? "1 line of words" : `${this.words.length} lines of words`;
    },
    get wordsRole() {
      return this.view?.wordsRole ?? LEFT;
    },
    hasRole: (group, role) => group.role === role,
    // What it is exchanged for is there already, and stays what it is.
    isKept(group) {
      return this.view.into === "anew" && this.view.kept.includes(group.key);
    },
    setRole(key, role) {
      this.said = { ...this.said, roles: { ...this.said.roles, [key]: role } };
      this.ask();
    },
    setWordsRole(role) {
      this.setRole(WORDS, role);
    },
    toldSays: (group) => (group.told === "area" ? "as the areas that its lines cover" : "as lines"),
    turnTold(group) {
      this.said = { ...this.said, told: { ...this.said.told, [group.key]: group.told === "area" ? "line" : "area" } };
      this.ask();
    },
    into: (view, what) => view?.into === what,
    setInto(into) {
      this.said = { ...this.said, into };
      this.ask();
    },

    get box() {
      if (!this.view) return "0 0 1 1";
      const [left, top, width, height] = this.view.box;
      const edge = 0.03 * Math.max(width, height, 1);
      return `${left - edge} ${top - edge} ${width + 2 * edge} ${height + 2 * edge}`;
    },
    get markup() {
      const order = ["adds", "cuts", "guides", "engraves", "scores", LEFT];
      const drawn = [...this.groups].sort((a, b) => order.indexOf(a.role) - order.indexOf(b.role));
      const words = { d: this.view?.wordsData ?? "", role: this.wordsRole, filled: true };
      return [...drawn.map((group) => picture(group, group.key === this.shown)), picture(words, false)].join("");
    },
    boxOf(group) {
      const [left, top, width, height] = group.box;
      const side = Math.max(width, height, 0.1) * 1.1;
      return `${left + width / 2 - side / 2} ${top + height / 2 - side / 2} ${side} ${side}`;
    },
    dotOf: (group) => `<circle cx="5" cy="5" r="4.5" fill="${group.colour}"/>`,
    pictureOf: (group) => picture(group, false),
    point(group) {
      this.shown = group.key;
    },
    leave() {
      this.shown = "";
    },

    // Take it in as it is shown, and go on to the next.
    async take() {
      if (this.isTyped) await this.setWidth();
      if (!this.view) return null;
      return act(async () => {
        if (!station.piece) await station.freshPiece({ do: "add-piece" });
        const pieces = new Set(project.order);
        const before = new Set(project.scenes[station.piece].ids);
        try {
          await project.change(`${this.address}/taken`, { ...this.said, piece: station.piece });
        } catch (problem) {
          project.complain(problem);
          return null;
        }
        const fresh = project.order.find((id) => !pieces.has(id));
        if (fresh) station.openPiece(fresh);
        else station.chosen = station.scene.parts.filter((part) => !before.has(part.id)).map((part) => part.id);
        station.nextCame();
        if (fresh || before.size === 0) station.fit();
        return true;
      });
    },
  }));
}

function picture(group, shown) {
  const fill = group.filled ? FILLED[group.role] : "none";
  const dash = { scores: ' stroke-dasharray="6 4"', guides: ' stroke-dasharray="0.1 5" stroke-linecap="round"' }[group.role] ?? "";
  const wide = shown ? 3.5 : 1.4;
  return `<path d="${group.d}" fill="${fill}" stroke="${LINED[group.role]}" stroke-width="${wide}" vector-effect="non-scaling-stroke"${dash}/>`;
}
