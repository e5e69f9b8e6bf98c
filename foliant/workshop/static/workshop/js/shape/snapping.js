// Picks the nearest of the candidates that the server computed with the scene, while something is moved.

import { distance, middle, pointOf, REFERENCES } from "./geometry.js";

const NEAR = 9; // pixels

export class Snapping {
  constructor() {
    this.points = [];
    this.edges = [];
    this.boxes = [];
  }

  // `snaps` as the server told them; `moving` are the ids of the parts that move and so are no candidates.
  prepare(snaps, parts, moving) {
    const still = (id) => !moving.has(id);
    this.points = snaps.points.filter(([, , , part, other]) => still(part) && (!other || still(other)));
    this.edges = snaps.edges.filter(([part]) => still(part));
    this.boxes = parts.filter((part) => still(part.id) && !part.data.hidden).map((part) => ({ box: part.bounds, label: part.label, id: part.id }));
  }

  // The candidate nearest to a point: { at, says, part }, or null when none is near. `scale` is mm a pixel.
  nearest(at, scale, { edges = true, grid = 0 } = {}) {
    const reach = NEAR * scale;
    let best = null;
    let near = reach;
    for (const point of this.points) {
      const away = Math.hypot(point[0] - at[0], point[1] - at[1]);
      if (away < near) [near, best] = [away, { at: [point[0], point[1]], says: point[2], part: point[3] }];
    }
    if (best) return best;
    if (edges) {
      for (const edge of this.edges) {
        const found = nearestOnChain(edge, at, near);
        if (found) [near, best] = [found.away, { at: found.at, says: `edge of ${this.labelOf(edge[0])}`, part: edge[0] }];
      }
      if (best) return best;
    }
    if (grid) {
      const on = at.map((value) => Math.round(value / grid) * grid);
      if (distance(on, at) < reach * 0.7) return { at: on, says: "grid", part: "" };
    }
    return null;
  }

  labelOf(id) {
    return this.boxes.find((found) => found.id === id)?.label ?? "a part";
  }

  // Where a box dragged by (dx, dy) comes to lie: its points on candidates, or its lines level with neighbours'.
  // `grab` is the point of the object it is held by, which counts before the points of its box.
  move(box, grab, dx, dy, scale, { grid = 0 } = {}) {
    const own = [grab, ...Object.keys(REFERENCES).map((name) => pointOf(box, name))].filter(Boolean);
    let best = null;
    for (const [index, point] of own.entries()) {
      const at = [point[0] + dx, point[1] + dy];
      const found = this.nearest(at, scale, { edges: index === 0 && Boolean(grab) });
      if (!found) continue;
      const away = distance(found.at, at) - (index === 0 ? 2 * scale : 0);
      if (!best || away < best.away) best = { away, found, shift: [found.at[0] - point[0], found.at[1] - point[1]] };
    }
    if (best) {
      return { dx: best.shift[0], dy: best.shift[1], says: best.found.says, part: best.found.part, at: best.found.at, guides: [] };
    }
    return this.level(box, dx, dy, scale, grid);
  }

  // Edges, centres and gaps that become equal to a neighbour's; else the grid.
  level(box, dx, dy, scale, grid) {
    const reach = NEAR * 0.8 * scale;
    const guides = [];
    const says = [];
    const shift = [dx, dy];
    for (const axis of [0, 1]) {
      const lines = [box[axis], (box[axis] + box[axis + 2]) / 2, box[axis + 2]].map((value) => value + shift[axis]);
      /** @type {any} */
      let best = null;
      for (const other of this.boxes) {
        const theirs = [other.box[axis], (other.box[axis] + other.box[axis + 2]) / 2, other.box[axis + 2]];
        lines.forEach((mine, i) =>
          theirs.forEach((line, j) => {
            const away = Math.abs(mine - line);
            if (away < reach && (!best || away < best.away - 1e-9)) best = { away, by: line - mine, line, i, j, other };
          }),
        );
      }
      const gap = this.equalGap(box, shift, axis, reach);
      if (gap && (!best || gap.away < best.away)) {
        shift[axis] += gap.by;
        says.push("equal gaps");
        guides.push(...gap.guides);
      } else if (best) {
        shift[axis] += best.by;
        const names = axis === 0 ? ["left edge", "middle", "right edge"] : ["upper edge", "middle", "lower edge"];
        says.push(`${names[best.i]} level with the ${names[best.j]} of ${best.other.label}`);
        guides.push({ axis, line: best.line, box: best.other.box });
      } else if (grid) {
        const wanted = Math.round((box[axis] + shift[axis]) / grid) * grid;
        shift[axis] = wanted - box[axis];
      }
    }
    return { dx: shift[0], dy: shift[1], says: says.join(", "), part: "", at: null, guides };
  }

