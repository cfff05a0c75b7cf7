// The bench of instruments: asks now and then what each shows.
const ASK_MS = 2000;

document.addEventListener("alpine:init", () => {
  Alpine.data("instruments", () => ({
    view: JSON.parse(document.getElementById("first-view").textContent),
    faults: JSON.parse(document.getElementById("faults").textContent),
    init() {
      this.ask();
    },
    rows(i) {
      return i.values ?? i.quantities.map((q) => ({ name: q.name, text: "", trouble: "" }));
    },
    async ask() {
      clearTimeout(this.timer);
      try {
        const reply = await fetch("/api/instruments");
        if (reply.ok) this.view = await reply.json();
      } catch {
        this.view = { trouble: "The line to the server is down.", instruments: [] };
      }
      this.timer = setTimeout(() => this.ask(), ASK_MS);
    },
    async order(i, what, body) {
      const reply = await fetch(`/api/instruments/${encodeURIComponent(i.name)}/${what}`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(body),
      });
      if (!reply.ok) this.view = { ...this.view, trouble: (await reply.json()).message };
      this.ask();
    },
    zero(i, q) {
      this.order(i, "zero", { quantity: q.name });
    },
    fault(i, event) {
      this.order(i, "fault", { fault: event.target.value });
    },
  }));
});
