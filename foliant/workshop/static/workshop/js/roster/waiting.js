// A list that was pasted for a starter waits, while its project opens, for the page of that.

const KEY = "foliant-list";

export const keepList = (list) => sessionStorage.setItem(KEY, JSON.stringify(list));

// The list for a project, once; null where none waits.
export function takeList(project) {
  const found = JSON.parse(sessionStorage.getItem(KEY) ?? "null");
  if (found?.project !== project) return null;
  sessionStorage.removeItem(KEY);
  return found;
}
