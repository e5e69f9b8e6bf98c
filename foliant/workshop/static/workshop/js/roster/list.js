// A list that is pasted, typed or opened: shown as it was read, then taken in one press.

import { act } from "../hands.js";
import { safe } from "../drawing.js";
import { send } from "../api.js";

const SHOWN = 6; // rows of it
const MOST_WORDS = 4; // columns that are asked for their words

const replaced = (count) => (count ? ` They take the place of the ${count === 1 ? "row there is" : `${count.toLocaleString("en-GB")} rows there are`}; rows of the same name keep what is their own.` : "");

export function openList({ Alpine, project, toasts, text, words: meant }) {
  document.getElementById("list")?.remove();
  const dialog = document.createElement("dialog");
  dialog.id = "list";
  dialog.className = "list";
  dialog.setAttribute("aria-label", "Paste or open a list");
  dialog.innerHTML = `<form method="dialog"><h2 class="text-2xl">One for each row</h2>
    <p class="text-quiet">Paste rows from a spreadsheet, type one name a line, or drop a CSV or XLSX file here. A series makes its own rows: <em>1 … 60</em>, <em>Bay 01 … 12</em>, <em>A … H</em>, <em>1 Dec … 24 Dec</em>; three full stops will do.</p>
    <textarea rows="5" aria-label="The rows, one a line" autocomplete="off" spellcheck="false"></textarea>
    <p class="list-file"><label class="button">Open a file<input type="file" class="sr-only" accept=".csv,.tsv,.txt,.xlsx"></label><span class="list-name text-quiet"></span></p>
    <p class="list-problem" role="alert" hidden></p>
    <div class="list-found" hidden><p class="list-says" aria-live="polite"></p><label class="row"><input type="checkbox"> The first row is a heading</label><div class="list-rows"></div><div class="list-words"></div></div>
    <p class="list-end"><button type="button" class="button" value="close">Close</button><button class="button button-main" disabled>Take the rows</button></p></form>`;
  document.body.append(dialog);
  const find = (selector) => dialog.querySelector(selector);
  const [area, file, found, headed, words, take] = ["textarea", "[type=file]", ".list-found", "[type=checkbox]", ".list-words", ".button-main"].map(find);
  let content = null; // the file that is looked at; else what is typed
  let table = null;
  let newest = 0;

  const choices = project.order.flatMap((id) => project.scenes[id].parts.filter((one) => one.kind === "words" && !one.spec.some((bit) => bit.field === "text" && bit.tie)).map((one) => [one.id, one.label]));
  const asked = meant.filter((id) => choices.some(([key]) => key === id));
  const rest = choices.map(([id]) => id).filter((id) => !asked.includes(id));
  const order = project.roster.tied.length ? [] : [...asked, ...(asked.length ? [] : rest.slice(0, 1))];
  // Which words say what stands in a column; what reads most like names comes first.
  const askWords = () => {
    words.replaceChildren(
      ...table.words.slice(0, choices.length ? MOST_WORDS : 0).map((column, at) => {
        const name = table.heading[column];
        const label = document.createElement("label");
        const select = document.createElement("select");
        select.setAttribute("aria-label", `The words that say ${name}`);
        select.dataset.column = column;
        select.append(...[["", "no words yet"], ...choices].map(([id, title]) => new Option(title, id, false, id === (order[at] ?? ""))));
        label.className = "row";
        label.append(Object.assign(document.createElement("em"), { textContent: name }), " as the words ", select);
        return label;
      }),
    );
  };
  const say = (problem) => {
    find(".list-problem").textContent = problem;
    find(".list-problem").hidden = !problem;
  };
  const show = () => {
    found.hidden = !table;
    take.disabled = !table?.rows.length;
    if (!table) return;
    const count = table.rows.length;
    take.textContent = count === 1 ? "Take 1 row" : `Take ${count.toLocaleString("en-GB")} rows`;
    headed.checked = table.headed;
    askWords();
    find(".list-says").textContent = `Read as ${table.found}: ${count.toLocaleString("en-GB")} ${count === 1 ? "row" : "rows"}, ${table.heading.length} ${table.heading.length === 1 ? "column" : "columns"}.${replaced(project.roster.order.length)}`;
    const cells = (line, tag) => `<tr>${line.slice(0, 6).map((cell) => `<${tag}>${safe(cell)}</${tag}>`).join("")}${line.length > 6 ? `<${tag}>…</${tag}>` : ""}</tr>`;
    find(".list-rows").innerHTML = `<table><thead>${cells(table.heading, "th")}</thead><tbody>${table.rows.slice(0, SHOWN).map((line) => cells(line, "td")).join("")}</tbody></table>${count > SHOWN ? `<p class="text-quiet">and ${(count - SHOWN).toLocaleString("en-GB")} more</p>` : ""}`;
  };
  const read = async (asHeaded) => {
    const mine = (newest += 1);
    const source = content ?? (area.value.trim() ? new Blob([area.value], { type: "text/plain" }) : null);
    table = null;
    if (source) {
      const form = new FormData();
      form.append("file", source, content?.name ?? "pasted.txt");
      const asked = new URLSearchParams({ named: project.roster.columns.map((column) => column.name).join("\n") });
      if (asHeaded !== undefined) asked.set("headed", String(asHeaded));
      try {
        const answer = await send(`/tables?${asked}`, form);
        if (mine !== newest) return false;
        table = answer;
        say("");
      } catch (problem) {
        if (mine !== newest) return false;
        say(problem.message);
      }
    } else say("");
    show();
    return Boolean(table);
  };
  const opened = (chosen) => {
    if (!chosen) return;
    content = chosen;
    area.value = "";
    find(".list-name").textContent = chosen.name;
    act(() => read());
  };
  const typed = () => {
    content = null;
    find(".list-name").textContent = "";
  };
  let timer = 0;
  area.addEventListener("input", () => {
    typed();
    clearTimeout(timer);
    timer = setTimeout(() => read(), 250);
  });
  area.addEventListener("paste", (event) => {
    if (event.clipboardData.files.length) {
      event.preventDefault();
      opened(event.clipboardData.files[0]);
      return;
    }
    setTimeout(() => act(() => read())); // once it is in the field
  });
  file.addEventListener("change", () => opened(file.files[0]));
  headed.addEventListener("change", () => act(() => read(headed.checked)));
  dialog.addEventListener("dragover", (event) => event.preventDefault());
  dialog.addEventListener("drop", (event) => {
    event.preventDefault();
    opened(event.dataTransfer.files[0]);
  });
  const close = () => {
    dialog.close();
    dialog.remove();
  };
  find("[value=close]").addEventListener("click", close);
  dialog.addEventListener("cancel", () => dialog.remove());
  dialog.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey) && !take.disabled) take.click();
  });
  find("form").addEventListener("submit", (event) => {
    event.preventDefault();
    act(async () => {
      if (!table && !(await read())) return null;
      const { heading, rows } = table;
      try {
        await project.edit({ do: "take-table", heading, rows, tie: true, words: heading.map((_, column) => words.querySelector(`[data-column="${column}"]`)?.value || null) });
      } catch (problem) {
        say(problem.message);
        return null;
      }
      close();
      await Alpine.nextTick();
      if (project.roster.tied.length) project.showRow(project.roster.order[0]);
      toasts.say(`${rows.length.toLocaleString("en-GB")} rows are taken.`, { action: "Undo", run: () => project.walk("undo"), seconds: 6 });
      return true;
    });
  });
  dialog.showModal();
  area.value = text;
  area.focus();
  return text ? read() : true;
}
