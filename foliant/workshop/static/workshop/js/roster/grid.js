// The rows as a grid, by the keyboard: typing replaces, Enter changes, Tab and the arrows go on, a block is copied, pasted
// or cleared at once. Only the rows in sight are there.

import { act } from "../hands.js";
import { safe } from "../drawing.js";
import { openColumn } from "./column.js";

const HIGH = 28; // px, a row
const NUMBER = 34; // px, the column of numbers
const NARROWEST = 62; // px, any other

export class Grid {
  constructor(root, { project, toasts }) {
    this.root = root;
    this.project = project;
    this.toasts = toasts;
    this.at = [0, 0]; // row and column of the active cell
    this.from = [0, 0]; // where the block that is chosen begins
    this.typing = false;
    this.touched = false; // whether a cell was ever gone to
    root.innerHTML = `<div class="grid-head" role="row"></div><div class="grid-body"><div class="grid-rows"></div></div>`;
    this.head = root.firstElementChild;
    this.body = root.lastElementChild;
    this.rows = this.body.firstElementChild;
    this.wide = NARROWEST;
    this.headSays = "";
    this.bodySays = "";
    this.input = document.createElement("input");
    Object.assign(this.input, { className: "grid-input", autocomplete: "off", spellcheck: false });
    root.setAttribute("role", "grid");
    root.addEventListener("scroll", () => this.draw());
    new ResizeObserver(() => this.draw()).observe(root);
    root.addEventListener("mousedown", (event) => this.press(event));
    root.addEventListener("dblclick", (event) => this.cellAt(event) && this.type(this.said()));
    this.input.addEventListener("input", () => this.begin());
    this.input.addEventListener("keydown", (event) => this.key(event));
    this.input.addEventListener("blur", () => this.typing && this.keep());
    for (const what of ["copy", "cut", "paste"]) this.input.addEventListener(what, (event) => this[what](event));
    this.draw();
  }

  get columns() {
    return this.project.roster.columns;
  }
  get order() {
    return this.project.roster.order;
  }
  row(index) {
    return this.project.roster.rows[this.order[index]];
  }
  said([row, column] = this.at) {
    return this.row(row)?.cells[this.columns[column].id] ?? "";
  }
  // The block that is chosen: its first and last row and column.
  get block() {
    const [[r1, c1], [r2, c2]] = [this.at, this.from];
    return [Math.min(r1, r2), Math.min(c1, c2), Math.min(Math.max(r1, r2), this.order.length - 1), Math.max(c1, c2)];
  }

  draw() {
    const { columns, order, root } = this;
    if (!columns.length || !root.clientWidth) return;
    const wide = Math.max(NARROWEST, Math.floor((root.clientWidth - NUMBER) / columns.length));
    this.wide = wide;
    this.at = [Math.min(this.at[0], order.length), Math.min(this.at[1], columns.length - 1)];
    this.from = [Math.min(this.from[0], order.length), Math.min(this.from[1], columns.length - 1)];
    root.style.setProperty("--wide", `${wide}px`); // the page takes no style that stands in markup
    const across = `${NUMBER + wide * columns.length}px`;
    this.head.style.width = this.body.style.width = across;
    this.body.style.height = `${(order.length + 1) * HIGH}px`;
    root.setAttribute("aria-rowcount", String(order.length + 1));
    const head = `<span class="grid-no"></span>${columns.map((column) => `<button type="button" class="grid-name${column.used ? " used" : ""}" role="columnheader" data-column="${column.id}" title="${safe(column.name)}${column.used ? ": values come from it" : ""}">${safe(column.name)}</button>`).join("")}`;
    if (this.headSays !== head) this.head.innerHTML = this.headSays = head;
    const first = Math.max(0, Math.floor(root.scrollTop / HIGH) - 1);
    const last = Math.min(order.length, first + Math.ceil(root.clientHeight / HIGH) + 2);
    const rows = [];
    for (let index = first; index <= last; index += 1) rows.push(this.rowMarkup(index));
    const markup = rows.join("");
    if (this.bodySays !== markup) {
      this.bodySays = markup;
      this.rows.innerHTML = markup;
    }
    this.rows.style.transform = `translateY(${first * HIGH}px)`;
    this.place();
    const [top, left, bottom, right] = this.block;
    const whole = this.touched && left === 0 && right === columns.length - 1;
    this.project.rowsChosen = whole ? Math.max(0, bottom - top + 1) : 0;
  }
  rowMarkup(index) {
    const { project, columns } = this;
    const id = this.order[index];
    const row = this.row(index);
    const [top, left, bottom, right] = this.block;
    const several = top !== bottom || left !== right;
    const cells = columns.map((column, at) => {
      const text = row?.cells[column.id] ?? "";
      const notes = [];
      if (row && !text && column.used) notes.push("nothing here");
      if (text && project.roster.doubled[column.id]?.includes(id)) notes.push("another row says the same");
      const inside = several && index >= top && index <= bottom && at >= left && at <= right;
      const style = [inside ? "inside" : "", notes.length ? "noted" : ""].join(" ");
      return `<span class="grid-cell ${style}" role="gridcell" data-at="${at}" ${notes.length ? `title="${notes.join("; ")}"` : ""}>${safe(text) || (row && notes.length ? "–" : "")}</span>`;
    });
    const marks = row ? [row.own ? `<i class="grid-own" title="${row.own} of its own">◆</i>` : "", project.looks[id] ? `<i class="grid-look" title="something to look at">!</i>` : ""].join("") : "";
    const shown = id && id === project.row?.id;
    return `<div class="grid-row${shown ? " shown" : ""}" role="row" aria-rowindex="${index + 1}" ${shown ? 'aria-selected="true"' : ""} data-row="${index}"><span class="grid-no">${row ? index + 1 : "+"}${marks}</span>${cells.join("")}</div>`;
  }

