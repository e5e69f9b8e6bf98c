// A box to find one thing among many by its name: type to narrow, arrows to walk, Enter to take, Escape to leave.

export function openPicker({ label, hint = "", items, empty = "Nothing is called that." }) {
  const dialog = document.createElement("dialog");
  dialog.className = "picker";
  dialog.setAttribute("aria-label", label);
  const input = document.createElement("input");
  input.type = "text";
  input.placeholder = hint;
  input.setAttribute("aria-label", label);
  input.setAttribute("role", "combobox");
  input.setAttribute("aria-expanded", "true");
  input.setAttribute("aria-controls", "picker-list");
  input.autocomplete = "off";
  const list = document.createElement("div");
  list.id = "picker-list";
  list.setAttribute("role", "listbox");
  list.setAttribute("aria-label", label);
  list.tabIndex = -1;
  dialog.append(input, list);
  document.body.append(dialog);
  let found = [];
  let at = 0;

  const close = (taken) => {
    dialog.close();
    dialog.remove();
    if (!taken) items.leave?.();
  };
  const take = (item) => {
    close(true);
    item.run();
  };
  const mark = (preview = true) => {
    [...list.children].forEach((option, i) => option.setAttribute("aria-selected", String(i === at)));
    const option = list.children[at];
    if (!option?.id) return;
    input.setAttribute("aria-activedescendant", option.id);
    option.scrollIntoView({ block: "nearest" });
    if (preview) found[at]?.preview?.();
  };
  const narrow = () => {
    const words = input.value.toLowerCase().split(/\s+/).filter(Boolean);
    found = items.list.filter((item) => words.every((word) => item.text.toLowerCase().includes(word))).slice(0, 200);
    at = 0;
    list.replaceChildren(
      ...found.map((item, i) => {
        const option = document.createElement("div");
        option.id = `picker-${i}`;
        option.setAttribute("role", "option");
        option.setAttribute("aria-disabled", String(Boolean(item.disabled)));
        const name = document.createElement("span");
        name.textContent = item.text;
        option.append(name);
        for (const cap of item.caps ?? []) {
          const key = document.createElement("kbd");
          key.className = "key";
          key.textContent = cap;
          option.append(key);
        }
        option.addEventListener("click", () => !item.disabled && take(item));
        option.addEventListener("pointermove", () => {
          if (at === i) return;
          at = i;
          mark();
        });
        return option;
      }),
    );
    if (!found.length) list.textContent = empty;
    mark(Boolean(input.value));
  };
  input.addEventListener("input", narrow);
  dialog.addEventListener("keydown", (event) => {
    event.stopPropagation();
    const go = { ArrowDown: at + 1, ArrowUp: at - 1, PageDown: at + 8, PageUp: at - 8 }[event.key];
    if (go !== undefined) {
      at = Math.max(0, Math.min(found.length - 1, go));
      mark();
    } else if (event.key === "Enter" && found[at] && !found[at].disabled) take(found[at]);
    else if (event.key === "Escape") close(false);
    else return;
    event.preventDefault();
  });
  dialog.addEventListener("pointerdown", (event) => event.target === dialog && close(false));
  narrow();
  dialog.showModal();
  input.focus();
}
