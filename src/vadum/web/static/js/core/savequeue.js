// Changes wait here, in order, until the server has acknowledged them; they survive a reload and a lost line. Each lies
// under a key of its own: two tabs of one browser keep both what they typed. What the server refuses is set aside with
// its reason, its text kept, and the rest goes on. Only the person who typed a reading sends it.
const RETRY_MS = 1500;
const TRIES = 3;
// What a proxy or a starting server answers is no answer to a reading.
const LINE_DOWN = [502, 503, 504];
// A page asked for while a save was on its way may have been made before the save: what this browser was told since
// counts.
const FRESH_MS = 10000;
const FULL = "This browser cannot keep what waits. Do not close the page before “saved” stands above.";

const read = (key) => JSON.parse(localStorage.getItem(key));

export class SaveQueue {
  constructor(test, revision, { onSaved, onConflict, onRefused, onState, onElsewhere }) {
    this.url = `/api/tests/${test}/save`;
    this.store = `vadum.queue.${test}`;
    this.told = `vadum.told.${test}`;
    this.who = document.body.dataset.who ?? "";
    const [told, at] = read(this.told) ?? [0, 0];
    this.revision = Date.now() - at < FRESH_MS ? Math.max(revision, told) : revision;
    Object.assign(this, { onSaved, onConflict, onRefused, onState, onElsewhere });
    this.busy = false;
    this.stopped = false;
    this.offline = false;
    this.tab = Math.random().toString(36).slice(2);
    this.own = new Set();
    this.adopt();
    this.load();
    addEventListener("online", () => this.send());
    addEventListener("storage", (event) => event.key?.startsWith(`${this.store}.`) && this.elsewhere());
    if (this.items.length) this.send();
  }

  // What an earlier release kept as one list.
  adopt() {
    const list = read(this.store);
    if (!list) return;
    list.forEach((item, i) => localStorage.setItem(this.key(i), JSON.stringify({ ...item, who: this.who })));
    localStorage.removeItem(this.store);
  }

  key(n = 0) {
    return `${this.store}.${String(Date.now()).padStart(15, "0")}.${String(n).padStart(3, "0")}.${
      crypto.randomUUID?.().slice(0, 8) ?? Math.random()
    }`;
  }

