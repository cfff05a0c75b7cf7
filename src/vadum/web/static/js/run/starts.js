// When the cylinders that still stand are set down, so that no two readings fall together.
import { span } from "../core/clock.js";

export const starts = {
  starts: {},

  startWord(c) {
    const wait = (this.starts[c.test] ?? 0) - this.now;
    return wait > 1000 ? `Set down in ${span(wait)} · start` : "Set down now · start";
  },
  start(c) {
    c.queue.add({ cells: { started_at: new Date(this.clock.now()).toISOString() } });
    this.plan();
  },
  async plan() {
    const waiting = this.here.filter((c) => c.begun === null), dues = (c) => c.view.cylinder.readings.map((r) => r.due);
    const running = this.here.filter((c) => c.begun !== null);
    if (!waiting.length) return;
    try {
      const reply = await fetch("/api/cylinders/starts", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({
          running: running.map((c) => [new Date(c.begun).toISOString(), dues(c)]),
          waiting: waiting.map(dues),
        }),
      });
      if (!reply.ok) return;
      const at = await reply.json();
      this.starts = Object.fromEntries(waiting.map((c, i) => [c.test, Date.parse(at[i])]));
    } catch { /* without the line nobody plans; the person starts when ready */ }
  },
};
