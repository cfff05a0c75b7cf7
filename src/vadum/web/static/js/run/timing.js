// What is timed while readings are taken one by one: what falls due, the stopwatch, the count.
import { ask, NO_LINE } from "../core/asking.js";
import { addressOf } from "../core/words.js";

const ANNOUNCE_MS = 30000;

export const timing = (span) => ({
  tick() {
    const due = this.due;
    if (due && due.left < ANNOUNCE_MS) this.call(due.key);
  },
  // A word that waits for the line counts on this page as if the server had it.
  get dues() {
    return this.view.due.map((d) => {
      const word = this.waits(this.view.test, d.key);
      return word ? { ...d, standing: "done", doneAt: word.at } : d;
    });
  },
  get due() {
    const open = this.dues.find((d) => d.due && !["done", "missed", "waiting"].includes(d.standing));
    return open ? { ...open, left: Date.parse(open.due) - this.now } : null;
  },
  get digits() {
    if (this.begun !== null) return span(this.now - this.begun);
    const d = this.due;
    return d ? (d.left < 0 ? "+" : "") + span(d.left) : new Date(this.now).toTimeString().slice(0, 5);
  },
  get urgent() {
    const d = this.due;
    return Boolean(d && d.left < ANNOUNCE_MS && d.left > -ANNOUNCE_MS * 4);
  },
  get dueWord() {
    if (this.begun !== null) return "since the turning began; about two minutes to the peak";
    const d = this.due;
    return d ? (d.left < 0 ? `due: ${d.what}` : `until: ${d.what}`) : "nothing is timed now";
  },
  // What no reading proves, such as shaking, is said to be done.
  get mayBeDone() {
    const d = this.due;
    return Boolean(d && d.said && this.begun === null);
  },
  get doneWord() {
    return `Done: ${this.due?.what ?? ""}`;
  },
  notDone: "",
  async operationDone() {
    const { key, what } = this.due, { place } = this.$root.dataset;
    // It may be told of on another test's page.
    const word = { test: this.view.test, operation: key, what: place ? `${what}, ${place}` : what };
    const { ok, answer } = await ask(addressOf(word), undefined, "POST");
    const kept = answer === NO_LINE && await this.keepWord({ ...word, at: new Date(this.now).toISOString() });
    this.notDone = ok || kept ? "" : answer.message;
    await this.reload();
  },
  // The time since an operation was done is read off the clock, in the unit of its cell: minutes, or days.
  get timeSince() {
    // A row may have an operation of its own: the water of one bottle among several.
    const { since, path = "" } = this.step ?? {}, own = `${since}-${Number(path.split(".")[1]) + 1}`;
    const done = (key) => this.dues.find((d) => d.key === key)?.doneAt;
    const from = since && Date.parse(done(own) ?? done(since) ?? "");
    if (!from) return "";
    const minutes = (this.now - from) / 60000;
    return this.step.unit === "d" ? (minutes / 1440).toFixed(2) : minutes.toFixed(0);
  },
  // Minutes since the test's own clock began, for readings that depend on it.
  minutes() {
    const begun = Date.parse(this.view.clockStarted ?? "");
    return Number.isFinite(begun) ? (this.now - begun) / 60000 : null;
  },
  get counting() {
    return this.step?.by === "count" && !this.instrument && !this.doubt;
  },
  get countWord() {
    const { countTo } = this.step;
    return `Count: ${this.typed || 0}${countTo ? ` of ${countTo}` : ""}`;
  },
  get timing() {
    return this.step?.by === "stopwatch" && !this.instrument && !this.typed.trim() && !this.doubt;
  },
  // A stopwatch that survives a reload: begun on the first press, read on the second.
  watch() {
    if (this.begun === null) {
      this.begun = this.clock.now();
      this.keep();
      return;
    }
    this.typed = ((this.clock.now() - this.begun) / 1000).toFixed(0);
    this.begun = null;
    this.keepReading();
  },
});
