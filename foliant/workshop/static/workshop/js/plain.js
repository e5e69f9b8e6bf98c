// Marks an object that Alpine should not wrap: it holds DOM elements and changes on every frame.
export function plain(object) {
  return Object.defineProperty(object, "__v_skip", { value: true });
}
