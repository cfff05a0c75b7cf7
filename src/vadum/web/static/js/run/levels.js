// Levels falling in several cylinders, or at one head after another: each with its own clock, read side by side.
import { Clock, span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf, drawn } from "../core/live.js";
import { runMode } from "./base.js";

const MINUTE = 60000;

document.addEventListener("alpine:init", () => {
  Alpine.data("levels", () =>
    runMode({
      now: 0,
      began: {},
      taken: [],
      chosen: 1,
      doubt: "",
      trouble: "",
      busy: false,

      init() {
        this.clock = new Clock(this.view);
        this.store = `vadum.levels.${this.view.test}`;
        Object.assign(this, JSON.parse(localStorage.getItem(this.store) ?? "{}"));
        this.openQueue({
          saved: () => {
            this.$refs.live.innerHTML = this.view.figures.find((f) => f.svg)?.svg ?? "";
          },
        });
        this.tick();
        setInterval(() => this.tick(), 250);
        addEventListener("keydown", (event) => {
          if (event.code === "Space" && !event.target.closest("input, button, dialog")) {
            event.preventDefault();
            this.take();
          }
        });
        navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clocks go on */});
        this.$nextTick(async () => {
          this.$refs.live.innerHTML = await drawn(this.view.test, this.box(), this.v.figure);
        });
      },
      keep() {
        localStorage.setItem(this.store, JSON.stringify({ began: this.began, taken: this.taken, chosen: this.chosen }));
      },
      box() {
        return boxOf(this.$refs.live, 0.7);
      },
      tick() {
        this.now = this.clock.now();
      },

      get v() {
        return this.view.levels;
      },
      // A clock is kept on the server, and in this browser until it has arrived there.
      started(s) {
        const kept = Date.parse(s.startedAt);
        return this.began[s.number] ?? (Number.isFinite(kept) ? kept : null);
      },
      minutes(s) {
        const at = this.started(s);
        return at === null ? null : (this.now - at) / MINUTE;
      },
      digits(s) {
        const m = this.minutes(s);
        return m === null ? "–:––" : span(m * MINUTE);
      },
      // The row in hand counts on past readings that wait for the line.
      get row() {
        const waiting = Object.keys(this.queued()).filter((path) => path.startsWith(`${this.v.table}.`)).map((path) =>
          Number(path.split(".")[1]) + 1
        );
        return Math.max(this.v.row, ...waiting);
      },
      last(s) {
        const waiting = Object.entries(this.queued()).filter(([path]) => path.endsWith(`.${this.v.by}`)).filter((
          [, n],
        ) => Number(n) === s.number)
          .map(([path]) => this.queued()[path.replace(this.v.by, this.v.reading)]).filter(Boolean);
        return waiting.length ? Number(waiting.at(-1)) : s.last;
      },
      lastWord(s) {
        const last = this.last(s);
        return last === null ? "not read yet" : `last ${last} ${this.v.unit}`;
      },
      get inHand() {
        return this.v.series.find((s) => s.number === this.chosen) ?? this.v.series[0];
      },
      choose(number) {
        if (this.chosen !== number) this.doubt = "";
        this.chosen = number;
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
        return this.started(this.inHand) === null
          ? `Start ${this.inHand.name}`
          : this.doubt
          ? "Keep it all the same"
          : `Read ${this.inHand.name}`;
      },
      get says() {
        return this.view.findings.concat(
          this.view.tables.flatMap((t) => t.rows.flatMap((r) => r.findings)),
          this.view.fields.flatMap((f) => f.findings),
        ).filter((f) => f.severity !== "note").slice(0, 3);
      },

      async take() {
        // Levels typed without this clock have a beginning that nobody told it.
        if (this.started(this.inHand) === null && this.inHand.last !== null) {
          this.trouble =
            `${this.inHand.name} was read without this clock. Go on in the worksheet, with the minutes of your watch.`;
          return;
        }
        this.trouble = "";
        const s = this.inHand,
          field = this.field(),
          path = `${this.v.table}.${this.row}.${this.v.reading}`,
          begun = this.started(s);
        const at = this.clock.now();
        let typed = field.value.trim().replace(",", "."), origins = {};
        if (!typed && instrumentOf(this.view, path)) {
          this.busy = true;
          const answer = await readCells(this.view.test, { [path]: begun === null ? 0 : (at - begun) / MINUTE });
          this.busy = false;
          this.trouble = answer.troubles[path] ?? "";
          if (answer.cells[path] === undefined) return;
          typed = answer.cells[path];
          origins = answer.origins;
        }
        if (!typed) {
          this.doubt = begun === null
            ? `Type the ${this.v.label} at the start, then start its clock.`
            : `Type the ${this.v.label}.`;
          field.focus();
          return;
        }
        const last = this.last(s);
        if (begun !== null && last !== null && Number(typed) > last && !this.doubt) {
          this.doubt = `${typed} is higher than ${last}: read again.`;
          return;
        }
        const minutes = begun === null ? 0 : (at - begun) / MINUTE;
        const cells = {
          [`${this.v.table}.${this.row}.${this.v.by}`]: String(s.number),
          [`${this.v.table}.${this.row}.${this.v.keeps}`]: minutes.toFixed(2),
          [path]: typed,
        };
        if (begun === null) {
          this.began = { ...this.began, [s.number]: at };
          cells[s.clock] = new Date(at).toISOString();
        }
        this.taken.push({ row: this.row, starts: begun === null ? s : null });
        this.queue.add({ cells, origins, box: this.box(), figure: this.v.figure });
        this.doubt = "";
        field.value = "";
        // The hand goes round the cylinders that are running.
        const running = this.v.series.filter((one) => this.started(one) !== null);
        if (begun !== null && running.length > 1) {
          this.chosen = running[(running.findIndex((one) => one.number === s.number) + 1) % running.length].number;
        }
        this.keep();
      },
      undo() {
        const { row, starts } = this.taken.pop();
        const cells = Object.fromEntries(
          [this.v.by, this.v.keeps, this.v.reading].map((name) => [`${this.v.table}.${row}.${name}`, ""]),
        );
        if (starts) {
          cells[starts.clock] = "";
          const { [starts.number]: _, ...others } = this.began;
          this.began = others;
        }
        this.queue.add({ cells, box: this.box(), figure: this.v.figure });
        this.keep();
      },
    }));
});
