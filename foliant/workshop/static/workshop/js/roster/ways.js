// The ways in which a value can come from the roster, or no longer: what each says, and its edit.

const ROSTERED = /^(?!operation|column|node|parts)\w+ \w+$/; // what belongs to one part or piece
const MOST = 8; // columns that are offered

export function waysOf(project, bit) {
  const { columns } = project.roster;
  if (!columns.length || !ROSTERED.test(bit.of)) return [];
  const of = `${bit.of} ${bit.field === "role" ? "roles" : bit.field}`;
  if (bit.mine) return [{ says: "as in all rows", edit: { do: "revert-row", row: project.row.id, of } }];
  const tie = (says, text) => ({ says, edit: { do: "tie", of, text } });
  const [{ name }] = columns;
  const more = bit.field === "text" ? [tie(`${name} in capitals`, `{${name} in capitals}`), tie(`first letter of ${name}`, `{first letter of ${name}}`), tie("number of the row", "{number}")] : [];
  if (bit.tie) return [{ says: "no longer from the roster", edit: { do: "untie", of, row: project.row?.id ?? null } }, ...more];
  return [...columns.slice(0, MOST).map((column) => tie(`from the roster: ${column.name}`, `{${column.name}}`)), ...more];
}
