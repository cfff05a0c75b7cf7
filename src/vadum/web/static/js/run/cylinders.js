// Up to six cylinders on one clock: each reading is announced, stamped when it is read, and kept with its temperature.
import { aside } from "../core/aside.js";
import { Clock } from "../core/clock.js";
import { instrumentOf, readCells } from "../core/instrument.js";
import { boxOf } from "../core/live.js";
import { SaveQueue } from "../core/savequeue.js";
import { tone } from "../core/tone.js";

const INSERT_MS = 30000, MINUTE = 60000;

const clock = (ms) => {
  const s = Math.max(0, Math.ceil(ms / 1000)), pad = (n) => String(n).padStart(2, "0");
  return s >= 3600
    ? `${Math.floor(s / 3600)}:${pad(Math.floor((s % 3600) / 60))}:${pad(s % 60)}`
    : `${Math.floor(s / 60)}:${pad(s % 60)}`;
};
const span = (minutes) => (minutes < 120 ? `${minutes} min` : `${minutes / 60} h`);

document.addEventListener("alpine:init", () => {
  Alpine.data("cylinders", () => ({
    cylinders: JSON.parse(document.getElementById("together").textContent),
    now: 0,
    stamped: null,
    doubt: "",
    trouble: "",
    auto: false,
    busy: false,
    origins: {},
    taken: [],
    starts: {},
    refused: "",
    ...aside,
    standing: {},
    queueOf(item) {
      return Object.values(this.queues).find((queue) => item.key.startsWith(`${queue.store}.`));
    },
    waiting: {},
    offline: false,
    sound: false,
    announced: "",

    init() {
      this.clock = new Clock(this.cylinders[0]);
      this.now = this.clock.now();
      this.queues = {};
      for (const c of this.cylinders) {
        this.queues[c.test] = new SaveQueue(c.test, c.revision, {
          onSaved: (answer) => {
            Object.assign(this.cylinders.find((x) => x.test === c.test), answer);
            this.refused = "";
            this.draw(answer);
          },
          onConflict: (stale) => {
            this.refused = `${c.name}: ${stale.who} changed this sheet in between. Open the worksheet to choose.`;
          },
          onRefused: (answer, item) => {
            if (!item.aside) this.refused = `${c.name}: ${answer.message}`;
          },
          onState: (count, offline, kept) => {
            this.waiting = { ...this.waiting, [c.test]: count };
            this.offline = offline;
            this.standing = { ...this.standing, [c.test]: kept };
            this.aside = Object.values(this.standing).flatMap((one) => one.aside);
            this.others = [...new Set(Object.values(this.standing).flatMap((one) => one.others))];
          },
        });
      }
      setInterval(() => this.tick(), 250);
      addEventListener("keydown", (event) => {
        const typing = event.target.closest("input, textarea, select, dialog");
        if (event.code === "Space" && !typing) {
          event.preventDefault();
          if (this.coming.can) this.stamp();
        }
        if (event.key === "s" && !typing) this.toggleSound();
      });
      this.plan();
      this.auto = Boolean(localStorage.getItem("vadum.cylinders.auto")) && this.canAuto;
      navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clock goes on */});
    },

    get time() {
      return this.now;
    },
    tick() {
      this.now = this.clock.now();
      const { key, urgent } = this.coming;
      if (urgent && this.announced !== key && this.sound) tone(this.audio, 880, 0.3);
      if (urgent) this.announced = key;
      if (this.auto) this.takeDue();
    },
    // Readings taken by the instrument itself when they are due; one that cannot be had is tried again until its time
    // is over.
    get bound() {
      const { c, row } = this.coming;
      return c ? instrumentOf(c, `sedimentation.${row}.hydrometer`) : "";
    },
    get canAuto() {
      return this.cylinders.some((c) => instrumentOf(c, "sedimentation.0.hydrometer"));
    },
    toggleAuto() {
      this.auto = !this.auto;
      localStorage.setItem("vadum.cylinders.auto", this.auto ? "1" : "");
    },
    async takeDue() {
      const { c, row, at } = this.coming;
      if (!c || this.busy || this.stamped || !this.bound || this.time < at) return;
      const minutes = (this.time - this.started(c)) / MINUTE, path = `sedimentation.${row}`;
      const answer = await this.measured(c, path, minutes);
      const hydrometer = answer.cells[`${path}.hydrometer`];
      if (hydrometer === undefined || this.readings(c).find((r) => r.row === row).reading !== null) return;
      this.keepCells(c, { ...answer.cells, [`${path}.elapsed_min`]: minutes.toFixed(2) }, answer.origins);
      this.taken.push({ test: c.test, path });
    },
    async measured(c, path, minutes) {
      this.busy = true;
      const answer = await readCells(c.test, { [`${path}.hydrometer`]: minutes, [`${path}.temperature_c`]: minutes });
      this.busy = false;
      this.trouble = Object.values(answer.troubles)[0] ?? "";
      return answer;
    },
    // The curve grows below the cylinders, as wide as the page.
    box() {
      return boxOf(this.$refs.live, 0.9);
    },
    keepCells(c, cells, origins = {}) {
      this.queues[c.test].add({ cells, origins, box: this.box() });
    },
    draw(answer) {
      this.$refs.live.innerHTML = answer.figures.find((f) => f.svg)?.svg ?? "";
    },
    toggleSound() {
      this.sound = !this.sound;
      this.audio ??= new AudioContext();
    },

    // What has been read and is not yet acknowledged counts too.
    cells(c) {
      return Object.assign({}, ...this.queues[c.test].items.map((item) => item.cells ?? {}));
    },
    started(c) {
      const begun = Date.parse(this.cells(c).started_at || c.cylinder.startedAt || "");
      return Number.isFinite(begun) ? begun : null;
    },
    readings(c) {
      const queued = this.cells(c);
      return c.cylinder.readings.map((r) => {
        const typed = queued[`sedimentation.${r.row}.hydrometer`],
          warmth = queued[`sedimentation.${r.row}.temperature_c`];
        return {
          ...r,
          reading: typed === undefined ? r.reading : typed === "" ? null : Number(typed.replace(",", ".")),
          temperature: warmth ? Number(warmth.replace(",", ".")) : r.temperature,
        };
      });
    },
    // A reading is open from half a minute before it is due until the next one of its cylinder is.
    state(c) {
      const begun = this.started(c), readings = this.readings(c);
      const marks = readings.map((r, i) => {
        const due = begun === null ? null : begun + r.due * MINUTE, after = readings[i + 1];
        const closed = due !== null && after && this.time > begun + after.due * MINUTE - INSERT_MS;
        const state = r.reading !== null ? "done" : closed ? "missed" : "waiting";
        return {
          ...r,
          at: due,
          state,
          text: state === "done"
            ? `${span(r.due)}: ${r.reading}`
            : state === "missed"
            ? `${span(r.due)} missed`
            : span(r.due),
        };
      });
      return { begun, marks, open: begun === null ? null : marks.find((m) => m.state === "waiting") };
    },
    get shown() {
      return this.cylinders.map((c) => {
        const { begun, marks, open } = this.state(c);
        const at = this.starts[c.test], wait = at ? at - this.time : 0;
        return {
          test: c.test,
          name: c.name,
          marks,
          started: begun !== null,
          due: Boolean(open && open.at - this.time < INSERT_MS),
          clock: begun === null ? "" : clock(this.time - begun),
          startWord: wait > 1000 ? `Set down in ${clock(wait)} · start` : "Set down now · start",
          say: begun === null
            ? "Turn 60 times in a minute, set down and start its clock."
            : open
            ? ""
            : "All readings of this cylinder are taken.",
        };
      });
    },
    // The reading that comes first among all cylinders.
    get coming() {
      const open = this.cylinders.map((c) => ({ c, open: this.state(c).open })).filter((x) =>
        x.open
      ).sort((a, b) => a.open.at - b.open.at)[0];
      if (!open) {
        return {
          left: "–",
          words: "No reading is waiting.",
          next: this.cylinders.some((c) =>
              this.started(c) === null
            )
            ? "Set down the next cylinder and start its clock."
            : "All readings are taken. Wash the soil out over 0.075 mm and sieve it.",
          can: false,
          button: "Reading now",
          key: "",
        };
      }
      const { c, open: r } = open, left = r.at - this.time, urgent = left < INSERT_MS;
      const what = `${c.name}, ${span(r.due)}`;
      const words = left > INSERT_MS
        ? `until ${what}`
        : left > 0
        ? `Insert the hydrometer: ${what}`
        : `Read now: ${what}`;
      const next = urgent
        ? `${c.name}: insert gently, read the top of the meniscus at ${span(r.due)}, take it out and spin it clean.`
        : `${what} is next; insert the hydrometer 30 s before.`;
      return {
        c,
        row: r.row,
        due: r.due,
        at: r.at,
        left: left > 0 ? clock(left) : `+${clock(-left)}`,
        words,
        next,
        urgent,
        can: !this.stamped && !this.busy,
        button: `Reading now: ${c.name}`,
        key: `${c.test}.${r.row}`,
      };
    },

    get kept() {
      const count = Object.values(this.waiting).reduce((a, b) => a + b, 0);
      if (this.offline) return `${count} waiting for the line`;
      if (count) return "saving";
      return this.aside.length ? `${this.aside.length} not taken` : "saved";
    },
    field(name) {
      return this.$root.querySelector(`[data-name="${name}"]`);
    },

    start(c) {
      const at = new Date(this.clock.now()).toISOString();
      this.queues[c.test].add({ cells: { started_at: at } });
      this.plan();
    },
    async plan() {
      const waiting = this.cylinders.filter((c) => this.started(c) === null);
      if (!waiting.length) return;
      const running = this.cylinders.filter((c) => this.started(c) !== null);
      const bench = {
        running: running.map((c) => [new Date(this.started(c)).toISOString(), c.cylinder.readings.map((r) => r.due)]),
        waiting: waiting.map((c) => c.cylinder.readings.map((r) => r.due)),
      };
      try {
        const reply = await fetch("/api/cylinders/starts", {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify(bench),
        });
        if (!reply.ok) return;
        const starts = await reply.json();
        this.starts = Object.fromEntries(waiting.map((c, i) => [c.test, Date.parse(starts[i])]));
      } catch { /* without the line nobody plans; the person starts when ready */ }
    },

    async stamp() {
      const { c, row, due } = this.coming, at = this.clock.now(), path = `sedimentation.${row}`;
      const read = this.bound
        ? await this.measured(c, path, (at - this.started(c)) / MINUTE)
        : { cells: {}, origins: {} };
      this.stamped = { test: c.test, row, due, at };
      this.doubt = "";
      this.origins = read.origins;
      this.field("reading").value = read.cells[`${path}.hydrometer`] ?? "";
      this.field("temperature").value = read.cells[`${path}.temperature_c`] ?? "";
      this.$nextTick(() => this.field("reading").focus());
    },
    dropStamp() {
      this.stamped = null;
      this.doubt = "";
    },
    of(test) {
      return this.cylinders.find((c) => c.test === test);
    },
    before() {
      if (!this.stamped) return [];
      return this.readings(this.of(this.stamped.test)).filter((r) => r.row < this.stamped.row && r.reading !== null);
    },
    get stampWord() {
      if (!this.stamped) return "";
      const c = this.of(this.stamped.test), minutes = (this.stamped.at - this.started(c)) / MINUTE;
      return `${c.name}, due at ${span(this.stamped.due)}, read at ${minutes.toFixed(2)} min`;
    },
    get lastReading() {
      return this.before().at(-1)?.reading ?? null;
    },
    get expectedWord() {
      if (!this.stamped) return "";
      const low = this.of(this.stamped.test).cylinder.lowest, high = this.lastReading;
      return high === null ? "" : low === null ? `at most ${high}` : `${low}–${high}`;
    },
    get lastTemperatureWord() {
      const last = this.before().at(-1)?.temperature;
      return last ? `last ${last}` : "";
    },
    keepReading() {
      const reading = this.field("reading").value.trim(), temperature = this.field("temperature").value.trim();
      if (!reading) {
        this.field("reading").focus();
        return;
      }
      if (!temperature && !this.before().length) {
        this.field("temperature").focus();
        return;
      }
      const value = Number(reading.replace(",", ".")), low = this.of(this.stamped.test).cylinder.lowest;
      const odd = this.lastReading !== null && value > this.lastReading
        ? `${reading} is above the reading before, ${this.lastReading}: soil cannot come back. Read again.`
        : low !== null && value < low
        ? `${reading} is below the dispersant solution, ${low}. Read again.`
        : "";
      if (odd && !this.doubt) {
        this.doubt = odd;
        this.field("reading").focus();
        return;
      }
      const path = `sedimentation.${this.stamped.row}`, c = this.of(this.stamped.test);
      const cells = {
        [`${path}.elapsed_min`]: ((this.stamped.at - this.started(c)) / MINUTE).toFixed(2),
        [`${path}.hydrometer`]: reading,
      };
      if (temperature) cells[`${path}.temperature_c`] = temperature;
      this.keepCells(c, cells, this.origins);
      this.taken.push({ test: c.test, path });
      this.dropStamp();
      document.activeElement?.blur();
    },
    undo() {
      const { test, path } = this.taken.pop();
      this.queues[test].add({
        cells: { [`${path}.elapsed_min`]: "", [`${path}.hydrometer`]: "", [`${path}.temperature_c`]: "" },
      });
    },
  }));
});
