// Treatments, combinations, surrounds, tabs and laps, nodes added and bridges moved, as the hand asks for them; and the
// findings of the piece.

import { get } from "../api.js";
import { act } from "../hands.js";
import { plain } from "../plain.js";
import { apply, distance, middle } from "./geometry.js";
import { shapes } from "./marks.js";
import { commands } from "./commands.js";
import { named } from "./named.js";

const FIRST = { cornered: "size", grown: "distance", hollowed: "width", widened: "width" };

export class Outlining {
  constructor(station, project, Alpine) {
    this.Alpine = Alpine;
    this.station = station;
    this.project = project;
    this.told = "";
    station.commandList = plain([...commands(station), ...named(station), ...this.commands()]);
    Alpine.store("shortcuts").groups = station.shortcuts;
    Alpine.effect(() => {
      void [station.piece, project.version];
      this.fetch();
    });
  }

  commands() {
    const { station, project } = this;
    const treat = (name, key, values, keys) => ({ group: "Outline", name, keys, needs: "parts", run: () => station.outlines("treat", key, values) });
    const combine = (name, how) => ({ group: "Outline", name, needs: "several", run: () => station.outlines("combine", how) });
    return [
      treat("Corners rounded, or as they were", "cornered", { style: "rounded" }, ["q"]),
      treat("Corners scooped", "cornered", { style: "scooped" }),
      treat("Corners cut off", "cornered", { style: "cut" }),
      treat("Grow or shrink", "grown", {}, ["i"]),
      treat("Hollow: a frame", "hollowed", {}),
      treat("Mirror one half", "halved", {}),
      treat("Widen the line", "widened", {}),
      { group: "Outline", name: "Combine…", keys: ["w"], needs: "several", run: () => station.open("combine") },
      combine("Weld", "weld"),
      combine("Subtract from the first", "subtract"),
      combine("Intersect", "intersect"),
      combine("Exclude", "exclude"),
      combine("Divide the first", "divide"),
      { group: "Outline", name: "Surround", keys: ["o"], needs: "parts", run: () => station.outlines("surround", "adds") },
      { group: "Outline", name: "Moat round it", keys: ["Shift+o"], needs: "parts", run: () => station.outlines("surround", "cuts") },
      { group: "Outline", name: "Score a line round it", needs: "parts", run: () => station.outlines("surround", "scores") },
      { group: "Outline", name: "Hold it with tabs", needs: "several", run: () => station.outlines("tabs") },
      { group: "Outline", name: "Cross-lap slots with another piece", run: () => station.outlines("crossLap") },
      { group: "Outline", name: "Take apart", needs: "parts", run: () => station.doParts("take-apart") },
      { group: "Outline", name: "Split into its bodies", needs: "parts", run: () => station.doParts("split-bodies") },
      { group: "Words", name: "Letters…", keys: ["Shift+l"], needs: "parts", run: () => station.open("letters") },
      { group: "Words", name: "Choose a font…", keys: ["Shift+f"], needs: "one", run: () => act(() => station.openValue(`part ${station.chosen[0]}`, "font")) },
      { group: "Words", name: "Fit words between two bars", needs: "several", run: () => station.doParts("fit-between") },
      ...["joined", "stencil"].map((what) => ({ group: "Words", name: { joined: "Join the letters", stencil: "Stencil bridges across letters" }[what], needs: "parts", run: () => station.doParts("set-letters", { what, to: "on" }) })),
      { group: "Words", name: "One piece a letter", needs: "one", run: () => project.try({ do: "spell-pieces", piece: station.piece, part: station.chosen[0] }) },
      { group: "Outline", name: "What there is to look at", keys: ["'"], run: () => station.open("findings") },
    ];
  }

  // Begin a treatment and type its size; the same again ends it.
  async treat(key, values = {}) {
    const { station } = this;
    const now = station.chosenParts[0]?.data.treatments?.[key];
    station.opened = "";
    const same = now && Object.entries(values).every(([name, value]) => (now[name] ?? "rounded") === value);
    if (same) return station.doParts("untreat-parts", { treatment: key });
    const begun = await station.doParts("treat-parts", { treatment: key, values });
    if (begun && station.chosen.length === 1 && FIRST[key]) await station.openValue(`${key} ${station.chosen[0]}`, FIRST[key]);
    return begun;
  }

