// Dragging: every gesture follows the pointer, shows what it would give, and is kept or given up as one edit.

import { bringSnapping } from "./aiming.js";
import { apply, distance, middle, overlap, pointOf, shifted, unapply, union, within } from "./geometry.js";

await bringSnapping(); // no gesture begins without

// Follow the pointer until it is let go (kept) or Escape is pressed (given up).
// However often the pointer tells where it is, each frame is worked out once.
function follow(move, end) {
  let newest = null;
  let frame = 0;
  const step = () => {
    frame = 0;
    move(newest);
  };
  const moved = (event) => {
    newest = event;
    // What lies under the pointer need not light up while something is dragged over it.
    document.body.classList.add("dragging");
    frame ||= requestAnimationFrame(step);
  };
  const finish = (kept) => {
    document.body.classList.remove("dragging");
    if (frame) {
      cancelAnimationFrame(frame);
      if (kept) step();
    }
    window.removeEventListener("pointermove", moved);
    window.removeEventListener("pointerup", up);
    window.removeEventListener("pointercancel", cancel);
    window.removeEventListener("keydown", escape, true);
    end(kept);
  };
  const up = () => finish(true);
  const cancel = () => finish(false);
  const escape = (pressed) => {
    if (pressed.key !== "Escape") return;
    pressed.stopPropagation();
    finish(false);
  };
  window.addEventListener("pointermove", moved);
  window.addEventListener("pointerup", up);
  window.addEventListener("pointercancel", cancel);
  window.addEventListener("keydown", escape, true);
}

const round = (value) => Math.round(value * 1e4) / 1e4;

// The axis along which a hand did not mean to move, by so many pixels across and down: 0, 1 or null. What goes straight
// along keeps its height, whatever it passes.
const straight = (across, down) => (Math.abs(down) < 3 && Math.abs(across) > 12 ? 1 : Math.abs(across) < 3 && Math.abs(down) > 12 ? 0 : null);

export function dragParts(station, event) {
  const start = station.view.at(event);
  const parts = station.chosenParts;
  const box = union(parts.map((part) => part.bounds));
  const moving = new Set(station.chosen);
  const fresh = station.candidates(moving);
  const grab = station.grabbed(start);
  const begun = [event.clientX, event.clientY];
  follow(
    (next) => {
      if (!station.hand.drag && Math.hypot(next.clientX - begun[0], next.clientY - begun[1]) < 3) return;
      const at = station.view.at(next);
      let [dx, dy] = [at[0] - start[0], at[1] - start[1]];
      const meant = next.shiftKey ? (Math.abs(dx) > Math.abs(dy) ? 1 : 0) : null;
      const lock = meant ?? straight(next.clientX - begun[0], next.clientY - begun[1]);
      if (lock === 0) dx = 0;
      if (lock === 1) dy = 0;
      let snap = { dx, dy, says: "", part: "", at: null, guides: [] };
      if (station.snapping && !next.altKey) {
        const scale = station.view.scale;
        const grid = station.project.nudge;
        snap = meant === null ? fresh.move(box, grab, dx, dy, scale, { grid }) : fresh.level(box, dx, dy, scale, grid);
        if (lock !== null && meant === null && Math.abs(lock === 0 ? snap.dx : snap.dy) > 1e-6) snap = fresh.level(box, dx, dy, scale, grid);
        if (lock !== null) [snap.dx, snap.dy] = lock === 0 ? [0, snap.dy] : [snap.dx, 0];
      }
      [dx, dy] = [round(snap.dx), round(snap.dy)];
      station.hand.drag = { kind: "move", dx, dy, box: shifted(box, dx, dy), snap, gaps: fresh.gaps(shifted(box, dx, dy)) };
      station.status = snap.says ? `On: ${snap.says}` : lock === null ? "" : `Kept ${lock === 0 ? "upright" : "level"}`;
      station.draw();
      station.project.tryOut({ do: "move-parts", piece: station.piece, parts: station.chosen, dx, dy });
    },
    (kept) => {
      const drag = station.hand.drag;
      station.hand.drag = null;
      if (!drag || !kept || (drag.dx === 0 && drag.dy === 0)) {
        station.project.endTryOut();
        station.status = "";
        station.draw();
        return;
      }
      station.snappedTo = drag.snap.part ? { part: drag.snap.part, chosen: station.chosen.join() } : null;
      station.move(drag.dx, drag.dy);
    },
  );
}

