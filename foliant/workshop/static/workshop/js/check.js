// The Check station: findings on the drawing, and the rehearsal with its clock.

import { getPacked } from "./api.js";
import { matrixOf, picturesMarkup } from "./drawing.js";
import { clock, doneUntil, toolAt } from "./rehearsal.js";
import { plain } from "./plain.js";
import { facing, SheetView } from "./sheetview.js";

// What of the pictures of a sheet is burnt once these rows are done.
function revealed({ instances, pieces, material }, d) {
  const pictures = instances.map((instance) => `<g transform="${matrixOf(instance)}">${picturesMarkup(pieces[instance.drawn], material)}</g>`);
  return `<mask id="burnt-rows" maskUnits="userSpaceOnUse" x="-1000" y="-1000" width="9000" height="9000"><path d="${d}" stroke="#fff" stroke-width="${1.5 * material.spacing}" fill="none"/></mask><g mask="url(#burnt-rows)">${pictures.join("")}</g>`;
}

export function register(Alpine, boot) {
  const project = Alpine.store("project");

  Alpine.data("checkStation", () => ({
    chosen: -1,
    seconds: 0,
    playing: false,
    speed: 10,
    speeds: [1, 10, 60, 300],
    started: false,
    sheetView: null,
    rows: null,
    works: boot.works,
    kinds: new Map(), // ticket line to its work
    fetched: -1,

    init() {
      this.rows = new Float32Array();
      this.sheetView = plain(new SheetView(this.$refs.svg, { look: () => "toolpaths", over: (scale) => this.over(scale), frame: () => facing(this.sheet) }));
      Alpine.effect(() => {
        const sheet = Alpine.raw(project.view.sheet);
        void [this.chosen, project.view.findings];
        this.sheetView.set(sheet);
        this.fetch();
      });
      window.addEventListener("keydown", (event) => this.key(event));
      project.refresh();
    },

    get findings() {
      return project.view.findings;
    },
    get rehearsal() {
      return project.view.rehearsal;
    },
    get stops() {
      return this.findings.filter((finding) => finding.level === "stop").length;
    },
    get heading() {
      const { length } = this.findings;
      if (!length) return "Nothing to look at";
      return `${length} thing${length === 1 ? "" : "s"} to look at`;
    },
    // The slider moves in tenths, and must reach the very end.
    get lastMoment() {
      return Math.ceil(this.rehearsal.seconds * 10) / 10;
    },
    get elapsed() {
      return clock(this.seconds);
    },
    isNow(index) {
      if (!this.started) return false;
      const { operations } = this.rehearsal;
      const begins = index ? operations[index - 1].ends : 0;
      return this.seconds > begins && this.seconds <= operations[index].ends;
    },
    get nowDoing() {
      if (!this.rehearsal.operations.length) return "Nothing to rehearse";
      if (!this.started) return "Press play to see the job before it is burnt";
      const tool = toolAt(this.rows, this.seconds);
      const operation = this.rehearsal.operations.find((found) => this.seconds <= found.ends + 1e-3);
      if (!operation || this.seconds >= this.rehearsal.seconds) return "Finished";
      return tool?.[2] === -1 ? `${operation.title}: travelling` : operation.title;
    },

    async fetch() {
      if (this.fetched === project.revision) return;
      this.fetched = project.revision;
      try {
        this.rows = await getPacked(project.ofSheet("rehearsal"));
        this.kinds = new Map(this.rehearsal.operations.map(({ line, work, spot }) => [line, { ...this.works[work], spot }]));
        this.seconds = Math.min(this.seconds, this.rehearsal.seconds);
        this.paint();
      } catch (problem) {
        project.complain(problem);
      }
    },
    look(index) {
      this.chosen = this.chosen === index ? -1 : index;
      const place = this.findings[index].place;
      if (this.chosen < 0 || !place) return this.sheetView.fit();
      const grow = Math.max(6, (place[2] - place[0]) * 0.3, (place[3] - place[1]) * 0.3);
      const [left, right] = this.sheet.mirrored ? [this.sheet.width - place[2], this.sheet.width - place[0]] : [place[0], place[2]];
      return this.sheetView.view.fit([left - grow, place[1] - grow, right + grow, place[3] + grow]);
    },
    mend(edit) {
      this.chosen = -1;
      project.try(edit);
    },
    mendAt(finding) {
      return `${project.ofSheet(`${finding.station}/`)}${finding.piece && finding.station === "shape" ? `#${finding.piece}` : ""}`;
    },

    over(scale) {
      const finding = this.findings[this.chosen];
      const spot = finding?.spot ? `<path class="spot" d="${finding.spot}"/>` : "";
      const place = finding?.place;
      const box = place
        ? `<rect class="spot-box" x="${place[0] - 6 * scale}" y="${place[1] - 6 * scale}" width="${place[2] - place[0] + 12 * scale}" height="${place[3] - place[1] + 12 * scale}"/>`
        : "";
      return `${this.started ? this.played(scale) : ""}${spot}${box}`;
    },
    played(scale) {
      const done = doneUntil(this.rows, this.seconds);
      const strokes = [...done].sort(([a], [b]) => a - b).map(([kind, d]) => {
        const travel = kind === -1;
        const work = this.kinds.get(kind);
        if (work?.pictures) return revealed(this.sheet, d);
        const ink = travel ? "#8d8171" : work?.ink;
        const width = Math.max(travel ? 0.6 : work?.filled ? 1 : 2.6, (work?.spot ?? 0) / scale);
        return `<path d="${d}" fill="none" stroke-linecap="round" stroke="${ink}" stroke-width="${width * scale}" ${travel ? `stroke-dasharray="${2 * scale} ${3 * scale}" stroke-opacity="0.55"` : ""}/>`;
      });
      const tool = toolAt(this.rows, this.seconds);
      const head = tool ? `<circle class="head-mark" cx="${tool[0]}" cy="${tool[1]}" r="${6 * scale}" fill="${tool[2] === -1 ? "#8d8171" : "#9c3216"}"/>` : "";
      const veil = `<rect width="${project.view.sheet.width}" height="${project.view.sheet.height}" fill="#f7efdc" fill-opacity="0.72"/>`;
      return veil + strokes.join("") + head;
    },
    get sheet() {
      return Alpine.raw(project.view.sheet);
    },
    paint() {
      this.sheetView.draw();
    },

    scrub(value) {
      this.started = true;
      this.seconds = Math.min(Number(value), this.rehearsal.seconds);
      this.paint();
    },
    setSpeed(speed) {
      this.speed = speed;
    },
    play() {
      if (!this.rehearsal.seconds) return;
      if (this.playing) {
        this.playing = false;
        return;
      }
      if (this.seconds >= this.rehearsal.seconds) this.seconds = 0;
      this.started = true;
      this.playing = true;
      let before = performance.now();
      const frame = (now) => {
        if (!this.playing) return;
        this.seconds = Math.min(this.rehearsal.seconds, this.seconds + ((now - before) / 1000) * this.speed);
        before = now;
        this.paint();
        if (this.seconds >= this.rehearsal.seconds) this.playing = false;
        else requestAnimationFrame(frame);
      };
      requestAnimationFrame(frame);
    },
    key(event) {
      if (event.target.closest("input:not([type=range]), dialog, button, a") || event.ctrlKey || event.metaKey) return;
      if (event.key === "p") this.play();
    },
  }));
}