  // The field lies over the active cell, and is seen once it is typed in.
  place() {
    const { input, at, wide, columns } = this;
    const [row, column] = at;
    Object.assign(input.style, { left: `${NUMBER + column * wide}px`, top: `${row * HIGH}px`, width: `${wide}px`, height: `${HIGH}px` });
    if (!input.isConnected) this.body.append(input);
    const name = this.order[row] ? `row ${row + 1}` : "a new row";
    input.setAttribute("aria-label", `${columns[column].name}, ${name}: ${this.said() || "nothing"}`);
    input.classList.toggle("typing", this.typing);
  }
  async goTo(row, column, { extend = false } = {}) {
    this.at = [Math.max(0, Math.min(this.order.length, row)), Math.max(0, Math.min(this.columns.length - 1, column))];
    if (!extend) this.from = [...this.at];
    this.touched = true;
    this.reveal();
    this.draw();
    this.input.focus({ preventScroll: true });
    if (!extend && this.order[this.at[0]]) this.project.showRow(this.order[this.at[0]]);
    return true;
  }
  reveal() {
    const { root, wide, at } = this;
    const top = at[0] * HIGH;
    const room = root.clientHeight - this.head.offsetHeight - HIGH;
    root.scrollTop = Math.max(Math.min(root.scrollTop, top), top - room);
    const left = at[1] * wide;
    root.scrollLeft = Math.max(Math.min(root.scrollLeft, left), left + wide + NUMBER - root.clientWidth);
  }

  cellAt(event) {
    const row = event.target.closest(".grid-row");
    if (!row) return null;
    const cell = event.target.closest("[data-at]");
    return [Number(row.dataset.row), cell ? Number(cell.dataset.at) : -1];
  }
  press(event) {
    const name = event.target.closest("[data-column]");
    if (name) {
      event.preventDefault();
      openColumn(this, name);
      return;
    }
    const found = this.cellAt(event);
    if (!found || event.button !== 0) return;
    event.preventDefault();
    const [row, column] = found;
    const whole = column < 0; // its number was pressed
    act(async () => {
      if (this.typing && !(await this.keep())) return null;
      if (whole) this.from = [event.shiftKey ? this.from[0] : row, 0];
      await this.goTo(row, whole ? this.columns.length - 1 : column, { extend: event.shiftKey || whole });
      if (whole && !event.shiftKey && this.order[row]) this.project.showRow(this.order[row]);
      return true;
    });
    const over = (now) => {
      const to = this.cellAt(now);
      if (to && to[1] >= 0 && !whole && to.join() !== this.at.join()) this.goTo(...to, { extend: true });
    };
    untilUp(over);
  }

