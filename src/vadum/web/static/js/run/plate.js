// At the plate: one pressure at a time, its clock, its gauges, and whether to hold or to load.
import { Clock, span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf, drawn } from "../core/live.js";
import { tone } from "../core/tone.js";
import { runMode } from "./base.js";

const MINUTE = 60000, ANNOUNCE_MS = 15000;

document.addEventListener("alpine:init", () => {
  Alpine.data("plate", () =>
    runMode({
      now: 0,
      began: null,
      stamped: null,
      doubt: "",
      trouble: "",
      auto: false,
      busy: false,
      taken: [],
      pressure: null,
      sound: false,
      announced: null,

      init() {
        this.clock = new Clock(this.view);
        this.store = `vadum.plate.${this.view.test}`;
        Object.assign(this, JSON.parse(localStorage.getItem(this.store) ?? "{}"));
        this.openQueue({ saved: () => this.draw() });
        setInterval(() => this.tick(), 250);
        this.tick();
        addEventListener("keydown", (event) => {
          if (event.code === "Space" && !event.target.closest("input, select, dialog")) {
            event.preventDefault();
            this.go();
          }
        });
        navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clock goes on */});
        this.$nextTick(async () => {
          this.$refs.live.innerHTML = await drawn(this.view.test, this.box(), this.p.figure);
        });
      },
      keep() {
        localStorage.setItem(
          this.store,
          JSON.stringify({ began: this.began, taken: this.taken, auto: this.auto, pressure: this.pressure }),
        );
      },
      box() {
        return boxOf(this.$refs.live, 0.64);
      },
      draw() {
        this.$refs.live.innerHTML = this.view.figures.find((f) => f.svg)?.svg ?? "";
      },

      get p() {
        return this.view.plate;
      },
      // The clock of the stage: kept on the server, and in this browser until it has arrived there.
      get started() {
        const kept = Date.parse(this.p.startedAt);
        return this.began ?? (Number.isFinite(kept) ? kept : null);
      },
      get minutes() {
        return this.started === null ? null : (this.now - this.started) / MINUTE;
      },
      // The row in hand counts on past readings that wait for the line.
      get row() {
        const waiting = Object.keys(this.queued()).filter((path) => path.startsWith(`${this.p.table}.`)).map((path) =>
          Number(path.split(".")[1]) + 1
        );
        return this.p.row === null ? null : this.p.next === undefined ? this.p.row : Math.max(this.p.row, ...waiting);
      },
      get readMinutes() {
        const waiting = Object.entries(this.queued()).filter(([path]) => path.endsWith(".elapsed_min")).map((
          [, value],
        ) => Number(value));
        return [...this.p.readings.map((r) => r[0]), ...waiting];
      },
      get open() {
        return this.started !== null && this.p.row !== null;
      },
      get nextDue() {
        const last = Math.max(0, ...this.readMinutes);
        return this.p.dues.find((due) => due > last * 1.001 + 0.01) ?? null;
      },
      get left() {
        return this.nextDue === null || this.minutes === null ? null : (this.nextDue - this.minutes) * MINUTE;
      },
      get digits() {
        return this.minutes === null || !this.open ? "0:00" : span(this.minutes * MINUTE);
      },
      get dueWord() {
        if (!this.open) return this.p.row === null ? "" : "set the pressure, then start its clock";
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
        return (this.nextDue === null || this.minutes === null ? 0 : Math.min(1, this.minutes / this.nextDue)).toFixed(
          3,
        );
      },
      get urgent() {
        return this.open && this.left !== null && this.left < ANNOUNCE_MS && this.left > -4 * MINUTE;
      },
      get title() {
        return this.pressure !== null && this.pressure !== this.p.pressure && this.p.next !== undefined
          ? `${this.pressure} kPa`
          : this.p.stage;
      },
      get apply() {
        return this.p.apply;
      },
      get gauges() {
        return this.p.gauges.map(([name, label]) => {
          const row = this.view.tables.find((t) => t.name === this.p.table)?.rows.find((r) =>
            r.path === `${this.p.table}.${this.row}`
          );
          const last = this.p.lasts?.[name];
          return {
            name,
            label,
            expected: row?.cells[name]?.expected ?? "",
            last: last === undefined || last === null ? "" : `last ${last}`,
          };
        });
      },
      get bound() {
        return instrumentOf(this.view, `${this.p.table}.0.${this.p.gauges[0][0]}`);
      },
      get decision() {
        return this.p.decision || this.view.verdict.next;
      },
      get mayLoad() {
        return this.p.next !== undefined && (this.p.pressure === null || this.open);
      },
      get nextWord() {
        return this.p.next === null || this.p.next === undefined ? "Next pressure" : `Next: ${this.p.nextApply}`;
      },
      get goWord() {
        return this.p.row === null
          ? "All read"
          : !this.open
          ? "Start the clock"
          : this.doubt
          ? "Keep it all the same"
          : "Take reading";
      },
      get says() {
        return this.view.findings.concat(this.view.tables.flatMap((t) => t.rows.flatMap((r) => r.findings))).filter((
          f,
        ) => f.severity === "stop").slice(0, 2);
      },

      tick() {
        this.now = this.clock.now();
        if (!this.open || this.nextDue === null) return;
        if (this.sound && this.left < ANNOUNCE_MS && this.announced !== this.nextDue) {
          this.announced = this.nextDue;
          tone(this.audio, 880, 0.3);
        }
        if (this.auto && this.left <= 0 && !this.busy) this.take(true);
      },
      toggleSound() {
        this.sound = !this.sound;
        this.audio ??= new AudioContext();
      },
      toggleAuto() {
        this.auto = !this.auto;
        this.keep();
      },
      field(name) {
        return this.$root.querySelector(`[data-gauge="${name}"]`);
      },
      typed() {
        return Object.fromEntries(this.p.gauges.map(([name]) => [name, this.field(name)?.value.trim() ?? ""]));
      },

      go() {
        if (this.p.row === null) return;
        if (!this.open) this.start();
        else this.take(false);
      },
      // A clock begins with its pressure; the server keeps when.
      start() {
        this.begin({});
      },
      begin(cells) {
        this.began = this.clock.now();
        this.add({ ...cells, stage_started_at: new Date(this.began).toISOString() });
        this.keep();
        this.$nextTick(() => this.field(this.p.gauges[0][0])?.focus());
      },
      load() {
        const input = this.$root.querySelector("[data-name=pressure]"),
          kpa = Number((input?.value.trim() || String(this.p.next ?? "")).replace(",", "."));
        if (!Number.isFinite(kpa) || kpa < 0) {
          input?.focus();
          return;
        }
        this.pressure = kpa;
        // Readings of the stage before are behind us; the first of this one names the pressure.
        this.begin({ [`${this.p.table}.${this.row}.pressure_kpa`]: String(kpa) });
        if (input) input.value = "";
      },
      add(cells, origins = {}) {
        this.queue.add({ cells, origins, box: this.box(), figure: this.p.figure });
      },
      async take(byItself) {
        const row = this.row,
          minutes = this.minutes,
          names = this.p.gauges.map(([name]) => name),
          paths = names.map((name) => `${this.p.table}.${row}.${name}`);
        let values = this.typed(), origins = {};
        if (byItself || (this.bound && !names.some((name) => values[name]))) {
          this.busy = true;
          const answer = await readCells(this.view.test, Object.fromEntries(paths.map((path) => [path, minutes])));
          this.busy = false;
          this.trouble = Object.values(answer.troubles)[0] ?? "";
          if (this.trouble) return;
          values = Object.fromEntries(names.map((name, i) => [name, answer.cells[paths[i]] ?? ""]));
          origins = answer.origins;
          if (row !== this.row) return;
        }
        const missing = names.find((name) => !values[name]);
        if (missing && !this.doubt) {
          this.doubt = `${
            this.p.gauges.find(([name]) => name === missing)[1]
          } is empty. Read it, or keep the row without.`;
          this.field(missing)?.focus();
          return;
        }
        const odd = byItself ? "" : this.query(values);
        if (odd && !this.doubt) {
          this.doubt = odd;
          return;
        }
        const cells = {};
        names.forEach((name, i) => {
          if (values[name]) cells[paths[i]] = values[name];
        });
        for (const [column, unit] of Object.entries(this.p.keeps ?? {})) {
          cells[`${this.p.table}.${row}.${column}`] = (unit === "seconds" ? minutes * 60 : minutes).toFixed(
            unit === "seconds" ? 0 : 2,
          );
        }
        if (this.p.next === undefined) {
          this.began = null;
          cells.stage_started_at = "";
        }
        this.add(cells, origins);
        this.taken.push({ row, names });
        this.doubt = "";
        for (const name of names) if (this.field(name)) this.field(name).value = "";
        this.keep();
      },
      query(values) {
        for (const g of this.gauges) {
          const [low, high] = g.expected.split("–").map(Number), value = Number(values[g.name].replace(",", "."));
          if (values[g.name] && Number.isFinite(low) && Number.isFinite(high) && (value < low || value > high)) {
            return `${g.label}: ${values[g.name]} is outside ${g.expected}. Read it again.`;
          }
        }
        return "";
      },
      undo() {
        const { row, names } = this.taken.pop();
        const cells = Object.fromEntries(names.map((name) => [`${this.p.table}.${row}.${name}`, ""]));
        for (const column of Object.keys(this.p.keeps ?? {})) cells[`${this.p.table}.${row}.${column}`] = "";
        this.add(cells);
        this.keep();
      },
    }));
});
