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

export function registerMotifs(Alpine) {
  Alpine.data("motifLibrary", () => ({
    all: [],
    query: "",
    kept: "all",
    favourites: read("favourites"),
    recent: read("recent"),

    async init() {
      const { motifs } = await (await fetch("/motifs.json")).json();
      this.all = motifs.map(([key, name, words, d]) => ({ key, name, words, d }));
    },
    get found() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      const from =
        this.kept === "all" ? this.all : this[this.kept].map((key) => this.all.find((motif) => motif.key === key)).filter(Boolean);
      return from.filter((motif) => words.every((word) => motif.words.includes(word)));
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
