// The list of fonts: every one with a picture of the maker's own words; arrows walk, and the drawing follows.

import { ask, get, post, send } from "../api.js";
import { safe } from "../drawing.js";
import { act } from "../hands.js";

const SPECIAL = ["All", "Favourites", "Recent"];
let open = null; // the chooser on the page, if any

export async function openChooser(project, toasts, { now, edit, of, left }) {
  open?.leave();
  const panel = document.createElement("section");
  panel.className = "chooser";
  panel.setAttribute("role", "dialog");
  panel.setAttribute("aria-label", "Choose a font");
  panel.innerHTML = `
    <div class="chooser-head"><input type="search" role="combobox" aria-expanded="true" aria-controls="chooser-list" aria-label="Find a font by its name or kind" placeholder="Find a font: Lora, script, stencil…" autocomplete="off"><button type="button" class="do" data-do="leave" aria-label="Close the list of fonts">Close</button></div>
    <div class="chooser-kinds" role="group" aria-label="Which fonts"></div>
    <div id="chooser-list" class="chooser-list" role="listbox" aria-label="Fonts" tabindex="-1"></div>
    <p class="chooser-foot"><span data-says></span><button type="button" class="link" data-do="add">Add a font file…</button></p>
    <form class="chooser-add" hidden><label>Font file<input type="file" name="file" accept=".ttf,.otf,.woff,.woff2" required></label><label>Licence<input name="licence" maxlength="300" placeholder="What it may be used for, as its maker says"></label><p class="problem" role="alert" hidden></p><span class="text-right"><button type="button" class="do" data-do="add">Cancel</button> <button class="button button-main">Add it</button></span></form>`;
  document.body.append(panel);
  window.dispatchEvent(new CustomEvent("make-room"));
  const [input, kinds, list, form] = ["input", ".chooser-kinds", ".chooser-list", "form"].map((what) => panel.querySelector(what));
  let all = { fonts: [], kinds: [], recent: [] };
  let kind = "All";
  let found = [];
  let at = -1;

  const words = () => project.order.flatMap((id) => project.scenes[id].parts).find((part) => part.id === of)?.data.shape.text ?? "";
  const close = () => {
    open = null;
    document.removeEventListener("pointerdown", outside, true);
    panel.remove();
    window.dispatchEvent(new CustomEvent("end-room"));
  };
  const leave = () => {
    project.endTryOut();
    close();
    left();
  };
  const take = (font) =>
    act(async () => {
      close();
      if (font.key !== now) await project.try(edit(font.key));
      else project.endTryOut();
      post(`/fonts/${font.key}/mark`, { taken: true }).catch(() => null);
      await left();
    });
  // A press beside it leaves it, and does what it does.
  const outside = (event) => {
    if (panel.contains(event.target)) return;
    project.endTryOut();
    close();
  };
  document.addEventListener("pointerdown", outside, true);
  open = { leave };

  const mark = (preview = true) => {
    for (const option of list.querySelectorAll("[role=option]")) option.setAttribute("aria-selected", String(Number(option.dataset.at) === at));
    const option = list.querySelector(`[data-at="${at}"]`);
    const font = found[at];
    const says = panel.querySelector("[data-says]");
    says.textContent = font ? `${font.kind}${font.varies ? `, of any ${font.varies}` : ""}${font.missing ? `, lacks ${font.missing}` : ""} · ${font.licence}` : "";
    says.title = says.textContent;
    if (!option) return;
    input.setAttribute("aria-activedescendant", option.id);
    option.scrollIntoView({ block: "nearest" });
    if (preview) project.tryOut(edit(font.key));
  };
  const picture = ({ d, box: [left_, top, right, bottom], strokes }) =>
    `<svg viewBox="${left_ - 8} ${top} ${Math.max(right - left_, 10) + 16} ${bottom - top}" preserveAspectRatio="xMinYMid meet" class="${strokes ? "strokes" : ""}" aria-hidden="true"><path d="${d}"/></svg>`;
  const said = (font) => safe([font.name, font.kind, font.varies ? `of any ${font.varies}` : "", font.favourite ? "a favourite" : "", font.missing ? `lacks ${font.missing}` : ""].filter(Boolean).join(", "));
  const fits = (font) => {
    const text = `${font.name} ${font.kind} ${font.varies ? `variable ${font.varies}` : ""}`.toLowerCase();
    const asked = input.value.toLowerCase().split(/\s+/).filter(Boolean);
    const inKind = kind === "All" || (kind === "Favourites" ? font.favourite : kind === "Recent" ? all.recent.includes(font.key) : font.kind === kind);
    return inKind && asked.every((word) => text.includes(word));
  };
  const narrow = (preview = false) => {
    const place = (font) => (kind === "Recent" ? all.recent.indexOf(font.key) : 0);
    found = all.fonts.filter(fits).sort((a, b) => place(a) - place(b));
    list.innerHTML = found
      .map((font, i) => `<div role="option" id="font-${i}" data-at="${i}" aria-label="${said(font)}">${picture(font)}<span class="about">${safe(font.name)}${font.varies ? `<em class="may"> · any ${font.varies}</em>` : ""}${font.missing ? `<em> lacks ${safe(font.missing)}</em>` : ""}</span>
        <span class="star" data-star="${i}" data-on="${font.favourite}" aria-hidden="true" title="Favourite (Ctrl Enter)">★</span>${font.kind === "your own" ? `<span class="away" data-away="${i}" aria-hidden="true" title="Put away (Ctrl Delete)">×</span>` : ""}</div>`)
      .join("");
    if (!found.length) list.innerHTML = `<p class="empty">${kind === "Favourites" ? "No favourites yet: press the star of a font, or Ctrl Enter." : kind === "Recent" ? "None was taken yet." : "No font is called that."}</p>`;
    at = found.findIndex((font) => font.key === now);
    if (at < 0 || input.value) at = found.length ? 0 : -1;
    mark(preview);
  };
  const drawKinds = () => {
    kinds.innerHTML = [...SPECIAL, ...all.kinds].map((name) => `<button type="button" data-kind="${name}" aria-pressed="${name === kind}">${name}</button>`).join("");
  };
  const fetchAll = async () => {
    all = await get(`/fonts?words=${encodeURIComponent(words())}`);
    drawKinds();
    narrow();
  };
  const favour = async (i) => {
    const font = found[i];
    font.favourite = !font.favourite;
    list.querySelector(`[data-star="${i}"]`)?.setAttribute("data-on", String(font.favourite));
    list.querySelector(`[data-at="${i}"]`)?.setAttribute("aria-label", said(font));
    await post(`/fonts/${font.key}/mark`, { favourite: font.favourite }).catch((problem) => toasts.say(problem.message, { bad: true }));
  };
  const putAway = async (font) => {
    await ask("DELETE", `/fonts/${font.key}`);
    toasts.say(`${font.name} is put away. Designs that use it keep it.`, { action: "Undo", run: () => post(`/fonts/${font.key}/restore`) });
    await fetchAll();
  };
  const say = (message) => {
    const problem = form.querySelector(".problem");
    problem.textContent = message;
    problem.hidden = !message;
  };

  input.addEventListener("input", () => narrow(Boolean(input.value)));
  panel.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.target.closest("form") && event.key !== "Escape") return;
    const go = { ArrowDown: at + 1, ArrowUp: at - 1, PageDown: at + 6, PageUp: at - 6 }[event.key];
    if (go !== undefined) {
      at = Math.max(0, Math.min(found.length - 1, go));
      mark();
    } else if (event.key === "Escape") leave();
    else if (event.key === "Enter" && (event.ctrlKey || event.metaKey) && found[at]) favour(at);
    else if (event.key === "Delete" && (event.ctrlKey || event.metaKey) && found[at]?.kind === "your own") putAway(found[at]);
    else if (event.key === "Enter" && event.target === input && found[at]) take(found[at]);
    else return;
    event.preventDefault();
  });
  panel.addEventListener("click", (event) => {
    const { kind: wanted, star, away, do: act } = event.target.closest("[data-kind], [data-star], [data-away], [data-do]")?.dataset ?? {};
    const option = event.target.closest("[role=option]");
    if (wanted) {
      kind = wanted;
      drawKinds();
      narrow();
      input.focus();
    } else if (star) favour(Number(star));
    else if (away) putAway(found[Number(away)]);
    else if (act === "leave") leave();
    else if (act === "add") {
      form.hidden = !form.hidden;
      say("");
      (form.hidden ? input : form.elements.file).focus();
    } else if (option) take(found[Number(option.dataset.at)]);
  });
  list.addEventListener("pointermove", (event) => {
    const over = Number(event.target.closest("[role=option]")?.dataset.at ?? -1);
    if (over < 0 || over === at) return;
    at = over;
    mark();
  });
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const button = form.querySelector(".button-main");
    button.disabled = true;
    button.textContent = "Reading it…";
    try {
      const added = await send("/fonts", new FormData(form));
      form.reset();
      form.hidden = true;
      say("");
      kind = "your own";
      await fetchAll();
      at = found.findIndex((font) => font.key === added.key);
      mark();
      input.focus();
    } catch (problem) {
      say(problem.message);
    } finally {
      button.disabled = false;
      button.textContent = "Add it";
    }
  });

  input.focus();
  try {
    await fetchAll();
  } catch (problem) {
    close();
    toasts.say(problem.message, { bad: true });
    return null;
  }
  return panel;
}
