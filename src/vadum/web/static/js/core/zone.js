// Days and hours as the laboratory reads them, wherever the browser is.
const timeZone = document.documentElement.dataset.zone || undefined;
const written = (options) => new Intl.DateTimeFormat("sv-SE", { timeZone, ...options });
const stamps = written({ dateStyle: "short", timeStyle: "short" }), hours = written({ timeStyle: "short" });
const days = written({ dateStyle: "short" });
const weekdays = new Intl.DateTimeFormat("en-GB", { timeZone, weekday: "short" });

// 2026-03-02 14:05
export const stamp = (at) => stamps.format(new Date(at));
export const hour = (at) => hours.format(new Date(at));
// The hour, and before it the weekday of another day than now.
export const due = (at, now) => {
  const sameDay = days.format(new Date(at)) === days.format(new Date(now));
  return sameDay ? hour(at) : `${weekdays.format(new Date(at))} ${hour(at)}`;
};
