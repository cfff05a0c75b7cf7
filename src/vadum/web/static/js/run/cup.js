// At the cup: count blows on one big key, say how far the groove closed, hear what to do next.
import { tone } from "../core/tone.js";
import { runMode } from "./base.js";

const BEAT_MS = 500;

document.addEventListener("alpine:init", () => {
  Alpine.data("cup", () =>
    runMode({
      count: 0,
      phase: "count",
      ticking: false,
      times: [],

      init() {
        this.store = `vadum.run.${this.view.test}`;
        this.openQueue({ stays: "your count is kept here" });
        const kept = JSON.parse(localStorage.getItem(this.store) ?? "null");
        if (kept) Object.assign(this, kept);
        addEventListener("keydown", (event) => this.key(event));
      },
      keep() {
        localStorage.setItem(this.store, JSON.stringify({ count: this.count, phase: this.phase, row: this.row }));
      },

      get rows() {
        return this.view.tables[0].rows;
      },
      get current() {
        return this.row ?? this.rows.findIndex((r) => !r.cells.blows.text && !r.leftOut);
      },
      get trialWord() {
        return `trial ${this.current + 1}`;
      },
      get window() {
        return this.rows[0].cells.blows_repeat
          ? this.rows[0].cells.blows_repeat.expected
          : this.rows[0].cells.blows.expected;
      },
      get rateWord() {
        if (this.times.length < 4) return "";
        const recent = this.times.slice(-9);
        return `${((1000 * (recent.length - 1)) / (recent.at(-1) - recent[0])).toFixed(1)} drops/s`;
      },
      get trials() {
        return this.rows.filter((r) => r.cells.blows.text).map((r) => ({
          path: r.path,
          text: `${r.cells.blows.text} blows${r.cells.tin.text ? `, ${r.cells.tin.text}` : ""}`,
          w: r.computed.water_content_percent ? `${r.computed.water_content_percent} %` : "",
          bad: r.findings.length > 0 || Boolean(r.leftOut),
        }));
      },
      get next() {
        return this.phase === "closed" ? "How far did the groove close? 13 mm counts." : this.view.verdict.next;
      },

      key(event) {
        if (event.target.closest?.("input, dialog")) return;
        if (event.key === " ") {
          event.preventDefault();
          if (!event.repeat) this.blow();
        }
        if (event.key === "Backspace") this.undo();
        if (event.key === "Enter" && this.phase === "count" && this.count && !event.target.closest?.("button, a")) {
          this.closed();
        }
        if (event.key === "m") this.metronome();
      },
      blow() {
        if (this.phase !== "count") return;
        this.count += 1;
        this.times.push(performance.now());
        this.keep();
      },
      // A pointer counts on the way down; only a click made by a key arrives without one.
      blowByKey(event) {
        if (event.detail === 0 && event.pointerType === "") this.blow();
      },
      undo() {
        if (this.phase === "count" && this.count) {
          this.count -= 1;
          this.times.pop();
          this.keep();
        }
      },
      closed() {
        this.row = this.current;
        this.phase = "closed";
        this.keep();
        this.$nextTick(() => this.field("blows").focus());
      },
      field(name) {
        return this.$root.querySelector(`[data-name="${name}"]`);
      },
      keepCount() {
        const first = this.rows[this.current]?.cells, path = `trials.${this.current}`;
        const counted = first?.blows.text || this.queue.items.some((item) => `${path}.blows` in (item.cells ?? {}));
        const repeat = first?.blows_repeat && counted;
        const cells = {
          [`${path}.${repeat ? "blows_repeat" : "blows"}`]: this.field("blows").value,
          [`${path}.closure_mm`]: this.field("closure").value,
        };
        this.queue.add({ cells });
        this.count = 0;
        this.times = [];
        // One-point wants the second closure before the tin.
        const again = first?.blows_repeat && !repeat;
        this.phase = again ? "count" : "tin";
        this.keep();
        if (!again) this.$nextTick(() => this.field("tin").focus());
      },
      keepTin() {
        const path = `trials.${this.current}`;
        this.queue.add({
          cells: { [`${path}.tin`]: this.field("tin").value, [`${path}.mass_tin_wet_g`]: this.field("wet").value },
        });
        this.nextTrial();
      },
      nextTrial() {
        this.phase = "count";
        this.row = this.current + 1;
        for (const name of ["tin", "wet"]) this.field(name).value = "";
        this.field("closure").value = "13";
        this.keep();
        document.activeElement?.blur();
      },

      metronome() {
        this.ticking = !this.ticking;
        clearInterval(this.beat);
        if (!this.ticking) return;
        this.audio ??= new AudioContext();
        this.beat = setInterval(() => tone(this.audio, 880), BEAT_MS);
      },
    }));
});
