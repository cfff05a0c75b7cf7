// At the press: the plunger does not pause. Each quarter millimetre has its second; what is not read in time is
// bridged.
import { Clock, span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf, drawn } from "../core/live.js";
import { tone } from "../core/tone.js";
import { runMode } from "./base.js";

// A reading may be typed until this share of a step after its time; then it is missed and the next one is asked for.
const LATE = 0.85;

document.addEventListener("alpine:init", () => {
  Alpine.data("press", () =>
    runMode({
      now: 0,
      run: 0,
      began: {},
      stamps: {},
      missed: {},
      taken: [],
      auto: false,
      busy: false,
      trouble: "",
      sound: false,
      announced: "",

      init() {
        this.clock = new Clock(this.view);
        this.store = `vadum.press.${this.view.test}`;
        Object.assign(this, JSON.parse(localStorage.getItem(this.store) ?? "{}"));
        this.openQueue({ saved: () => this.draw(), stays: "go on reading here" });
        const first = this.runs.findIndex((r) => !this.over(r));
        if (!this.began[this.table]) this.run = Math.max(0, first);
        setInterval(() => this.tick(), 200);
        this.tick();
        addEventListener("keydown", (event) => {
          if (event.code === "Space" && !event.target.closest("input, dialog")) {
            event.preventDefault();
            this.go();
          }
        });
        navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the press goes on */});
        this.$nextTick(async () => {
          this.$refs.live.innerHTML = await drawn(this.view.test, this.box(), `run-${this.table}`);
        });
      },
      keep() {
        localStorage.setItem(
          this.store,
          JSON.stringify({
            run: this.run,
            began: this.began,
            stamps: this.stamps,
            missed: this.missed,
            taken: this.taken,
            auto: this.auto,
          }),
        );
      },
      box() {
        return boxOf(this.$refs.live, 0.72);
      },
      draw() {
        this.$refs.live.innerHTML = this.view.figures.find((f) => f.svg)?.svg ?? "";
      },

      get runs() {
        return this.view.press.runs;
      },
      get current() {
        return this.runs[this.run];
      },
      get table() {
        return this.current.table;
      },
      get rate() {
        return this.view.press.rate;
      },
      readOf(table, row) {
        const typed = this.queued()[`${table}.${row.row}.ring_div`];
        return typed === undefined ? row.reads : typed === "" ? null : Number(String(typed).replace(",", "."));
      },
      rowsOf(r) {
        return r.rows.filter((row) => row.at > 0);
      },
      over(r) {
        return this.rowsOf(r).every((row) =>
          this.readOf(r.table, row) !== null || this.missed[`${r.table}.${row.row}`]
        );
      },
      get going() {
        return Boolean(this.began[this.table]) && !this.over(this.current);
      },
      get elapsed() {
        return this.going ? (this.now - this.began[this.table]) / 1000 : 0;
      },
      // The second a penetration is due at, by the rate as it was measured so far, else as it is set.
      due(row) {
        return (row.at / this.speed) * 60;
      },
      get speed() {
        const s = this.stamps[this.table];
        return s && s.at >= 1 ? Math.min(3 * this.rate, Math.max(0.3 * this.rate, s.at / (s.seconds / 60))) : this.rate;
      },
      get rateWord() {
        const s = this.stamps[this.table];
        return s && s.seconds > 5 ? `${(s.at / (s.seconds / 60)).toFixed(2)} mm/min` : `set ${this.rate} mm/min`;
      },
      get rateBad() {
        const s = this.stamps[this.table];
        return Boolean(s && s.at >= 1 && Math.abs(s.at / (s.seconds / 60) - this.rate) > 0.2 * this.rate);
      },
      get next() {
        return this.rowsOf(this.current).find((row) =>
          this.readOf(this.table, row) === null && !this.missed[`${this.table}.${row.row}`]
        ) ?? null;
      },
      get step() {
        return this.next
          ? this.next.at - (this.rowsOf(this.current).findLast((row) => row.at < this.next.at)?.at ?? 0)
          : 0.25;
      },
      get left() {
        return this.next ? this.due(this.next) - this.elapsed : 0;
      },

      tick() {
        this.now = this.clock.now();
        if (!this.going || !this.next) return;
        const key = `${this.table}.${this.next.row}`;
        if (this.sound && this.left < 2 && this.announced !== key) {
          this.announced = key;
          tone(this.audio, 880, 0.15);
        }
        if (this.auto && this.left <= 0) this.takeDue();
        // The plunger is past it: bridged, and said so on the sheet. Somebody who is typing keeps the cell in hand.
        while (
          this.next && !this.busy && -this.left > LATE * (this.step / this.speed) * 60 && !this.field().value.trim()
        ) {
          this.missed = { ...this.missed, [`${this.table}.${this.next.row}`]: true };
          this.keep();
        }
      },
      toggleSound() {
        this.sound = !this.sound;
        this.audio ??= new AudioContext();
      },
      get bound() {
        return instrumentOf(this.view, `${this.table}.0.ring_div`);
      },
      toggleAuto() {
        this.auto = !this.auto;
        this.keep();
      },

      get digits() {
        return this.going && this.next ? `${this.next.at.toFixed(2)}` : this.over(this.current) ? "done" : "0.00";
      },
      get clockWord() {
        return this.going ? `${span(this.elapsed * 1000)} since the start` : "";
      },
      get dueWord() {
        if (!this.going) {
          return this.over(this.current) ? `${this.current.title} is run` : "mm: seated, ring and gauge at zero?";
        }
        return this.left > 0 ? `mm in ${Math.ceil(this.left)} s` : "mm: read the ring now";
      },
      get urgent() {
        return this.going && this.left < 3;
      },
      field() {
        return this.$root.querySelector("[data-name=ring]");
      },
      get lastWord() {
        const read = this.rowsOf(this.current).filter((row) => this.readOf(this.table, row) !== null).slice(-2);
        if (!read.length) return "";
        const values = read.map((row) => this.readOf(this.table, row)),
          rise = values.length > 1 ? values[1] - values[0] : 0;
        return values.length > 1 ? `last ${values[1]}, about ${Math.round(values[1] + rise)}` : `last ${values[0]}`;
      },
      get missedWord() {
        const gone = this.rowsOf(this.current).filter((row) =>
          this.missed[`${this.table}.${row.row}`] && this.readOf(this.table, row) === null
        );
        return gone.length ? `bridged: ${gone.map((row) => row.at).join(", ")} mm` : "";
      },
      get marks() {
        return this.rowsOf(this.current).filter((row) => this.readOf(this.table, row) !== null).slice(-6).map((
          row,
        ) => ({
          row: row.row,
          text: `${row.at.toFixed(2)}: ${this.readOf(this.table, row)}`,
        }));
      },
      get goWord() {
        return this.going
          ? (this.next ? `Keep ${this.next.at.toFixed(2)} mm` : "Done")
          : this.over(this.current)
          ? "Run is over"
          : `Start: ${this.current.title}`;
      },
      get canStart() {
        return !this.going && !this.over(this.current);
      },
      get says() {
        return this.view.findings.concat(
          this.view.tables.filter((t) => t.name === this.table).flatMap((t) => t.rows.flatMap((r) => r.findings)),
        ).filter((f) => f.severity !== "note").slice(0, 2);
      },

      go() {
        if (this.canStart) this.start();
        else if (this.going) this.take();
      },
      start() {
        this.began = { ...this.began, [this.table]: this.clock.now() };
        const zero = this.current.rows.find((row) => row.at === 0);
        if (zero) this.queue.add({ cells: { [`${this.table}.${zero.row}.ring_div`]: "0" }, box: this.box() });
        this.keep();
        this.$nextTick(() => this.field().focus());
      },
      choose(i) {
        if (!this.going) {
          this.run = i;
          this.keep();
        }
      },
      take() {
        const typed = this.field().value.trim();
        if (typed) this.keepReading(this.next, typed, null);
        else if (this.bound) this.takeDue();
        else this.field().focus();
      },
      async takeDue() {
        if (this.busy || !this.next) return;
        const row = this.next, path = `${this.table}.${row.row}.ring_div`;
        this.busy = true;
        const answer = await readCells(this.view.test, { [path]: null });
        this.busy = false;
        this.trouble = answer.troubles[path] ?? "";
        if (answer.cells[path] !== undefined) this.keepReading(row, answer.cells[path], answer.origins[path]);
      },
      keepReading(row, value, origin) {
        const path = `${this.table}.${row.row}.ring_div`, seconds = (this.clock.now() - this.began[this.table]) / 1000;
        this.stamps = { ...this.stamps, [this.table]: { at: row.at, seconds } };
        const rate = row.at >= 1 ? { rate_measured_mm_min: (row.at / (seconds / 60)).toFixed(2) } : {};
        this.queue.add({
          cells: { [path]: value, ...rate },
          origins: origin ? { [path]: origin } : {},
          box: this.box(),
          figure: `run-${this.table}`,
        });
        this.taken.push(path);
        this.field().value = "";
        this.keep();
      },
      undo() {
        const path = this.taken.pop();
        if (path) {
          this.queue.add({ cells: { [path]: "" }, box: this.box() });
          this.keep();
        }
      },
      stop() {
        for (const row of this.rowsOf(this.current)) {
          if (this.readOf(this.table, row) === null) this.missed[`${this.table}.${row.row}`] = true;
        }
        this.missed = { ...this.missed };
        this.keep();
      },
    }));
});
