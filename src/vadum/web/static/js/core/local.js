// The local sheet: what every worksheet and run mode is built on. The page is master of its own rows, clock and queue;
// the server's answers confirm and judge.
import { aside } from "./aside.js";
import { BROUGHT_BACK } from "./back.js";
import { setClock } from "./clock.js";
import { remember, remembered, SaveQueue } from "./savequeue.js";
import { frozen, shared } from "./shared.js";
import { grown, number, textsOf } from "./sheet.js";

// What the server said with the page.
export function firstView() {
  const view = JSON.parse(document.getElementById("first-view").textContent);
  Object.values(view).forEach(frozen);
  return view;
}

// What waits counts as set, or the page would show the old choice until the server has answered.
function apply(view, items) {
  for (const { settings, uses, bindings } of items) {
    if (settings) view.settings = view.settings.map((s) => ({ ...s, value: settings[s.name] ?? s.value }));
    if (uses) Object.assign(view, { uses, proposed: false });
    if (bindings) view.bindings = bindings;
  }
}

// What the page says of what waits. It says “saved” only once it has looked what an earlier page left in this browser.
export function keptWord({ looked, offline, waiting, aside: refused }) {
  if (!looked) return "opening";
  if (offline) return waiting ? `${waiting} waiting for the line` : "no line";
  if (waiting) return waiting > 1 ? `saving ${waiting}` : "saving";
  return refused.length ? `${refused.length} not taken` : "saved";
}

export const local = {
  ...aside,
  drafts: {},
  held: {},
  texts: {},
  looked: false,
  waiting: 0,
  offline: false,
  refused: "",

  // `saved` hears of every acknowledged change, `refused` of what the server did not take, `conflict` of a stale one.
  openSheet({ saved, conflict, refused, elsewhere } = {}) {
    setClock(this.view);
    this.lay();
    this.queue = new SaveQueue(this.view.test, this.view.revision, {
      onSaved: (answer, item) => {
        this.refused = "";
        this.accept(answer);
        remember(this.view);
        saved?.(answer, item);
      },
      onConflict: conflict,
      onRefused: (answer, item) => refused ? refused(answer, item) : this.refuse(answer, item),
      onElsewhere: () => elsewhere ? elsewhere() : this.reload(),
      onState: (state) => {
        Object.assign(this, state);
        this.lay();
      },
    });
    addEventListener(BROUGHT_BACK, (event) => {
      event.preventDefault();
      this.reload();
    });
    return this.restore();
  },
  // What was typed before a reload, and what the server had said by then: the page itself may be an older copy.
  async restore() {
    await this.queue.open();
    this.looked = true;
    const kept = await remembered(this.view.test);
    if ((kept?.revision ?? 0) <= this.view.revision) return;
    this.accept(kept);
    this.queue.revision = kept.revision;
    await this.reload();
  },
  refuse(answer, item) {
    if (!item.aside) this.refused = answer.message;
  },

  get written() {
    return { ...this.held, ...this.drafts };
  },
  text(path) {
    return this.texts[path] ?? "";
  },
  number(path) {
    return number(this.text(path));
  },
  accept(answer) {
    const before = Alpine.raw(this.view), view = { ...before, ...answer };
    apply(view, this.queue.items);
    this.lay(shared(before, view));
  },
  // Lays what was written over what the server has. Each part of the view is replaced as a whole and never changed in
  // place, so that nothing watches what is in it; and only the parts that are others, so that what hangs on the rest is
  // not looked through again: of a row that is begun all but the tables stays.
  lay(view = Alpine.raw(this.view)) {
    const { written } = this, laid = grown(view, written, document.activeElement?.dataset.path);
    this.texts = textsOf(view, written);
    const shown = Alpine.raw(this.view);
    for (const key in laid) if (laid[key] !== shown[key]) this.view[key] = frozen(laid[key]);
  },
  async reload() {
    try {
      const reply = await fetch(`/api/tests/${this.view.test}/sheet`);
      if (!reply.ok) return;
      const answer = await reply.json();
      if (answer.revision < this.view.revision) return;
      this.accept(answer);
      if (!this.queue.items.length) this.queue.revision = this.view.revision;
    } catch { /* without the line the page goes on with what it has */ }
  },

  // What the strip says was judged before the line was lost.
  get asOf() {
    return this.offline ? `as of ${new Date(this.view.serverTime).toTimeString().slice(0, 5)}` : "";
  },
  get lineClass() {
    return this.offline ? "off" : "";
  },
  // The server's own words are greyed while they may have been overtaken; what the page says itself is not.
  saysItself: false,
  get staleClass() {
    return this.offline ? `off ${this.saysItself ? "" : "stale"}` : "";
  },
  get kept() {
    return keptWord(this);
  },
};
