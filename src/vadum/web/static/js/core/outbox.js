// What waits of one test in this browser, each change under a key of its own, in the order it was typed. Memory is
// what the page goes by; the store is what a reload, a crash and the other tabs of this browser go by.
import { newKey } from "./key.js";
import { all, put, remove } from "./store.js";

export const FULL = "This browser cannot keep what waits (private window, or no room left). " +
  "Do not close the page before “saved” stands above.";
// A page that is reloaded in the same instant would break off the write: until it is done the change lies here too.
const NOW = "vadum.now.";
// Where an earlier release kept what waits.
const OLD = (test) => `vadum.queue.${test}`;

export class Outbox {
  constructor(test, { onChange, onTrouble, onSentElsewhere }) {
    this.prefix = `${String(test).padStart(9, "0")}.`;
    this.test = test;
    this.who = document.body.dataset.who ?? "";
    this.tab = newKey();
    this.items = [];
    this.aside = [];
    this.others = [];
    this.count = 0;
    this.onChange = onChange;
    this.onTrouble = onTrouble;
    this.tabs = new BroadcastChannel("vadum.waiting");
    this.tabs.onmessage = ({ data }) => data.startsWith(this.prefix) && this.elsewhere(data, onSentElsewhere);
  }

  // A tab sends its own, and what it found when it was opened: another open tab sends its own by itself.
  async open() {
    let kept = [];
    try {
      await this.adopt();
      kept = await all("waiting", this.prefix);
    } catch {
      this.onTrouble(FULL);
    }
    const mine = kept.filter((item) => !item.who || item.who === this.who);
    const known = new Set(this.items.map((item) => item.key));
    this.items = [...mine.filter((item) => !item.aside && !known.has(item.key)), ...this.items];
    this.sort(kept, mine);
    this.onChange();
  }

  sort(kept, mine) {
    this.aside = mine.filter((item) => item.aside);
    this.others = [...new Set(kept.filter((item) => item.who && item.who !== this.who).map((item) => item.who))];
  }

  async adopt() {
    const old = OLD(this.test), names = Object.keys(localStorage).sort();
    for (const name of names.filter((one) => one === old || one.startsWith(`${old}.`))) {
      const kept = JSON.parse(localStorage.getItem(name));
      // Beside changes, what a page was told last lay there too.
      for (const item of (Array.isArray(kept) ? kept : [kept]).filter((one) => one?.save_key)) {
        await put("waiting", { who: this.who, ...item, tab: "", key: this.key() });
      }
      localStorage.removeItem(name);
    }
    for (const name of names.filter((one) => one.startsWith(NOW + this.prefix))) {
      await put("waiting", JSON.parse(localStorage.getItem(name)));
      localStorage.removeItem(name);
    }
  }

  // Keys sort as they were made.
  key() {
    this.count += 1;
    return `${this.prefix}${String(Date.now()).padStart(15, "0")}.${String(this.count).padStart(5, "0")}.${
      newKey().slice(0, 8)
    }`;
  }

  add(change) {
    const item = { ...change, save_key: newKey(), who: this.who, tab: this.tab, key: this.key() };
    this.items.push(item);
    this.keep(item);
    return item;
  }

  keep(item) {
    const text = JSON.stringify(item), now = NOW + item.key;
    try {
      localStorage.setItem(now, text);
    } catch { /* the store below says it when there is no room */ }
    // A copy without what the page's framework wraps around it.
    put("waiting", JSON.parse(text)).then(() => {
      localStorage.removeItem(now);
      this.tabs.postMessage(item.key);
    }, () => this.onTrouble(FULL));
    this.onChange();
  }

  forget(item) {
    this.items = this.items.filter((other) => other.key !== item.key);
    this.aside = this.aside.filter((other) => other.key !== item.key);
    remove("waiting", item.key).then(() => this.tabs.postMessage(item.key), () => {/* said when it was kept */});
    this.onChange();
  }

  // Set aside with its reason, or sent once more.
  setAside(item, reason) {
    this.items = this.items.filter((other) => other.key !== item.key);
    const kept = { ...item, aside: reason };
    this.aside = [...this.aside, kept];
    this.keep(kept);
    return kept;
  }

  retry(item) {
    const { aside: _, tries: __, ...again } = item;
    this.aside = this.aside.filter((other) => other.key !== item.key);
    this.items.push({ ...again, tab: this.tab });
    this.keep(this.items.at(-1));
  }

  // Another tab has kept something or is done with it.
  async elsewhere(key, onSentElsewhere) {
    const kept = await all("waiting", this.prefix).catch(() => null);
    if (!kept) return;
    this.sort(kept, kept.filter((item) => !item.who || item.who === this.who));
    const mine = this.items.some((item) => item.key === key),
      stands = kept.some((item) => item.key === key && !item.aside);
    if (mine && !stands) {
      this.items = this.items.filter((item) => item.key !== key);
      onSentElsewhere?.();
    }
    this.onChange();
  }
}
