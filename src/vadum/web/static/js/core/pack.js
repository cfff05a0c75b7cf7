// What this device takes along: pages and files of some tests, in the browser's own cache, listed under one name each.
import { heard } from "./clock.js";

const PACK = "vadum-pack", FILES = "vadum-files", LIST = "vadum.packs", WHOSE = "vadum.device";
const AT_ONCE = 6;

export const packs = () => JSON.parse(localStorage.getItem(LIST) ?? "[]");
const keepList = (list) => localStorage.setItem(LIST, JSON.stringify(list));

// Why this device cannot take anything along; "" when it can.
export function hindrance() {
  if (!("caches" in globalThis) || !navigator.serviceWorker) {
    return globalThis.isSecureContext
      ? "This browser keeps no pages (a private window?). Readings typed in a page that stays open are kept."
      : "Pages are only kept on a device when the address begins with https. Readings typed in an open page are kept.";
  }
  return "";
}

async function fill(cache, addresses, tell) {
  const left = [...addresses];
  const worker = async () => {
    for (let address = left.shift(); address; address = left.shift()) {
      const reply = await fetch(address);
      if (!reply.ok || reply.redirected) throw new Error(`${address} was answered with ${reply.status}`);
      await cache.put(address, reply);
      tell();
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
}

// Takes along what `query` asks for; `tell` hears how far it is.
export async function take(query, tell = () => {}) {
  const reply = await fetch(`/api/pack?${query}`);
  if (!reply.ok) throw new Error((await reply.json()).message);
  const wanted = await reply.json();
  if (!wanted.tests.length) throw new Error("There is no open test here to take along.");
  heard(wanted.serverTime);
  await navigator.storage?.persist?.();
  const pages = wanted.tests.flatMap((t) => t.pages), whole = pages.length + wanted.files.length;
  let done = 0;
  const step = () => tell(done += 1, whole);
  await fill(await caches.open(FILES), wanted.files, step);
  await fill(await caches.open(PACK), [...pages, "/with-me"], step);
  const { title, tests, version } = wanted;
  keepList([...packs().filter((p) => p.query !== query), { query, title, version, at: Date.now(), tests }]);
  return tests.length;
}

export async function leave(query) {
  keepList(packs().filter((p) => p.query !== query));
  const still = new Set(packs().flatMap((p) => p.tests.flatMap((t) => t.pages))), cache = await caches.open(PACK);
  for (const request of await cache.keys()) {
    const { pathname, search } = new URL(request.url);
    if (!still.has(pathname + search) && pathname !== "/with-me") await cache.delete(request);
  }
}

// What one person took along is not shown to the next.
function forgetOthers(who) {
  const before = localStorage.getItem(WHOSE);
  if (!who || before === who) return;
  localStorage.setItem(WHOSE, who);
  if (before === null) return;
  keepList([]);
  globalThis.caches?.keys().then((names) => names.forEach((name) => caches.delete(name)));
}
forgetOthers(document.body.dataset.who);
