// What hands do comes in order. An act that opens a value, or chooses what it makes, may wait for the server; the keys
// and the acts that come meanwhile wait here, and then go on as if the page had been ready for them: between an act
// and its value no key is a command. An act never waits for another act.

const waiting = []; // keys and acts, as they came
let acting = false;
let pressing = false; // a key that has waited
let leaving = false; // a field that an act finds open

// Do `work` once all before it is done. Where it comes to nothing (null, false or an error), the keys meant for it go.
// What follows from what was just done, or from a key that has waited, comes before the keys that came later. Where the
// act opens a field, as `types` says, letters that come by no key of their own are caught until then.
export function act(work, { follows = pressing || leaving, types = false } = {}) {
  if (types) letters.catch();
  return new Promise((resolve, reject) => {
    waiting[follows ? "unshift" : "push"]({ work, resolve, reject, at: document.activeElement });
    next();
  });
}

export const busy = () => acting || waiting.length > 0;

// A key that could not be understood yet comes again, before all that wait.
export function again(event) {
  waiting.unshift(pressed(event));
}

function next() {
  while (!acting && !pressing && waiting.length) {
    const first = waiting.shift();
    if (first.work && hasOpened(first)) leave(first);
    else if (first.work) run(first);
    else {
      pressing = true;
      press(first);
      pressing = false;
    }
  }
  if (!busy()) letters.leave();
  document.body.dataset.hands = busy() ? "busy" : "free";
}

// A press elsewhere leaves a value that was about to open when it was made.
const hasOpened = ({ at }) => document.activeElement !== at && document.activeElement?.matches(".editing :is(input, textarea)");

function leave(first) {
  waiting.unshift({ ...first, at: document.activeElement });
  leaving = true;
  document.activeElement.blur();
  leaving = false;
}

async function run({ work, resolve, reject }) {
  acting = true;
  try {
    const done = await work();
    if (done === null || done === false) forget();
    resolve(done);
  } catch (problem) {
    forget();
    reject(problem);
  } finally {
    acting = false;
    next();
  }
}

function forget() {
  while (waiting.length && !waiting[0].work) waiting.shift();
}

// What has the focus, or has it again once no letters are caught.
export const focused = () => [letters.caught ? letters.before : document.activeElement].find((at) => at?.isConnected) ?? document.body;

// Letters of an input method, and those that begin with a dead key, come to a field only: while none has the focus and
// keys wait, one that nobody sees has it.
const letters = {
  field: Object.assign(document.createElement("input"), { className: "typed-ahead", tabIndex: -1, ariaLabel: "Typed ahead" }),
  before: null,

  get caught() {
    return document.activeElement === this.field;
  },
  catch() {
    if (document.activeElement?.matches("input, textarea")) return;
    this.before = document.activeElement;
    document.body.append(this.field);
    this.field.focus({ preventScroll: true });
  },
  leave() {
    const back = this.caught && this.before.isConnected;
    this.field.remove();
    if (back) this.before.focus({ preventScroll: true });
  },
};

const wait = (keys) => waiting.push(...keys);

letters.field.addEventListener("compositionend", ({ data }) => wait(Array.from(data, (key) => ({ key }))));

window.addEventListener(
  "beforeinput",
  (event) => {
    if (!event.isTrusted || !busy() || event.isComposing || event.inputType !== "insertText") return;
    event.preventDefault();
    wait(Array.from(event.data ?? "", (key) => ({ key })));
  },
  true,
);

next();

const NAMED = /^(Enter|Tab|Escape|Backspace|Delete|Home|End|Arrow.*|Page.*)$/;
const pressed = ({ key, shiftKey, ctrlKey, metaKey }) => ({ key, shiftKey, ctrlKey, metaKey });

// The browser keeps its own: copying, pasting, reloading.
export const ours = ({ key, ctrlKey, metaKey, altKey }) =>
  !altKey && (ctrlKey || metaKey ? /^([adgkyz<>]|Enter|Delete)$/i.test(key) : key.length === 1 || NAMED.test(key));

// What is pasted meanwhile waits like keys do.
window.addEventListener(
  "paste",
  (event) => {
    if (!event.isTrusted || !busy()) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    wait([{ pasted: event.clipboardData.getData("text/plain") }]);
  },
  true,
);

function paste(at, text) {
  const clipboardData = new DataTransfer();
  clipboardData.setData("text/plain", text);
  const free = at.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  if (!free || !at.matches("input:not([type=checkbox]), textarea")) return;
  at.setRangeText(at.matches("input") ? text.replace(/\s*\n\s*/g, " ") : text, at.selectionStart, at.selectionEnd, "end");
  at.dispatchEvent(new Event("input", { bubbles: true }));
}

window.addEventListener(
  "keydown",
  (event) => {
    if (!event.isTrusted || !busy() || !ours(event)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    letters.catch();
    wait([pressed(event)]);
  },
  true,
);

// A key that has waited does what it does by itself, to what has the focus.
function press(keys) {
  const at = focused();
  if ("pasted" in keys) {
    paste(at, keys.pasted);
    return;
  }
  const free = at.dispatchEvent(new KeyboardEvent("keydown", { ...keys, bubbles: true, cancelable: true }));
  const { key, shiftKey, ctrlKey, metaKey } = keys;
  if (!free || ctrlKey || metaKey) return;
  if (key === "Tab") step(at, shiftKey ? -1 : 1);
  else if (at.matches("input:not([type=checkbox]), textarea")) type(at, key);
  else if (key === "Enter" || key === " ") at.click();
}

function type(field, key) {
  if (key === "Enter") {
    field.form?.requestSubmit();
    return;
  }
  const [from, to] = [field.selectionStart, field.selectionEnd];
  if (key.length === 1) field.setRangeText(key, from, to, "end");
  else if (key === "Backspace") field.setRangeText("", from === to ? Math.max(0, from - 1) : from, to, "end");
  else return;
  field.dispatchEvent(new Event("input", { bubbles: true }));
}

function step(at, way) {
  const stops = [...document.querySelectorAll("a[href], button, input, select, textarea")].filter((one) => !one.disabled && one.offsetParent);
  stops[stops.indexOf(at) + way]?.focus();
}
