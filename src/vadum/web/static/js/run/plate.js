// At the plate: one pressure at a time, its clock, its gauges, and whether to hold or to load.
import { span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf, drawn, figureOf } from "../core/live.js";
import { number, tableOf } from "../core/sheet.js";
import { runMode } from "./base.js";
import { gauges } from "./gauges.js";
import { increments } from "./increments.js";
import { planned } from "./planned.js";

const MINUTE = 60000, ANNOUNCE_MS = 15000;

const atThePlate = {
  began: null,
  doubt: "",
  auto: false,
  busy: false,
  taken: [],

  init() {
    this.openRun("plate", ["began", "taken", "auto", "bare"], {
      saved: () => this.draw(),
      onKey: (event) => {
        if (event.code === "Space" && !event.target.closest("input, select, dialog")) {
          event.preventDefault();
          this.go();
        }
      },
    });
    this.$nextTick(async () => {
      this.$refs.live.innerHTML = await drawn(this.view, this.box(), this.p.figure);
    });
  },
  box() {
    return boxOf(this.$refs.live, 0.64);
  },
  draw() {
    this.$refs.live.innerHTML = figureOf(this.view);
  },
  get p() {
    return this.view.plate;
  },
  get table() {
    return tableOf(this.view, this.p.table);
  },
  cell(row, column) {
    return `${this.p.table}.${row}.${column}`;
  },
  add(cells, origins = {}) {
    this.queue.add({ cells, origins, box: this.box(), figure: this.p.figure });
  },
  // How a pressure shows on the jack and the pump.
  applyWords(kpa) {
    const said = ({ what, per_kpa, unit, decimals }) => `${what} ${(per_kpa * kpa).toFixed(decimals)} ${unit}`;
    return kpa === null ? "" : this.p.applied.map(said).join(", ");
  },
  get apply() {
    return this.applyWords(this.pressure);
  },

  // The clock of the stage: kept on the server, and in this browser until it has arrived there.
  get started() {
    const kept = Date.parse(this.p.started_at);
    return this.began ?? (!("stage_started_at" in this.held) && Number.isFinite(kept) ? kept : null);
  },
  get minutes() {
    return this.started === null ? null : (this.now - this.started) / MINUTE;
  },
  get open() {
    return this.started !== null && this.row !== null && !this.preloading;
  },
  // Minutes at which this stage is read: those of the plan, then every so many.
  get nextDue() {
    const last = Math.max(0, ...this.readMinutes), after = (due) => due > last * 1.001 + 0.01;
    const due = this.p.dues.find(after), every = this.p.then_every;
    return due ?? (every ? Math.ceil((last + 0.01) / every) * every : null);
  },
  get left() {
    return this.nextDue === null || this.minutes === null ? null : (this.nextDue - this.minutes) * MINUTE;
  },
  get digits() {
    return this.minutes === null || !(this.open || this.preloading) ? "0:00" : span(this.minutes * MINUTE);
  },
  get dueWord() {
    if (this.preloading) return this.preloadWord;
    if (!this.open) return this.row === null ? "" : "set the pressure, then start its clock";
    if (this.left === null) return "no reading is due";
    const at = this.nextDue < 60
      ? `${Number(this.nextDue.toFixed(2))} min`
      : `${Number((this.nextDue / 60).toFixed(1))} h`;
    return this.left > 0 ? `${at} reading in ${span(this.left)}` : `${at} reading now`;
  },
  get takenWord() {
    return this.p.dues.length > 1 ? `${this.readMinutes.length} taken` : "";
  },
  get progress() {
    return (this.nextDue === null || this.minutes === null ? 0 : Math.min(1, this.minutes / this.nextDue)).toFixed(3);
  },
  get urgent() {
    return this.open && this.left !== null && this.left < ANNOUNCE_MS && this.left > -4 * MINUTE;
  },
  get next() {
    return this.advice || (this.offline ? "" : this.p.decision) || this.view.verdict.next;
  },
  get takeWord() {
    if (this.row === null) return "All read";
    if (this.preloading) return this.preloadKey;
    return !this.open ? "Start the clock" : this.doubt ? "Keep it all the same" : "Take reading";
  },
  get says() {
    return this.view.findings.concat(this.table.rows.flatMap((r) => r.findings))
      .filter((f) => f.severity === "stop").slice(0, 2);
  },
  get bound() {
    return instrumentOf(this.view, this.cell(0, this.p.gauges[0][0]));
  },

  tick() {
    if (!this.open || this.nextDue === null) return;
    if (this.left < ANNOUNCE_MS) this.call(`${this.row}.${this.nextDue}`);
    if (this.auto && this.left <= 0 && !this.busy) this.take(true);
  },
  toggleAuto() {
    this.auto = !this.auto;
    this.keep();
  },
  go() {
    if (this.row === null) return;
    if (this.preloading) this.preload();
    else if (!this.open) this.begin({});
    else this.take(false);
  },
  // A clock begins with its pressure; the server keeps when.
  begin(cells) {
    this.began = this.clock.now();
    this.doubt = "";
    this.add({ ...cells, stage_started_at: new Date(this.began).toISOString() });
    this.keep();
    this.$nextTick(() => this.field(this.p.gauges[0][0])?.focus());
  },
  async take(byItself) {
    const row = this.row, minutes = this.minutes, names = this.p.gauges.map(([name]) => name);
    let values = this.typed(), origins = {};
    if (byItself || (this.bound && !names.some((name) => values[name]))) {
      if (this.busy) return;
      const paths = names.map((name) => this.cell(row, name));
      this.busy = true;
      const answer = await readCells(this.view.test, Object.fromEntries(paths.map((path) => [path, minutes])));
      this.busy = false;
      this.trouble = Object.values(answer.troubles)[0] ?? "";
      // Who types meanwhile reads by eye.
      const typing = !byItself && Object.values(this.typed()).some(Boolean);
      if (this.trouble || typing || row !== this.row) return;
      values = Object.fromEntries(names.map((name, i) => [name, answer.cells[paths[i]] ?? ""]));
      origins = answer.origins;
    }
    const asked = byItself ? "" : this.ask(values, minutes);
    if (asked && asked !== this.doubt) {
      this.doubt = asked;
      return;
    }
    this.keepRow(row, values, minutes, origins);
  },
  // What is asked before a reading is kept, all of it without the server.
  ask(values, minutes) {
    const missing = this.p.gauges.find(([name]) => !values[name]);
    if (missing) return `${missing[1]} is empty. Read it, or keep the row without.`;
    const early = this.p.hold_min && minutes < this.p.hold_min * 0.98;
    if (early) return `Held ${span(minutes * MINUTE)} of ${span(this.p.hold_min * MINUTE)}. Wait, or keep it as short.`;
    return this.odd(values);
  },
  keepRow(row, values, minutes, origins) {
    const cells = { ...this.pressureCells(row) };
    for (const [name] of this.p.gauges) if (values[name]) cells[this.cell(row, name)] = values[name];
    for (const [column, unit] of Object.entries(this.p.keeps)) {
      cells[this.cell(row, column)] = unit === "seconds" ? (minutes * 60).toFixed(0) : minutes.toFixed(2);
    }
    if (this.stageEnds) {
      this.began = null;
      cells.stage_started_at = "";
    }
    this.add(cells, origins);
    this.taken.push({ cells: Object.keys(cells).filter((path) => path.includes(".")), start: this.started });
    this.doubt = "";
    this.emptyFields();
    this.keep();
  },
  undo() {
    const { cells } = this.taken.pop();
    this.add(Object.fromEntries(cells.map((path) => [path, ""])));
    this.keep();
  },
  entered(name) {
    return number(this.$root.querySelector(`[data-name=${name}]`)?.value);
  },
};

document.addEventListener("alpine:init", () => {
  const { unloading } = JSON.parse(document.getElementById("first-view").textContent).plate;
  Alpine.data("plate", () => runMode(gauges, unloading.length ? planned : increments, atThePlate));
});
