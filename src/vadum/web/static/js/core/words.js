// A word that something was done, which no reading proves: without a line it waits in this browser, with its time, like
// a reading. Only who said it sends it, from whatever page is open.
import { ask } from "./asking.js";
import * as store from "./store.js";
import { hour } from "./zone.js";

const RETRY_MS = 6000;
const CHANGED = "vadum-words", tabs = new BroadcastChannel(CHANGED);
const who = document.body.dataset.who ?? "";
const ofTest = (test) => `${String(test).padStart(9, "0")}.`;

tabs.onmessage = () => dispatchEvent(new Event(CHANGED));
function changed() {
  dispatchEvent(new Event(CHANGED));
  tabs.postMessage("");
}

export const addressOf = ({ test, operation }) => `/api/tests/${test}/operations/${operation}`;
const kept = () => store.all("words").then((all) => all.filter((word) => word.who === who), () => []);

// Returns whether this browser keeps it: a private window may not.
async function keep(word) {
  try {
    await store.put("words", { ...word, who, key: `${ofTest(word.test)}${word.operation}.${who}` });
  } catch {
    return false;
  }
  changed();
  later();
  return true;
}
async function drop(word) {
  await store.remove("words", word.key);
  changed();
  return true;
}

let timer = null;
function later() {
  clearTimeout(timer);
  timer = setTimeout(send, RETRY_MS);
}
// What is done may follow from readings that wait as well: they go first.
const behind = async (word) =>
  (await store.all("waiting", ofTest(word.test))).some((item) => !item.aside && item.who === who);

// Returns whether it need not wait any longer.
async function sendOne(word) {
  if (await behind(word)) return false;
  const { ok, status, answer } = await ask(addressOf(word), { at: word.at });
  if (!ok && (!status || status === 401 || status >= 500)) return false;
  const now = await store.get("words", word.key);
  // Put right or dropped meanwhile.
  if (now?.at !== word.at) return false;
  if (ok) await store.remove("words", word.key);
  else await store.put("words", { ...word, refused: answer.message });
  changed();
  return true;
}
async function sendAll() {
  let waits = false;
  for (const word of await kept()) {
    if (!word.refused && !(await sendOne(word))) waits = true;
  }
  if (waits) later();
}
function send() {
  const alone = { ifAvailable: true };
  return navigator.locks?.request(CHANGED, alone, (lock) => lock ? sendAll() : later()) ?? sendAll();
}
addEventListener("online", send);
// A page that opens has more urgent things to do.
addEventListener("load", send);

// What a page shows of it; `after` hears of every change.
export const words = {
  words: [],

  openWords(after) {
    const look = async () => {
      this.words = await kept();
    };
    addEventListener(CHANGED, async () => {
      await look();
      after();
    });
    return look();
  },
  // The word on an operation that waits, undefined where none does.
  waits(test, operation) {
    return this.words.find((word) => word.test === test && word.operation === operation && !word.refused);
  },
  keepWord: keep,
  dropWord: drop,
  sayAgain({ refused: _, ...word }) {
    keep(word).then(send);
  },
  wordSays(word) {
    return word.refused ? "Not taken:" : "Kept here until there is a line:";
  },
  wordIs(word) {
    return `${word.what}, done at ${hour(word.at)}.`;
  },
};
