// Increments at a plate, each read until it comes to rest: rows are added, a pressure opens a stage in its own row.
import { freeRow } from "../core/sheet.js";

export const increments = {
  preloading: false,
  stageEnds: false,

  // Every row with anything in it: its pressure, and whether a gauge was read.
  get rows() {
    const end = freeRow(this.view, this.written, this.p.table);
    return Array.from({ length: end }, (_, row) => ({
      row,
      kpa: this.number(this.cell(row, "pressure_kpa")),
      minutes: this.number(this.cell(row, "elapsed_min")),
      read: this.p.gauges.some(([name]) => this.text(this.cell(row, name))),
    }));
  },
  // A pressure that waits for its first reading has its row already.
  get row() {
    const rows = this.rows, last = rows.at(-1);
    return last && !last.read ? last.row : rows.length;
  },
  get stage() {
    const rows = this.rows, from = rows.findLastIndex((r) => r.kpa !== null);
    if (from < 0) return { kpa: null, rows: [], number: 0 };
    let first = from;
    while (first > 0 && [null, rows[from].kpa].includes(rows[first - 1].kpa)) first -= 1;
    while (rows[first].kpa === null) first += 1;
    const pressures = rows.map((r) => r.kpa).filter((kpa) => kpa !== null && kpa > 0);
    const number = pressures.filter((kpa, i) => kpa !== pressures[i - 1]).length;
    return { kpa: rows[from].kpa, rows: rows.slice(first), number };
  },
  get pressure() {
    return this.stage.kpa;
  },
  get title() {
    const { kpa, number } = this.stage;
    return kpa === null ? "Not loaded yet" : `Stage ${number}: ${kpa} kPa`;
  },
  get readMinutes() {
    return this.stage.rows.filter((r) => r.read && r.minutes !== null).map((r) => r.minutes);
  },
  get nextKpa() {
    return this.p.step_kpa === null ? null : (this.pressure ?? 0) + this.p.step_kpa;
  },
  get nextPlaceholder() {
    return this.nextKpa === null ? "kPa" : String(this.nextKpa);
  },
  get mayLoad() {
    return this.pressure === null || this.open;
  },
  get mayGo() {
    return this.p.may_go && !this.offline;
  },
  get nextWord() {
    return this.nextKpa === null ? "Next pressure" : `Next: ${this.nextKpa} kPa, ${this.applyWords(this.nextKpa)}`;
  },
  get advice() {
    return this.pressure === null && this.nextKpa === null ? "Type the first pressure, then load." : "";
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
