// At the cup: count blows on one big key, say how far the groove closed, hear what to do next. A count outside the
// window is an attempt and opens a new trial; counts of one mix belong together until water is added or it is dried.
import { freeRow, number, tableOf } from "../core/sheet.js";
import { tone } from "../core/tone.js";
import { runMode } from "./base.js";
import { seasoning } from "./seasoning.js";
import { tins } from "./tins.js";

const BEAT_MS = 500, LEAST_FOR_RATE = 10, LEAST_SECONDS = 3;

const cup = {
  count: 0,
  phase: "count",
  mixed: null,
  closure: "",
  ticking: false,
  times: [],
  said: "",

  init() {
    this.openRun("run", ["count", "phase", "mixed", "closure", "said", "covered"], {
      stays: "your count is kept here",
      onKey: (event) => this.key(event),
    });
  },
  field(name) {
    return this.$root.querySelector(`[data-name="${name}"]`);
  },
  cell(column, row = this.row) {
    return `trials.${row}.${column}`;
  },

  get rows() {
    return tableOf(this.view, "trials").rows;
  },
  // The mix in the cup: the trial in hand until it has its tin or is given up.
  get row() {
    return this.mixed ?? freeRow(this.view, this.texts, "trials");
  },
  get pairs() {
    return this.view.cup.pairs;
  },
  get low() {
    return this.view.cup.window[0];
  },
  get high() {
    return this.view.cup.window[1];
  },
  get window() {
    return `${this.low}–${this.high}`;
  },
  // The counts of this mix, the last one last.
  get counts() {
    return ["blows", "blows_repeat"].map((key) => this.number(this.cell(key))).filter((n) => n !== null);
  },
  get agree() {
    const [before, last] = this.counts;
    return !this.pairs || (last !== undefined && Math.abs(before - last) <= this.view.cup.agree);
  },
  get trialWord() {
    const again = this.pairs && this.counts.length ? `, count again after ${this.counts.join(", ")}` : "";
    return `trial ${this.row + 1}${again}`;
  },
  get rate() {
    const t = this.times, seconds = (t.at(-1) - t[0]) / 1000;
    return t.length >= LEAST_FOR_RATE && seconds > LEAST_SECONDS ? (t.length - 1) / seconds : null;
  },
  get rateWord() {
    return this.rate ? `${this.rate.toFixed(1)} drops/s` : "";
  },
  get trials() {
    const filled = this.rows.filter((r) => this.text(`${r.path}.blows`));
    return filled.map((r) => {
      const texts = ["blows", "blows_repeat"].map((key) => this.text(`${r.path}.${key}`)).filter(Boolean);
      const tin = this.text(`${r.path}.tin`), w = r.computed.water_content_percent;
      return {
        path: r.path,
        text: `${texts.join(" and ")} blows${tin ? `, ${tin}` : ""}`,
        w: w ? `${w} %` : "",
        bad: r.findings.length > 0 || Boolean(r.leftOut),
      };
    });
  },
  get mixInHand() {
    return this.phase === "count" && this.pairs && this.counts.length > 0;
  },
  get next() {
    if (this.phase === "closed") return "How far did the groove close? Lay the rule on it.";
    return this.said || this.seasoningWord || this.view.verdict.next;
  },
  get takeWord() {
    return this.phase === "count" ? "Blow" : "Counted";
  },

  key(event) {
    if (event.target.closest?.("input, dialog")) return;
    if (event.key === " ") {
      event.preventDefault();
      if (!event.repeat) this.blow();
    }
    if (event.key === "Backspace") this.undo();
    if (event.key === "Enter" && this.phase === "count" && this.count && !event.target.closest?.("button, a")) {
      this.closed();
    }
    if (event.key === "m") this.metronome();
  },
  blow() {
    if (this.phase !== "count") return;
    this.count += 1;
    this.times.push(performance.now());
    this.said = "";
    this.keep();
  },
  // A pointer counts on the way down; only a click made by a key arrives without one.
  blowByKey(event) {
    if (event.detail === 0 && event.pointerType === "") this.blow();
  },
  undo() {
    if (this.phase !== "count" || !this.count) return;
    this.count -= 1;
    this.times.pop();
    this.keep();
  },
  closed() {
    this.mixed = this.row;
    this.phase = "closed";
    this.keep();
    this.$nextTick(() => this.field("closure").focus());
  },
  // What nobody measured is not written down: the length is typed, or said to be 13 mm.
  thirteen() {
    this.field("closure").value = "13";
    this.keepCount();
  },
  keepCount() {
    const blows = this.field("blows").value.trim(), closure = this.field("closure").value.trim();
    if (number(blows) === null) {
      this.field("blows").focus();
      return;
    }
    const cells = { [this.cell("closure_mm")]: closure }, [before, last] = this.counts;
    const repeated = this.pairs && before !== undefined;
    // Of three counts of a mix the last two stand.
    if (repeated && last !== undefined) cells[this.cell("blows")] = String(last);
    cells[this.cell(repeated ? "blows_repeat" : "blows")] = blows;
    if (this.rate) cells.rate_drops_per_s = this.rate.toFixed(1);
    this.queue.add({ cells });
    this.count = 0;
    this.times = [];
    this.onward(number(blows));
    this.keep();
  },
  onward(blows) {
    const outside = blows < this.low ? "wet: dry it back" : blows > this.high ? "dry: add 1–3 mL of water" : "";
    if (outside) {
      this.said = `${blows} blows, too ${outside}, mix, count again. It stands as an attempt.`;
      this.newMix();
      return;
    }
    this.phase = this.agree ? "tin" : "count";
    this.said = this.agree
      ? ""
      : `${blows} blows. Fill the cup again from the same mix and count once more; it should agree within ` +
        `${this.view.cup.agree}.`;
    if (this.agree) this.$nextTick(() => this.field("tin").focus());
  },
  // Water or drying make another mix: its counts are no pair with those before.
  changed(event) {
    this.said = `${event.currentTarget.textContent.trim()}: a new trial.`;
    this.newMix();
    this.keep();
  },
  newMix() {
    this.mixed = null;
    this.phase = "count";
    for (const name of ["tin", "tare", "wet", "closure"]) this.field(name).value = "";
  },

  metronome() {
    this.ticking = !this.ticking;
    clearInterval(this.beating);
    if (!this.ticking) return;
    this.audio ??= new AudioContext();
    this.beating = setInterval(() => tone(this.audio, 880), BEAT_MS);
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("cup", () => runMode(seasoning, tins, cup));
});
