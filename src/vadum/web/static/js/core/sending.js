// Forms are sent once, and only where they can arrive: a browser that finds no line, or a server that asks to sign in
// first, would put another page in place of what was typed.
import { ask, NO_LINE } from "./asking.js";

// On a slow line a second press would make a second test. It may be sent once the page stands again, or when the line
// has let it wait for long.
const PATIENCE_MS = 20_000;
const sent = new Map(), asked = new WeakSet();

// Why a form cannot be sent now, "" where it can; who works here is who signed in when the page was made.
async function hindrance() {
  const { ok, answer } = await ask("/api/clock"), { who } = document.body.dataset;
  const stands = "Nothing was sent, and what you typed stands here.";
  if (answer === NO_LINE) return `The line to the server is down. ${stands} Press again once it is back.`;
  if (!who) return "";
  if (!ok) return `You were signed out. ${stands} Sign in again above, then press once more.`;
  if (answer.who === who) return "";
  const other = `${answer.who} is signed in in this browser now, and this page is ${who}'s.`;
  return `${other} ${stands} Sign in as ${who}, or open the page again.`;
}

// Beside what was pressed, in a line of its own: what lies within one field of a form laid out in a grid goes below it.
const laidOut = (one) => /grid|flex/.test(getComputedStyle(one).display);
function placeOf(form, key) {
  let one = key;
  while (one.parentElement !== form && !laidOut(one.parentElement)) one = one.parentElement;
  return one;
}
function say(form, key, words) {
  const line = form.querySelector("[data-not-sent]") ?? document.createElement("p");
  line.textContent = words;
  if (!words) return;
  line.className = "say-stop";
  line.role = "alert";
  line.dataset.notSent = "";
  if (form.contains(key)) placeOf(form, key).after(line);
  else form.append(line);
}

document.addEventListener("submit", async (event) => {
  const { target: form, submitter } = event;
  // Asked of the attribute: a control of the form may be called "method".
  if (event.defaultPrevented || form.getAttribute("method") !== "post" || asked.delete(form)) return;
  event.preventDefault();
  if (performance.now() - (sent.get(form) ?? -Infinity) < PATIENCE_MS) return;
  sent.set(form, performance.now());
  const why = await hindrance();
  say(form, submitter, why);
  if (why) {
    sent.delete(form);
    return;
  }
  asked.add(form);
  form.requestSubmit(submitter);
});
addEventListener("pageshow", () => sent.clear());
