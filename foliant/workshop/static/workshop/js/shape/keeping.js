// Beginning with ready pieces and shapes, and keeping a piece as a starter and shapes as a motif.

import { get, post } from "../api.js";
import { act } from "../hands.js";
import { showProblem } from "../problem.js";

const ASKED = ["text", "motif", "width", "height", "diameter", "cap_height", "distance", "count"];

// A ready piece beside those that are here; its words are typed next.
export async function addReady(station, { project }, key) {
  station.close();
  const { text } = await get(`/starters/${key}/pieces`).catch((problem) => project.complain(problem) ?? {});
  if (!text || !(await station.freshPiece({ do: "add-pieces", text }))) return null;
  const words = station.scene.parts.find((part) => part.kind === "words");
  if (!words) return true;
  station.chosen = [words.id];
  return station.openValue(`part ${words.id}`, "text");
}

// A piece that was copied, here or in another project.
export async function pastePiece(station, { project }, { project: from, piece }) {
  const found = await get(`/projects/${from}/pieces/${piece}/copy`).catch((problem) => project.complain(problem));
  return found ? station.freshPiece({ do: "add-pieces", text: found.text }) : null;
}

// A shape of one's own, in the middle of the piece.
export function putOwn(station, context, contours) {
  station.opened = "";
  const [left, top, right, bottom] = station.scene?.bounds ?? [0, 0, 0, 0];
  return station.putOn({ kind: "drawn", contours, role: station.putRole || "engraves", x: (left + right) / 2, y: (top + bottom) / 2 });
}

export async function keepMotif(station, { project, toasts }) {
  const kept = await post(`${project.address}/pieces/${station.piece}/motif`, { parts: station.chosen }).catch((problem) => project.complain(problem));
  if (kept) toasts.say(`${kept.name} is kept as a motif: it is under Motif, Mine.`);
  return kept ?? null;
}

// A piece with a name, and the values that it will ask for.
export function keepPiece({ scene, piece }, { project, toasts }) {
  const values = scene.parts.flatMap((part) => part.spec.filter((bit) => bit.of === `part ${part.id}` && ASKED.includes(bit.field)).map((bit) => ({ address: `${bit.of} ${bit.field}`, says: `${bit.label} of ${part.label}`, text: bit.text, words: bit.field === "text" })));
  const dialog = document.createElement("dialog");
  dialog.className = "keep";
  dialog.setAttribute("aria-label", "Keep as a starter");
  dialog.innerHTML = `<form method="dialog"><h2 class="text-2xl">Keep as a starter</h2>
    <p class="keep-name"><label>Called <input maxlength="80" autocomplete="off"></label></p><p class="text-quiet">What it asks for when it begins something:</p><div class="keep-asks"></div>
    <p class="list-end"><button type="button" class="link mr-auto" title="What is open in it, or drawn on it as closed guides, are the slots">It is a jig</button><button type="button" class="button">Close</button><button class="button button-main">Keep it</button></p></form>`;
  const [name, asks, jig, close, form] = ["input", ".keep-asks", ".link", ".button", "form"].map((selector) => dialog.querySelector(selector));
  name.value = scene.name;
  asks.append(
    ...values.map(({ address, says, text, words }) => {
      const label = document.createElement("label");
      const box = Object.assign(document.createElement("input"), { type: "checkbox", value: address, checked: words });
      label.className = "row";
      label.append(box, ` ${says}, `, Object.assign(document.createElement("strong"), { textContent: text }));
      return label;
    }),
  );
  close.addEventListener("click", () => dialog.close());
  jig.addEventListener("click", () =>
    act(async () => {
      try {
        const kept = await post(`${project.address}/pieces/${piece}/jig`);
        dialog.close();
        toasts.say(`${kept.name} is kept as a jig with ${kept.slots} slot${kept.slots === 1 ? "" : "s"}: pieces can lie in it at the Sheet, and its marks are said in the Workshop.`, { seconds: 8 });
        return true;
      } catch (problem) {
        showProblem(name.parentElement, name, problem.message);
        return null;
      }
    }),
  );
  dialog.addEventListener("close", () => dialog.remove());
  dialog.addEventListener("keydown", (event) => event.stopPropagation());
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    act(async () => {
      const chosen = [...asks.querySelectorAll(":checked")].map((box) => box.value);
      try {
        const kept = await post(`${project.address}/pieces/${piece}/keep`, { name: name.value, asks: chosen });
        dialog.close();
        toasts.say(`${kept.name} is kept: a project or a piece can begin with it.`);
        return true;
      } catch (problem) {
        showProblem(name.parentElement, name, problem.message);
        return null;
      }
    });
  });
  document.body.append(dialog);
  dialog.showModal();
  name.select();
  return true;
}