  combineEdit(how) {
    const { station } = this;
    const { keeper } = station.combining;
    return { do: "combine-parts", piece: station.piece, parts: station.chosen, how, ...(station.chosen.includes(keeper) ? { keeper } : {}) };
  }
  tryCombine(how) {
    if (this.station.chosen.length > 1) this.project.tryOut(this.combineEdit(how));
  }
  async combine(how) {
    this.station.opened = "";
    await this.station.adding(this.combineEdit(how));
  }
  // The other of two chosen parts is the keeper; of several, the next.
  swap() {
    const { station } = this;
    const at = station.chosen.indexOf(station.combining.keeper || station.chosen[0]);
    station.combining.keeper = station.chosen[(at + 1) % station.chosen.length];
  }

  async surround(role) {
    const { station } = this;
    station.opened = "";
    const [part] = await station.adding({ do: "surround-parts", piece: station.piece, parts: station.chosen, role });
    return part ? station.openValue(`part ${part.id}`, "distance") : null;
  }
  async tabs() {
    const { station } = this;
    station.opened = "";
    const [part] = await station.adding({ do: "tab-parts", piece: station.piece, parts: station.chosen });
    return part ? station.openValue(`part ${part.id}`, "count") : null;
  }
  async crossLap() {
    const { station } = this;
    const other = station.combining.lapWith;
    station.opened = "";
    await station.adding({ do: "cross-lap", piece: station.piece, ...(other ? { other } : {}) });
  }
  async keepHole() {
    const { station } = this;
    const [part] = station.chosenParts;
    station.opened = "";
    const near = (part.data.shape.near ?? "free") === "free" ? "top" : "free";
    const done = await this.project.try({ do: "change", of: `part ${part.id}`, values: { near } });
    return done && near !== "free" ? station.openValue(`part ${part.id}`, "margin") : done;
  }
  turnFace(x, y) {
    return this.station.doParts("turn-face", { x, y });
  }
  turnCorner(corner) {
    return this.station.doParts("turn-corner", { corner });
  }
  // Add a node to the segment that was pressed twice.
  async addNodeAt(event) {
    const { station, project } = this;
    const part = station.drawnPart;
    const at = station.view.at(event);
    let best = { away: 8 * station.view.scale };
    part.data.shape.contours.forEach((contour, c) => {
      const count = (contour.closed ?? true) ? contour.nodes.length : contour.nodes.length - 1;
      for (let n = 0; n < count; n += 1) {
        const [a, b] = [contour.nodes[n], contour.nodes[(n + 1) % contour.nodes.length]];
        for (let share = 0.02; share < 1; share += 0.02) {
          const away = distance(apply(part.matrix, onSegment(a, b, share)), at);
          if (away < best.away) best = { away, node: [c, n], share };
        }
      }
    });
    if (!best.node) return;
    if (await project.try({ do: "edit-nodes", part: part.id, op: "add", nodes: [best.node], share: best.share })) {
      station.chosenNodes = [[best.node[0], best.node[1] + 1]];
    }
  }
  // A press on a stencil bridge takes it out or puts it back; a drag moves it along its counter.
  pressBridge(event, letter, counter, there) {
    const { station, project } = this;
    const edit = { do: "move-bridge", piece: station.piece, part: station.chosen[0], letter, counter };
    const from = station.view.at(event);
    const shift = (now) => {
      const [x, y] = station.view.at(now);
      return { ...edit, dx: x - from[0], dy: y - from[1] };
    };
    const far = (now) => Math.hypot(now.clientX - event.clientX, now.clientY - event.clientY) > 3;
    const move = (now) => there && far(now) && project.tryOut(shift(now));
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", (up) => {
      window.removeEventListener("pointermove", move);
      project.try(there && far(up) ? shift(up) : { ...edit, out: there });
    }, { once: true });
  }

  // What the checks say of the piece follows a moment after each change.
  fetch() {
    const { station, project } = this;
    const wanted = `${station.piece} ${project.version}`;
    if (!station.piece || wanted === this.told || project.unfinished) return;
    this.told = wanted;
    clearTimeout(this.timer);
    this.timer = setTimeout(async () => {
      try {
        const { findings, idle, limit } = await get(project.asShown(`pieces/${station.piece}/findings`));
        if (wanted !== this.told) return;
        Object.assign(station, { findings, idle, limit, shownFinding: -1 });
        if (this.mended && !findings.length && station.opened === "findings") station.close(); // nothing is left to mend
        this.mended = false;
      } catch {
        if (wanted === this.told) Object.assign(station, { findings: [], idle: {} });
      }
    }, 300);
  }
  async mend(edit) {
    this.mended = Boolean(await this.project.try(edit));
  }

  // Thin places are shaded; the finding under the hand is marked.
  ground() {
    const { findings, shownFinding } = this.station;
    const thin = findings.find((finding) => finding.check === "material_is_not_too_thin");
    const shown = findings[shownFinding];
    const { neck } = this.station;
    const ring = neck ? `<circle class="neck" cx="${neck[0]}" cy="${neck[1]}" r="${9 * this.station.view.scale}"><title>The narrowest neck</title></circle>` : "";
    const faulty = this.station.faulty ? `<path class="faulty" d="${this.station.faulty}"/>` : "";
    return ring + faulty + (thin?.spot ? `<path class="thin-place" d="${thin.spot}"/>` : "") + (shown?.spot ? `<path class="spot" d="${shown.spot}"/>` : "");
  }
  // The corners that can be pressed, the faces of a division, and what a combination would keep.
  marks(parts, scale) {
    const { station } = this;
    const faces = [];
    const corners = [];
    if (station.opened === "combine") {
      const keeper = station.combining.keeper || station.chosen[0];
      const part = station.project.scenes[station.piece].parts.find((found) => found.id === keeper);
      if (part) faces.push(shapes(part, "anchor"));
    }
    if (parts.length !== 1) return { faces: faces.join(""), corners: "" };
    const [part] = parts;
    for (const [d, kept, x, y] of part.faces) {
      faces.push(`<path class="face-of ${kept ? "kept" : "dropped"}" data-face="${x} ${y}" d="${d}"><title>${kept ? "Kept: press to drop it" : "Dropped: press to keep it"}</title></path>`);
    }
    // They stand off their corners, where the handles are.
    const [mx, my] = middle(part.own);
    part.corners.forEach(([x, y, on], i) => {
      const away = Math.hypot(x - mx, y - my) || 1;
      const share = Math.max(0, 1 - (16 * scale) / away);
      const [cx, cy] = apply(part.matrix, [mx + (x - mx) * share, my + (y - my) * share]);
      corners.push(`<circle class="corner-of ${on ? "on" : ""}" data-corner="${i}" cx="${cx}" cy="${cy}" r="${5 * scale}"><title>${on ? "Treated: press to leave it" : "As it is: press to treat it"}</title></circle>`);
    });
    for (const [letter, counter, x, y, there] of part.bridges) {
      const [cx, cy] = apply(part.matrix, [x, y]);
      corners.push(`<circle class="corner-of ${there ? "on" : ""}" data-bridge="${letter} ${counter} ${there ? 1 : 0}" cx="${cx}" cy="${cy}" r="${5 * scale}"><title>${there ? "A bridge: drag it along, or press to take it out" : "No bridge: press to put it back"}</title></circle>`);
    }
    return { faces: faces.join(""), corners: corners.join("") };
  }
}

// A point of a segment between two nodes, about the shape's own origin.
function onSegment(a, b, t) {
  const [l, r] = [a.leave ?? [0, 0], b.arrive ?? [0, 0]];
  if (!a.leave && !b.arrive) return [a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t];
  const s = 1 - t;
  const mix = (p0, p1, p2, p3) => s ** 3 * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t ** 3 * p3;
  return [mix(a.x, a.x + l[0], b.x + r[0], b.x), mix(a.y, a.y + l[1], b.y + r[1], b.y)];
}
