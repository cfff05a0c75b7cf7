// At the press: the plunger does not pause. A row is taken when its ring is read or said to be missed; the clock paces
// the hand and says how fast the plunger really went.
import { span } from "../core/clock.js";
import { boxOf, drawn, figureOf } from "../core/live.js";
import { number, once, placeOf, tableOf } from "../core/sheet.js";
import { runMode } from "./base.js";
import { byItself } from "./byitself.js";
import { plungerPace } from "./plungerpace.js";
import { pressWords } from "./presswords.js";

// The rows of every run below the seating.
const runsOf = once((texts, view) =>
  Object.fromEntries(view.press.runs.map(({ table }) => [
    table,
    tableOf(view, table).rows.map(({ path, leftOut }) => ({
      path,
      at: number(texts[`${path}.penetration_mm`]),
      ring: number(texts[`${path}.${view.press.column}`]),
      out: texts[`${path}.left_out`] ?? leftOut,
    })).filter((row) => row.at !== null && row.at > 0),
  ]))
);

const press = {
  run: 0,
  began: {},
  stamps: {},
  missed: {},
  chosen: null,
  ending: false,
  taken: [],
  auto: false,
  busy: false,

  init() {
    this.openRun("press", ["run", "began", "stamps", "missed", "taken", "auto"], {
      saved: () => this.draw(),
      stays: "go on reading here",
      onKey: (event) => {
        const typing = event.target.closest("input, dialog");
        if (event.code === "Space" && !typing) {
          event.preventDefault();
          this.go();
        }
      },
    });
    const first = this.runs.findIndex((r) => !this.over(r.table));
    if (!this.began[this.name]) this.run = Math.max(0, first);
    this.$nextTick(async () => {
      this.$refs.live.innerHTML = await drawn(this.view, this.box(), `run-${this.name}`);
    });
  },
  box() {
    return boxOf(this.$refs.live, 0.72);
  },
  draw() {
    this.$refs.live.innerHTML = figureOf(this.view);
  },
  field() {
    return this.$root.querySelector("[data-name=ring]");
  },

  get p() {
    return this.view.press;
  },
  get runs() {
    return this.p.runs;
  },
  get name() {
    return this.runs[this.run].table;
  },
  get rate() {
    return this.p.rate;
  },
  rowsOf(name) {
    return runsOf(this.texts, this.view)[name];
  },
  get rows() {
    return this.rowsOf(this.name);
  },
  // What follows the last row that was read or said to be missed; a run said to end has no more.
  openOf(name) {
    const rows = this.rowsOf(name);
    const last = rows.findLastIndex((row) => row.ring !== null || this.missed[row.path]);
    return rows.some((row) => row.out && row.ring === null) ? [] : rows.slice(last + 1);
  },
  over(name) {
    return this.openOf(name).length === 0;
  },
  get going() {
    return Boolean(this.began[this.name]) && !this.over(this.name);
  },
  get canStart() {
    return !this.began[this.name] && !this.over(this.name);
  },
  get row() {
    return this.rows.find((row) => row.path === this.chosen) ?? this.openOf(this.name)[0] ?? null;
  },
  tick() {
    if (!this.going) return;
    if (this.left < 2) this.call(this.row?.path);
    if (this.auto) this.watchGauge();
  },
  // The row in hand may be put one back or one on: a tap came early, or late.
  shift(by) {
    const rows = this.rows, i = rows.findIndex((row) => row.path === this.row?.path);
    this.chosen = rows[i + by]?.path ?? this.chosen;
    this.$nextTick(() => this.field().focus());
  },

  go() {
    if (this.canStart) this.start();
    else if (this.going) this.take();
  },
  start() {
    this.began = { ...this.began, [this.name]: this.clock.now() };
    const seated = tableOf(this.view, this.name).rows.find((r) => this.number(`${r.path}.penetration_mm`) === 0);
    if (seated) this.add({ [`${seated.path}.${this.p.column}`]: "0" });
    this.keep();
    this.$nextTick(() => this.field().focus());
  },
  choose(i) {
    if (this.going) return;
    this.run = i;
    this.keep();
  },
  add(cells, origins = {}) {
    this.queue.add({ cells, origins, box: this.box(), figure: `run-${this.name}` });
  },
  async take() {
    const typed = this.field().value.trim(), { row, seconds } = this;
    if (typed) {
      this.keepRing(row, { [`${row.path}.${this.p.column}`]: typed });
      return;
    }
    if (!this.bound) {
      this.field().focus();
      return;
    }
    if (this.busy) return;
    const answer = await this.ask([`${row.path}.${this.p.column}`]);
    // Who types meanwhile reads the ring by eye.
    if (answer && row.path === this.row?.path && !this.field().value.trim()) {
      this.keepRing(row, answer.cells, answer.origins, { seconds });
    }
  },
  // The row was read so many seconds after the start: an instrument answers later than it was asked.
  keepRing(row, cells, origins = {}, { seconds } = this) {
    const at = Number(cells[`${row.path}.penetration_mm`] ?? row.at);
    const others = this.stampsHere.filter((stamp) => stamp.path !== row.path);
    this.stamps = { ...this.stamps, [this.name]: [...others, { path: row.path, at, seconds }] };
    const { measured } = this;
    this.add({ ...cells, ...(measured ? { rate_measured_mm_min: measured.toFixed(2) } : {}) }, origins);
    this.taken.push(Object.keys(cells).find((path) => path.endsWith(this.p.column)));
    this.chosen = null;
    this.field().value = "";
    this.keep();
  },
  miss() {
    this.missed = { ...this.missed, [this.row.path]: true };
    this.chosen = null;
    this.keep();
    this.$nextTick(() => this.field().focus());
  },
  undo() {
    const path = this.taken.pop(), { table, row } = placeOf(path);
    this.add({ [path]: "" });
    const kept = (this.stamps[table] ?? []).filter((stamp) => stamp.path !== `${table}.${row}`);
    this.stamps = { ...this.stamps, [table]: kept };
    this.missed = Object.fromEntries(
      Object.entries(this.missed).filter(([one]) =>
        placeOf(`${one}.x`).table !== table || placeOf(`${one}.x`).row < row
      ),
    );
    this.keep();
  },
  // A run that ends early says why, at the row that was not reached.
  askEnd() {
    this.ending = !this.ending;
  },
  end(why) {
    this.add({ [`${this.openOf(this.name)[0].path}.left_out`]: why });
    this.ending = false;
    this.auto = false;
    this.keep();
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("press", () => runMode(pressWords(span), plungerPace, byItself, press));
});
