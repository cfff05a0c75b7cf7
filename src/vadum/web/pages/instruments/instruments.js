// The bench of instruments: asks now and then what each shows.
import { ask, askingLast } from "../../static/js/core/asking.js";

const ASK_MS = 2000;
const askPattern = askingLast();

document.addEventListener("alpine:init", () => {
  Alpine.data("instruments", () => ({
    view: JSON.parse(document.getElementById("first-view").textContent),
    faults: JSON.parse(document.getElementById("faults").textContent),
    init() {
      this.ask();
    },
    rows(i) {
      return i.values ?? (i.quantities ?? []).map((q) => ({ name: q.name, text: "", trouble: "" }));
    },
    kindOf({ kind, serial }) {
      return [kind, serial].filter(Boolean).join(", ");
    },
    async ask() {
      clearTimeout(this.timer);
      const { ok, answer } = await ask("/api/instruments");
      this.view = ok ? answer : { trouble: answer.message, instruments: [] };
      this.timer = setTimeout(() => this.ask(), ASK_MS);
    },
    async order(i, what, body) {
      const { ok, answer } = await ask(`/api/instruments/${encodeURIComponent(i.name)}/${what}`, body);
      if (!ok) this.view = { ...this.view, trouble: answer.message };
      this.ask();
    },
    // What an instrument wrote, and what a pattern reads in it.
    tried: [],
    patternSays: "",
    async tryPattern() {
      const { pattern, rest, written } = this.$refs;
      const typed = { pattern: pattern.value, rest: rest.value, written: written.value };
      const said = await askPattern("/api/pattern", typed);
      if (!said) return;
      const { ok, answer } = said;
      this.patternSays = ok ? "" : answer.message;
      this.tried = ok ? answer : [];
    },
    triedWord({ shown }) {
      if (!shown) return "not read";
      return `${shown.value} ${shown.unit}${shown.at_rest ? "" : ", not at rest"}`;
    },
    zero(i, q) {
      this.order(i, "zero", { quantity: q.name });
    },
    fault(i, event) {
      this.order(i, "fault", { fault: event.target.value });
    },
  }));
});
