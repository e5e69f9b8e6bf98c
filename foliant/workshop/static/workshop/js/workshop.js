// The Workshop page: what a maker cuts, what with, what works, and what time costs.

import Alpine from "../vendor/alpine-csp.min.js";
import { ask, get, post, savesFiles, send } from "./api.js";
import { registerSentence } from "./sentence.js";
import { registerToasts } from "./toasts.js";

const boot = JSON.parse(document.getElementById("boot").textContent);
registerToasts(Alpine);
const say = (text, options) => Alpine.store("toasts").say(text, options);
savesFiles((problem) => say(problem.message, { bad: true, seconds: 10 }));
let queue = Promise.resolve(); // changes wait for each other

Alpine.store("shop", {
  ...boot.state,
  material: boot.state.materials[0].key, // those that are open
  machine: boot.state.machines[0].key,

  // Nothing is tried out here: a value shows what it does once it is kept.
  tryOut() {},
  endTryOut() {},

  change(address, body) {
    const turn = queue.then(async () => {
      try {
        this.adopt(await post(`/shop/${address}`, { ...body, revision: this.revision }));
      } catch (problem) {
        if (problem.status === 409) this.adopt(problem.data.state);
        throw problem;
      }
    });
    queue = turn.catch(() => {});
    return turn;
  },
  adopt(state) {
    Object.assign(this, state);
    const open = (list, key) => (list.some((thing) => thing.key === key) ? key : list[0].key);
    this.material = open(this.materials, this.material);
    this.machine = open(this.machines, this.machine);
  },
  edit(edit) {
    return this.change("edits", { edit });
  },
  async try(edit) {
    try {
      await this.edit(edit);
      return true;
    } catch (problem) {
      this.complain(problem);
      return false;
    }
  },
  async walk(way) {
    const says = this[way];
    if (!says) return;
    try {
      await this.change(way, {});
      say(`${way === "undo" ? "Undone" : "Done again"}: ${says}`, { seconds: 3 });
    } catch (problem) {
      this.complain(problem);
    }
  },
  complain(problem) {
    say(problem.message, { bad: true, seconds: 12 });
  },
});
const shop = Alpine.store("shop");
registerSentence(Alpine, "shop");

Alpine.data("workshopPage", () => ({
  works: boot.works,
  newMaterial: "",
  newMachine: "",
  newJig: "",
  words: "", // that recipes are looked for by, and those that fit
  hits: [],

  get material() {
    return shop.materials.find((thing) => thing.key === shop.material);
  },
  get machine() {
    return shop.machines.find((thing) => thing.key === shop.machine);
  },
  get recipes() {
    return shop.recipes[shop.machine]?.[shop.material] ?? [];
  },
  open(what, key) {
    shop[what] = key;
  },
  async addMaterial() {
    if (!(await shop.try({ do: "add-material", name: this.newMaterial, like: shop.material }))) return;
    this.newMaterial = "";
    shop.material = shop.materials.at(-1).key;
  },
  async addMachine() {
    if (!(await shop.try({ do: "add-machine", name: this.newMachine, like: shop.machine }))) return;
    this.newMachine = "";
    shop.machine = shop.machines.at(-1).key;
  },
  async addJig() {
    if (await shop.try({ do: "add-jig", name: this.newJig })) this.newJig = "";
  },
  paintIt(thing, paint, event) {
    shop.try({ do: "change", of: `material ${thing.key}`, values: { [paint.field]: event.target.value } });
  },
  addSheet() {
    shop.try({ do: "add-sheet", material: shop.material });
  },
  async find() {
    const asked = this.words;
    const { found } = asked.trim() ? await get(`/shop/recipes?words=${encodeURIComponent(asked)}`).catch(() => ({ found: [] })) : { found: [] };
    if (asked === this.words) this.hits = found;
  },
  goTo(one) {
    [shop.machine, shop.material] = [one.machine, one.material];
    [this.words, this.hits] = ["", []];
  },
  get focuses() {
    return this.machine?.focuses;
  },
  // A project of its own with a card of test fields, which begins at the Ticket.
  async card(work) {
    try {
      const { id } = await post("/shop/cards", { machine: shop.machine, material: shop.material, work });
      window.location.assign(`/projects/${id}/ticket/`);
    } catch (problem) {
      shop.complain(problem);
    }
  },
  copyTo(onto) {
    shop.try({ do: "copy-recipes", machine: shop.machine, material: shop.material, onto });
  },
  // Have a chosen file taken into the shop, which undo takes out again.
  async takeFile(input, address, says) {
    const form = new FormData();
    form.append("file", input.files[0]);
    input.value = "";
    try {
      shop.adopt(await send(address, form));
      say(says, { action: "Undo", run: () => shop.walk("undo"), seconds: 15 });
    } catch (problem) {
      shop.complain(problem);
    }
  },
  takeList() {
    return this.takeFile(this.$refs.list, "/shop/recipes.csv", "The recipes of that list are taken.");
  },
  bringJig() {
    return this.takeFile(this.$refs.jig, "/shop/jigs", "The jig of that drawing is kept.");
  },
  openFile() {
    return this.takeFile(this.$refs.file, "/shop/file", "The shop of that file is yours now.");
  },
  addRecipe(work) {
    shop.try({ do: "add-recipe", machine: shop.machine, material: shop.material, work });
  },
  async remove(what, key) {
    const thing = `${what} ${key}`;
    if (await shop.try({ do: "remove", of: thing })) say("Taken out.", { action: "Undo", run: () => shop.walk("undo"), seconds: 12 });
  },
  setUnit(unit) {
    if (unit !== shop.unit) shop.try({ do: "set-unit", unit });
  },
}));

// Pieces kept as starters and shapes kept as motifs.
Alpine.data("library", () => ({
  kept: [],
  query: "",
  renaming: 0,
  init() {
    get("/library").then(({ kept }) => (this.kept = kept), (problem) => shop.complain(problem));
  },
  get found() {
    const fitting = this.kept.filter((one) => one.name.toLowerCase().includes(this.query.trim().toLowerCase()));
    return [...fitting.filter((one) => !one.away), ...fitting.filter((one) => one.away)];
  },
  async change(asked) {
    try {
      const one = await asked;
      this.kept = this.kept.map((old) => (old.id === one.id ? one : old));
      this.renaming = 0;
      return one;
    } catch (problem) {
      shop.complain(problem);
      return null;
    }
  },
  rename(one) {
    this.renaming = one.id;
    this.$nextTick(() => this.$root.querySelector(".kept-name")?.select());
  },
  leaveName() {
    this.renaming = 0;
  },
  keepName(one, event) {
    if (this.renaming !== one.id) return;
    if (event.target.value === one.name) this.leaveName();
    else this.change(post(`/library/${one.id}/name`, { name: event.target.value }));
  },
  async putAway(one) {
    if (await this.change(ask("DELETE", `/library/${one.id}`))) say(`${one.name} is put away; projects keep what they took from it.`, { action: "Bring back", run: () => this.bringBack(one) });
  },
  bringBack(one) {
    return this.change(post(`/library/${one.id}/restore`));
  },
}));

window.addEventListener("keydown", (event) => {
  if (event.target.closest("input") || !(event.ctrlKey || event.metaKey)) return;
  const key = event.key.toLowerCase();
  if (key !== "z" && key !== "y") return;
  event.preventDefault();
  shop.walk(key === "y" || event.shiftKey ? "redo" : "undo");
});

Alpine.start();
