// Boxes and maps, as the page needs them to show and drag.

// Points are [across, down] and boxes [left, top, right, bottom], in mm.

/** @type {(boxes: number[][]) => number[]} */
export const union = (boxes) =>
  [0, 1, 2, 3].map((i) => boxes.reduce((found, box) => (i < 2 ? Math.min(found, box[i]) : Math.max(found, box[i])), boxes[0][i]));

/** @type {(box: number[], dx: number, dy: number) => number[]} */
export const shifted = ([left, top, right, bottom], dx, dy) => [left + dx, top + dy, right + dx, bottom + dy];

/** @type {(box: number[]) => number[]} */
export const middle = ([left, top, right, bottom]) => [(left + right) / 2, (top + bottom) / 2];

export const overlap = (a, b) => a[0] <= b[2] && a[2] >= b[0] && a[1] <= b[3] && a[3] >= b[1];

export const within = (a, b) => a[0] >= b[0] && a[1] >= b[1] && a[2] <= b[2] && a[3] <= b[3];

// A point under an affine map [a b c d e f].
/** @type {(map: number[], point: number[]) => number[]} */
export const apply = ([a, b, c, d, e, f], [x, y]) => [a * x + c * y + e, b * x + d * y + f];

// A point brought back through a map.
/** @type {(map: number[], point: number[]) => number[]} */
export const unapply = ([a, b, c, d, e, f], [x, y]) => {
  const scale = a * d - b * c;
  return [(d * (x - e) - c * (y - f)) / scale, (a * (y - f) - b * (x - e)) / scale];
};

export const distance = (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]);

// The nine points of a box by the names that edits use.
export const REFERENCES = {
  "top-left": [0, 0], top: [0.5, 0], "top-right": [1, 0], left: [0, 0.5], middle: [0.5, 0.5], right: [1, 0.5],
  "bottom-left": [0, 1], bottom: [0.5, 1], "bottom-right": [1, 1],
};

/** @type {(box: number[], name: string) => number[]} */
export const pointOf = ([left, top, right, bottom], name) => {
  const [across, down] = REFERENCES[name] ?? [0.5, 0.5];
  return [left + (right - left) * across, top + (bottom - top) * down];
};
