// What the boxes to find something in hold: the points that parts can be put on, and every command.

import { said } from "../lengths.js";
import { keyCaps } from "./keys.js";

// Put what is chosen on a point, chosen by its name.
export async function points(station, project) {
  await station.fetchSnaps();
  const own = new Set(station.chosen);
  const place = ([x, y]) => ({ do: "place-parts", piece: station.piece, parts: station.chosen, x, y });
  const list = station.snaps.points
    .filter((point) => !own.has(point[3]) && !own.has(point[4]))
    .map((point) => ({
      text: point[2],
      caps: [said(point[0], project.unit), said(point[1], project.unit)],
      preview: () => project.tryOut(place(point)),
      run: async () => {
        if (await project.try(place(point))) {
          station.snappedTo = { part: point[3], chosen: station.chosen.join() };
          station.status = `On: ${point[2]}`;
        }
      },
    }));
  const name = station.chosenParts[0]?.label ?? "";
  return {
    label: station.chosen.length > 1 ? "Put what is chosen on a point" : `Put ${name} on a point`,
    hint: "Say where: upper left corner, middle…",
    items: { list, leave: () => project.endTryOut() },
    empty: list.length ? "No point is called that." : "There is no other part to put it on.",
  };
}

export async function everyCommand(station) {
  await station.outliner(); // it brings the commands that have no keys
  const list = station.commandList.map((command) => ({
    text: command.name,
    caps: command.keys ? keyCaps(command.keys[0]) : [],
    disabled: !station.can(command),
    run: () => command.run(),
  }));
  return { label: "Any command by its name", hint: "What do you want to do?", items: { list }, empty: "No command is called that." };
}
