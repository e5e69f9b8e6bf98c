// Asking the server: JSON in, JSON out, problems as sentences.

export const AGAIN_AFTER = 1000; // ms, until what there was no room for is asked for again
const MOST_TRIES = 60;
let givenUp = 0; // how often what is waited for was given up

export class Problem extends Error {
  constructor(message, status, data) {
    super(message);
    this.status = status;
    this.data = data;
  }
}

function token() {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]*)/)?.[1] ?? "";
}

export function ask(method, address, body, patient = true) {
  const sent = body === undefined ? undefined : JSON.stringify(body);
  const headers = { "Content-Type": "application/json" };
  // A change arrives even if the page is left meanwhile; browsers allow that for small ones only.
  return fetched(address, { method, headers, keepalive: method !== "GET" && (sent?.length ?? 0) < 30_000, body: sent }, patient);
}

const fetched = async (address, options, patient) => (await answered(address, options, patient)).json().catch(() => ({}));

async function answered(address, options = {}, patient = true) {
  const mine = givenUp;
  let response;
  // While there is no room to work it out, it is asked for again, until whoever waits gives it up.
  for (let tries = 0; !tries || (response.status === 429 && patient && mine === givenUp && tries < MOST_TRIES); tries += 1) {
    if (tries) await new Promise((resolve) => setTimeout(resolve, AGAIN_AFTER));
    try {
      response = await fetch(`/api${address}`, { ...options, headers: { ...options.headers, "X-CSRFToken": token() } });
    } catch {
      throw new Problem("Foliant cannot be reached just now, so nothing was saved. Try again in a moment.", 0);
    }
  }
  if (response.ok) return response;
  if (response.status === 401) window.location.assign("/enter/");
  const data = await response.json().catch(() => ({}));
  const said = data.message ?? data.detail ?? `The server answered with ${response.status}. Nothing was changed.`;
  throw new Problem(String(said), response.status, data);
}

export function giveUp() {
  givenUp += 1;
  return ask("DELETE", "/computing").catch(() => {});
}

export const get = (address) => ask("GET", address);
export const send = (address, form, signal) => fetched(address, { method: "POST", body: form, signal });
export const post = (address, body = {}) => ask("POST", address, body);
// What is of no use later, as a newer wish has come by then.
export const postOnce = (address, body) => ask("POST", address, body, false);

// Save a file that the server makes; where it cannot, its sentence is the problem.
export async function save(address) {
  const response = await answered(address);
  const name = response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? "";
  const link = Object.assign(document.createElement("a"), { href: URL.createObjectURL(await response.blob()), download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

// A file that a link names is saved so too: it waits for room like all else that is asked, and says why it cannot be.
export function savesFiles(complain, saving = save) {
  document.addEventListener("click", (event) => {
    const link = /** @type {Element} */ (event.target).closest("a[download][href^='/api/']");
    if (!link) return;
    event.preventDefault();
    saving(link.getAttribute("href").slice("/api".length)).catch(complain);
  });
}

export const getPacked = async (address) => new Float32Array(await (await answered(address)).arrayBuffer());
