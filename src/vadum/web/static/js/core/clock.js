// The server's clock is the truth; a device that is wrong is corrected by the difference. A virtual bench runs faster.
const WRONG_MS = 30000;

export const span = (ms) => {
  const s = Math.floor(Math.abs(ms) / 1000), pad = (n) => String(n).padStart(2, "0");
  return s >= 3600
    ? `${Math.floor(s / 3600)}:${pad(Math.floor((s % 3600) / 60))}:${pad(s % 60)}`
    : `${Math.floor(s / 60)}:${pad(s % 60)}`;
};

export class Clock {
  constructor(view) {
    this.ahead = Date.now() - Date.parse(view.serverTime);
    this.epoch = view.practice ? Date.parse(view.practice.epoch) : 0;
    this.speed = view.practice?.speed ?? 1;
  }
  now() {
    const real = Date.now() - this.ahead;
    return this.epoch ? this.epoch + (real - this.epoch) * this.speed : real;
  }
  // How long to wait in the room for so much to pass on the bench.
  wait(ms) {
    return ms / this.speed;
  }
  get wrong() {
    const off = Math.round(Math.abs(this.ahead) / 60000);
    return Math.abs(this.ahead) < WRONG_MS
      ? ""
      : `This device's clock is ${off || "half a"} min ${
        this.ahead > 0 ? "ahead" : "behind"
      }; the laboratory's server counts.`;
  }
}
