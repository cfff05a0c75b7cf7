// Stands between the pages and the line. With a line the server is asked and what it says is kept; without one, what
// this device took along or looked at lately is shown.
const PACK = "vadum-pack", LATELY = "vadum-lately", FILES = "vadum-files";
const MOST_LATELY = 40, MOST_RELEASES = 3;
const NO_LINE = "/no-line";
// What a proxy or a starting server answers is no page.
const LINE_DOWN = [502, 503, 504];
const OF_A_TEST = /^\/tests\/\d+(\/run)?$/;
const A_FILE = /^\/files\/(\w+)\//;

self.addEventListener("install", (event) => {
  event.waitUntil(
    caches.open(FILES).then((cache) => cache.add(NO_LINE)).catch(() => {/* taken with the first page */}),
  );
  self.skipWaiting();
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event, { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request, pathname));
  else if (A_FILE.test(pathname)) event.respondWith(file(request));
});

async function asked(request) {
  const reply = await fetch(request);
  if (LINE_DOWN.includes(reply.status)) throw new Error(`answered ${reply.status}`);
  return reply;
}

async function page(request, pathname) {
  try {
    const reply = await asked(request);
    if (reply.ok && !reply.redirected) await keepPage(request, pathname, reply.clone());
    return reply;
  } catch {
    const kept = await caches.match(request) ?? await caches.match(request, { ignoreSearch: true });
    return kept ?? await caches.match(NO_LINE) ?? Response.error();
  }
}

async function keepPage(request, pathname, reply) {
  const pack = await caches.open(PACK);
  if (await pack.match(request)) return pack.put(request, reply);
  if (!OF_A_TEST.test(pathname) && pathname !== "/with-me") return;
  const lately = await caches.open(LATELY);
  await lately.put(request, reply);
  const keys = await lately.keys();
  await Promise.all(keys.slice(0, Math.max(0, keys.length - MOST_LATELY)).map((key) => lately.delete(key)));
}

// A file's name tells its release, so that a kept one is the right one.
async function file(request) {
  const kept = await caches.match(request);
  if (kept) return kept;
  const reply = await asked(request);
  // No room for it is said when something is taken along.
  if (reply.ok) keepFile(request, reply.clone()).catch(() => {});
  return reply;
}

async function keepFile(request, reply) {
  const cache = await caches.open(FILES), release = ({ url }) => A_FILE.exec(new URL(url).pathname)?.[1];
  const before = new Set((await cache.keys()).map(release).filter(Boolean));
  await cache.put(request, reply);
  if (before.has(release(request))) return;
  await cache.add(NO_LINE);
  const old = [...before].slice(0, Math.max(0, before.size + 1 - MOST_RELEASES));
  const gone = (await cache.keys()).filter((key) => old.includes(release(key)));
  await Promise.all(gone.map((key) => cache.delete(key)));
}
