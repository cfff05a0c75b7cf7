// Sends what waits of one test, in order, until the server has acknowledged it. What the server refuses is set aside
// with its reason, its text kept, and the rest goes on. Only the person who typed a reading sends it.
import { serverNow } from "./clock.js";
import { Outbox } from "./outbox.js";
import { Sent } from "./sent.js";
import * as store from "./store.js";

// A line that is down is tried at longer and longer intervals; the browser's own word that it is back comes first.
const RETRY_MS = 1500, LONGEST_MS = 6000;
const TRIES = 3;
// A line that neither answers nor breaks is as good as none; the save's own key keeps it from counting twice.
const PATIENCE_MS = 20000;
// What a proxy or a starting server answers is no answer to a reading.
const LINE_DOWN = [502, 503, 504];

const PARTS = ["cells", "settings", "logs", "origins"];
// Changes one after the other as a single one, under the key of the first.
const together = (items) => ({
  ...Object.assign({}, ...items),
  ...Object.fromEntries(PARTS.map((part) => [part, Object.assign({}, ...items.map((item) => item[part]))])),
  key: items[0].key,
  base_revision: items[0].base_revision,
});
const byPath = (cells, moved) => Object.fromEntries(Object.entries(cells).map(([path, held]) => [moved(path), held]));

export class SaveQueue {
  constructor(test, revision, { onSaved, onConflict, onRefused, onState, onElsewhere }) {
    this.url = `/api/tests/${test}/save`;
    this.test = test;
    this.revision = revision;
    Object.assign(this, { onSaved, onConflict, onRefused, onState });
    this.busy = false;
    this.stopped = false;
    this.sent = new Sent(test);
    this.failed = 0;
    this.offline = !navigator.onLine;
    this.box = new Outbox(test, {
      onChange: () => this.say(),
      onTrouble: (message) => this.onRefused?.({ message }, {}),
      onSentElsewhere: () => {
        this.offline = this.offline && this.items.length > 0;
        onElsewhere?.();
      },
    });
    addEventListener("online", () => {
      this.offline = this.items.length > 0 && !this.stopped;
      this.failed = 0;
      this.say();
      this.send();
    });
    addEventListener("offline", () => {
      this.offline = true;
      this.say();
    });
  }

  // What waits from before is sent; resolves once the page knows it.
  async open() {
    await this.box.open();
    this.send();
  }

  get items() {
    return this.box.items;
  }
  // The cells that wait, as they were typed last.
  get held() {
    return Object.assign({}, ...this.items.map((item) => item.cells ?? {}));
  }

  say() {
    const { aside, others } = this.box;
    this.onState?.({ waiting: this.items.length, offline: this.offline, held: this.held, aside: [...aside], others });
  }

  add(change) {
    this.box.add({ ...change, base_revision: this.revision, typed_at: new Date(serverNow()).toISOString() });
    this.send();
  }
  forget(item) {
    this.box.forget(item);
  }
  // What was overtaken is asked about again, however long it lay aside.
  retry(item) {
    this.box.retry(item.overtaken ? item : { ...item, base_revision: this.revision });
    this.send();
  }
  // All that waits is set aside as one change.
  overtaken(reason) {
    const [...items] = this.items;
    if (items.length) this.box.setAside({ ...together(items), overtaken: true }, reason);
    for (const item of items.slice(1)) this.box.forget(item);
    this.stopped = false;
  }
  // What waits goes on top of another revision; its cells may have moved.
  rebase(revision, moved = (_, path) => path) {
    this.revision = revision;
    for (const item of this.items) {
      for (const part of ["cells", "origins"]) item[part] &&= byPath(item[part], (path) => moved(item, path));
      Object.assign(item, { base_revision: revision, overtaken: false });
      this.box.keep(item);
    }
    this.stopped = false;
    this.send();
  }

  // One tab sends at a time, where the browser lets tabs agree; elsewhere a save's key keeps it from counting twice.
  async send() {
    if (this.busy || this.stopped || !this.items.length) return;
    this.busy = true;
    try {
      if (navigator.locks) {
        const alone = { ifAvailable: true };
        await navigator.locks.request(`vadum.send.${this.test}`, alone, (lock) => lock ? this.sendAll() : this.later());
      } else await this.sendAll();
    } finally {
      this.busy = false;
    }
    if (this.items.length && !this.offline && !this.stopped) this.later();
  }
  later() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.send(), Math.min(LONGEST_MS, RETRY_MS * 2 ** this.failed));
  }
  async sendAll() {
    while (this.items.length && !this.stopped) {
      if (!(await this.sendOne(this.items[0]))) return;
    }
  }

  async post(item) {
    const { key: _, tab: __, tries: ___, overtaken: ____, who, ...change } = item;
    try {
      const reply = await fetch(this.url, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ ...change, typed_by: who ?? "" }),
        signal: AbortSignal.timeout(PATIENCE_MS),
      });
      return LINE_DOWN.includes(reply.status) ? {} : { reply, answer: await reply.json() };
    } catch {
      return {};
    }
  }

  // Returns whether the next may follow.
  async sendOne(item) {
    this.sent.add(item.save_key);
    const { reply, answer } = await this.post(item);
    if (!answer) return this.wait();
    // Signed out meanwhile, or somebody else signed in: the readings wait for their person as they do for the line.
    if (reply.status === 401 || answer.otherPerson) {
      dispatchEvent(new Event("vadum-signed-out"));
      return this.wait();
    }
    this.offline = false;
    this.failed = 0;
    if (reply.status === 409 && answer.conflict) {
      if (this.sent.all(answer.conflict.keys)) return this.onOwn(answer.conflict.revision);
      this.stopped = true;
      this.onConflict?.(answer.conflict);
      return false;
    }
    const tries = (item.tries ?? 0) + 1;
    if (reply.status >= 500 && tries < TRIES) {
      item.tries = tries;
      this.box.keep(item);
      return this.wait();
    }
    if (reply.ok) this.taken(answer, item);
    else this.refused(answer, item);
    return true;
  }
  wait() {
    this.offline = true;
    this.failed += 1;
    this.say();
    this.later();
    return false;
  }

  taken(answer, item) {
    this.revision = answer.savedAs;
    this.onto(answer.savedAs);
    this.box.forget(item);
    dispatchEvent(new Event("vadum-signed-in"));
    this.onSaved?.(answer, item);
  }
  refused(answer, item) {
    const faults = (answer.faults ?? []).map((f) => `${f.place}: ${f.message}`);
    this.onto(item.base_revision);
    this.onRefused?.(answer, this.box.setAside(item, [answer.message, ...faults].join(" ")));
  }
  // A page may be older than what was sent from it before it was opened again: what waits goes on top of that.
  onOwn(revision) {
    const [first, ...rest] = this.items;
    this.revision = revision;
    for (const item of [first, ...rest.filter((one) => !one.overtaken)]) {
      item.base_revision = revision;
      this.box.keep(item);
    }
    return true;
  }
  // What follows was typed by the same hand on top of this one.
  onto(revision) {
    const [, next] = this.items;
    if (!next || next.overtaken) return;
    next.base_revision = revision;
    this.box.keep(next);
  }
}

// What the server said last of a test: a page that was kept in this browser is older than what was sent from it since.
export const remember = (view) =>
  store.put("states", { test: view.test, view: JSON.parse(JSON.stringify(view)) })
    .catch(() => {/* only a page opened without a line would miss it */});
export const remembered = (test) => store.get("states", test).then((kept) => kept?.view, () => undefined);
