// The sentence of an instance that is chosen on the sheet: where it lies, how it is turned, and the array it begins.

import { ends, said } from "../lengths.js";

const WAYS = [
  ["straight", "in line"],
  ["staggered", "staggered"],
  ["turned", "head to tail"],
];

export function lying({ piece, row, number, label, bounds, turn, locked }, { columns, rows, way }, unit, sheet) {
  const [x, y] = bounds.slice(0, 2).map((at) => Math.round(at * 1000) / 1000);
  const named = { piece, row, number, sheet, x, y };
  const of = `instance ${piece} ${row} ${number}`.trim();
  const length = (field, name, at) => ({ of, field, kind: "length", label: name, text: `${said(at, unit)}${ends(unit)}`, raw: `${said(at, unit)}${ends(unit)}`, edit: { do: "place", ...named } });
  const count = (field, name, value) => ({ of, field, kind: "count", label: name, text: String(value), raw: String(value), edit: { do: "array-instances", ...named, columns, rows, way } });
  const angle = { of, field: "to", kind: "angle", label: "How far it is turned", text: `${turn}°`, raw: `${turn}°`, edit: { do: "turn-instance", ...named } };
  const ways = { of, field: "way", kind: "choice", label: "How the array lies", text: WAYS.find(([key]) => key === way)[1], raw: way, choices: WAYS, edit: { do: "array-instances", ...named, columns, rows } };
  return [
    { text: label, style: "name" },
    { text: " lies " },
    length("x", "The place across", x),
    { text: " across and " },
    length("y", "The place down", y),
    { text: " down, turned " },
    angle,
    { text: "; an array from it: " },
    count("columns", "The number across", columns),
    { text: " across, " },
    count("rows", "The number down", rows),
    { text: " down, " },
    ways,
    { text: locked ? "; locked." : "." },
  ];
}
