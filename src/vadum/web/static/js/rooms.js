// How much waits in each room, on its door: asked after the page stands, and not again within a minute; of who sees
// some projects only it is another number.
const KEPT = `vadum-waits ${document.body.dataset.who}`, FRESH_MS = 60000;

const kept = () => {
  const found = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
  return found && Date.now() - found.at < FRESH_MS ? found.waits : null;
};
const ask = async () => {
  const reply = await fetch("/api/rooms");
  if (!reply.ok) return {};
  const waits = await reply.json();
  sessionStorage.setItem(KEPT, JSON.stringify({ at: Date.now(), waits }));
  return waits;
};
const write = (waits) => {
  for (const door of document.querySelectorAll("[data-waits]")) {
    const count = waits[door.dataset.waits] ?? 0;
    door.hidden = !count;
    door.querySelector("b").textContent = count;
  }
};

if (document.querySelector("[data-waits]")) {
  const waits = kept();
  if (waits) write(waits);
  else ask().then(write, () => {/* without a line the doors stand without a number */});
}

// On a phone the doors are moved sideways: the one that is open stands in sight. The page itself is not moved, as it
// would be by bringing the door into view.
const open = document.querySelector(".doors [aria-current]"), row = open?.parentElement;
if (row) row.scrollLeft += Math.max(0, open.getBoundingClientRect().right - row.getBoundingClientRect().right + 14);
