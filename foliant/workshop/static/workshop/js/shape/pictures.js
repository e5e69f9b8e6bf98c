// Bringing pictures: chosen, dropped on the drawing, or pasted.

import { send } from "../api.js";

// Every picture among some files is put on, one after the other; the width of the last is typed next.
export async function bring(station, { project, toasts }, files) {
  let part = null;
  for (const file of files) {
    toasts.say(`${file.name} is being looked at…`, { seconds: 4 });
    const form = new FormData();
    form.append("file", file);
    const found = await send("/pictures", form).catch((problem) => project.complain(problem) ?? null);
    if (found) part = await station.putOn({ kind: "picture", values: { picture: found.key, name: found.name } });
  }
  return part && station.openValue(`part ${part.id}`, "width");
}
