// Changes wait here, in order, until the server has acknowledged them; they survive a reload and a lost line.
const RETRY_MS = 1500;
// A page asked for while a save was on its way may have been made before the save: what this browser was told since
// counts.
const FRESH_MS = 10000;

export class SaveQueue {
  constructor(test, revision, { onSaved, onConflict, onRefused, onState }) {
    this.url = `/api/tests/${test}/save`;
    this.store = `vadum.queue.${test}`;
    const [told, at] = JSON.parse(localStorage.getItem(`${this.store}.told`) ?? "[0, 0]");
    this.revision = Date.now() - at < FRESH_MS ? Math.max(revision, told) : revision;
    Object.assign(this, { onSaved, onConflict, onRefused, onState });
    this.items = JSON.parse(localStorage.getItem(this.store) ?? "[]");
    this.busy = false;
    this.stopped = false;
    addEventListener("online", () => this.send());
    if (this.items.length) this.send();
  }

  add(change) {
    this.items.push({
      ...change,
      base_revision: this.revision,
      save_key: crypto.randomUUID?.() ?? String(Math.random()).slice(2) + Date.now(),
    });
    this.keep();
    this.send();
  }

  keep() {
    localStorage.setItem(this.store, JSON.stringify(this.items));
    this.onState?.(this.items.length);
  }

  drop() {
    this.items = [];
    this.stopped = false;
    this.keep();
  }

  rebase(revision) {
    this.revision = revision;
    for (const item of this.items) item.base_revision = revision;
    this.stopped = false;
    this.keep();
    this.send();
  }

  async send() {
    if (this.busy || this.stopped || !this.items.length) return;
    this.busy = true;
    const item = this.items[0];
    let reply;
    try {
      reply = await fetch(this.url, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(item),
      });
      // Signed out meanwhile: the readings wait for the person to be back, as they do for the line.
      if (reply.status === 401) dispatchEvent(new Event("vadum-signed-out"));
      if (reply.status >= 500 || reply.status === 401) throw new Error("server");
    } catch {
      this.busy = false;
      this.onState?.(this.items.length, true);
      setTimeout(() => this.send(), RETRY_MS);
      return;
    }
    const answer = await reply.json();
    this.busy = false;
    if (reply.status === 409 && answer.conflict) {
      this.stopped = true;
      this.onConflict?.(answer.conflict);
      return;
    }
    this.items.shift();
    if (reply.ok) {
      dispatchEvent(new Event("vadum-signed-in"));
      this.revision = answer.savedAs;
      localStorage.setItem(`${this.store}.told`, JSON.stringify([answer.savedAs, Date.now()]));
      // What follows was typed by the same hand on top of this save.
      if (this.items.length) this.items[0].base_revision = answer.savedAs;
    }
    this.keep();
    if (reply.ok) this.onSaved?.(answer, item);
    else this.onRefused?.(answer, item);
    this.send();
  }
}
