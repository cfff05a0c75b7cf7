// Planned stages at a plate: first loading, unloading, loading again. What was reached makes the rest of the plan.
import { number, once, placeOf, tableOf } from "../core/sheet.js";

const stagesOf = once((texts, view) =>
  tableOf(view, view.plate.table).rows.filter((r) => !r.leftOut).map(({ path }) => ({
    row: placeOf(`${path}.x`).row,
    kpa: number(texts[`${path}.pressure_kpa`]) ?? number(texts[`${path}.planned_kpa`]),
    read: Boolean(texts[`${path}.gauge_mm`]),
  })).filter((s) => s.kpa !== null)
);

export const planned = {
  stageEnds: true,
  bare: false,
  ending: false,
  mayLoad: false,
  mayGo: false,

  get stages() {
    return stagesOf(this.texts, this.view);
  },
  get inHand() {
    return this.stages.find((s) => !s.read) ?? null;
  },
  get row() {
    return this.inHand?.row ?? null;
  },
  get pressure() {
    return this.inHand?.kpa ?? null;
  },
  get title() {
    const stages = this.stages, i = stages.indexOf(stages.find((s) => !s.read));
    if (this.preloading) return `Preload: ${this.p.preload_kpa} kPa`;
    return i < 0 ? "Every stage is read." : `Stage ${i + 1} of ${stages.length}: ${stages[i].kpa} kPa`;
  },
  readMinutes: [],
  get advice() {
    if (this.ending) return this.endWords;
    if (this.preloading) return `Set ${this.p.preload_kpa} kPa (${this.applyWords(this.p.preload_kpa)}).`;
    return this.inHand && this.offline
      ? `Set ${this.pressure} kPa (${this.apply}), hold ${this.p.hold_min} min, read the gauge.`
      : "";
  },
  // The pressure that was really there, where it differs from the plan.
  pressureCells(row) {
    const kpa = this.entered("pressure");
    return kpa === null ? {} : { [this.cell(row, "pressure_kpa")]: String(kpa) };
  },

  // Before the first stage: preload, hold it, zero the gauge.
  get preloading() {
    return !this.bare && !this.text("preload_kpa") && !this.stages.some((s) => s.read);
  },
  get preloadOver() {
    return this.minutes !== null && this.minutes * 60 >= this.p.preload_s;
  },
  get preloadWord() {
    const left = Math.ceil(this.p.preload_s - (this.minutes ?? 0) * 60);
    return this.began === null ? "set it, then start its clock" : left > 0 ? `${left} s to go` : "zero the gauge now";
  },
  get preloadKey() {
    return this.began === null ? "Preload is on" : this.preloadOver ? "Gauge is at zero" : this.preloadWord;
  },
  preload() {
    if (this.began === null) {
      this.began = this.clock.now();
    } else if (this.preloadOver) {
      this.add({ preload_kpa: String(this.p.preload_kpa), preload_s: ((this.now - this.began) / 1000).toFixed(0) });
      this.began = null;
    }
    this.keep();
  },
  withoutPreload() {
    this.bare = true;
    this.began = null;
    this.keep();
  },

  // The plan follows plate and settings as long as nothing was read.
  get mayReplan() {
    return this.p.planned.length > 0 && !this.stages.some((s) => s.read);
  },
  get replanWord() {
    return `Plan for this plate: to ${Math.max(0, ...this.p.planned)} kPa`;
  },
  replan() {
    this.writePlan(0, this.p.planned);
  },
  writePlan(from, pressures) {
    const cells = {}, rows = Math.max(from + pressures.length, this.table.rows.length);
    for (let row = from; row < rows; row += 1) {
      const kpa = pressures[row - from];
      if (kpa !== undefined || this.text(this.cell(row, "planned_kpa"))) {
        cells[this.cell(row, "planned_kpa")] = kpa === undefined ? "" : String(Number(kpa.toFixed(1)));
      }
      if (this.text(this.cell(row, "pressure_kpa"))) cells[this.cell(row, "pressure_kpa")] = "";
    }
    this.add(cells);
  },

  // First loading ends where it ends; unloading and loading again follow from what was reached.
  get firstLoading() {
    const read = this.stages.filter((s) => s.read), falls = read.findIndex((s, i) => i && s.kpa < read[i - 1].kpa);
    return falls < 0 ? read : [];
  },
  get mayEnd() {
    const reached = this.firstLoading;
    return reached.length > 0 && this.pressure !== null && this.pressure > reached.at(-1).kpa;
  },
  get endWords() {
    const reached = this.firstLoading.length;
    return `End first loading at ${this.firstLoading.at(-1)?.kpa} kPa? Then ${this.p.unloading.length} stages back` +
      ` and ${reached - 1} again.`;
  },
  get endKey() {
    return this.ending ? "Yes, it ends here" : "End first loading here";
  },
  endFirst() {
    if (!this.ending) {
      this.ending = true;
      return;
    }
    this.ending = false;
    const reached = this.firstLoading.map((s) => s.kpa), top = Math.max(...reached);
    this.began = null;
    this.writePlan(this.row, [...this.p.unloading.map((share) => share * top), ...reached.slice(0, -1)]);
    this.keep();
  },
  goOn() {
    this.ending = false;
  },
};
