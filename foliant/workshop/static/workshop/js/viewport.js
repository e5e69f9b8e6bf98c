// A window on a drawing in mm: fit, zoom on the wheel at the pointer, pan, rulers and grid.

const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500];
const INCH = 25.4;
const INCH_STEPS = [1 / 64, 1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8].map((step) => step * INCH);

export class Viewport {
  constructor(svg, { rulerX = null, rulerY = null, room = 0.16, changed = () => {} } = {}) {
    this.svg = svg;
    this.rulerX = rulerX;
    this.rulerY = rulerY;
    this.room = room;
    this.changed = changed;
    this.content = [0, 0, 100, 60];
    this.marks = null;
    this.unit = "mm";
    this.box = [0, 0, 100, 60];
    this.fitted = true;
    new ResizeObserver(() => (this.fitted ? this.fit() : this.zoomAt(1, 0.5, 0.5))).observe(svg);
    svg.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        const rect = svg.getBoundingClientRect();
        const share = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
        this.zoomAt(Math.exp(Math.max(-120, Math.min(120, event.deltaY)) * 0.0022), ...share);
      },
      { passive: false },
    );
    svg.addEventListener("pointerdown", (event) => {
      if (event.button === 1 || (event.button === 0 && this.spaceHeld)) this.pan(event);
    });
    this.fingers = new Map(); // where each lies on the drawing, by its id
    svg.parentElement.addEventListener("pointerdown", (event) => this.touch(event), true);
    window.addEventListener("keydown", (event) => {
      if (event.key === " " && event.target === document.body) {
        this.spaceHeld = true;
        event.preventDefault();
      }
    });
    window.addEventListener("keyup", (event) => {
      if (event.key === " ") this.spaceHeld = false;
    });
  }

  // How many mm one screen pixel shows.
  get scale() {
    return this.box[2] / Math.max(1, this.svg.clientWidth);
  }

  // Show [left, top, right, bottom] with room round it. `inset` are pixels kept free: left, top, right, bottom.
  fit(content = this.content, inset = this.inset ?? [0, 0, 0, 0]) {
    this.content = content;
    this.inset = inset;
    this.fitted = true;
    const wide = Math.max(1, this.svg.clientWidth);
    const tall = Math.max(1, this.svg.clientHeight);
    const [left, top, right, bottom] = content;
    const width = Math.max(right - left, 2) * (1 + 2 * this.room);
    const height = Math.max(bottom - top, 2) * (1 + 2 * this.room);
    const usable = [Math.max(50, wide - inset[0] - inset[2]), Math.max(50, tall - inset[1] - inset[3])];
    const scale = Math.max(width / usable[0], height / usable[1]);
    const middle = [(left + right) / 2, (top + bottom) / 2];
    const x = middle[0] - (inset[0] + usable[0] / 2) * scale;
    const y = middle[1] - (inset[1] + usable[1] / 2) * scale;
    this.show([x, y, wide * scale, tall * scale]);
  }

  zoomAt(factor, shareX, shareY) {
    const [x, y, w] = this.box;
    const aspect = Math.max(1, this.svg.clientHeight) / Math.max(1, this.svg.clientWidth);
    const width = Math.max(3, Math.min(6000, w * factor));
    const height = width * aspect;
    const h = this.box[3];
    if (factor !== 1) this.fitted = false;
    this.show([x + (w - width) * shareX, y + (h - height) * shareY, width, height]);
  }

  // A second finger gives up what the first one did: two of them pinch and move the drawing.
  touch(event) {
    if (event.pointerType !== "touch") return;
    const { fingers } = this;
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    if (fingers.size > 1) {
      event.stopPropagation();
      event.preventDefault();
      if (fingers.size === 2) window.dispatchEvent(new PointerEvent("pointercancel"));
    }
    if (fingers.size !== 1) return;
    const move = (next) => {
      if (!fingers.has(next.pointerId)) return;
      if (fingers.size === 2) this.pinch(next);
      fingers.set(next.pointerId, [next.clientX, next.clientY]);
    };
    const up = (last) => {
      if (!fingers.delete(last.pointerId) || fingers.size) return;
      window.removeEventListener("pointermove", move);
      for (const end of ["pointerup", "pointercancel"]) window.removeEventListener(end, up);
    };
    window.addEventListener("pointermove", move);
    for (const end of ["pointerup", "pointercancel"]) window.addEventListener(end, up);
  }
  pinch(next) {
    const [one, other] = [...this.fingers].sort(([id]) => (id === next.pointerId ? -1 : 1)).map(([, at]) => at);
    const now = [next.clientX, next.clientY];
    const apart = (a) => Math.max(1, Math.hypot(a[0] - other[0], a[1] - other[1]));
    const rect = this.svg.getBoundingClientRect();
    const middle = [0, 1].map((i) => (now[i] + other[i]) / 2);
    this.zoomAt(apart(one) / apart(now), (middle[0] - rect.left) / rect.width, (middle[1] - rect.top) / rect.height);
    const [x, y, width, height] = this.box;
    this.fitted = false;
    this.show([x - ((now[0] - one[0]) / 2) * this.scale, y - ((now[1] - one[1]) / 2) * this.scale, width, height]);
  }

  pan(event) {
    event.preventDefault();
    event.stopPropagation();
    this.fitted = false;
    const start = [event.clientX, event.clientY, ...this.box];
    this.svg.parentElement.classList.add("panning");
    const move = (next) => {
      const scale = this.scale;
      this.show([start[2] - (next.clientX - start[0]) * scale, start[3] - (next.clientY - start[1]) * scale, start[4], start[5]]);
    };
    const up = () => {
      this.svg.parentElement.classList.remove("panning");
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  }

  show(box) {
    this.box = box;
    this.svg.setAttribute("viewBox", box.map((value) => value.toFixed(4)).join(" "));
    this.drawRulers();
    this.changed();
  }

  // The point of the drawing, in mm, under a pointer event.
  at(event) {
    const rect = this.svg.getBoundingClientRect();
    const scale = this.scale;
    return [this.box[0] + (event.clientX - rect.left) * scale, this.box[1] + (event.clientY - rect.top) * scale];
  }

  get step() {
    const steps = this.unit === "mm" ? STEPS : INCH_STEPS;
    return steps.find((step) => step / this.scale >= 48) ?? steps.at(-1);
  }

  drawRulers() {
    if (!this.rulerX) return;
    this.drawRuler(this.rulerX, this.box[0], this.rulerX.clientWidth, true);
    this.drawRuler(this.rulerY, this.box[1], this.rulerY.clientHeight, false);
  }

  // The ticks are drawn anew only when the view moves; the mark of what is chosen on every frame of a drag.
  drawRuler(ruler, begin, pixels, across) {
    const scale = this.scale;
    const key = [begin, scale, pixels, this.unit].join();
    if (ruler.key !== key) {
      ruler.key = key;
      ruler.innerHTML = `<rect class="mark" width="0" height="0"/>${this.ticks(begin, pixels, across)}`;
    }
    const [a, b] = this.marks ? (across ? [this.marks[0], this.marks[2]] : [this.marks[1], this.marks[3]]) : [0, 0];
    const [at, size] = [(a - begin) / scale, (b - a) / scale];
    const box = across ? [at, 0, size, 22] : [0, at, 22, size];
    ["x", "y", "width", "height"].forEach((name, i) => ruler.firstChild.setAttribute(name, this.marks ? box[i] : 0));
  }

  ticks(begin, pixels, across) {
    const step = this.step;
    const small = step / (this.unit === "mm" ? 5 : 4);
    const scale = this.scale;
    const per = this.unit === "mm" ? 1 : INCH;
    const out = [];
    const first = Math.ceil(begin / small);
    for (let i = first; (i * small - begin) / scale < pixels; i += 1) {
      const value = i * small;
      const at = (value - begin) / scale;
      const long = Math.abs(value / step - Math.round(value / step)) < 1e-6;
      const size = long ? 7 : 4;
      out.push(across ? `<line x1="${at}" x2="${at}" y1="${22 - size}" y2="22"/>` : `<line y1="${at}" y2="${at}" x1="${22 - size}" x2="22"/>`);
      if (long) {
        const shown = Number((value / per).toFixed(4)).toString();
        out.push(across ? `<text x="${at}" y="11" text-anchor="middle">${shown}</text>` : `<text transform="translate(11 ${at}) rotate(-90)" text-anchor="middle">${shown}</text>`);
      }
    }
    return out.join("");
  }

  // A dotted grid at the rulers' small steps.
  gridMarkup() {
    const step = this.step / (this.unit === "mm" ? 5 : 4);
    const [x, y, w, h] = this.box;
    const dot = 0.7 * this.scale;
    return `<pattern id="grid" width="${step}" height="${step}" patternUnits="userSpaceOnUse">
        <circle cx="0" cy="0" r="${dot}" fill="#c3b9a4"/><circle cx="${step}" cy="0" r="${dot}" fill="#c3b9a4"/>
        <circle cx="0" cy="${step}" r="${dot}" fill="#c3b9a4"/><circle cx="${step}" cy="${step}" r="${dot}" fill="#c3b9a4"/></pattern>
      <rect x="${x}" y="${y}" width="${w}" height="${h}" fill="url(#grid)" pointer-events="none"/>`;
  }
}
