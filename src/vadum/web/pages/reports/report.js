// A report on its way: the server makes it, the page asks how far it is. A reload changes nothing.
const ASK_MS = 700;

document.addEventListener("alpine:init", () => {
  Alpine.data("report", () => ({
    view: JSON.parse(document.getElementById("first-view").textContent),
    offline: false,

    init() {
      if (this.busy) setTimeout(() => this.ask(), ASK_MS);
    },
    get busy() {
      return ["waiting", "running"].includes(this.view.state);
    },
    get ready() {
      return ["made", "issued"].includes(this.view.state);
    },
    get draft() {
      return !this.busy && this.view.state !== "issued";
    },
    get troubled() {
      return this.view.state === "failed";
    },
    get most() {
      return this.view.steps || 1;
    },
    get done() {
      return this.view.done;
    },
    get said() {
      if (this.offline) return "The line is down; the server goes on making it.";
      return this.busy
        ? (this.view.steps ? `${this.view.done} of ${this.view.steps}: ${this.view.said}` : "beginning")
        : this.view.said;
    },
    get line() {
      const words = {
        waiting: "Waiting",
        running: "Being made",
        made: "Draft, not issued",
        issued: `Issued as ${this.view.number}`,
        cancelled: "Cancelled",
        failed: "Not made",
      };
      return words[this.view.state];
    },
    get pages() {
      return `${this.view.number}, ${this.view.pages} pages`;
    },
    get hash() {
      return this.view.sha256;
    },

    async ask() {
      try {
        const answer = await fetch(`/api/reports/${this.$root.dataset.report}`);
        if (answer.ok) this.view = await answer.json();
        this.offline = false;
      } catch {
        this.offline = true;
      }
      if (this.busy) setTimeout(() => this.ask(), ASK_MS);
    },
  }));
});
