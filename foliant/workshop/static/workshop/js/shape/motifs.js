// The library of motifs: find by word, keep favourites, see what was used last. These are kept in the browser; shapes of
// one's own with the maker.

import { get } from "../api.js";

const KEPT = { favourites: "foliant-motif-favourites", recent: "foliant-motif-recent" };
const MOST_RECENT = 12;

const read = (key) => {
  try {
    const found = JSON.parse(localStorage.getItem(KEPT[key]));
    return Array.isArray(found) ? found.filter((item) => typeof item === "string") : [];
  } catch {
    return [];
  }
};

// A word as it is typed, and as it stands for one thing: stars, fish, cherries, boxes.
const forms = (word) => [word, word.replace(/ies$/, "y"), word.replace(/(s|x|z|ch|sh)es$/, "$1"), word.replace(/s$/, "")];

// How well a motif is meant by a word: called so, or found by it. Words are whole, never a part of another.
function meant(motif, word) {
  const best = forms(word).map((form) => {
    if (!form) return 0;
    if (motif.key === form) return 5;
    if (motif.key.split("-").some((one) => forms(one).includes(form))) return 4;
    return motif.words.split(" ").some((one) => forms(one).includes(form)) ? 3 : 0;
  });
  return Math.max(...best);
}

// A word that is still being typed, where nothing is called so: what begins with it.
const begun = (motif, word) => Number(word.length > 1 && ` ${motif.words}`.includes(` ${word}`));

const ROW = 8; // motifs in a row of the panel
const MOST_SHOWN = 160; // pictures in it at once: the rest are found by a word

// A kept motif by its nodes, in the box of those that ship.
function drawn(contours) {
  const points = contours.flatMap((contour) => contour.nodes.map((node) => [node.x, node.y]));
  const far = Math.max(...points.map(([x, y]) => Math.max(Math.abs(x), Math.abs(y))), 0.1);
  const at = ([x, y]) => `${128 + (x * 112) / far} ${128 + (y * 112) / far}`;
  const corner = (node, handle) => at([node.x + (node[handle]?.[0] ?? 0), node.y + (node[handle]?.[1] ?? 0)]);
  return contours
    .map(({ nodes, closed }) => {
      const steps = nodes.map((node, i) => {
        const next = nodes[(i + 1) % nodes.length];
        return i === nodes.length - 1 && !closed ? "" : `C${corner(node, "leave")} ${corner(next, "arrive")} ${at([next.x, next.y])}`;
      });
      return `M${at([nodes[0].x, nodes[0].y])}${steps.join("")}${closed ? "Z" : ""}`;
    })
    .join("");
}

export async function registerMotifs(Alpine) {
  const { motifs } = await (await fetch("/motifs.json")).json();
  const all = motifs.map(([key, name, words, d]) => ({ key, name, words, d }));
  const own = async () => (await get("/library")).kept.filter((one) => one.kind === "motif" && !one.away);
  Alpine.data("motifLibrary", () => ({
    all,
    query: "",
    kept: "all",
    favourites: read("favourites"),
    recent: read("recent"),
    mine: [],

    async init() {
      this.mine = (await own()).map(({ id, name, contours }) => ({ key: `own-${id}`, name, words: name.toLowerCase(), d: drawn(contours), contours }));
    },
    get found() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      const scored = (how) => this.among().map((motif) => [motif, words.map((word) => meant(motif, word) || how(motif, word))]).filter(([, scores]) => scores.every(Boolean));
      const whole = scored(() => 0);
      const fitting = whole.length ? whole : scored(begun);
      const sum = ([, scores]) => scores.reduce((whole, score) => whole + score, 0);
      return fitting.sort((a, b) => sum(b) - sum(a)).map(([motif]) => motif);
    },
    get shown() {
      return this.found.slice(0, MOST_SHOWN);
    },
    // The motifs of the kind that is looked through.
    among() {
      if (this.kept === "mine") return this.mine;
      if (this.kept === "all") return "instead" in this.$root.dataset ? this.all : [...this.mine, ...this.all];
      if (this.kept === "signs") return this.all.filter((motif) => motif.words.split(" ").includes("pictogram"));
      return this[this.kept].map((key) => this.all.find((motif) => motif.key === key)).filter(Boolean);
    },
    // Enter takes the first, arrows walk, as in the list of fonts.
    walk(event) {
      const motifs = [...this.$root.querySelectorAll(".motif-put")];
      const finding = event.target.matches("input");
      if (finding && event.key === "Enter") {
        event.preventDefault();
        if (this.found.length) this.use(this.found[0].key); // the pictures may not be drawn yet
        return;
      }
      const at = motifs.indexOf(event.target);
      if (at < 0 && !(finding && event.key === "ArrowDown")) return;
      const to = { ArrowRight: at + 1, ArrowLeft: at - 1, ArrowDown: finding ? 0 : at + ROW, ArrowUp: at - ROW }[event.key];
      if (to === undefined) return;
      event.preventDefault();
      (to < 0 ? this.$root.querySelector("input") : motifs[to])?.focus();
    },
    get saysFound() {
      const count = this.found.length;
      if (count > MOST_SHOWN) return `${count} motifs, the first ${MOST_SHOWN} are shown: find others by a word`;
      if (count) return `${count} motif${count === 1 ? "" : "s"}`;
      if (this.kept === "favourites" && !this.query) return "Press a motif’s star to keep it here.";
      if (this.kept === "mine" && !this.query) return "Choose shapes on a piece, then More, Keep as a motif.";
      if (this.kept === "recent" && !this.query) return "What you put on will be here.";
      return `No motif is found by “${this.query}”.`;
    },
    picture(motif) {
      return `<path d="${motif.d}"/>`;
    },
    isFavourite(key) {
      return this.favourites.includes(key);
    },
    turnFavourite(key) {
      this.favourites = this.isFavourite(key) ? this.favourites.filter((other) => other !== key) : [...this.favourites, key];
      localStorage.setItem(KEPT.favourites, JSON.stringify(this.favourites));
    },
    use(key) {
      const own = this.mine.find((motif) => motif.key === key);
      if (own) {
        this.$dispatch("put-own", { contours: Alpine.raw(own.contours) });
        return;
      }
      this.recent = [key, ...this.recent.filter((other) => other !== key)].slice(0, MOST_RECENT);
      localStorage.setItem(KEPT.recent, JSON.stringify(this.recent));
      this.$dispatch("put-motif", { key });
    },
  }));
}
