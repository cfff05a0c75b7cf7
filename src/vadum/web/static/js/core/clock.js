// The server's clock is the truth; a device that is wrong is corrected by the difference, which the browser remembers.
// A virtual bench runs faster.
export const WRONG_MS = 30000;
const AHEAD = "vadum.ahead";

const known = () => localStorage.getItem(AHEAD) === null ? null : Number(localStorage.getItem(AHEAD));
export const heard = (serverTime) => localStorage.setItem(AHEAD, Date.now() - Date.parse(serverTime));
export const ahead = () => known() ?? 0;
export const serverNow = () => Date.now() - ahead();

// A page brings the server's time, unless it was kept on this device: then what was known before counts until the
// server has been asked.
export function setClock(view) {
  const now = Date.now() - Date.parse(view.serverTime), before = known();
  if (before === null || Math.abs(now - before) < WRONG_MS) {
    heard(view.serverTime);
    return;
  }
  fetch("/api/clock").then((reply) => reply.ok && reply.json()).then((told) => told && heard(told.serverTime))
    .catch(() => {/* without a line what was known before counts */});
}

export const span = (ms) => {
  const s = Math.floor(Math.abs(ms) / 1000), pad = (n) => String(n).padStart(2, "0");
  return s >= 3600
    ? `${Math.floor(s / 3600)}:${pad(Math.floor((s % 3600) / 60))}:${pad(s % 60)}`
    : `${Math.floor(s / 60)}:${pad(s % 60)}`;
};

export class Clock {
  constructor(view) {
    setClock(view);
    this.epoch = view.practice ? Date.parse(view.practice.epoch) : 0;
    this.speed = view.practice?.speed ?? 1;
  }
  now() {
    const real = serverNow();
    return this.epoch ? this.epoch + (real - this.epoch) * this.speed : real;
  }
  get wrong() {
    const by = ahead(), off = Math.round(Math.abs(by) / 60000);
    return Math.abs(by) < WRONG_MS
      ? ""
      : `This device's clock is ${off || "half a"} min ${by > 0 ? "ahead" : "behind"}; the laboratory's server counts.`;
  }
}
