// Drying: a clock per tin, weighings until the server says that the mass is constant.
import { span } from "../core/clock.js";
import { freeRow, number, placeOf, tableOf } from "../core/sheet.js";
import { runMode } from "./base.js";

const MINUTE = 60000;

const drying = {
  started: {},
  taken: [],
  doubts: {},

  init() {
    this.openRun("drying", ["started", "taken"], { stays: "what was weighed waits here" });
  },
  get digits() {
    return new Date(this.now).toTimeString().slice(0, 5);
  },
  // Every tin with moist soil, as it stands here; what the server made of it comes with its answer.
  get tins() {
    const moist = tableOf(this.view, "determinations").rows.filter((r) =>
      !r.leftOut && this.text(`${r.path}.mass_tin_wet_g`)
    );
    return moist.map((r) => this.tinOf(r.path));
  },
  tinOf(path) {
    const judged = this.view.drying.tins.find((t) => t.path === path) ?? {},
      waiting = this.weighingsWaiting(path, judged.name);
    const weighed = (judged.weighed ?? 0) + waiting.length;
    const begun = this.started[path] ?? Date.parse(judged.startedAt || "");
    const done = judged.state === "constant" && !waiting.length, running = !done && Number.isFinite(begun);
    const due = begun + (weighed ? this.view.drying.stepMin : this.view.drying.firstMin) * MINUTE;
    return {
      path,
      weighed,
      begun,
      done,
      running,
      due,
      name: judged.name || this.text(`${path}.tin`) || `row ${placeOf(`${path}.x`).row + 1}`,
      expected: judged.expected ?? `below ${this.text(`${path}.mass_tin_wet_g`)} g`,
      say: this.doubts[path] ??
        (waiting.length ? `${waiting.at(-1)} g kept here, judged when saved.` : judged.say ?? ""),
      left: done ? "done" : running ? (due > this.now ? span(due - this.now + 999) : "now") : "",
    };
  },
  // Weighings of a tin that the server has not judged yet.
  weighingsWaiting(path, named) {
    const first = this.held[`${path}.mass_tin_dry_g`], name = named || this.text(`${path}.tin`);
    const again = Object.keys(this.held).filter((p) => p.startsWith("reweighings.") && p.endsWith(".tin"))
      .filter((p) => this.held[p] === name).map((p) => this.held[p.replace(/tin$/, "mass_tin_dry_g")]);
    return [first, ...again].filter(Boolean);
  },
  tick() {
    for (const t of this.tins) if (t.running && t.due <= this.now) this.call(`${t.path}.${t.weighed}`);
  },

  start(tin) {
    const at = this.clock.now();
    this.mark(tin.path, at);
    if (!tin.weighed) this.queue.add({ cells: { [`${tin.path}.started_at`]: new Date(at).toISOString() } });
  },
  startAll() {
    for (const tin of this.tins.filter((t) => !t.done && !t.running)) this.start(tin);
  },
  get mayStartAll() {
    return this.tins.filter((t) => !t.done && !t.running).length > 1;
  },
  mark(path, at) {
    this.started = { ...this.started, [path]: at };
    this.keep();
  },
  weigh(tin) {
    const input = this.$root.querySelector(`[data-tin="${tin.path}"]`), typed = input.value.trim();
    if (!typed) {
      input.focus();
      return;
    }
    const asked = this.ask(tin, typed);
    if (asked && this.doubts[tin.path] !== asked) {
      this.doubts = { ...this.doubts, [tin.path]: asked };
      return;
    }
    const { [tin.path]: _, ...others } = this.doubts;
    this.doubts = others;
    const at = this.clock.now(), minutes = Math.max(0, (at - tin.begun) / MINUTE);
    this.add(tin, typed, minutes);
    input.value = "";
    this.mark(tin.path, at);
  },
  ask(tin, typed) {
    const mass = number(typed), most = number(this.text(`${tin.path}.mass_tin_wet_g`));
    if (mass === null) return `“${typed}” is not a mass. Type it again.`;
    return most !== null && mass >= most ? `${typed} g is not below ${most} g moist. Weigh again, or keep it.` : "";
  },
  add(tin, typed, minutes) {
    const cells = {};
    if (!tin.weighed) {
      cells[`${tin.path}.mass_tin_dry_g`] = typed;
      if (this.view.drying.timed) cells[`${tin.path}.drying_h`] = (minutes / 60).toFixed(1);
    } else {
      const path = `reweighings.${freeRow(this.view, this.texts, "reweighings")}`;
      cells[`${path}.tin`] = tin.name;
      cells[`${path}.after_min`] = minutes.toFixed(0);
      cells[`${path}.mass_tin_dry_g`] = typed;
    }
    this.queue.add({ cells });
    this.taken.push({ path: tin.path, cells: Object.keys(cells), before: tin.begun });
  },
  undo() {
    const { path, cells, before } = this.taken.pop();
    this.queue.add({ cells: Object.fromEntries(cells.map((one) => [one, ""])) });
    this.mark(path, before);
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("drying", () => runMode(drying));
});
