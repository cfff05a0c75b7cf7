// Increments at a plate, each read until it comes to rest: rows are added, a pressure opens a stage in its own row.
import { freeRow, number, once, placeOf, tableOf } from "../core/sheet.js";

// Every row with anything in it: its pressure, its time, and whether a gauge was read. A row that is left out begins no
// stage; a pressure written there stands for the first blank below it.
const rowsOf = once((texts, view) => {
  const { table, gauges } = view.plate, cell = (row, column) => texts[`${table}.${row}.${column}`];
  const placed = tableOf(view, table).rows.map((r) => ({ ...r, row: placeOf(`${r.path}.x`).row }));
  const folded = placed.filter((r) => r.folds).map((r) => r.row),
    out = placed.filter((r) => r.leftOut).map((r) => r.row);
  let above = null;
  const pressure = (row) => {
    const own = number(cell(row, "pressure_kpa")) ?? above;
    above = out.includes(row) ? own : null;
    return out.includes(row) ? null : own;
  };
  return Array.from({ length: freeRow(view, texts, table) }, (_, row) => ({
    row,
    kpa: pressure(row),
    minutes: out.includes(row) ? null : number(cell(row, "elapsed_min")),
    read: gauges.some(([name]) => cell(row, name)),
    folded: folded.includes(row),
    out: out.includes(row),
  }));
});
// The stage in hand: its pressure, its rows and its number; a blank pressure stands for the one above, and a stage that
// is folded into one row counts whether or not that row says its own.
const stageOf = once((rows) => {
  const from = rows.findLastIndex((r) => r.kpa !== null);
  if (from < 0) return { kpa: null, rows: [], number: 0 };
  const { kpa } = rows[from];
  const before = rows.slice(0, from).findLastIndex((r) => r.kpa !== null && r.kpa !== kpa);
  const first = rows.findIndex((r, i) => i > before && r.kpa !== null);
  const loaded = rows.filter((r) => r.kpa > 0 || (r.folded && r.kpa === null));
  const number = loaded.filter((r, i) => r.kpa === null || r.kpa !== loaded[i - 1]?.kpa).length;
  return { kpa, rows: rows.slice(first), number };
});

export const increments = {
  preloading: false,
  stageEnds: false,

  get rows() {
    return rowsOf(this.texts, this.view);
  },
  // A pressure that waits for its first reading has its row already.
  get row() {
    const rows = this.rows, last = rows.at(-1);
    return last && !last.read && !last.out ? last.row : rows.length;
  },
  get stage() {
    return stageOf(this.rows);
  },
  get pressure() {
    return this.stage.kpa;
  },
  get title() {
    const { kpa, number } = this.stage;
    if (kpa === 0 && this.ended) return "Load taken off";
    return kpa === null ? "Not loaded yet" : `Stage ${number}: ${kpa} kPa`;
  },
  get readMinutes() {
    return this.stage.rows.filter((r) => r.read && r.minutes !== null).map((r) => r.minutes);
  },
  // Why loading ended is said in the pit; from then on the load comes off in shares of the largest.
  get ended() {
    return this.text("ended");
  },
  get mayEnd() {
    return Boolean(this.ended) || this.rows.some((r) => r.read && r.kpa !== 0);
  },
  endLoading() {
    this.add({ ended: this.$event.target.value });
    this.keep();
  },
  get nextKpa() {
    if (this.ended) {
      const largest = Math.max(0, ...this.rows.map((r) => r.kpa ?? 0));
      return this.p.back.map((share) => Number((share * largest).toFixed(1))).find((kpa) => kpa < this.pressure) ??
        null;
    }
    if (this.p.step_kpa === null) return null;
    return this.p.doubles && this.pressure ? 2 * this.pressure : (this.pressure ?? 0) + this.p.step_kpa;
  },
  get nextPlaceholder() {
    return this.nextKpa === null ? "kPa" : String(this.nextKpa);
  },
  get mayLoad() {
    return this.pressure === null || this.open || Boolean(this.ended);
  },
  get mayGo() {
    return this.p.may_go && !this.offline && !(this.ended && this.nextKpa === null);
  },
  get nextWord() {
    if (this.nextKpa === null) return this.ended ? "All load is off" : "Next pressure";
    return `Next: ${this.nextKpa} kPa, ${this.applyWords(this.nextKpa)}`;
  },
  get advice() {
    if (this.pressure === null && this.nextKpa === null) return "Type the first pressure, then load.";
    return this.offline && this.open ? `Hold ${this.pressure} kPa: ${this.dueWord}.` : "";
  },
  pressureCells() {
    return {};
  },
  load() {
    const kpa = this.entered("pressure") ?? this.nextKpa;
    if (kpa === null || kpa < 0) {
      this.$root.querySelector("[data-name=pressure]").focus();
      return;
    }
    // A pressure set before anything was read at it is put right in its own row.
    const path = this.cell(this.row, "pressure_kpa");
    this.begin({ [path]: String(kpa) });
    this.taken.push({ cells: [path] });
    this.emptyFields();
    this.keep();
  },
};