  begin() {
    if (this.typing) return;
    this.typing = true;
    this.place();
  }
  type(text) {
    this.input.value = text;
    this.begin();
    this.input.focus();
    this.input.setSelectionRange(text.length, text.length);
  }
  leave() {
    this.typing = false;
    this.input.value = "";
    this.draw();
  }
  // Keep what was typed; nothing is lost where it is refused.
  async keep() {
    const text = this.input.value;
    const [row, column] = this.at;
    if (text.trim() === this.said()) {
      this.leave();
      return true;
    }
    this.typing = false;
    if (!(await this.put([[text]], row, column))) {
      this.typing = true;
      return false;
    }
    this.leave();
    return true;
  }
  put(cells, row, column) {
    return this.project.try({ do: "put-cells", cells, row: this.order[row] ?? null, column: this.columns[column].id });
  }
  go(row, column) {
    return act(async () => (!this.typing || (await this.keep())) && this.goTo(row, column));
  }

  key(event) {
    const [row, column] = this.at;
    const { key, shiftKey: extend } = event;
    const command = event.ctrlKey || event.metaKey;
    event.stopPropagation();
    if (event.isComposing) return;
    const done = () => event.preventDefault();
    if (key === "Escape") {
      done();
      if (this.typing) this.leave();
      else this.input.blur();
    } else if (key === "Enter") {
      done();
      if (!this.typing && !command) this.type(this.said());
      else this.go(row + (extend ? -1 : 1), column);
    } else if (key === "F2") {
      done();
      this.type(this.said());
    } else if (key === "Tab") {
      const next = row * this.columns.length + column + (extend ? -1 : 1);
      if (next < 0 || (next >= (this.order.length + 1) * this.columns.length && !this.typing)) return; // out of the grid
      done();
      this.go(Math.floor(next / this.columns.length), next % this.columns.length);
    } else if (key === "ArrowUp" || key === "ArrowDown" || key === "PageUp" || key === "PageDown") {
      done();
      const step = { ArrowUp: -1, ArrowDown: 1, PageUp: -10, PageDown: 10 }[key] * (command ? 2000 : 1);
      if (extend && !this.typing) this.goTo(Math.min(row + step, this.order.length - 1), column, { extend });
      else this.go(row + step, column);
    } else if (!this.typing && (key === "ArrowLeft" || key === "ArrowRight" || key === "Home" || key === "End")) {
      done();
      const to = { ArrowLeft: column - 1, ArrowRight: column + 1, Home: 0, End: this.columns.length }[key];
      this.goTo(command && key === "Home" ? 0 : command && key === "End" ? this.order.length : row, to, { extend });
    } else if (!this.typing && (key === "Delete" || key === "Backspace")) {
      done();
      act(() => (command ? this.removeRows() : this.clear()));
    } else if (!this.typing && command && key.toLowerCase() === "a") {
      done();
      this.from = [0, 0];
      this.goTo(this.order.length - 1, this.columns.length - 1, { extend: true });
    } else if (!this.typing && command && /^[zy]$/i.test(key)) {
      done();
      this.project.walk(extend || key.toLowerCase() === "y" ? "redo" : "undo");
    }
  }

  lines() {
    const [top, left, bottom, right] = this.block;
    const lines = [];
    for (let row = top; row <= bottom; row += 1) {
      lines.push(this.columns.slice(left, right + 1).map((_, at) => this.said([row, left + at])));
    }
    return lines;
  }
  clear() {
    const [top, left] = this.block;
    const empty = this.lines().map((line) => line.map(() => ""));
    return empty.length ? this.put(empty, top, left) : null;
  }
  async removeRows() {
    const [top, , bottom] = this.block;
    const rows = this.order.slice(top, bottom + 1);
    if (!rows.length || !(await this.project.try({ do: "remove-rows", rows }))) return null;
    this.toasts.say(rows.length === 1 ? "The row is deleted." : `${rows.length} rows are deleted.`, { action: "Undo", run: () => this.project.walk("undo") });
    return this.goTo(top, this.at[1]);
  }
  copy(event) {
    if (this.typing) return false;
    event.preventDefault();
    event.clipboardData.setData("text/plain", this.lines().map((line) => line.join("\t")).join("\n"));
    return true;
  }
  cut(event) {
    if (this.copy(event)) act(() => this.clear());
  }
  // A block lands where it is pasted; rows and columns that are not there yet come with it.
  paste(event) {
    const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").replace(/\n$/, "");
    if (this.typing && !/[\t\n]/.test(text)) return;
    event.preventDefault();
    this.leave();
    const cells = text.split("\n").map((line) => line.split("\t"));
    const [top, left] = this.block;
    act(() => this.put(cells, Math.min(top, this.order.length), left));
  }
}

function untilUp(over) {
  window.addEventListener("mousemove", over);
  window.addEventListener("mouseup", () => window.removeEventListener("mousemove", over), { once: true });
}
