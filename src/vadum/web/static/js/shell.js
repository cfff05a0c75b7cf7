// What every page has: the list of keys, the role chosen without a second click, what the device keeps of it.
import { hindrance, take } from "./core/pack.js";

document.addEventListener("keydown", (event) => {
  const typing = event.target.closest?.("input, select, textarea");
  if (event.key === "?" && !typing) document.querySelector("dialog.keys")?.showModal();
});
document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-keys]")) document.querySelector("dialog.keys")?.showModal();
});
document.querySelector("[data-role-choice]")?.addEventListener("change", (event) => event.target.form.submit());

// A form that is on its way is not sent again: on a slow line a second press would make a second test. It may be once
// the page stands again, or when the line has let it wait for long.
const PATIENCE_MS = 20_000;
const sent = new Map();
document.addEventListener("submit", (event) => {
  const form = event.target;
  // Asked of the attribute: a control of the form may be called "method".
  if (event.defaultPrevented || form.getAttribute("method") !== "post") return;
  if (performance.now() - (sent.get(form) ?? -Infinity) < PATIENCE_MS) event.preventDefault();
  else sent.set(form, performance.now());
});
addEventListener("pageshow", () => sent.clear());

// A list is narrowed to the lines that hold every word, whatever its capitals and accents.
const plain = (text) => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
document.addEventListener("input", (event) => {
  const list = event.target.dataset?.narrows && document.querySelector(event.target.dataset.narrows);
  if (!list) return;
  const words = plain(event.target.value).split(/\s+/).filter(Boolean);
  for (const line of list.querySelectorAll("tbody tr")) {
    line.hidden = !words.every((word) => plain(line.textContent).includes(word));
  }
});

navigator.serviceWorker?.register("/worker.js").catch(() => {/* said where something is taken along */});
document.addEventListener("click", async (event) => {
  const key = event.target.closest?.("[data-take]");
  if (!key) return;
  const says = key.parentElement.querySelector("[data-taking]"), cannot = hindrance();
  key.disabled = true;
  try {
    if (cannot) throw new Error(cannot);
    const tests = await take(key.dataset.take, (done, whole) => {
      says.textContent = `${done} of ${whole}`;
    });
    says.textContent = `${tests} ${tests === 1 ? "test is" : "tests are"} on this device.`;
  } catch (error) {
    says.textContent = error.name === "QuotaExceededError"
      ? "This device has no room for it; nothing is lost. Leave something here first."
      : error.message;
  }
  key.disabled = false;
});

// Whoever was signed out while working signs in again beside the page; what is typed waits in it.
addEventListener("vadum-signed-out", () => {
  document.querySelector("[data-signed-out]").hidden = false;
});
addEventListener("vadum-signed-in", () => {
  document.querySelector("[data-signed-out]").hidden = true;
});

// The walk through the laboratory: the card points at a part of the page; once begun or declined it is not offered
// again.
const WALKED = "vadum-walked";
const card = document.querySelector("[data-tour]"), offer = document.querySelector("[data-walk]");
if (card) {
  localStorage.setItem(WALKED, "yes");
  const meant = document.querySelector(card.dataset.tour);
  meant?.classList.add("tour-meant");
  if (meant && meant.getBoundingClientRect().top > innerHeight / 2) meant.scrollIntoView();
} else if (offer && !localStorage.getItem(WALKED)) {
  offer.hidden = false;
  offer.addEventListener("click", (event) => {
    if (!event.target.closest("a, button")) return;
    localStorage.setItem(WALKED, "yes");
    offer.hidden = true;
  });
}
