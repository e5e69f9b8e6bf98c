// The page of a station: starts Alpine with what every station shares, and the station's own part.

import Alpine from "../vendor/alpine-csp.min.js";
import { savesFiles } from "./api.js";
import { pieceMarkup } from "./drawing.js";
import { registerProject } from "./project.js";
import { registerSentence } from "./sentence.js";
import { registerToasts } from "./toasts.js";

const boot = JSON.parse(document.getElementById("boot").textContent);
registerToasts(Alpine);
const project = registerProject(Alpine, boot);
registerSentence(Alpine);

// <svg x-markup="expression"> fills an SVG element with markup made by our own drawing code.
Alpine.directive("markup", (element, { expression }, { evaluateLater, effect }) => {
  const read = evaluateLater(expression);
  effect(() => read((markup) => (element.innerHTML = markup)));
});

// The small true picture of a piece.
Alpine.data("picture", (id) => ({
  get box() {
    const bounds = project.scenes[id]?.bounds ?? [0, 0, 1, 1];
    const edge = Math.max(bounds[2] - bounds[0], bounds[3] - bounds[1], 1) * 0.03;
    return `${bounds[0] - edge} ${bounds[1] - edge} ${bounds[2] - bounds[0] + 2 * edge} ${bounds[3] - bounds[1] + 2 * edge}`;
  },
  get markup() {
    const scene = project.scenes[id];
    if (!scene) return "";
    const face = { ...project.face(id) };
    return pieceMarkup(scene, face, "finished").replaceAll("url(#face)", face.face);
  },
}));

Alpine.data("head", () => ({
  renaming: false,
  rename() {
    this.renaming = true;
    this.$refs.name.value = project.name;
    queueMicrotask(() => this.$refs.name.select()); // once it is shown, and before any key
  },
  async keepName() {
    if (!this.renaming) return;
    const name = this.$refs.name.value;
    if (name === project.name || (await project.try({ do: "rename", name }))) this.renaming = false;
    else this.$refs.name.focus();
  },
  leaveName() {
    this.renaming = false;
  },
  setUnit(unit) {
    if (unit !== project.unit) project.try({ do: "set-unit", unit });
  },
  get unitSays() {
    return project.unit === "mm" ? "mm" : "in";
  },
  help() {
    document.getElementById("shortcuts").showModal();
  },
}));

window.addEventListener("keydown", (event) => {
  if (event.target.closest("input, dialog[open]")) return;
  const command = event.ctrlKey || event.metaKey;
  if (command && event.key.toLowerCase() === "z") {
    event.preventDefault();
    project.walk(event.shiftKey ? "redo" : "undo");
  } else if (command && event.key.toLowerCase() === "y") {
    event.preventDefault();
    project.walk("redo");
  } else if (event.key === "?") {
    document.getElementById("shortcuts").showModal();
  } else if (event.key === "[" || event.key === "]") {
    const here = document.querySelector(".stations a[aria-current]");
    (event.key === "[" ? here.previousElementSibling : here.nextElementSibling)?.click();
  }
});

// A page that is left while a change is under way would meet the project as it was before it.
document.addEventListener("click", (event) => {
  const link = event.target.closest("a[href]:not([download])");
  if (!link || !project.busy || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  project.settled().then(() => window.location.assign(link.href));
});

savesFiles((problem) => project.complain(problem), (address) => project.saveFile(address));

// Loaded anew, what took a while may take one again, and says so then.
const here = new URL(window.location.href);
if (here.searchParams.has("opened")) {
  here.searchParams.delete("opened");
  window.history.replaceState(null, "", here);
}

// Each station brings its own script, and no other.
const { register } = await import(`./${boot.station}.js`);
register(Alpine, boot);
Alpine.start();

// Of many sheets the one that is worked on is in sight.
Alpine.nextTick(() => document.querySelector(".sheet-tab[aria-current]")?.scrollIntoView({ block: "nearest", inline: "center" }));
