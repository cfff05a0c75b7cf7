// Drying: a clock per tin, weighings until the server says that the mass is constant.
import { Clock } from "../core/clock.js";
import { runMode } from "./base.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("drying", () =>
    runMode({
      now: 0,
      started: {},

      init() {
        this.lab = new Clock(this.view);
        this.now = this.lab.now();
        this.store = `vadum.drying.${this.view.test}`;
        this.started = JSON.parse(localStorage.getItem(this.store) ?? "{}");
        this.openQueue({ stays: "what was weighed waits here" });
        setInterval(() => {
          this.now = this.lab.now();
        }, 250);
      },

      get clock() {
        return new Date(this.now).toTimeString().slice(0, 5);
      },
      get headline() {
        const h = this.view.verdict.headline;
        return h ? `${h.symbol} ${h.text} ${h.unit}` : "";
      },
      get first() {
        return this.view.drying.firstMin * 60000;
      },
      get step() {
        return this.view.drying.stepMin * 60000;
      },
      get tins() {
        return this.view.drying.tins.map((t) => {
          const begun = this.started[t.path] ?? Date.parse(t.startedAt || "");
          const due = begun + (t.weighed ? this.step : this.first);
          const done = t.state === "constant", running = !done && Number.isFinite(begun);
          return { ...t, done, running, begun, left: done ? "done" : running ? this.span(due - this.now) : "" };
        });
      },
      // Weighings still waiting for the line count too, or the next one would take their place.
      queued(test) {
        return this.queue.items.flatMap((item) => Object.keys(item.cells ?? {})).filter(test);
      },
      nextRow() {
        const rows = this.queued((path) => path.startsWith("reweighings.")).map((path) =>
          Number(path.split(".")[1]) + 1
        );
        return Math.max(this.view.drying.nextReweighing, ...rows);
      },
      span(ms) {
        if (ms <= 0) return "now";
        const s = Math.ceil(ms / 1000), pad = (n) => String(n).padStart(2, "0");
        return s >= 3600
          ? `${Math.floor(s / 3600)}:${pad(Math.floor((s % 3600) / 60))} h`
          : `${Math.floor(s / 60)}:${pad(s % 60)}`;
      },
      start(tin) {
        const at = this.lab.now();
        this.mark(tin.path, at);
        if (!tin.weighed) this.queue.add({ cells: { [`${tin.path}.started_at`]: new Date(at).toISOString() } });
      },
      mark(path, at) {
        this.started = { ...this.started, [path]: at };
        localStorage.setItem(this.store, JSON.stringify(this.started));
      },
      weigh(tin) {
        const input = this.$root.querySelector(`[data-tin="${tin.path}"]`), typed = input.value.trim();
        if (!typed) return;
        const at = this.lab.now(), minutes = Math.max(0, (at - tin.begun) / 60000);
        const cells = {}, first = `${tin.path}.mass_tin_dry_g`;
        if (!tin.weighed && !this.queued((path) => path === first).length) {
          cells[first] = typed;
          if (this.view.drying.timed) cells[`${tin.path}.drying_h`] = (minutes / 60).toFixed(1);
        } else {
          const row = `reweighings.${this.nextRow()}`;
          cells[`${row}.tin`] = tin.name;
          cells[`${row}.after_min`] = minutes.toFixed(0);
          cells[`${row}.mass_tin_dry_g`] = typed;
        }
        this.queue.add({ cells });
        this.mark(tin.path, at);
        input.value = "";
      },
    }));
});