// Pull a handle of the box: the opposite point stays, or the middle with Alt; Shift keeps (or frees) the proportions.
export function dragHandle(station, event, name) {
  const parts = station.chosenParts;
  const alone = parts.length === 1;
  const map = alone ? parts[0].matrix : [1, 0, 0, 1, 0, 0];
  const box = alone ? parts[0].own : union(parts.map((part) => part.bounds));
  const fresh = station.candidates(new Set(station.chosen));
  const corner = name.includes("-");
  const [wide, tall] = [box[2] - box[0], box[3] - box[1]];
  const ways = { left: -1, right: 1, top: -1, bottom: 1 };
  const words = name.split("-");
  const across = words.map((word) => (word === "left" || word === "right" ? ways[word] : 0)).find(Boolean) ?? 0;
  const down = words.map((word) => (word === "top" || word === "bottom" ? ways[word] : 0)).find(Boolean) ?? 0;
  const opposite = { left: "right", right: "left", top: "bottom", bottom: "top" };
  const stays = words.map((word) => opposite[word]).join("-");
  follow(
    (next) => {
      let at = station.view.at(next);
      const snap = station.snapping ? fresh.nearest(at, station.view.scale) : null;
      if (snap) at = snap.at;
      const own = unapply(map, at);
      const about = next.altKey ? "middle" : stays;
      const fixed = pointOf(box, about);
      const share = next.altKey ? 2 : 1;
      const size = {};
      const step = station.project.nudge;
      const neat = (value) => (snap || !station.snapping ? value : Math.round(value / step) * step);
      if (across) size.width = Math.max(0.1, neat(share * across * (own[0] - fixed[0])));
      if (down) size.height = Math.max(0.1, neat(share * down * (own[1] - fixed[1])));
      const kept = parts.some((part) => part.data.proportional) !== next.shiftKey;
      const edit = { do: "resize-parts", piece: station.piece, parts: station.chosen, ...size, about, proportional: kept, each: station.each };
      if (kept && corner) delete edit[size.width / wide > size.height / tall ? "height" : "width"];
      const shown = { width: edit.width ?? (kept && edit.height ? (wide * edit.height) / tall : wide), height: edit.height ?? (kept && edit.width ? (tall * edit.width) / wide : tall) };
      station.hand.drag = { kind: "size", edit, map, box: resizedBox(box, about, shown.width, shown.height), snap: snap && { ...snap, guides: [] } };
      station.status = snap ? `On: ${snap.says}` : kept ? "Proportions kept" : "";
      station.draw();
      station.project.tryOut(edit);
    },
    (kept) => {
      const edit = station.hand.drag?.edit;
      station.hand.drag = null;
      station.status = "";
      if (kept && edit) station.project.try(edit).then(() => station.draw());
      else station.project.endTryOut();
      station.draw();
    },
  );
}

function resizedBox(box, about, width, height) {
  const [x, y] = pointOf(box, about);
  const share = [(x - box[0]) / (box[2] - box[0] || 1), (y - box[1]) / (box[3] - box[1] || 1)];
  return [x - width * share[0], y - height * share[1], x + width * (1 - share[0]), y + height * (1 - share[1])];
}

// Turn by the handle above the box: whole degrees; Shift gives steps of 15.
export function dragTurn(station, event) {
  const parts = station.chosenParts;
  const centre = middle(union(parts.map((part) => part.bounds)));
  const angle = (at) => (Math.atan2(at[1] - centre[1], at[0] - centre[0]) * 180) / Math.PI;
  const start = angle(station.view.at(event));
  follow(
    (next) => {
      const step = next.shiftKey ? 15 : 1;
      const by = Math.round((((angle(station.view.at(next)) - start + 540) % 360) - 180) / step) * step;
      const edit = { do: "rotate-parts", piece: station.piece, parts: station.chosen, by, each: station.each };
      station.hand.drag = { kind: "turn", by, centre, edit };
      station.status = `Turned ${by}°`;
      station.draw();
      station.project.tryOut(edit);
    },
    (kept) => {
      const drag = station.hand.drag;
      station.hand.drag = null;
      station.status = "";
      if (kept && drag?.by) station.project.try(drag.edit).then(() => station.draw());
      else station.project.endTryOut();
      station.draw();
    },
  );
}

// A box drawn over the bench chooses what it touches, or what it holds; a mere press chooses `pressed`, or nothing.
export function dragMarquee(station, event, pressed) {
  const start = station.view.at(event);
  const before = event.shiftKey ? station.chosen : [];
  follow(
    (next) => {
      const at = station.view.at(next);
      if (!station.hand.drag && distance(at, start) < 3 * station.view.scale) return;
      const box = [Math.min(start[0], at[0]), Math.min(start[1], at[1]), Math.max(start[0], at[0]), Math.max(start[1], at[1])];
      station.hand.drag = { kind: "marquee", box };
      station.status = station.marquee === "touching" ? "Chooses what the box touches" : "Chooses what the box encloses";
      station.draw();
    },
    (kept) => {
      const box = station.hand.drag?.box;
      station.hand.drag = null;
      station.status = "";
      if (kept && box) station.chooseIn(box, before, caught);
      else if (kept) pressed();
      station.draw();
    },
  );
}

