// Playing a toolpath: rows of x, y, time and kind (-1 for travel), up to a moment on the job's clock.

export const ROW = 4;

// The index of the first row that ends after `seconds`.
export function rowAt(rows, seconds) {
  let low = 0;
  let high = rows.length / ROW;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (rows[middle * ROW + 2] <= seconds) low = middle + 1;
    else high = middle;
  }
  return low;
}

// Where the tool is at a moment: [x, y, kind].
export function toolAt(rows, seconds) {
  const count = rows.length / ROW;
  if (!count) return null;
  const row = Math.min(rowAt(rows, seconds), count - 1);
  if (row === 0) return [rows[0], rows[1], -1];
  const [a, b] = [(row - 1) * ROW, row * ROW];
  const span = rows[b + 2] - rows[a + 2];
  const share = span > 0 ? Math.min(1, Math.max(0, (seconds - rows[a + 2]) / span)) : 1;
  return [rows[a] + (rows[b] - rows[a]) * share, rows[a + 1] + (rows[b + 1] - rows[a + 1]) * share, rows[b + 3]];
}

// Path data of everything done until a moment, one string for travel and one for each kind of work.
export function doneUntil(rows, seconds) {
  const out = new Map();
  const tool = toolAt(rows, seconds);
  if (!tool) return out;
  const last = rowAt(rows, seconds);
  let open = null;
  const add = (kind, x0, y0, x1, y1) => {
    if (!out.has(kind)) out.set(kind, []);
    const list = out.get(kind);
    list.push(open === kind ? `L${x1.toFixed(2)} ${y1.toFixed(2)}` : `M${x0.toFixed(2)} ${y0.toFixed(2)}L${x1.toFixed(2)} ${y1.toFixed(2)}`);
    open = kind;
  };
  const count = rows.length / ROW;
  for (let row = 1; row < last && row < count; row += 1) {
    const [a, b] = [(row - 1) * ROW, row * ROW];
    add(rows[b + 3], rows[a], rows[a + 1], rows[b], rows[b + 1]);
  }
  if (last > 0 && last < count) add(tool[2], rows[(last - 1) * ROW], rows[(last - 1) * ROW + 1], tool[0], tool[1]);
  return new Map([...out].map(([kind, parts]) => [kind, parts.join("")]));
}

export function clock(seconds) {
  const whole = Math.round(seconds);
  const minutes = Math.floor(whole / 60);
  const rest = String(whole % 60).padStart(2, "0");
  return minutes < 60 ? `${minutes}:${rest}` : `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}:${rest}`;
}