  // The gap to the neighbour on one side made equal to that on the other side, or to the gap between two others.
  equalGap(box, shift, axis, reach) {
    const across = 1 - axis;
    const level = this.boxes.filter(({ box: other }) => other[across] < box[across + 2] + shift[across] && other[across + 2] > box[across] + shift[across]);
    const [low, high] = [box[axis] + shift[axis], box[axis + 2] + shift[axis]];
    const before = level.filter(({ box: other }) => other[axis + 2] <= low + reach).sort((a, b) => b.box[axis + 2] - a.box[axis + 2]);
    const after = level.filter(({ box: other }) => other[axis] >= high - reach).sort((a, b) => a.box[axis] - b.box[axis]);
    const options = [];
    if (before[0] && after[0]) {
      const [from, to] = [before[0].box[axis + 2], after[0].box[axis]];
      options.push([(from + to) / 2 - (low + high) / 2, from, to]);
    }
    if (before[1]) {
      const gap = before[0].box[axis] - before[1].box[axis + 2];
      if (gap > 0) options.push([before[0].box[axis + 2] + gap - low, before[0].box[axis + 2], null, before[1].box[axis + 2], before[0].box[axis]]);
    }
    if (after[1]) {
      const gap = after[1].box[axis] - after[0].box[axis + 2];
      if (gap > 0) options.push([after[0].box[axis] - gap - high, null, after[0].box[axis], after[0].box[axis + 2], after[1].box[axis]]);
    }
    const best = options.filter(([by]) => Math.abs(by) < reach).sort((a, b) => Math.abs(a[0]) - Math.abs(b[0]))[0];
    if (!best) return null;
    const [by, from, to, otherFrom, otherTo] = best;
    const at = (box[across] + box[across + 2]) / 2 + shift[across];
    const guides = [];
    if (from !== null) guides.push({ gap: axis, from, to: low + by, at });
    if (to !== null) guides.push({ gap: axis, from: high + by, to, at });
    if (otherTo !== undefined) guides.push({ gap: axis, from: otherFrom, to: otherTo, at });
    return { away: Math.abs(by), by, guides };
  }

  // The gaps from a box to its nearest neighbours, four ways.
  gaps(box) {
    const found = [];
    for (const axis of [0, 1]) {
      const across = 1 - axis;
      const at = middle(box)[across];
      const level = this.boxes.filter(({ box: other }) => other[across] <= at && other[across + 2] >= at);
      const stops = level.flatMap(({ box: other }) => [other[axis], other[axis + 2]]);
      const low = Math.max(...stops.filter((value) => value <= box[axis] + 1e-6));
      const high = Math.min(...stops.filter((value) => value >= box[axis + 2] - 1e-6));
      if (Number.isFinite(low) && box[axis] - low > 1e-3) found.push({ gap: axis, from: low, to: box[axis], at });
      if (Number.isFinite(high) && high - box[axis + 2] > 1e-3) found.push({ gap: axis, from: box[axis + 2], to: high, at });
    }
    return found;
  }
}

// The nearest point of a chain [part, x, y, x, y, ...] within `reach` mm.
function nearestOnChain(chain, [x, y], reach) {
  let best = null;
  for (let i = 1; i + 3 < chain.length; i += 2) {
    const [ax, ay, bx, by] = [chain[i], chain[i + 1], chain[i + 2], chain[i + 3]];
    const [wx, wy] = [bx - ax, by - ay];
    const size = wx * wx + wy * wy;
    const t = size ? Math.max(0, Math.min(1, ((x - ax) * wx + (y - ay) * wy) / size)) : 0;
    const [px, py] = [ax + wx * t, ay + wy * t];
    const away = Math.hypot(px - x, py - y);
    if (away < reach) [reach, best] = [away, { away, at: [px, py] }];
  }
  return best;
}
