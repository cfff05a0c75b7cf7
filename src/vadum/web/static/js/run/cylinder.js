// One cylinder: its own local sheet, its clock, and which of its readings are done, waiting or missed.
import { local } from "../core/local.js";
import { merged } from "../core/merged.js";

export const INSERT_MS = 30000;
export const MINUTE = 60000;
// However short the first readings are, a hand needs this long.
const LEAST_LATE_MIN = 2;

export const dueWord = (minutes) => (minutes < 120 ? `${minutes} min` : `${minutes / 60} h`);

const cylinder = {
  cell(row, column) {
    return `sedimentation.${row}.${column}`;
  },
  get begun() {
    const at = Date.parse("started_at" in this.held ? this.held.started_at : this.view.cylinder.startedAt);
    return Number.isFinite(at) ? at : null;
  },
  get readings() {
    return this.view.cylinder.readings.map(({ row, due }) => ({
      row,
      due,
      reading: this.number(this.cell(row, "hydrometer")),
      temperature: this.number(this.cell(row, "temperature_c")),
      out: this.outOf(row),
    }));
  },
  outOf(row) {
    const kept = this.view.tables.find((t) => t.name === "sedimentation")?.rows.find((r) =>
      r.path === `sedimentation.${row}`
    );
    return this.held[this.cell(row, "left_out")] ?? kept?.leftOut ?? "";
  },
  // A reading is open from half a minute before it is due until the next one is; the last one until it is too late.
  marks(time) {
    const { begun, readings } = this, late = this.view.cylinder.latePercent / 100;
    return readings.map((r, i) => {
      const at = begun === null ? null : begun + r.due * MINUTE, after = readings[i + 1];
      const until = after ? after.due * MINUTE - INSERT_MS : (r.due + Math.max(LEAST_LATE_MIN, late * r.due)) * MINUTE;
      const over = at !== null && time > begun + until;
      const state = r.reading !== null ? "done" : r.out ? "out" : over ? "missed" : "waiting";
      const said = { done: `: ${r.reading}`, missed: " missed", out: ` ${r.out}`, waiting: "" }[state];
      return { ...r, at, state, text: `${dueWord(r.due)}${said}` };
    });
  },
  openAt(time) {
    return this.begun === null ? null : this.marks(time).find((m) => m.state === "waiting") ?? null;
  },
  overAt(time) {
    return this.begun !== null && this.openAt(time) === null;
  },
  before(row) {
    return this.readings.filter((r) => r.row < row && r.reading !== null && !r.out);
  },
  end() {
    const left = this.readings.filter((r) => r.reading === null && !r.out);
    this.queue.add({ cells: Object.fromEntries(left.map((r) => [this.cell(r.row, "left_out"), "ended before"])) });
  },
};

export const aCylinder = (view) => merged(local, cylinder, { view, name: view.name, test: view.test });
