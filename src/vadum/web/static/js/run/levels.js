// Levels falling in several cylinders, or at one head after another: each with its own clock, read side by side.
import { span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf, drawn, figureOf } from "../core/live.js";
import { freeRow, number, placeOf } from "../core/sheet.js";
import { runMode } from "./base.js";
import { pace } from "./pace.js";

const levels = {
  began: {},
  taken: [],
  chosen: 1,
  doubt: "",
  busy: false,

  init() {
    this.openRun("levels", ["began", "taken", "chosen"], {
      saved: () => {
        this.$refs.live.innerHTML = figureOf(this.view);
      },
      onKey: (event) => {
        if (event.code === "Space" && !event.target.closest("input, button, dialog")) {
          event.preventDefault();
          this.go();
        }
      },
    });
    this.$nextTick(async () => {
      this.$refs.live.innerHTML = await drawn(this.view, this.box(), this.v.figure);
    });
  },
  box() {
    return boxOf(this.$refs.live, 0.7);
  },
  get v() {
    return this.view.levels;
  },
  cell(row, column) {
    return `${this.v.table}.${row}.${column}`;
  },
  get row() {
    return freeRow(this.view, this.texts, this.v.table);
  },
  // What was read of one series: by the server's word, without what was taken back here, and with what waits here.
  readOf(s) {
    const waits = (row, column) => number(this.held[this.cell(row, column)]);
    const kept = s.read.filter(([row]) => this.held[this.cell(row, this.v.reading)] !== "");
    const known = new Set(s.read.map(([row]) => row));
    const rows = Object.keys(this.held).filter((path) => path.endsWith(`.${this.v.reading}`))
      .map((path) => placeOf(path).row).filter((row) => !known.has(row) && waits(row, this.v.by) === s.number)
      .map((row) => [row, waits(row, this.v.keeps), waits(row, this.v.reading)]);
    return [...kept, ...rows.filter(([, , level]) => level !== null)].sort((a, b) => a[0] - b[0]);
  },
  lastOf(s) {
    return this.readOf(s).at(-1)?.[2] ?? null;
  },
  // By what was read here, so that it is known without a line too.
  wayOf(s) {
    const first = this.readOf(s)[0]?.[2] ?? null;
    if (s.way || s.towards === null || first === null) return s.way;
    return first < s.towards ? "rises" : "falls";
  },
  // A clock is kept on the server, and in this browser until it has arrived there.
  started(s) {
    const kept = Date.parse(s.startedAt);
    return this.began[s.number] ?? (this.held[s.clock] !== "" && Number.isFinite(kept) ? kept : null);
  },
  minutes(s) {
    const at = this.started(s);
    return at === null ? null : (this.now - at) / 60000;
  },
  digits(s) {
    const m = this.minutes(s);
    return m === null ? "–:––" : span(m * 60000);
  },
  lastWord(s) {
    const last = this.lastOf(s);
    return last === null ? "not read yet" : `last ${last} ${this.v.unit}`;
  },
  get inHand() {
    return this.v.series.find((s) => s.number === this.chosen) ?? this.v.series[0];
  },
  choose(n) {
    if (this.chosen !== n) this.doubt = "";
    this.chosen = n;
    this.keep();
    this.$nextTick(() => this.field()?.focus());
  },
  isChosen(s) {
    return s.number === this.inHand.number ? "chosen" : "";
  },
  field() {
    return this.$root.querySelector(`[data-level="${this.inHand.number}"]`);
  },
  get takeWord() {
    if (this.started(this.inHand) === null) return `Start ${this.inHand.name}`;
    return this.doubt ? "Keep it all the same" : `Read ${this.inHand.name}`;
  },
  get says() {
    return this.view.findings.concat(
      this.view.tables.flatMap((t) => t.rows.flatMap((r) => r.findings)),
      this.view.fields.flatMap((f) => f.findings),
    ).filter((f) => f.severity !== "note").slice(0, 3);
  },

  async go() {
    const s = this.inHand, begun = this.started(s), at = this.clock.now(), last = this.lastOf(s);
    // Levels typed without this clock have a beginning that nobody told it.
    if (begun === null && last !== null) {
      this.trouble = `${s.name} was read without this clock. Go on in the worksheet, with the minutes of your watch.`;
      return;
    }
    const minutes = begun === null ? 0 : (at - begun) / 60000, { row } = this;
    const read = await this.level(this.cell(row, this.v.reading), minutes);
    const asked = read && this.ask(s, read.text, begun, last);
    if (!read || (asked && asked !== this.doubt)) {
      this.doubt = asked ?? "";
      return;
    }
    this.keepLevel(s, row, at, minutes, read);
  },
  // What is typed, else what the instrument shows.
  async level(path, minutes) {
    const text = this.field().value.trim();
    this.trouble = "";
    if (text || !instrumentOf(this.view, path)) return { text, origins: {} };
    if (this.busy) return null;
    this.busy = true;
    const answer = await readCells(this.view.test, { [path]: minutes });
    this.busy = false;
    // Who types meanwhile reads by eye.
    if (this.field().value.trim() || this.text(path)) return null;
    this.trouble = answer.troubles[path] ?? "";
    return answer.cells[path] === undefined ? null : { text: answer.cells[path], origins: answer.origins };
  },
  ask(s, text, begun, last) {
    const { label } = this.v, way = this.wayOf(s);
    if (!text && begun === null) return `Type the ${label} at the start, then start its clock.`;
    if (!text) return `Type the ${label}.`;
    if (number(text) === null) return `“${text}” is not a number. Type the ${label} again.`;
    if (begun === null || last === null) return "";
    // A dipper's reading grows while water falls.
    if (way === "falls" && number(text) > last) return `${text} is higher than ${last}: read again.`;
    return way === "rises" && number(text) < last ? `${text} is less than ${last}: read again.` : "";
  },
  keepLevel(s, row, at, minutes, { text, origins }) {
    if (!text || number(text) === null) {
      this.field().focus();
      return;
    }
    const begins = this.started(s) === null;
    const cells = {
      [this.cell(row, this.v.by)]: String(s.number),
      [this.cell(row, this.v.keeps)]: minutes.toFixed(2),
      [this.cell(row, this.v.reading)]: text,
    };
    this.taken.push({ cells: Object.keys(cells), starts: begins ? s.number : null });
    if (begins) {
      this.began = { ...this.began, [s.number]: at };
      cells[s.clock] = new Date(at).toISOString();
    }
    this.add(cells, origins);
    this.doubt = "";
    this.field().value = "";
    if (!begins) this.goRound(s);
    this.keep();
  },
  // The hand goes round the cylinders that are running.
  goRound(s) {
    const running = this.v.series.filter((one) => this.started(one) !== null).map((one) => one.number);
    this.chosen = running[(running.indexOf(s.number) + 1) % running.length];
  },
  add(cells, origins = {}) {
    this.queue.add({ cells, origins, box: this.box(), figure: this.v.figure });
  },
  undo() {
    const { cells, starts } = this.taken.pop(), blank = Object.fromEntries(cells.map((path) => [path, ""]));
    if (starts) {
      blank[this.v.series.find((s) => s.number === starts).clock] = "";
      const { [starts]: _, ...others } = this.began;
      this.began = others;
    }
    this.add(blank);
    this.keep();
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("levels", () => runMode(pace, levels));
});
