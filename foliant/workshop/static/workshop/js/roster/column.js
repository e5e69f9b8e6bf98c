// What can be done with a column: its name and kind, sorting, having a value come from it, deleting.

import { act } from "../hands.js";
import { showProblem } from "../problem.js";

export function openColumn(grid, button) {
  const { project, toasts } = grid;
  const column = project.roster.columns.find((one) => one.id === button.dataset.column);
  document.querySelector(".column-menu")?.remove();
  const box = document.createElement("div");
  box.className = "choices column-menu";
  box.setAttribute("role", "dialog");
  box.setAttribute("aria-label", `The column ${column.name}`);
  const close = () => {
    box.remove();
    document.removeEventListener("pointerdown", outside);
  };
  const outside = (event) => box.contains(event.target) || close();
  document.addEventListener("pointerdown", outside);

  const name = document.createElement("input");
  Object.assign(name, { value: column.name, className: "column-name", autocomplete: "off" });
  name.setAttribute("aria-label", "The name of the column");
  name.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Escape") close();
    if (event.key !== "Enter") return;
    act(async () => {
      try {
        if (name.value.trim() !== column.name) await project.edit({ do: "change", of: `column ${column.id}`, values: { name: name.value } });
        close();
        return grid.goTo(grid.at[0], project.roster.columns.findIndex((one) => one.id === column.id));
      } catch (problem) {
        showProblem(box, name, problem.message);
        return null;
      }
    });
  });
  const kind = document.createElement("select");
  kind.setAttribute("aria-label", "What it holds");
  for (const [key, title] of Object.entries(project.roster.kinds)) kind.add(new Option(title, key, false, key === column.kind));
  kind.addEventListener("change", () => project.try({ do: "change", of: `column ${column.id}`, values: { kind: kind.value } }));
  const row = document.createElement("label");
  row.className = "column-kind";
  row.append("holds ", kind);
  box.append(name, row);

  const item = (says, run) => {
    const made = document.createElement("button");
    made.type = "button";
    made.textContent = says;
    made.addEventListener("click", () => {
      close();
      act(run);
    });
    box.append(made);
  };
  const [up, down] = ["length", "count"].includes(column.kind) ? ["Smallest first", "Largest first"] : ["Sort from A to Z", "Sort from Z to A"];
  item(up, () => project.try({ do: "sort-rows", column: column.id }));
  item(down, () => project.try({ do: "sort-rows", column: column.id, descending: true }));
  item("Delete the column", async () => {
    if (!(await project.try({ do: "remove-column", column: column.id, row: project.row?.id ?? null }))) return null;
    const said = project.undo; // what was done, as undo names it
    toasts.say(`${said[0].toUpperCase()}${said.slice(1)}.`, { action: "Undo", run: () => project.walk("undo"), seconds: 10 });
    return true;
  });
  box.addEventListener("keydown", (event) => {
    if (event.key === "Escape") close();
    event.stopPropagation();
  });
  document.body.append(box);
  const at = button.getBoundingClientRect();
  box.style.left = `${Math.max(8, Math.min(at.left, window.innerWidth - box.offsetWidth - 8))}px`;
  box.style.top = `${Math.max(8, Math.min(at.bottom + 4, window.innerHeight - box.offsetHeight - 8))}px`;
  name.select();
  name.focus();
}
