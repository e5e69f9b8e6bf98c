// A small field over the drawing, where a dimension was pressed: type, Enter keeps, Escape leaves.

import { clearProblem, showProblem } from "../problem.js";

export function askAt(canvas, { x, y, label, raw, keep }) {
  canvas.querySelector(".ask")?.remove();
  const box = document.createElement("div");
  box.className = "ask";
  box.style.left = `${x}px`;
  box.style.top = `${y}px`;
  const input = document.createElement("input");
  input.value = raw;
  input.setAttribute("aria-label", label);
  input.autocomplete = "off";
  box.append(input);
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
      await keep(input.value);
      close();
    } catch (problem) {
      showProblem(box, input, problem.message);
    }
  });
  input.addEventListener("input", () => clearProblem(box, input));
  input.addEventListener("blur", () => setTimeout(() => kept || box.querySelector(".problem") || close(), 100));
  input.focus();
}
