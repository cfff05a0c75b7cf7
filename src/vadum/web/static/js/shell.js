// What every page has: the list of keys, the role chosen without a second click, what the device keeps of it.
import "./core/back.js";
import { hindrance, take } from "./core/pack.js";
import "./core/sending.js";
import "./core/words.js";

document.addEventListener("keydown", (event) => {
  const typing = event.target.closest?.("input, select, textarea");
  if (event.key === "?" && !typing) document.querySelector("dialog.keys")?.showModal();
});
document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-keys]")) document.querySelector("dialog.keys")?.showModal();
});
document.querySelector("[data-role-choice]")?.addEventListener("change", (event) => event.target.form.submit());

// A list is narrowed to the lines that hold every word, whatever its capitals and accents.
const plain = (text) => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
function narrow(field) {
  const words = plain(field.value).split(/\s+/).filter(Boolean);
  for (const line of document.querySelectorAll(`${field.dataset.narrows} tbody tr`)) {
    line.hidden = !words.every((word) => plain(line.textContent).includes(word));
  }
}
// What was asked for stays with the page in the browser's history, and narrows again when it is brought back.
document.addEventListener("input", ({ target }) => {
  const { narrows } = target.dataset ?? {};
  if (!narrows) return;
  history.replaceState({ ...history.state, [narrows]: target.value }, "");
  narrow(target);
});
addEventListener("pageshow", () => {
  for (const field of document.querySelectorAll("[data-narrows]")) {
    field.value = history.state?.[field.dataset.narrows] ?? field.value;
    narrow(field);
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
