// What every run mode of one test shares: the view, the queue of what was read, and what the page says of both.
import { aside } from "../core/aside.js";
import { SaveQueue } from "../core/savequeue.js";

const shared = {
  ...aside,
  waiting: 0,
  offline: false,
  refused: "",

  // Reads what came with the page and opens the queue; `stays` says what waits here when somebody else was faster.
  openQueue({ saved, stays = "your readings are kept here" } = {}) {
    this.queue = new SaveQueue(this.view.test, this.view.revision, {
      onSaved: (answer) => {
        this.view = { ...this.view, ...answer };
        this.refused = "";
        saved?.();
      },
      onConflict: (c) => {
        this.refused = `${c.who} changed this sheet in between. Open the worksheet to choose; ${stays}.`;
      },
      onRefused: (answer, item) => {
        if (!item.aside) this.refused = answer.message;
      },
      onState: (waiting, offline, kept) => Object.assign(this, { waiting, offline, ...kept }),
    });
  },
  // Cells that wait for the line, by path: they count as taken, or the next reading would take their place.
  queued() {
    return Object.assign({}, ...this.queue.items.map((item) => item.cells ?? {}));
  },
  get kept() {
    if (this.offline) return `${this.waiting} waiting for the line`;
    if (this.waiting) return "saving";
    return this.aside.length ? `${this.aside.length} not taken` : "saved";
  },
  get headline() {
    const h = this.view.verdict.headline;
    return h ? `${h.symbol} ${h.text} ${h.unit}` : "Next";
  },
};

// A run mode is what all share, and its own on top.
export const runMode = (own) => {
  const view = JSON.parse(document.getElementById("first-view").textContent);
  return Object.defineProperties({ view }, {
    ...Object.getOwnPropertyDescriptors(shared),
    ...Object.getOwnPropertyDescriptors(own),
  });
};
