// A report on its way: the server makes it, the page asks how far it is. A reload changes nothing.
import { ask } from "../../static/js/core/asking.js";

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
      if (this.offline) return "No answer; the server goes on making it.";
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
      const { ok, answer } = await ask(`/api/reports/${this.$root.dataset.report}`);
      if (ok) this.view = answer;
      this.offline = !ok;
      if (this.busy) setTimeout(() => this.ask(), ASK_MS);
    },
  }));
});