// Which parts a box takes.
function caught(station, box) {
  const parts = station.scene.parts.filter((part) => !part.data.hidden && !part.data.locked && !station.scene.combined.includes(part.id));
  if (station.marquee === "enclosing") return parts.filter((part) => within(part.bounds, box));
  return parts.filter((part) => overlap(part.bounds, box) && touches(station, part, box));
}

function touches(station, part, box) {
  const chains = station.snaps.edges.filter(([id]) => id === part.id);
  if (!chains.length) return true;
  const meets = chains.some((chain) => {
    for (let i = 1; i + 3 < chain.length; i += 2) {
      if (crosses([chain[i], chain[i + 1]], [chain[i + 2], chain[i + 3]], box)) return true;
    }
    return false;
  });
  if (meets) return true;
  const centre = middle(box);
  return [...station.layers.layers.hits.element.querySelectorAll(`[data-part="${part.id}"]`)].some((path) => {
    const own = unapply(path.getAttribute("transform").match(/-?[\d.e-]+/g).map(Number), centre);
    return !path.classList.contains("outline-only") && path.isPointInFill(new DOMPoint(...own));
  });
}

// Whether a segment meets a box (Liang and Barsky's clipping).
function crosses([x1, y1], [x2, y2], [left, top, right, bottom]) {
  let [low, high] = [0, 1];
  for (const [p, q] of [[x1 - x2, x1 - left], [x2 - x1, right - x1], [y1 - y2, y1 - top], [y2 - y1, bottom - y1]]) {
    if (p === 0) {
      if (q < 0) return false;
    } else if (p < 0) low = Math.max(low, q / p);
    else high = Math.min(high, q / p);
  }
  return low <= high;
}

// Move the chosen nodes by one of them.
export function dragNodes(station, event, at) {
  const part = station.chosenParts[0];
  const node = part.data.shape.contours[at[0]].nodes[at[1]];
  const from = apply(part.matrix, [node.x, node.y]);
  const fresh = station.candidates(new Set([part.id]));
  const start = station.view.at(event);
  follow(
    (next) => {
      let to = station.view.at(next);
      if (!station.hand.drag && distance(to, start) < 3 * station.view.scale) return;
      let [dx, dy] = [to[0] - start[0], to[1] - start[1]];
      if (next.shiftKey) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      to = [from[0] + dx, from[1] + dy];
      const snap = station.snapping && !next.altKey && !next.shiftKey ? fresh.nearest(to, station.view.scale, { grid: station.project.nudge }) : null;
      if (snap) [dx, dy] = [snap.at[0] - from[0], snap.at[1] - from[1]];
      const edit = { do: "edit-nodes", part: part.id, op: "move", nodes: station.chosenNodes, dx: round(dx), dy: round(dy) };
      show(station, edit, snap);
    },
    (kept) => keep(station, kept),
  );
}

// Pull a handle of a node; Shift keeps it level or upright.
export function dragArm(station, event, at, side) {
  const part = station.chosenParts[0];
  const node = part.data.shape.contours[at[0]].nodes[at[1]];
  const from = apply(part.matrix, [node.x, node.y]);
  follow(
    (next) => {
      const to = station.view.at(next);
      let [dx, dy] = [to[0] - from[0], to[1] - from[1]];
      if (next.shiftKey) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      show(station, { do: "edit-nodes", part: part.id, op: "handle", nodes: [at], side, dx: round(dx), dy: round(dy) }, null);
    },
    (kept) => keep(station, kept),
  );
}

function show(station, edit, snap) {
  station.hand.drag = { kind: "nodes", edit, snap: snap && { ...snap, guides: [] } };
  station.status = snap ? `On: ${snap.says}` : "";
  station.project.tryOut(edit);
  station.draw();
}

function keep(station, kept) {
  const edit = station.hand.drag?.edit;
  station.hand.drag = null;
  station.status = "";
  if (kept && edit) station.project.try(edit).then(() => station.draw());
  else station.project.endTryOut();
  station.draw();
}

// Pull the handle of the pen's newest node.
export function dragPen(station) {
  if (!station.pen.nodes.length) return; // a fast hand has finished already
  follow(
    (next) => {
      station.pen.pull(station.view.at(next));
      station.draw();
    },
    () => station.draw(),
  );
}
