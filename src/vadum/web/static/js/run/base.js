// What every run mode of one test shares: the local sheet, its clock, the sound, the screen kept awake.
import { Clock } from "../core/clock.js";
import { firstView, local } from "../core/local.js";
import { merged } from "../core/merged.js";
import { announce } from "../core/tone.js";
import { setup } from "./setup.js";

const TICK_MS = 250;

const running = {
  now: 0,
  sound: false,
  trouble: "",

  // `keeps` names what this run mode remembers of itself over a reload, beside the sheet.
  openRun(name, keeps, { saved, onKey, stays = "your readings are kept here" } = {}) {
    this.clock = new Clock(this.view);
    this.store = `vadum.${name}.${this.view.test}`;
    this.keeps = [...keeps, "begunRun", "confirmed"];
    Object.assign(this, JSON.parse(localStorage.getItem(this.store) ?? "{}"));
    const opened = this.openSheet({
      saved: (_, item) => saved?.(item),
      conflict: (c) => {
        this.refused = `${c.who} changed this sheet in between. Open the worksheet to choose; ${stays}.`;
      },
    });
    this.beat();
    setInterval(() => this.beat(), TICK_MS);
    addEventListener("keydown", (event) => this.settingUp || onKey?.(event));
    navigator.wakeLock?.request("screen").catch(() => {/* the screen may sleep; the clock goes on */});
    return opened;
  },
  keep() {
    // Once the hand has begun, the cautions make room for the reading.
    this.$refs.cautions?.removeAttribute("open");
    localStorage.setItem(this.store, JSON.stringify(Object.fromEntries(this.keeps.map((key) => [key, this[key]]))));
  },
  beat() {
    this.now = this.clock.now();
    this.tick?.();
  },
  toggleSound() {
    this.sound = !this.sound;
    this.audio ??= new AudioContext();
  },
  // Heard and felt, once for each thing that is due.
  call(key) {
    if (this.called === key) return;
    this.called = key;
    if (this.sound) announce(this.audio);
  },
  get headline() {
    const h = this.view.verdict.headline;
    return h ? `${h.symbol} ${h.text} ${h.unit}` : "Next";
  },
  get next() {
    return this.view.verdict.next;
  },
  get saysItself() {
    return this.next !== this.view.verdict.next;
  },
};

// A run mode is what all share, and its own on top.
export const runMode = (...own) => merged(local, setup, running, ...own, { view: firstView() });
