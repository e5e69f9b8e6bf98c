// What is seldom done with the roster: another column, and files of it.

const USUAL = ["name", "line", "size"];

export async function addColumn(host, { Alpine, project }) {
  const { columns } = project.roster;
  const name = USUAL.find((one) => !columns.some((column) => column.name === one)) ?? `column ${columns.length + 1}`;
  if (!(await project.try({ do: "add-column", name }))) return null;
  await Alpine.nextTick();
  return (await host.bringGrid()).goTo(0, project.roster.columns.length - 1);
}

// The rows, or the proof of them, as a file.
export async function saveFile({ project, toasts }, what) {
  toasts.say("It is being written…", { seconds: 3 });
  return project.saveFile(`${project.address}/${what}`).catch((problem) => project.complain(problem));
}
