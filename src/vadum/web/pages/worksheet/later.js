// Rows below the first screen stand in the page at once, for the hand and for whoever looks for a cell; they are laid
// out after the first screen has been painted.

const FIRST = 24;
const SOON_MS = 500;
const later = [];

export function layOutAll() {
  for (const body of later.splice(0)) body.hidden = false;
}

// Paper has no first screen.
addEventListener("beforeprint", layOutAll);

// Rows that are new: of a table of hundreds, those that the first screen can show are laid out with it.
export function layOutLater(host, bodies) {
  const above = host.closest("main").querySelectorAll(".grid > tbody").length - bodies.length;
  const below = bodies.slice(Math.max(0, FIRST - above));
  for (const body of below) body.hidden = true;
  if (below.length && later.push(...below) === below.length) {
    requestAnimationFrame(() => requestIdleCallback(layOutAll, { timeout: SOON_MS }));
  }
}
