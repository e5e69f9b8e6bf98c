// A sentence whose values can be edited in place: click a value, type, Enter; Tab goes on to the next.

import { act, focused } from "./hands.js";
import { clearProblem, showProblem } from "./problem.js";

const LONG = 12; // choices, above which other ways come first
const FEWEST_LINES = 4; // that are a list, and not words of several lines

export function registerSentence(Alpine, held = "project") {
  const project = () => Alpine.store(held);
  let choosing = null; // the open list of choices, one on the page, and of which value of which sentence

  // What is tried draws the sentence anew, and so the value whose list is open.
  const chosen = () => choosing && buttonOf(choosing.root, choosing.of, choosing.field);
  const isOpen = (root, { of, field }) => choosing?.root === root && choosing.of === of && choosing.field === field;

  function closeChoices(refocus = false) {
    if (!choosing) return;
    const button = chosen();
    choosing.list.remove();
    choosing = null;
    button?.setAttribute("aria-expanded", "false");
    project().endTryOut();
    if (refocus) button?.focus();
  }
  document.addEventListener("pointerdown", (event) => {
    if (choosing && !choosing.list.contains(event.target) && !chosen()?.contains(event.target)) closeChoices();
  });
  window.addEventListener("blur", () => closeChoices());

  function editFor(bit, raw) {
    if (bit.choices && raw.startsWith('{"')) return JSON.parse(raw); // an edit
    // Where the row shown has one cell there, that is what is typed.
    if (bit.tie?.column && !project().only && !raw.includes("{")) return { do: "put-cells", row: bit.tie.row, column: bit.tie.column, cells: [[raw]] };
    if (bit.edit) return { ...bit.edit, [bit.field]: raw };
    const [what, ...parts] = bit.of.split(" ");
    const holder = () => project().order.find((id) => project().scenes[id].ids.includes(parts[0]));
    if (bit.field === "role") return { do: "set-role", piece: holder(), parts, role: raw.replace("+", ""), also: raw[0] === "+" };
    if (what === "parts") {
      const edit = { width: "resize-parts", height: "resize-parts", x: "place-parts", y: "place-parts" }[bit.field];
      if (!edit) return { do: "change-parts", piece: holder(), parts, values: { [bit.field]: raw } };
      return { do: edit, piece: holder(), parts, [bit.field]: raw };
    }
    return { do: "change", of: bit.of, values: { [bit.field]: raw } };
  }

  // The choices of a value: its own, or those that the project lists once for all, as edits.
  const choicesOf = (bit) => (bit.listed ? project()[bit.listed].map(([edit, says]) => [JSON.stringify({ ...edit, ...bit.each }), says]) : bit.choices);

  // How a value can come from the roster, or no longer; see `roster/ways.js`.
  const fromRoster = (bit) => project().ways?.(bit) ?? [];

  function openChoices(root, button, bit) {
    closeChoices();
    const before = valuesOf(root); // what is only tried shows others
    const list = document.createElement("div");
    list.className = "choices";
    list.setAttribute("role", "listbox");
    list.setAttribute("aria-label", bit.label);
    const ways = fromRoster(bit).map(({ says, edit }) => [JSON.stringify(edit), says]);
    const choices = choicesOf(bit);
    for (const [key, title] of choices.length > LONG ? [...ways, ...choices] : [...choices, ...ways]) {
      const option = document.createElement("button");
      option.type = "button";
      option.setAttribute("role", "option");
      option.setAttribute("aria-selected", String(key === bit.raw));
      option.textContent = title;
      option.addEventListener("click", () =>
        act(async () => {
          closeChoices();
          if (key !== bit.raw) await project().try(editFor(bit, key));
          await project().shown?.(); // what opens by itself after it gets the keys that come next
          await focusValue(root, bit.of, bit.field);
          // A value that the choice brings with it is typed next.
          const fresh = root.bits.find((other) => other.kind === "length" && other.of === bit.of && !before.has(other.field));
          if (fresh && before.has(bit.field)) await open(root, fresh.of, fresh.field);
        }),
      );
      option.addEventListener("focus", () => key !== bit.raw && project().tryOut(editFor(bit, key)));
      list.append(option);
    }
    list.addEventListener("keydown", (event) => {
      const options = [...list.children];
      const at = options.indexOf(document.activeElement);
      const go = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: options.length - 1 }[event.key];
      if (go !== undefined) options[Math.max(0, Math.min(options.length - 1, go))].focus();
      else if (event.key === "Escape" || event.key === "Tab") closeChoices(true);
      else return;
      event.preventDefault();
      event.stopPropagation();
    });
    document.body.append(list);
    const box = button.getBoundingClientRect();
    const below = window.innerHeight - box.bottom > list.offsetHeight + 12;
    list.style.left = `${Math.max(8, Math.min(box.left, window.innerWidth - list.offsetWidth - 8))}px`;
    list.style.top = below ? `${box.bottom + 4}px` : `${Math.max(8, box.top - list.offsetHeight - 4)}px`;
    button.setAttribute("aria-expanded", "true");
    choosing = { list, root, of: bit.of, field: bit.field };
    (list.querySelector('[aria-selected="true"]') ?? list.firstElementChild)?.focus();
  }

  const valuesOf = (root) => new Set(root.bits.filter((bit) => bit.field).map((bit) => bit.field));
  const buttonOf = (root, of, field) => root.querySelector(`.value[data-of="${of}"][data-field="${field}"]`);

  // Once it is drawn anew; unless the hand has gone into another field.
  async function focusValue(root, of, field) {
    await Alpine.nextTick();
    if (!focused().matches("input, textarea, select")) buttonOf(root, of, field)?.focus();
  }

  // The list of fonts is a panel of its own, with a picture of the words in each.
  async function openFonts(root, bit) {
    const { openChooser } = await import("./shape/chooser.js");
    return openChooser(project(), Alpine.store("toasts"), { now: bit.raw, edit: (key) => editFor(bit, key), of: bit.of.split(" ")[1], left: () => focusValue(root, bit.of, bit.field) });
  }

  function openInput(root, button, bit) {
    const box = document.createElement("span");
    box.className = "editing";
    /** @type {any} */
    let input = null;
    const widen = () => {
      const lines = input.value.split("\n");
      const longest = Math.max(...lines.map((line) => line.length));
      input.style.width = `${Math.min(40, Math.max(bit.kind === "words" ? 10 : 5, longest + 2))}ch`;
      if (lines.length > 1) input.rows = lines.length;
    };
    // Words of several lines are typed in a field of several.
    const field = (kind, value) => {
      const found = document.createElement(kind);
      found.value = value;
      found.setAttribute("aria-label", bit.label);
      found.autocomplete = "off";
      found.spellcheck = false;
      found.addEventListener("input", typed);
      found.addEventListener("keydown", pressed);
      found.addEventListener("blur", left);
      found.addEventListener("paste", pasted);
      input = found;
      box.replaceChildren(found, ...chips());
      widen();
    };
    // Under the field: the columns that the value can come from.
    const chips = () => {
      const ways = fromRoster(bit);
      if (!ways.length) return [];
      const list = document.createElement("span");
      list.className = "from-roster";
      list.append(
        ...ways.map(({ says, edit }) => {
          const chip = document.createElement("button");
          chip.type = "button";
          chip.textContent = says;
          chip.addEventListener("mousedown", (event) => event.preventDefault()); // the field is not left
          chip.addEventListener("click", () =>
            act(async () => {
              close();
              await project().try(edit);
              await focusValue(root, bit.of, bit.field);
            }),
          );
          return chip;
        }),
      );
      return [list];
    };
    function pasted(event) {
      const text = event.clipboardData.getData("text/plain");
      if (bit.field !== "text" || !project().roster || text.trim().split("\n").length < FEWEST_LINES) return;
      event.preventDefault();
      project().endTryOut();
      close();
      window.dispatchEvent(new CustomEvent("paste-list", { detail: { text, part: bit.of.split(" ")[1] } }));
    }
    const breakLine = () => {
      const [from, to] = [input.selectionStart, input.selectionEnd];
      const value = `${input.value.slice(0, from)}\n${input.value.slice(to)}`;
      field("textarea", value);
      input.focus();
      input.setSelectionRange(from + 1, from + 1);
      typed();
    };
    let finished = false;
    let finishing = false;

    const close = () => {
      finished = true;
      root.keep = null;
      delete root.dataset.editing;
      if (box.isConnected) box.replaceWith(button);
      root.says = "";
      root.dispatchEvent(new CustomEvent("redraw"));
    };
    // Keep what was typed; on a problem the field stays open with the sentence above it.
    const keep = async () => {
      if (finished) return true;
      finishing = true;
      try {
        if (input.value !== String(bit.raw)) await project().edit(editFor(bit, input.value));
        await Alpine.nextTick();
        close();
        return true;
      } catch (problem) {
        finishing = false;
        showProblem(box, input, problem.message);
        input.focus();
        return null;
      }
    };
    const commit = (then) => {
      if (finished || finishing) return;
      finishing = true;
      act(async () => (await keep()) && (await then?.(), true));
    };
    function typed() {
      widen();
      clearProblem(box, input);
      if (input.value.trim()) project().tryOut(editFor(bit, input.value));
    }
    function pressed(event) {
      event.stopPropagation();
      if (event.key === "Enter" && event.shiftKey && bit.field === "text") {
        event.preventDefault();
        breakLine();
      } else if (event.key === "Enter") {
        event.preventDefault();
        commit(() => project().entered?.() ?? focusValue(root, bit.of, bit.field));
      } else if (event.key === "Escape") {
        project().endTryOut();
        close();
        focusValue(root, bit.of, bit.field);
      } else if (event.key === "Tab") {
        event.preventDefault();
        const values = root.bits.filter((other) => other.field);
        const at = values.findIndex((other) => other.of === bit.of && other.field === bit.field);
        const next = values[at + (event.shiftKey ? -1 : 1)];
        commit(() => (next ? open(root, next.of, next.field) : focusValue(root, bit.of, bit.field)));
      }
    }
    function left(event) {
      if (event.target === input && !box.querySelector(".problem") && document.activeElement !== input) commit();
    }
    field(String(bit.raw).includes("\n") ? "textarea" : "input", bit.raw);
    button.replaceWith(box);
    root.dataset.editing = "1";
    root.keep = keep;
    input.select();
    input.focus();
  }

  // Open a value for typing or choosing, once the one before is kept; null where there is none.
  async function open(root, of, field) {
    if (root.keep && !(await root.keep())) return null;
    const bit = root.bits?.find((found) => found.of === of && found.field === field);
    const button = buttonOf(root, of, field);
    if (!bit || !button) return null;
    if (bit.kind === "font") return openFonts(root, bit);
    // So is the library of motifs, where the page has one.
    if (bit.field === "motif" && project().openMotifs) return project().openMotifs({ now: bit.text, edit: (key) => editFor(bit, key), ways: fromRoster(bit), left: () => focusValue(root, bit.of, bit.field) });
    return bit.choices ? openChoices(root, button, bit) : openInput(root, button, bit);
  }

  function draw(root, bits) {
    root.bits = bits;
    if (root.dataset.editing) return;
    // What says the same stays as it is: a value must not be replaced under the pointer that presses it.
    const says = JSON.stringify(bits);
    if (root.says === says) return;
    root.says = says;
    const before = root.contains(focused()) ? focused().dataset : null;
    root.replaceChildren(
      ...bits.map((bit) => {
        if (!bit.field) {
          const span = document.createElement("span");
          span.textContent = bit.text;
          if (bit.style) span.className = bit.style;
          return span;
        }
        const button = document.createElement("button");
        button.type = "button";
        button.className = ["value", bit.own ? "own" : "", bit.mine ? "mine" : "", bit.tie ? "tied" : "", bit.style ?? ""].filter(Boolean).join(" ");
        button.dataset.of = bit.of;
        button.dataset.field = bit.field;
        button.textContent = bit.text;
        if (bit.tie) button.prepend(Object.assign(document.createElement("i"), { textContent: bit.tie.name }));
        const from = bit.tie ? `, from the roster: ${bit.tie.says}` : bit.mine ? ", for this row only" : "";
        button.setAttribute("aria-label", `${bit.label}: ${bit.text}${from}. Change it.`);
        if (from) button.title = from.slice(2);
        if (bit.choices) {
          button.setAttribute("aria-haspopup", "listbox");
          button.setAttribute("aria-expanded", String(isOpen(root, bit)));
        }
        const press = () => (isOpen(root, bit) ? closeChoices(true) : act(() => open(root, bit.of, bit.field)));
        // A pointer opens it when it goes down: leaving another field may move it from under the pointer.
        button.addEventListener("mousedown", (event) => {
          if (event.button !== 0) return;
          event.preventDefault();
          document.activeElement?.blur();
          press();
        });
        button.addEventListener("click", (event) => event.detail === 0 && press());
        return button;
      }),
    );
    if (before?.field) buttonOf(root, before.of, before.field)?.focus();
  }

  // <p x-sentence="bits"> draws the bits and draws them again when they change.
  Alpine.directive("sentence", (root, { expression }, { evaluateLater, effect }) => {
    const read = evaluateLater(expression);
    root.classList.add("sentence");
    root.addEventListener("redraw", () => draw(root, root.latest ?? []));
    // Who asks may wait until it is open.
    root.addEventListener("open-value", ({ detail }) => {
      detail.opened = open(root, detail.of, detail.field);
    });
    effect(() => {
      read((bits) => {
        root.latest = bits ?? [];
        draw(root, root.latest);
      });
    });
  });
}
