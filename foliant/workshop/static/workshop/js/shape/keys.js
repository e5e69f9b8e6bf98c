// Keys, as a KeyboardEvent tells them and as they are printed.

const NAMES = {
  ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓", Delete: "Del", Backspace: "⌫", Escape: "Esc", Insert: "Ins",
  PageUp: "PgUp", PageDown: "PgDn",
};

// A key as it is printed: "Ctrl+Shift+g" gives ["Ctrl", "Shift", "G"].
export const keyCaps = (key) => (key === "+" ? ["+"] : key.split("+").map((cap) => NAMES[cap] ?? (cap.length === 1 ? cap.toUpperCase() : cap)));

export function keyOf(event) {
  const command = event.ctrlKey || event.metaKey ? "Ctrl+" : "";
  const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const shift = event.shiftKey && (letter.length > 1 || letter !== letter.toUpperCase()) ? "Shift+" : "";
  return command + shift + letter;
}
