// How fast the plunger really goes, by the rows that were kept, and when the row in hand is likely there.
export const plungerPace = {
  get seconds() {
    return this.began[this.name] ? (this.now - this.began[this.name]) / 1000 : 0;
  },
  get stampsHere() {
    return this.stamps[this.name] ?? [];
  },
  // mm/min between the first and the last row kept: a hand that is always a little late does not spoil it.
  get measured() {
    const [first, last] = [this.stampsHere[0], this.stampsHere.at(-1)];
    return last && last.at - first.at >= 0.5 ? (60 * (last.at - first.at)) / (last.seconds - first.seconds) : null;
  },
  // Seconds until the row in hand is likely there.
  get left() {
    const from = this.stampsHere.at(-1) ?? { at: 0, seconds: 0 };
    const speed = Math.min(3 * this.rate, Math.max(0.3 * this.rate, this.measured ?? this.rate));
    return this.row ? from.seconds + (60 * (this.row.at - from.at)) / speed - this.seconds : 0;
  },
};