  load() {
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(`${this.store}.`)).sort();
    const kept = keys.map((key) => ({ ...read(key), key }));
    const mine = kept.filter((item) => !item.who || item.who === this.who);
    // A tab sends its own, and what it found when it was opened: another open tab sends its own by itself.
    if (!this.found) this.found = new Set(keys);
    this.items = mine.filter((item) => !item.aside && (item.tab === this.tab || this.found.has(item.key)));
    this.aside = mine.filter((item) => item.aside);
    this.others = [...new Set(kept.filter((item) => item.who && item.who !== this.who).map((item) => item.who))];
    this.say();
  }

  // Another tab has added something, or sent it. What it sent of this tab's own makes the page look again; what it sent
  // of its own does not: a stale edit is still refused with both versions.
  elsewhere() {
    this.load();
    const left = new Set(this.items.map((item) => item.key));
    const sent = [...this.own].filter((key) => !left.has(key));
    for (const key of sent) this.own.delete(key);
    this.offline = this.offline && this.items.length > 0;
    this.say();
    if (sent.length) this.onElsewhere?.();
  }

  say() {
    this.onState?.(this.items.length, this.offline, { aside: this.aside, others: this.others });
  }

  add(change) {
    const item = {
      ...change,
      base_revision: this.revision,
      save_key: crypto.randomUUID?.() ?? String(Math.random()).slice(2) + Date.now(),
      who: this.who,
      tab: this.tab,
      key: this.key(this.items.length),
    };
    this.items.push(item);
    this.own.add(item.key);
    this.keep(item);
    this.say();
    this.send();
  }

  keep(item) {
    try {
      localStorage.setItem(item.key, JSON.stringify(item));
    } catch {
      this.onRefused?.({ message: FULL }, item);
    }
  }

  forget(item) {
    localStorage.removeItem(item.key);
    this.own.delete(item.key);
    this.items = this.items.filter((other) => other.key !== item.key);
    this.aside = this.aside.filter((other) => other.key !== item.key);
    this.say();
  }

  // A reading that was set aside is sent once more.
  retry(item) {
    const again = { ...item, base_revision: this.revision, tries: 0 };
    delete again.aside;
    this.aside = this.aside.filter((other) => other.key !== item.key);
    this.items.push(again);
    this.keep(again);
    this.say();
    this.send();
  }

  drop() {
    for (const item of this.items) localStorage.removeItem(item.key);
    this.items = [];
    this.own.clear();
    this.stopped = false;
    this.say();
  }

  rebase(revision) {
    this.revision = revision;
    for (const item of this.items) {
      item.base_revision = revision;
      this.keep(item);
    }
    this.stopped = false;
    this.say();
    this.send();
  }

  // One tab sends at a time, where the browser lets tabs agree; elsewhere a save's key keeps it from counting twice.
  async send() {
    if (this.busy || this.stopped || !this.items.length) return;
    this.busy = true;
    try {
      if (navigator.locks) {
        await navigator.locks.request(
          this.store,
          { ifAvailable: true },
          (lock) => lock ? this.sendAll() : this.later(),
        );
      } else await this.sendAll();
    } finally {
      this.busy = false;
    }
    if (this.items.length && !this.offline && !this.stopped) this.later();
  }

  later() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.send(), RETRY_MS);
  }

  async sendAll() {
    while (this.items.length && !this.stopped) {
      const item = this.items[0];
      if (!(await this.sendOne(item))) return;
    }
  }

  // Returns whether the next may follow.
  async sendOne(item) {
    const { key: _, tab: __, who, tries = 0, ...change } = item;
    let reply, answer;
    try {
      reply = await fetch(this.url, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ ...change, typed_by: who ?? "" }),
      });
      answer = LINE_DOWN.includes(reply.status) ? null : await reply.json();
    } catch {
      answer = null;
    }
    // Signed out meanwhile, or somebody else signed in: the readings wait for their person as they do for the line.
    if (reply?.status === 401 || answer?.otherPerson) dispatchEvent(new Event("vadum-signed-out"));
    if (!answer || reply.status === 401 || answer.otherPerson) return this.wait();
    this.offline = false;
    if (reply.status === 409 && answer.conflict) {
      this.stopped = true;
      this.onConflict?.(answer.conflict);
      return false;
    }
    if (reply.status >= 500 && tries + 1 < TRIES) {
      item.tries = tries + 1;
      this.keep(item);
      return this.wait();
    }
    if (reply.ok) this.taken(answer, item);
    else this.setAside(answer, item);
    return true;
  }

  wait() {
    this.offline = true;
    this.say();
    this.later();
    return false;
  }

  taken(answer, item) {
    this.revision = answer.savedAs;
    localStorage.setItem(this.told, JSON.stringify([answer.savedAs, Date.now()]));
    localStorage.removeItem(item.key);
    this.own.delete(item.key);
    this.items = this.items.filter((other) => other.key !== item.key);
    dispatchEvent(new Event("vadum-signed-in"));
    // What follows was typed by the same hand on top of this save.
    if (this.items.length) this.items[0].base_revision = answer.savedAs;
    this.say();
    this.onSaved?.(answer, item);
  }

  setAside(answer, item) {
    item.aside = [answer.message, ...(answer.faults ?? []).map((f) => `${f.place}: ${f.message}`)].join(" ");
    this.own.delete(item.key);
    this.items = this.items.filter((other) => other.key !== item.key);
    this.aside = [...this.aside, item];
    this.keep(item);
    this.say();
    this.onRefused?.(answer, item);
  }
}
