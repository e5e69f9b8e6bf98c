// The pen: press for a corner, press and pull for a curve; Enter ends a line, the first node closes a shape.

export class Pen {
  constructor() {
    this.nodes = []; // [x, y, [leave x, leave y] | null]
    this.over = null;
    this.pressed = 0; // when, in ms
  }

  add(at) {
    const last = this.nodes.at(-1);
    if (last && last[0] === at[0] && last[1] === at[1]) return;
    this.nodes.push([at[0], at[1], null]);
  }

  // Pull the handle of the last node.
  pull(at) {
    const last = this.nodes.at(-1);
    if (!last) return; // the line was finished meanwhile
    const handle = [at[0] - last[0], at[1] - last[1]];
    last[2] = Math.hypot(...handle) > 1e-6 ? handle : null;
  }

  undo() {
    this.nodes.pop();
  }

  isLast(at, reach) {
    const last = this.nodes.at(-1);
    return this.nodes.length > 1 && Math.hypot(at[0] - last[0], at[1] - last[1]) < reach;
  }

  isFirst(at, reach) {
    return this.nodes.length > 1 && Math.hypot(at[0] - this.nodes[0][0], at[1] - this.nodes[0][1]) < reach;
  }

  // Path data, with the segment to the pointer if that is wanted.
  path(live) {
    const [first, ...rest] = this.nodes;
    const out = [`M${first[0]} ${first[1]}`];
    let before = first;
    for (const node of live && this.over ? [...rest, [...this.over, null]] : rest) {
      const [a, b] = [before[2], node[2]];
      if (!a && !b) out.push(`L${node[0]} ${node[1]}`);
      else {
        const [c1, c2] = [[before[0] + (a?.[0] ?? 0), before[1] + (a?.[1] ?? 0)], [node[0] - (b?.[0] ?? 0), node[1] - (b?.[1] ?? 0)]];
        out.push(`C${c1.join(" ")} ${c2.join(" ")} ${node[0]} ${node[1]}`);
      }
      before = node;
    }
    return out.join("");
  }

  // The contour as an edit tells it.
  contour(closed) {
    return {
      closed,
      nodes: this.nodes.map(([x, y, pull]) => ({
        x, y,
        ...(pull ? { leave: pull, arrive: [-pull[0], -pull[1]], kind: "symmetric" } : {}),
      })),
    };
  }
}
