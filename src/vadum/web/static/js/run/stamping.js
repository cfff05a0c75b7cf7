// A reading at a cylinder: its time is stamped when the key is pressed, then the hand types what it read.
import { readCells } from "../core/instrument.js";
import { number } from "../core/sheet.js";
import { dueWord, MINUTE } from "./cylinder.js";

export const stamping = {
  stamped: null,
  doubt: "",
  busy: false,
  origins: {},
  taken: [],

  field(name) {
    return this.$root.querySelector(`[data-name="${name}"]`);
  },
  of(test) {
    return this.cylinders.find((c) => c.test === test);
  },
  minutesAt(c, at) {
    return (at - c.begun) / MINUTE;
  },
  keepCells(c, cells, origins = {}) {
    c.queue.add({ cells, origins, box: this.box() });
  },

  // Readings taken by the instrument itself when they are due; one that cannot be had is tried again until its time
  // is over.
  async takeDue() {
    const { c, row, at } = this.coming;
    if (!c || this.busy || this.stamped || !this.bound || this.now < at) return;
    const minutes = this.minutesAt(c, this.now), answer = await this.measured(c, row, minutes);
    if (answer.cells[c.cell(row, "hydrometer")] === undefined || c.text(c.cell(row, "hydrometer"))) return;
    this.keepCells(c, { ...answer.cells, [c.cell(row, "elapsed_min")]: minutes.toFixed(2) }, answer.origins);
    this.taken.push({ test: c.test, row });
  },
  async measured(c, row, minutes) {
    this.busy = true;
    const paths = [c.cell(row, "hydrometer"), c.cell(row, "temperature_c")];
    const answer = await readCells(c.test, Object.fromEntries(paths.map((path) => [path, minutes])));
    this.busy = false;
    this.trouble = Object.values(answer.troubles)[0] ?? "";
    return answer;
  },

  async stamp() {
    const { c, row, due } = this.coming, at = this.clock.now();
    const read = this.bound ? await this.measured(c, row, this.minutesAt(c, at)) : { cells: {}, origins: {} };
    this.stamped = { test: c.test, row, due, at };
    this.doubt = "";
    this.origins = read.origins;
    this.field("reading").value = read.cells[c.cell(row, "hydrometer")] ?? "";
    this.field("temperature").value = read.cells[c.cell(row, "temperature_c")] ?? "";
    this.$nextTick(() => this.field("reading").focus());
  },
  dropStamp() {
    this.stamped = null;
    this.doubt = "";
  },
  before() {
    return this.stamped ? this.of(this.stamped.test).before(this.stamped.row) : [];
  },
  get stampWord() {
    if (!this.stamped) return "";
    const c = this.of(this.stamped.test), { due, at } = this.stamped;
    return `${c.name}, due at ${dueWord(due)}, read at ${this.minutesAt(c, at).toFixed(2)} min`;
  },
  get lastReading() {
    return this.before().at(-1)?.reading ?? null;
  },
  get lowest() {
    return this.stamped ? this.of(this.stamped.test).view.cylinder.lowest : null;
  },
  get expectedWord() {
    const high = this.lastReading;
    return high === null ? "" : this.lowest === null ? `at most ${high}` : `${this.lowest}–${high}`;
  },
  get lastTemperatureWord() {
    const last = this.before().at(-1)?.temperature;
    return last ? `last ${last}` : "";
  },
  odd(reading) {
    const value = number(reading), high = this.lastReading, low = this.lowest;
    if (value === null) return `“${reading}” is not a number. Type it again.`;
    if (high !== null && value > high) {
      return `${reading} is above the reading before, ${high}: soil cannot come back. Read again.`;
    }
    return low !== null && value < low ? `${reading} is below the dispersant solution, ${low}. Read again.` : "";
  },
  keepReading() {
    const reading = this.field("reading").value.trim(), temperature = this.field("temperature").value.trim();
    const missing = !reading ? "reading" : !temperature ? "temperature" : "";
    if (missing) {
      this.field(missing).focus();
      return;
    }
    const odd = this.odd(reading);
    if (odd && odd !== this.doubt) {
      this.doubt = odd;
      this.field("reading").focus();
      return;
    }
    const { row, at } = this.stamped, c = this.of(this.stamped.test);
    const cells = {
      [c.cell(row, "elapsed_min")]: this.minutesAt(c, at).toFixed(2),
      [c.cell(row, "hydrometer")]: reading,
    };
    if (temperature) cells[c.cell(row, "temperature_c")] = temperature;
    this.keepCells(c, cells, this.origins);
    this.taken.push({ test: c.test, row });
    this.chosen = null;
    this.dropStamp();
    document.activeElement?.blur();
  },
  undo() {
    const { test, row } = this.taken.pop(), c = this.of(test);
    this.keepCells(
      c,
      Object.fromEntries(["elapsed_min", "hydrometer", "temperature_c"].map((key) => [c.cell(row, key), ""])),
    );
  },
};
