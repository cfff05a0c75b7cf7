// One reading at a time, for any method: what is next, what it should be near, take it, undo it. Readings wait here for
// the line.
import { Clock, span } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { tone } from "../core/tone.js";
import { runMode } from "./base.js";

const ANNOUNCE_MS = 30000;

document.addEventListener("alpine:init", () => {
  Alpine.data("steps", () =>
    runMode({
      now: 0,
      begun: null,
      typed: "",
      origin: null,
      doubt: "",
      trouble: "",
      busy: false,
      skipped: [],
      done: [],
      taken: [],
      sound: false,
      announced: "",

      init() {
        this.clock = new Clock(this.view);
        this.store = `vadum.steps.${this.view.test}`;
        Object.assign(this, JSON.parse(sessionStorage.getItem(this.store) ?? "{}"));
        this.openQueue();
        this.tick();
        setInterval(() => this.tick(), 250);
        addEventListener("keydown", (event) => this.key(event));
        navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clock goes on */});
        this.$nextTick(() => this.field()?.focus());
      },
      keep() {
        sessionStorage.setItem(
          this.store,
          JSON.stringify({ begun: this.begun, skipped: this.skipped, done: this.done, taken: this.taken }),
        );
      },
      field() {
        return this.$root.querySelector("[data-name=reading]");
      },

      // The clock: what falls due next on this test.
      tick() {
        this.now = this.clock.now();
        const due = this.due;
        if (due && due.left < ANNOUNCE_MS && this.announced !== due.key) {
          this.announced = due.key;
          if (this.sound) tone(this.audio, 880, 0.3);
        }
      },
      toggleSound() {
        this.sound = !this.sound;
        this.audio ??= new AudioContext();
      },
      get due() {
        const open = this.view.due.filter((d) => d.due && !["done", "missed", "waiting"].includes(d.standing))[0];
        return open ? { ...open, left: Date.parse(open.due) - this.now } : null;
      },
      get digits() {
        if (this.begun !== null) return span(this.now - this.begun);
        const d = this.due;
        return d ? (d.left < 0 ? "+" : "") + span(d.left) : new Date(this.now).toTimeString().slice(0, 5);
      },
      // An operation without a reading, such as shaking, is said to be done.
      get mayBeDone() {
        const d = this.due;
        return Boolean(d && !d.cell && this.begun === null);
      },
      get doneWord() {
        return `Done: ${this.due?.what ?? ""}`;
      },
      async operationDone() {
        try {
          await fetch(`/api/tests/${this.view.test}/operations/${this.due.key}`, { method: "POST" });
        } catch {
          this.trouble = "The line is down; say it again when it is back.";
          return;
        }
        const reply = await fetch(`/api/tests/${this.view.test}/sheet`);
        if (reply.ok) this.view = { ...this.view, ...(await reply.json()) };
      },
      get urgent() {
        const d = this.due;
        return Boolean(d && d.left < ANNOUNCE_MS && d.left > -ANNOUNCE_MS * 4);
      },
      get dueWord() {
        if (this.begun !== null) return "since the turning began; about two minutes to the peak";
        const d = this.due;
        return d ? (d.left < 0 ? `due: ${d.what}` : `until: ${d.what}`) : "nothing is timed now";
      },

      // Which cell: the first empty one that was neither skipped nor is waiting for the line.
      get step() {
        const queued = this.queued();
        return this.view.steps.find((s) =>
          !(s.path in queued) && !this.skipped.includes(s.path) && !s.supplied &&
          !(s.blank && this.done.includes(s.table))
        ) ?? null;
      },
      get left() {
        return this.view.steps.filter((s) => !s.blank).length;
      },
      get title() {
        const s = this.step;
        return s ? [s.where, s.label].filter(Boolean).join(": ") : "Every reading is taken.";
      },
      get unit() {
        return this.step?.unit ?? "";
      },
      get expected() {
        return this.step?.expected || this.minutesSince;
      },
      // Minutes since an operation was done are read off the clock.
      get minutesSince() {
        const from = this.step?.since && Date.parse(this.view.due.find((d) => d.key === this.step.since)?.doneAt ?? "");
        return from ? ((this.now - from) / 60000).toFixed(0) : "";
      },
      get last() {
        return this.step?.last ? `last ${this.step.last}` : "";
      },
      get instrument() {
        return this.step ? instrumentOf(this.view, this.step.path) : "";
      },
      get isChoice() {
        return this.step?.kind === "choice";
      },
      get choices() {
        return this.step?.choices ?? [];
      },
      get canEnd() {
        return Boolean(this.step?.blank);
      },
      get endWord() {
        return `No more: ${this.view.tables.find((t) => t.name === this.step?.table)?.title ?? "rows"}`;
      },
      // A range of one value is a proposal: the next depth, the next pressure. What a balance or a gauge shows is never
      // proposed: a value that nobody read must not come into the record.
      get proposed() {
        return !this.step?.measured && this.expected && !this.expected.includes("–") && !this.instrument &&
            !this.isChoice
          ? this.expected
          : "";
      },
      get counting() {
        return this.step?.by === "count" && !this.doubt;
      },
      get timing() {
        return this.step?.by === "stopwatch" && !this.instrument && !this.typed.trim() && !this.doubt;
      },
      // A stopwatch that survives a reload: begun on the first press, read on the second.
      watch() {
        if (this.begun === null) {
          this.begun = this.clock.now();
          this.keep();
          return;
        }
        this.typed = ((this.clock.now() - this.begun) / 1000).toFixed(0);
        this.begun = null;
        this.keepReading();
      },
      get takeWord() {
        return !this.step
          ? "Done"
          : this.counting
          ? `Count: ${this.typed || 0}`
          : this.timing
          ? (this.begun === null ? "Start the watch" : "Peak: stop the watch")
          : !this.typed.trim() && this.proposed
          ? `Keep ${this.proposed}`
          : this.doubt
          ? "Keep it all the same"
          : this.typed.trim()
          ? "Keep this reading"
          : this.instrument
          ? `Take from ${this.instrument}`
          : "Keep this reading";
      },
      get headline() {
        const h = this.view.verdict.headline;
        return h ? `${h.symbol} ${h.text} ${h.unit}` : "";
      },
      get next() {
        return this.view.verdict.next;
      },
      get says() {
        const rows = this.view.tables.flatMap((t) => t.rows),
          found = rows.flatMap((r) => r.findings).concat(
            this.view.fields.flatMap((f) => f.findings),
            this.view.findings,
          );
        return found.filter((f) => f.severity !== "note").slice(0, 3).map((f) => ({
          severity: f.severity,
          text: `${f.message} ${f.action}`,
        }));
      },

      key(event) {
        const inField = event.target.closest?.("input, select, dialog");
        if (event.key === " " && (!inField || (event.target.dataset.name === "reading" && !this.typed.trim()))) {
          event.preventDefault();
          this.take();
        }
        if (event.key === "Backspace" && !inField) this.undo();
        if (event.key === "s" && !inField) this.toggleSound();
      },
      edited(event) {
        this.typed = event.target.value;
        this.origin = null;
        this.doubt = "";
      },
      // Enter keeps what stands in the field; the big key also counts and times.
      entered() {
        if (this.typed.trim()) this.keepReading();
        else this.take();
      },
      async take() {
        if (!this.step || this.busy) return;
        this.trouble = "";
        if (this.counting) {
          this.typed = String(Number(this.typed || 0) + 1);
          return;
        }
        if (this.timing) {
          this.watch();
          return;
        }
        if (!this.typed.trim() && this.proposed) this.typed = this.proposed;
        if (!this.typed.trim()) {
          if (!this.instrument) {
            this.field()?.focus();
            return;
          }
          await this.read();
          if (!this.typed) return;
        }
        await this.keepReading();
      },
      async read() {
        this.busy = true;
        const path = this.step.path, answer = await readCells(this.view.test, { [path]: this.minutes() });
        this.busy = false;
        this.trouble = answer.troubles[path] ?? "";
        this.typed = answer.cells[path] ?? "";
        this.origin = answer.origins[path] ?? null;
      },
      // Minutes since the test's own clock began, for readings that depend on it.
      minutes() {
        const begun = Date.parse(this.view.clockStarted ?? "");
        return Number.isFinite(begun) ? (this.now - begun) / 60000 : null;
      },
      // One reading is judged after the other: Enter pressed meanwhile is for the reading that follows.
      keepReading() {
        this.judging = (this.judging ?? Promise.resolve()).then(() => this.judge());
        return this.judging;
      },
      async judge() {
        if (!this.step || !this.typed.trim()) return;
        const { path } = this.step, value = this.typed.trim(), origin = this.origin;
        if (!this.doubt && (this.doubt = await this.query(path, value))) {
          this.typed = value;
          this.field()?.focus();
          return;
        }
        this.queue.add({ cells: { [path]: value }, origins: origin ? { [path]: origin } : {} });
        this.taken.push(path);
        // The hand may have begun with the next reading while this one was judged.
        const ahead = this.typed.trim() === value ? "" : this.typed;
        this.clear();
        this.typed = ahead;
      },
      // The server judges the reading before it is kept; without the line the expected range does.
      async query(path, value) {
        try {
          const reply = await fetch(`/api/tests/${this.view.test}/preview`, {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: JSON.stringify({ cells: { ...this.queued(), [path]: value } }),
          });
          if (reply.ok) return this.complaint(await reply.json(), path);
        } catch { /* without the line */ }
        const [low, high] = (this.expected || "").split("–").map(Number), number = Number(value.replace(",", "."));
        return Number.isFinite(low) && Number.isFinite(high) && (number < low || number > high)
          ? `${value} is outside ${this.expected}. Read again.`
          : "";
      },
      complaint(judged, path) {
        const place = path.split(".").slice(0, 2).join("."), rows = judged.tables.flatMap((t) => t.rows);
        const row = rows.find((r) => r.path === place), field = judged.fields.find((f) => f.path === path);
        const error = field?.error || row?.cells[path.split(".")[2]]?.error;
        if (error) return error;
        const known = this.view.tables.flatMap((t) => t.rows).find((r) => r.path === place)?.findings ??
          this.view.fields.find((f) => f.path === path)?.findings ?? [];
        const said = (field?.findings ?? row?.findings ?? []).find((f) =>
          f.severity !== "note" && f.cells.includes(path) && !known.some((k) => k.code === f.code)
        );
        return said ? `${said.message} ${said.action}` : "";
      },
      choose(word) {
        this.typed = word;
        this.keepReading();
      },
      again() {
        this.clear();
      },
      clear() {
        this.trouble = "";
        this.typed = "";
        this.origin = null;
        this.doubt = "";
        this.keep();
        this.$nextTick(() => this.field()?.focus());
      },
      skip() {
        this.skipped.push(this.step.path);
        this.clear();
      },
      endRows() {
        this.done.push(this.step.table);
        this.clear();
      },
      undo() {
        const path = this.taken.pop();
        if (!path) return;
        this.queue.add({ cells: { [path]: "" } });
        this.clear();
      },
    }));
});
