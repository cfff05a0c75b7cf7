// One reading at a time, for any method: what is next, what it should be near, take it, undo it. A reading is kept the
// moment it is taken; what the server says of it afterwards stands there until it is read again or left.
import { span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { number, once, steps, tableOf } from "../core/sheet.js";
import { words } from "../core/words.js";
import { runMode } from "./base.js";
import { frame } from "./frame.js";
import { judging } from "./judging.js";
import { timing } from "./timing.js";

const openOf = once((texts, view) => steps(view, texts));

const asking = {
  begun: null,
  typed: "",
  origin: null,
  doubt: "",
  busy: false,
  skipped: [],
  done: [],
  taken: [],
  inHand: "",

  init() {
    this.openRun("steps", ["begun", "skipped", "done", "taken", "inHand"], {
      saved: (item) => this.judge(item),
      onKey: (event) => this.key(event),
    });
    this.openWords(() => this.reload());
    this.$nextTick(() => this.field()?.focus());
  },
  field() {
    return this.$root.querySelector("[data-name=reading]");
  },

  // Which cell: one that is read again, else the first empty one that was not skipped.
  get open() {
    return openOf(this.texts, this.view);
  },
  get step() {
    if (this.inHand) return this.again;
    const passed = (s) => this.skipped.includes(s.path) || (s.blank && this.done.includes(s.table));
    return this.open.find((s) => !s.supplied && !passed(s)) ?? null;
  },
  get again() {
    return steps(this.view, this.texts, this.inHand).find((s) => s.path === this.inHand) ?? null;
  },
  get title() {
    const s = this.step;
    return s ? [s.where, s.label].filter(Boolean).join(": ") : "Every reading is taken.";
  },
  // On a guided run: the step of the procedure that fills the reading.
  get how() {
    const steps = JSON.parse(document.getElementById("guidance")?.textContent ?? "{}");
    const [table, , key] = (this.step?.path ?? "").split(".");
    return steps[key ? `${table}.${key}` : table] ?? steps[table] ?? "";
  },
  get unit() {
    return [this.step?.unit, this.step?.about].filter(Boolean).join("; ");
  },
  get expected() {
    return this.step?.expected || this.timeSince;
  },
  get last() {
    return this.step?.last ? `last ${this.step.last}` : "";
  },
  get instrument() {
    return this.step ? instrumentOf(this.view, this.step.path) : "";
  },
  get isChoice() {
    return this.step?.kind === "choice";
  },
  get choices() {
    return this.step?.choices ?? [];
  },
  get canEnd() {
    return Boolean(this.step?.blank);
  },
  get endWord() {
    return `No more: ${tableOf(this.view, this.step?.table)?.title ?? "rows"}`;
  },
  // A range of one value is a proposal: the next depth, the next pressure. What a balance or a gauge shows is never
  // proposed: a value that nobody read must not come into the record.
  get proposed() {
    const asked = this.step?.measured || this.instrument || this.isChoice;
    return !asked && this.expected && !this.expected.includes("–") ? this.expected : "";
  },
  get takeWord() {
    if (!this.step) return "Done";
    if (this.counting) return this.countWord;
    if (this.timing) return this.begun === null ? "Start the watch" : "Peak: stop the watch";
    if (this.doubt) return "Keep it all the same";
    if (!this.typed.trim() && this.timeSince) return `Now: ${this.timeSince} ${this.step.unit}`;
    if (!this.typed.trim() && this.proposed) return `Keep ${this.proposed}`;
    return this.instrument && !this.typed.trim() ? `Take from ${this.instrument}` : "Keep this reading";
  },

  key(event) {
    const inField = event.target.closest?.("input, select, dialog");
    if (event.key === " " && (!inField || (event.target.dataset.name === "reading" && !this.typed.trim()))) {
      event.preventDefault();
      this.go();
    }
    if (event.key === "Backspace" && !inField) this.undo();
    if (event.key === "s" && !inField) this.toggleSound();
  },
  edited(event) {
    this.typed = event.target.value;
    this.origin = null;
    this.doubt = "";
  },
  // Enter keeps what stands in the field; the big key also counts and times.
  entered() {
    if (this.typed.trim()) this.keepReading();
    else this.go();
  },
  async go() {
    if (!this.step || this.busy || this.recording) return;
    this.trouble = "";
    if (this.counting) {
      this.typed = String(Number(this.typed || 0) + 1);
      if (Number(this.typed) === this.step.countTo) this.keepReading();
      return;
    }
    if (this.timing) {
      this.watch();
      return;
    }
    if (!this.typed.trim()) this.typed = this.proposed;
    if (!this.typed.trim() && this.instrument && !await this.read()) return;
    if (!this.typed.trim()) this.field()?.focus();
    this.keepReading();
  },
  // Whether the instrument was read. A reading is that of the cell it was asked for: a hand that typed meanwhile goes
  // on typing, and one that went on to another cell is told.
  async read() {
    const { title, step: { path } } = this;
    this.busy = true;
    const answer = await readCells(this.view.test, { [path]: this.minutes() });
    this.busy = false;
    if (this.typed.trim()) return false;
    const late = this.step?.path !== path;
    this.trouble = late ? `“${title}” was read when you had gone on; it is not kept.` : answer.troubles[path] ?? "";
    if (this.trouble || answer.cells[path] === undefined) return false;
    this.typed = answer.cells[path];
    this.origin = answer.origins[path] ?? null;
    return true;
  },
  keepReading() {
    const s = this.step, value = this.typed.trim();
    if (!s || !value) return;
    if (!this.doubt && (this.doubt = this.ask(s, value))) {
      this.field()?.focus();
      return;
    }
    this.queue.add({ cells: { [s.path]: value }, origins: this.origin ? { [s.path]: this.origin } : {} });
    this.taken.push(s.path);
    this.inHand = "";
    this.clear();
  },
  // What can be said without the server: the expected range.
  ask(s, value) {
    const [low, high] = String(s.expected || "").split("–").map(Number), read = number(value);
    const outside = read !== null && Number.isFinite(low) && Number.isFinite(high) && (read < low || read > high);
    return outside ? `${value} is outside ${s.expected}. Read again.` : "";
  },
  choose(word) {
    this.typed = word;
    this.keepReading();
  },
  clear() {
    Object.assign(this, { trouble: "", typed: "", origin: null, doubt: "" });
    this.keep();
    // Found now: the chip that was tapped is gone by then, and with it the way to the page.
    const field = this.field();
    this.$nextTick(() => field?.focus());
  },
  // A finger that bounces presses twice: the second time there may be no reading left.
  skip() {
    if (!this.step) return;
    this.skipped.push(this.step.path);
    this.inHand = "";
    this.clear();
  },
  endRows() {
    if (!this.step) return;
    this.done.push(this.step.table);
    this.clear();
  },
  undo() {
    const path = this.taken.pop();
    if (!path) return;
    this.queue.add({ cells: { [path]: "" } });
    this.clear();
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("steps", () => runMode(timing(span), words, judging, frame, asking));
});
