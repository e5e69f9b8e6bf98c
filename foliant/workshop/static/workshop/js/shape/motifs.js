// The library of motifs: find by word, keep favourites, see what was used last. These are kept in the browser.

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

// How well a motif is meant by a word: called so, found by the whole of it, or by its beginning, or by some of it.
function meant(motif, word) {
  const best = forms(word).map((form) => {
    if (!form) return 0;
    if (motif.key === form) return 5;
    if (motif.key.split("-").includes(form)) return 4;
    if (motif.words.split(" ").includes(form)) return 3;
    return motif.words.includes(` ${form}`) ? 2 : Number(motif.words.includes(form));
  });
  return Math.max(...best);
}

const ROW = 8; // motifs in a row of the panel

export async function registerMotifs(Alpine) {
  const { motifs } = await (await fetch("/motifs.json")).json();
  const all = motifs.map(([key, name, words, d]) => ({ key, name, words, d }));
  Alpine.data("motifLibrary", () => ({
    all,
    query: "",
    kept: "all",
    favourites: read("favourites"),
    recent: read("recent"),

    get found() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      const from =
        this.kept === "all" ? this.all : this[this.kept].map((key) => this.all.find((motif) => motif.key === key)).filter(Boolean);
      const scored = from.map((motif) => [motif, words.map((word) => meant(motif, word))]);
      const fitting = scored.filter(([, scores]) => scores.every(Boolean));
      const sum = ([, scores]) => scores.reduce((whole, score) => whole + score, 0);
      return fitting.sort((a, b) => sum(b) - sum(a)).map(([motif]) => motif);
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
      if (count) return `${count} motif${count === 1 ? "" : "s"}`;
      if (this.kept === "favourites" && !this.query) return "Press a motif’s star to keep it here.";
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
      this.recent = [key, ...this.recent.filter((other) => other !== key)].slice(0, MOST_RECENT);
      localStorage.setItem(KEPT.recent, JSON.stringify(this.recent));
      this.$dispatch("put-motif", { key });
    },
  }));
}
