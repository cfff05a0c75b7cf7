// Up to six cylinders on one clock: each reading is announced, stamped when it is read, and kept with its temperature.
import { Clock, span } from "../core/clock.js";
import { instrumentOf } from "../core/instrument.js";
import { boxOf, figureOf } from "../core/live.js";
import { merged } from "../core/merged.js";
import { announce } from "../core/tone.js";
import { aCylinder, dueWord, INSERT_MS } from "./cylinder.js";
import { stamping } from "./stamping.js";
import { starts } from "./starts.js";
import { together } from "./together.js";

const TICK_MS = 250;
const AUTO = "vadum.cylinders.auto", AWAY = "vadum.cylinders.away";

const bench = {
  cylinders: JSON.parse(document.getElementById("together").textContent).map(aCylinder),
  now: 0,
  chosen: null,
  away: [],
  ending: null,
  auto: false,
  sound: false,
  trouble: "",
  refused: "",

  init() {
    this.clock = new Clock(this.cylinders[0].view);
    this.now = this.clock.now();
    this.away = JSON.parse(localStorage.getItem(AWAY) ?? "[]");
    const opened = this.cylinders.map((c) => this.openCylinder(c));
    Promise.all(opened).then(() => this.plan());
    setInterval(() => this.beat(), TICK_MS);
    addEventListener("keydown", (event) => this.key(event));
    this.auto = Boolean(localStorage.getItem(AUTO)) && this.canAuto;
    navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clock goes on */});
  },
  openCylinder(c) {
    return c.openSheet({
      saved: (answer) => {
        this.refused = "";
        this.draw(answer);
      },
      conflict: (stale) => {
        this.refused = `${c.name}: ${stale.who} changed this sheet in between. Open the worksheet to choose.`;
      },
    });
  },
  key(event) {
    const typing = event.target.closest("input, textarea, select, dialog");
    if (event.code === "Space" && !typing) {
      event.preventDefault();
      if (this.coming.can) this.go();
    }
    if (event.key === "s" && !typing) this.toggleSound();
  },
  beat() {
    this.now = this.clock.now();
    const { key, urgent } = this.coming;
    if (urgent && this.announced !== key && this.sound) announce(this.audio);
    if (urgent) this.announced = key;
    if (this.auto) this.takeDue();
  },
  toggleSound() {
    this.sound = !this.sound;
    this.audio ??= new AudioContext();
  },
  // The curve grows below the cylinders, as wide as the page.
  box() {
    return boxOf(this.$refs.live, 0.9);
  },
  draw(answer) {
    this.$refs.live.innerHTML = figureOf(answer);
  },

  get takeWord() {
    return this.coming.button;
  },
  go() {
    return this.stamp();
  },

  // Which cylinders are on this page: those a person did not send away.
  get here() {
    return this.cylinders.filter((c) => !this.away.includes(c.test));
  },
  get elsewhere() {
    return this.cylinders.filter((c) => this.away.includes(c.test));
  },
  send(c) {
    this.away = [...this.away, c.test];
    localStorage.setItem(AWAY, JSON.stringify(this.away));
  },
  bring(c) {
    this.away = this.away.filter((test) => test !== c.test);
    localStorage.setItem(AWAY, JSON.stringify(this.away));
  },
  get shown() {
    return this.here.map((c) => {
      const open = c.openAt(this.now), { begun } = c;
      const missed = c.marks(this.now).filter((m) => m.state === "missed").length;
      return {
        c,
        test: c.test,
        name: c.name,
        marks: c.marks(this.now),
        started: begun !== null,
        open: Boolean(open),
        due: Boolean(open && open.at - this.now < INSERT_MS),
        inHand: c.test === this.coming.c?.test,
        clock: begun === null ? "" : span(this.now - begun),
        startWord: this.startWord(c),
        endWord: this.ending === c.test ? `Yes, ${c.name} ends here` : "End here",
        say: begun === null
          ? "Turn 60 times in a minute, set down and start its clock."
          : open
          ? ""
          : missed
          ? `${missed} missed: their time is over. Send it away from this page, or start again.`
          : "All readings of this cylinder are taken.",
      };
    });
  },
  // A tapped cylinder has the key until its reading is taken; else the one whose reading comes first.
  tap(c) {
    this.chosen = this.chosen === c.test ? null : c.test;
  },
  end(c) {
    if (this.ending !== c.test) {
      this.ending = c.test;
      return;
    }
    this.ending = null;
    c.end();
  },
  get coming() {
    const open = this.here.map((c) => ({ c, open: c.openAt(this.now) })).filter((x) => x.open);
    const first = open.find((x) => x.c.test === this.chosen) ?? open.sort((a, b) => a.open.at - b.open.at)[0];
    if (!first) {
      const waiting = this.here.some((c) => c.begun === null);
      const missed = this.here.some((c) => c.marks(this.now).some((m) => m.state === "missed"));
      return {
        left: "–",
        words: "No reading is waiting.",
        next: waiting
          ? "Set down the next cylinder and start its clock."
          : missed
          ? "Readings were missed: start that cylinder again, or go on with what there is."
          : "All readings are taken. Wash the soil out over 0.075 mm and sieve it.",
        can: false,
        button: "Reading now",
        key: "",
      };
    }
    const { c, open: r } = first,
      left = r.at - this.now,
      urgent = left < INSERT_MS,
      what = `${c.name}, ${dueWord(r.due)}`;
    return {
      c,
      row: r.row,
      due: r.due,
      at: r.at,
      left: left > 0 ? span(left + 999) : `+${span(left)}`,
      words: left > INSERT_MS ? `until ${what}` : left > 0 ? `Insert the hydrometer: ${what}` : `Read now: ${what}`,
      next: urgent
        ? `${c.name}: insert gently, read the top of the meniscus at ${dueWord(r.due)}, take it out and spin it clean.`
        : `${what} is next; insert the hydrometer 30 s before.`,
      urgent,
      can: !this.stamped && !this.busy,
      button: `Reading now: ${c.name}`,
      key: `${c.test}.${r.row}`,
    };
  },

  get bound() {
    const { c, row } = this.coming;
    return c ? instrumentOf(c.view, c.cell(row, "hydrometer")) : "";
  },
  get canAuto() {
    return this.cylinders.some((c) => instrumentOf(c.view, "sedimentation.0.hydrometer"));
  },
  toggleAuto() {
    this.auto = !this.auto;
    localStorage.setItem(AUTO, this.auto ? "1" : "");
  },
};

document.addEventListener("alpine:init", () => {
  Alpine.data("cylinders", () => merged(together, starts, stamping, bench));
});
