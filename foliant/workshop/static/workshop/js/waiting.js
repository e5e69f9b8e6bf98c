// A station that takes a while to work out: how long it has taken, and the page itself once it can be had.

import { get, giveUp } from "./api.js";

const LOOK_EVERY = 500; // ms

const card = /** @type {HTMLElement} */ (document.querySelector("[data-waits]"));
const says = /** @type {HTMLElement} */ (card.querySelector("[role=status]"));
const button = /** @type {HTMLElement} */ (card.querySelector("button[type=button]"));
button.addEventListener("click", giveUp);

let waits = true;
const timer = setInterval(async () => {
  const { seconds } = await get("/computing").catch(() => ({ seconds: 0 }));
  if (seconds && waits) says.textContent = `Working it out, ${Math.ceil(seconds)} s`;
}, LOOK_EVERY);

try {
  await get(card.dataset.waits);
  const here = new URL(window.location.href);
  here.searchParams.set("opened", ""); // whatever became of it meanwhile, it is not waited for twice
  window.location.replace(here);
} catch (problem) {
  waits = false;
  clearInterval(timer);
  says.textContent = problem.message;
  button.textContent = "Try again";
  button.classList.add("button-main");
  button.addEventListener("click", () => window.location.reload());
}
