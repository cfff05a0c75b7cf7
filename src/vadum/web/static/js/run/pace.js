// When a falling level is worth reading again, and where its cylinder stands.
import { span } from "../core/clock.js";
import { fieldOf, tableOf } from "../core/sheet.js";

// A reading is worth its while when the level has fallen so far again, but not sooner or later than this.
const SHARE = 0.05, LEAST_MM = 3, SOONEST_MIN = 0.5, LATEST_MIN = 60, ANNOUNCE_MS = 15000;

export const pace = {
  // Minutes on the clock of a series at which it is read next, by the rate of its last two readings.
  nextOf(s) {
    const [before, last] = this.readOf(s).slice(-2);
    if (!last || last[1] <= before[1]) return null;
    const rate = Math.abs(before[2] - last[2]) / (last[1] - before[1]);
    const wait = rate > 0 ? Math.max(LEAST_MM, SHARE * last[2]) / rate : LATEST_MIN;
    return last[1] + Math.min(LATEST_MIN, Math.max(SOONEST_MIN, wait));
  },
  leftOf(s) {
    const next = this.nextOf(s), minutes = this.minutes(s);
    return next === null || minutes === null ? null : (next - minutes) * 60000;
  },
  nextWord(s) {
    const left = this.leftOf(s);
    return left === null ? s.says : `${left > 0 ? `read in ${span(left)}` : "read now"}${s.says ? `; ${s.says}` : ""}`;
  },
  dueClass(s) {
    const left = this.leftOf(s);
    return left !== null && left < 0 ? "due" : "";
  },
  tick() {
    for (const s of this.v.series) {
      const left = this.leftOf(s);
      if (left !== null && left < ANNOUNCE_MS) this.call(`${s.number}.${this.readOf(s).length}`);
    }
  },

  // Where the cylinder in hand stands, from the device itself.
  get placeOfHand() {
    const path = `${this.inHand.place}latitude_deg`;
    const known = tableOf(this.view, path.split(".")[0])?.columns.some((c) => c.key === "latitude_deg");
    return known || fieldOf(this.view, path) ? this.inHand.place : null;
  },
  get mayPlace() {
    return this.placeOfHand !== null && !this.text(`${this.placeOfHand}latitude_deg`);
  },
  get placeWord() {
    return this.inHand.place ? `Position of ${this.inHand.name}` : "Position of the test";
  },
  here() {
    const at = this.placeOfHand;
    if (!navigator.geolocation) {
      this.trouble = "This device tells no position. Type it on the worksheet.";
      return;
    }
    navigator.geolocation.getCurrentPosition(
      ({ coords }) =>
        this.add({
          [`${at}latitude_deg`]: coords.latitude.toFixed(6),
          [`${at}longitude_deg`]: coords.longitude.toFixed(6),
        }),
      () => {
        this.trouble = "No position from this device. Type it on the worksheet.";
      },
      { enableHighAccuracy: true, timeout: 15000 },
    );
  },
};
