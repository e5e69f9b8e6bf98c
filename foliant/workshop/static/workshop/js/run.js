// The Run station: connect, trace the bounds, start, watch, pause and stop.

import { get, post } from "./api.js";
import { plain } from "./plain.js";
import { eye } from "./run/eye.js";
import { placing } from "./run/placing.js";
import { SheetView } from "./sheetview.js";

const POLL = 250; // ms, while something runs
const SELDOM = 2000; // ms, while it is not heard of

const CALLS = { waiting: "Press start", done: "Done", stopped: "Stopped", lost: "Lost" };
const TITLE = document.title;
let told = "";

// What needs a hand is said in the title of the page, with a sound: the maker may be at another.
function tell(run, active) {
  const state = run ? (run.line ? "" : run.state) : "";
  const call = run && (active || told) ? CALLS[state] : "";
  document.title = call ? `${call} · ${TITLE}` : TITLE;
  if (call && told && told !== state) chime(state === "waiting" ? 660 : 880);
  told = state;
}

function chime(pitch) {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  const volume = audio.createGain();
  tone.frequency.value = pitch;
  volume.gain.setValueAtTime(0.12, audio.currentTime);
  volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.6);
  tone.connect(volume).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.6);
  tone.onended = () => audio.close();
}

export function register(Alpine) {
  const project = Alpine.store("project");
  const toasts = Alpine.store("toasts");

  const station = () => ({
    connected: false,
    only: new URLSearchParams(window.location.search).get("only") ?? "", // what of the job is sent alone
    connecting: false,
    traced: false,
    problem: "",
    at: null, // [x, y] of the head on the sheet
    burnt: null, // {id, strokes} of the newest finished run
    sheetView: null,
    timer: 0,
    ticked: [], // of what is looked after before a start
    past: [], // the runs before
    how: "box", // how the head goes round

    init() {
      // Another unit has other steps: what is shown is what a press does.
      Alpine.effect(() => {
        const { steps } = this.machine;
        if (!steps.some(([step]) => step === this.step)) [, , [this.step]] = steps;
      });
      this.sheetView = plain(new SheetView(this.$refs.svg, {
          look: () => (this.finished ? "bare" : "toolpaths"),
          bounds: () => this.bedBounds(),
          frame: () => this.frame,
          under: () => this.bed(),
          over: (scale) => this.over(scale),
        }),
      );
      Alpine.effect(() => {
        void [this.run?.x, this.run?.y, this.run?.state, this.at, this.burnt, this.machine.key, this.laid, this.look];
        this.sheetView.set(Alpine.raw(project.view.sheet));
      });
      if (this.run?.active) {
        this.connected = true;
        this.lie = this.run.lie;
        this.laid = this.run.lies;
      } else if (this.run?.state === "done" && this.run.kind === "job") this.showBurnt();
      if (this.run?.active || this.run?.silent) this.watch();
      this.$refs.svg.addEventListener("pointerdown", (event) => this.pressBed(event));
      Alpine.effect(() => tell(this.run, this.active));
      this.lookBack();
      project.refresh();
    },

    get run() {
      return project.view.run;
    },
    get eye() {
      return project.view.machine.eye;
    },
    get machine() {
      return project.view.machine;
    },
    get active() {
      return Boolean(this.run?.active);
    },
    get jobRuns() {
      return this.active && this.run.kind === "job";
    },
    get finished() {
      return Boolean(this.burnt && this.run?.id === this.burnt.id);
    },
    get lamp() {
      return this.active && !this.run.line ? this.run.state : "";
    },
    get stateSays() {
      if (this.problem) return "not connected";
      if (!this.connected) return "not connected yet";
      if (!this.active) return "idle";
      if (this.run.line) return "busy with a job before yours";
      return { sending: "receiving the job", waiting: "waiting for its start button", running: "running", holding: "paused" }[this.run.state];
    },
    get newestSays() {
      const run = this.run;
      if (!run || run.active) return "";
      if (run.kind === "trace") return run.state === "done" ? "The bounds have been traced." : run.message;
      if (run.goOn && run.doing) return `${run.message} It was at: ${run.doing}.`;
      if (run.state === "done") return `${run.message} Done in ${run.clock}; the estimate was ${run.estimate}${run.beside ? ` (${run.beside})` : ""}.`.trim();
      return run.message;
    },
    get newestBad() {
      return Boolean(this.run && !this.run.active && this.run.state !== "done");
    },
    get canStart() {
      return this.canSend && project.standing.alert !== "stop";
    },
    // What was sent before may be sent again, whatever has become of the design.
    get canSend() {
      return this.connected && !this.active && this.ticked.length === this.machine.checklist.length;
    },
    get canGoOn() {
      return Boolean(this.run && !this.active && this.run.goOn);
    },
    get whyNotSent() {
      if (this.canSend) return "";
      return this.connected ? "Tick off what is looked after before a start first" : "Connect first";
    },
    get doingSays() {
      return this.jobRuns ? this.run.doing : "";
    },
    get progress() {
      return this.jobRuns || this.finished ? this.run.percent : 0;
    },

    // All of the bed, and of the sheet where that is larger.
    bedBounds() {
      const [width, height] = this.machine.bed;
      const { width: wide, height: high } = project.view.sheet;
      const [a, b, c, d, e, f] = this.frame;
      const corners = [[0, 0], [wide, 0], [wide, high], [0, high]]; // prettier-ignore
      const xs = corners.map(([x, y]) => a * x + c * y + e);
      const ys = corners.map(([x, y]) => b * x + d * y + f);
      return [Math.min(0, ...xs), Math.min(0, ...ys), Math.max(width, ...xs), Math.max(height, ...ys)];
    },
    bed() {
      const [width, height] = this.machine.bed;
      const lines = [];
      for (let x = 50; x < width; x += 50) lines.push(`<line class="bed-grid" x1="${x}" x2="${x}" y1="0" y2="${height}"/>`);
      for (let y = height - 50; y > 0; y -= 50) lines.push(`<line class="bed-grid" x1="0" x2="${width}" y1="${y}" y2="${y}"/>`);
      this.$refs.svg.classList.toggle("seen", Boolean(this.look));
      return `<rect class="bed" width="${width}" height="${height}"/>${lines.join("")}${this.seenMarkup}`;
    },
    over(scale) {
      const { work } = this.machine;
      const height = project.view.sheet.height;
      const bounds =
        work[2] > work[0] && !this.finished
          ? `<rect class="bounds-box" x="${work[0]}" y="${height - work[3]}" width="${work[2] - work[0]}" height="${work[3] - work[1]}"/>`
          : "";
      const hottest = Math.max(...(this.burnt?.strokes ?? []).map((group) => group.power));
      const burnt = this.finished
        ? this.burnt.strokes.map((group) => `<path class="burnt" stroke-opacity="${0.55 + (0.45 * group.power) / hottest}" d="${group.d}"/>`).join("")
        : "";
      const at = this.active ? [this.run.x, this.run.y] : this.at;
      const head = at && this.connected && !this.run?.line
        ? `<circle class="head-mark" cx="${at[0]}" cy="${at[1]}" r="${7 * scale}" fill="${this.active && this.run.working ? "#9c3216" : "#1f5a45"}"/>`
        : "";
      return bounds + burnt + head;
    },

    // How long what is sent takes.
    get estimate() {
      return this.machine.some.find(([what]) => what === this.only)?.[2] ?? this.machine.estimate;
    },
    async connect() {
      this.connecting = true;
      this.problem = "";
      try {
        const status = await post(`${project.address}/machine/connect`, { bench: project.bench });
        this.connected = true;
        this.stand(status.bed);
      } catch (problem) {
        this.connected = false;
        this.problem = problem.message;
      }
      this.connecting = false;
    },
    send(kind) {
      return this.sent("", { kind, sheet: project.view.sheet.number, only: kind === "job" ? this.only : "", lie: this.lie, how: this.how });
    },
    // Over what goes through once more, in a single pass, while the sheet still lies there.
    cutAgain() {
      return this.sent("", { kind: "job", sheet: project.view.sheet.number, only: "cuts", lie: this.lie });
    },
    goOn(id) {
      return this.sent(`/${id}/go-on`);
    },
    again(id) {
      return this.sent(`/${id}/again`);
    },
    async sent(what, body) {
      this.problem = "";
      this.burnt = null;
      try {
        const run = await post(`${project.address}/runs${what}`, body);
        project.view.run = run;
        if (run.kind === "job") this.ticked = [];
        this.watch();
        project.refresh();
      } catch (problem) {
        project.complain(problem);
      }
    },
    tick(item) {
      this.ticked = this.ticked.includes(item) ? this.ticked.filter((other) => other !== item) : [...this.ticked, item];
    },
    async lookBack() {
      try {
        this.past = (await get(`${project.address}/runs`)).runs;
      } catch {
        this.past = [];
      }
    },
    async keepUsed() {
      try {
        const { kept, ...run } = await post(`${project.address}/runs/${this.run.id}/recipes`);
        project.view.run = run;
        toasts.say(`${kept} recipe${kept === 1 ? " is" : "s are"} kept, from a run that went well.`);
      } catch (problem) {
        project.complain(problem);
      }
    },
    async giveBack() {
      try {
        const run = await post(`${project.address}/runs/${this.run.id}/give-back`);
        project.view.run = run;
      } catch (problem) {
        project.complain(problem);
      }
    },
    watch() {
      clearTimeout(this.timer);
      let ended = false;
      const look = async () => {
        try {
          const { run } = await get(project.ofSheet("runs/newest"));
          project.view.run = run;
          if (run && !run.active) {
            if (!ended) this.end(run);
            ended = true;
            if (!run.silent) return; // one that was only not heard of may be heard again
          } else if (ended) {
            ended = false;
            this.connected = true;
          }
        } catch {
          // Foliant itself may be restarting; the run goes on without the page.
        }
        this.timer = setTimeout(look, ended ? SELDOM : POLL);
      };
      this.timer = setTimeout(look, POLL);
    },
    end(run) {
      this.at = [run.x, run.y];
      if (run.kind === "trace" && run.state === "done") this.traced = true;
      if (run.state === "lost") this.connected = false;
      if (run.state === "done" && run.kind === "job") this.showBurnt();
      this.lookBack();
      project.refresh();
    },
    async showBurnt() {
      const { id } = this.run;
      try {
        this.burnt = { id, ...(await get(`${project.address}/runs/${id}/burnt`)) };
      } catch {
        this.burnt = null;
      }
    },
    async command(command) {
      try {
        await post(`${project.address}/runs/${this.run.id}/command`, { command });
      } catch (problem) {
        project.complain(problem);
      }
    },
    async press(button) {
      try {
        await post(`${project.address}/machine/panel`, { button, bench: project.bench });
      } catch (problem) {
        project.complain(problem);
      }
    },
  });

  const parts = [placing({ Alpine, project, toasts }), eye({ project, toasts }), station()];
  const together = () => parts.reduce((whole, part) => Object.defineProperties(whole, Object.getOwnPropertyDescriptors(part)), {});
  Alpine.data("runStation", together);
}
