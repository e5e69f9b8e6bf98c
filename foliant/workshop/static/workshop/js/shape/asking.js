// A small field over the drawing, where a dimension was pressed: type, Enter keeps, Escape leaves.

import { said } from "../lengths.js";
import { clearProblem, showProblem } from "../problem.js";
import { distance, union } from "./geometry.js";

export function askDimension(station, what, event) {
  const { project, measure } = station;
  const canvas = station.$refs.canvas.getBoundingClientRect();
  const [label, now, edit, plated] = dimensions(station)[what];
  askAt(station.$refs.canvas, {
    x: event.clientX - canvas.left, y: event.clientY - canvas.top, label,
    raw: said(now, project.unit),
    ways: plated === undefined ? [] : [...(plated ? [["plate", "its plate"]] : []), ["whole", "all of it"]],
    keep: async (text, how) => {
      await project.edit(edit(text, how));
      if (what === "measure") Object.assign(measure, { from: null, to: null });
      station.draw();
    },
  });
}

// What each dimension is called, how long it is now, and the edit that makes it another.
function dimensions({ piece, scene, chosen, chosenParts, measure: { from, to } }) {
  const whole = scene.bounds;
  const box = chosen.length ? union(chosenParts.map((part) => part.bounds)) : whole;
  const parts = { piece, parts: chosen };
  const held = (axis) => ["Distance of the hold", chosenParts[0]?.data[axis]?.gap ?? 0, (gap) => ({ do: "change", of: `${axis} ${chosen[0]}`, values: { gap } })];
  const apart = (distance) => ({ do: "set-distance", piece, parts: [to.part || from.part], from: to.part ? from.at : to.at, to: to.part ? to.at : from.at, distance });
  return {
    left: ["Distance to the left edge", box[0] - whole[0], (x) => ({ do: "place-parts", ...parts, x, from_x: whole[0], reference: "left" })],
    top: ["Distance to the upper edge", box[1] - whole[1], (y) => ({ do: "place-parts", ...parts, y, from_y: whole[1], reference: "top" })],
    width: ["Chosen width", box[2] - box[0], (width) => ({ do: "resize-parts", ...parts, width })],
    height: ["Chosen height", box[3] - box[1], (height) => ({ do: "resize-parts", ...parts, height })],
    "piece-width": ["Piece width", whole[2] - whole[0], (width, how) => ({ do: "size-piece", piece, width, how }), scene.plated[0]],
    "piece-height": ["Piece height", whole[3] - whole[1], (height, how) => ({ do: "size-piece", piece, height, how }), scene.plated[1]],
    "hold-across": held("across"),
    "hold-down": held("down"),
    measure: ["Measured distance", from && to ? distance(from.at, to.at) : 0, apart],
  };
}

// `ways` are what it could be reached by, the usual one first: which one is said under the field, and another is a press.
function askAt(canvas, { x, y, label, raw, ways, keep }) {
  canvas.querySelector(".ask")?.remove();
  const box = document.createElement("div");
  box.className = "ask";
  box.style.left = `${x}px`;
  box.style.top = `${y}px`;
  const input = document.createElement("input");
  input.value = raw;
  input.setAttribute("aria-label", label);
  input.autocomplete = "off";
  let how = ways[0]?.[0];
  const choices = document.createElement("div");
  choices.className = "ask-ways";
  choices.setAttribute("role", "group");
  choices.setAttribute("aria-label", "What is sized");
  const choose = (way) => {
    how = way;
    for (const button of choices.querySelectorAll("button")) button.setAttribute("aria-pressed", String(button.dataset.way === how));
  };
  // The only way there is is said, and nothing to press.
  if (ways.length === 1) choices.append(Object.assign(document.createElement("span"), { textContent: ways[0][1] }));
  for (const [way, title] of ways.length > 1 ? ways : []) {
    const button = Object.assign(document.createElement("button"), { type: "button", textContent: title });
    button.dataset.way = way;
    button.addEventListener("mousedown", (event) => event.preventDefault()); // the field keeps what is typed, and the keys
    button.addEventListener("click", () => {
      choose(way);
      input.focus();
    });
    choices.append(button);
  }
  choose(how);
  box.append(input, ...(ways.length ? [choices] : []));
  canvas.append(box);
  input.select();
  let kept = false;
  const close = () => {
    kept = true;
    box.remove();
  };
  input.addEventListener("keydown", async (event) => {
    event.stopPropagation();
    if (event.key === "Escape") close();
    if (event.key !== "Enter") return;
    event.preventDefault();
    if (input.value === raw) return close();
    try {
      await keep(input.value, how);
      close();
    } catch (problem) {
      showProblem(box, input, problem.message);
    }
  });
  input.addEventListener("input", () => clearProblem(box, input));
  box.addEventListener("focusout", (event) => box.contains(/** @type {Node | null} */ (event.relatedTarget)) || setTimeout(() => kept || box.querySelector(".problem") || close(), 100));
  input.focus();
}
