// The strip of true pictures of all rows: only those in sight are there.

import { pieceMarkup, safe } from "../drawing.js";

const PITCH = 132; // px, from one picture to the next

export class Strip {
  constructor(root, { project, pictures }) {
    this.root = root;
    this.project = project;
    this.pictures = pictures;
    this.piece = "";
    this.cards = new Map();
    root.innerHTML = `<div class="strip-inner"></div>`;
    this.inner = root.firstElementChild;
    root.addEventListener("scroll", () => this.draw());
    new ResizeObserver(() => this.draw()).observe(root);
    this.inner.addEventListener("click", (event) => {
      const card = event.target.closest("[data-row]");
      if (card) project.showRow(card.dataset.row);
    });
  }

  // Which piece it shows.
  of(piece) {
    if (piece !== this.piece) this.inner.replaceChildren();
    if (piece !== this.piece) this.cards.clear();
    this.piece = piece;
    this.draw();
  }
  // The row that is shown comes into sight.
  reveal() {
    const at = this.project.roster.order.indexOf(this.project.row?.id);
    if (at < 0) return;
    const { root } = this;
    const left = at * PITCH;
    if (left < root.scrollLeft) root.scrollLeft = Math.max(0, left - PITCH);
    else if (left + PITCH > root.scrollLeft + root.clientWidth) root.scrollLeft = left + 2 * PITCH - root.clientWidth;
  }

  draw() {
    const { root, project, cards, pictures } = this;
    const { order } = project.roster;
    if (!root.clientWidth || !this.piece) return;
    this.inner.style.width = `${order.length * PITCH}px`;
    const first = Math.max(0, Math.floor(root.scrollLeft / PITCH) - 1);
    const sight = order.slice(first, first + Math.ceil(root.clientWidth / PITCH) + 2);
    const wanted = new Set(sight);
    for (const [id, card] of cards) {
      if (wanted.has(id)) continue;
      card.element.remove();
      cards.delete(id);
    }
    sight.forEach((id, at) => this.card(id, first + at));
    pictures.want(this.piece, sight);
  }
  card(id, index) {
    const { project, cards, pictures } = this;
    const picture = pictures.kept.get(id);
    const fresh = pictures.fresh.has(id);
    const row = project.roster.rows[id];
    const shown = project.row?.id === id;
    const says = [picture, fresh, row, shown, project.face(this.piece)];
    let card = cards.get(id);
    if (!card) {
      const element = document.createElement("button");
      Object.assign(element, { type: "button", className: "strip-card" });
      element.dataset.row = id;
      this.inner.append(element);
      cards.set(id, (card = { element, says: [], at: -1 }));
    }
    if (card.at !== index) card.element.style.transform = `translateX(${index * PITCH}px)`;
    card.at = index;
    if (says.every((one, i) => one === card.says[i])) return;
    card.says = says;
    const called = picture?.called || row.called || `row ${index + 1}`;
    const looks = picture?.looks ?? [];
    const notes = [picture && picture.copies !== 1 ? `× ${picture.copies}` : "", row.own ? `${row.own} of its own` : ""].filter(Boolean).join(" · ");
    card.element.className = `strip-card${shown ? " shown" : ""}${picture && !fresh ? " stale" : ""}`;
    card.element.setAttribute("aria-pressed", String(shown));
    card.element.title = looks.map((look) => look.title).join("\n");
    card.element.innerHTML = `${picture ? drawn(picture, project.face(this.piece)) : `<span class="strip-none">…</span>`}<span class="strip-name">${safe(called)}</span><span class="strip-notes">${safe(notes)}${looks.length ? `<em class="${looks.some((look) => look.level === "stop") ? "stop" : ""}">${looks.length} to look at</em>` : ""}</span>`;
  }
}

function drawn(picture, material) {
  const [left, top, right, bottom] = picture.bounds;
  const edge = Math.max(right - left, bottom - top, 1) * 0.03;
  const box = `${left - edge} ${top - edge} ${right - left + 2 * edge} ${bottom - top + 2 * edge}`;
  return `<svg viewBox="${box}" aria-hidden="true">${pieceMarkup(picture, { ...material }, "finished").replaceAll("url(#face)", material.face)}</svg>`;
}
