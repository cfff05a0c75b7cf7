// The plan is made by the server; what a hand drags is sent as pinned and comes back with its conflicts.
import { ask } from "../../static/js/core/asking.js";
import { BROUGHT_BACK } from "../../static/js/core/back.js";

const STEP = 5, MOVED_AT_ONCE = 8;

document.addEventListener("alpine:init", () => {
  Alpine.data("plan", () => ({
    plan: null,
    pinned: {},
    toAsk: [],
    asking: false,
    problem: "",
    origin: null,
    wholeMoved: false,

    init() {
      // What was put somewhere by hand stands there in the plan of now, unless that time has passed.
      const { pinned } = JSON.parse(document.getElementById("kept-plan").textContent), now = Date.now();
      this.origin = new Date(60000 * Math.floor(now / 60000)).toISOString();
      for (const [id, at] of Object.entries(pinned)) {
        const minutes = Math.round((Date.parse(at) - Date.parse(this.origin)) / 60000);
        if (minutes >= 0) this.pinned[id] = minutes;
      }
      const host = this.$refs.drawing;
      host.addEventListener("pointerdown", (event) => this.grab(event));
      host.addEventListener("pointermove", (event) => this.drag(event));
      host.addEventListener("pointerup", () => this.drop());
      host.addEventListener("keydown", (event) => this.key(event));
      addEventListener("resize", () => this.ask());
      addEventListener(BROUGHT_BACK, (event) => {
        if (!event.detail) return;
        event.preventDefault();
        this.ask();
      });
      this.ask();
    },
    get conflicts() {
      return this.plan?.conflicts ?? [];
    },
    get lines() {
      return this.plan?.lines ?? [];
    },
    get pins() {
      return Object.keys(this.pinned).length > 0;
    },
    get summary() {
      const p = this.plan;
      if (!p) return "";
      if (!p.lines.length) return "Nothing left to plan for these tests.";
      const unplaced = p.unplaced ? `, ${p.unplaced} without room` : "";
      const because = p.because ? `, because ${p.because}` : "";
      const ends = p.over > 0
        ? `earliest possible ${p.earliest} (${p.boundBy}); this plan ends ${p.ends}${because}`
        : `the last ${p.ends}, as early as ${p.boundBy} allows`;
      return `${p.lines.length} operations${unplaced}; ${ends}.`;
    },
    get keptAt() {
      return this.plan?.keptAt ?? "";
    },
    get keptWords() {
      return this.keptAt ? `Yours is of ${this.keptAt}; it stands on the board.` : "Not kept yet.";
    },
    get moved() {
      return this.plan?.moved ?? [];
    },
    get movedAtOnce() {
      return this.wholeMoved ? this.moved : this.moved.slice(0, MOVED_AT_ONCE);
    },
    get movedMore() {
      const more = this.moved.length - this.movedAtOnce.length;
      return more ? `and ${more} more` : "";
    },
    showMoved() {
      this.wholeMoved = true;
    },
    print() {
      print();
    },
    keep() {
      return this.ask("/api/plan/keep");
    },
    // One after the other: an answer that came late would take back what a hand has moved since. What is still to be
    // asked will say where all stands by then.
    async ask(address) {
      const to = typeof address === "string" ? address : "/api/plan";
      if (!this.toAsk.includes(to)) this.toAsk.push(to);
      if (this.asking) return;
      this.asking = true;
      while (this.toAsk.length) await this.asked(this.toAsk.shift());
      this.asking = false;
    },
    async asked(address) {
      const field = (id) => document.getElementById(id);
      const body = {
        tests: [...this.$root.querySelectorAll("[data-test]:checked")].map((box) => Number(box.value)),
        hours: {
          week: [...this.$root.querySelectorAll("[data-hours]")].map((day) => day.value),
          closed: field("closed").value,
          out: field("out").value,
        },
        places: Object.fromEntries(
          [...this.$root.querySelectorAll("[data-place]")].map((i) => [i.dataset.place, Number(i.value)]),
        ),
        pinned: this.pinned,
        origin: this.origin,
        width: Math.max(760, Math.round(this.$refs.drawing.clientWidth)),
      };
      const { ok, answer } = await ask(address, body);
      const faults = (answer.faults ?? []).map((f) => `${f.place.split(".").pop()}: ${f.message}`);
      this.problem = ok ? "" : ["The plan stands as it was.", answer.message, ...faults].join(" ");
      if (!ok) return;
      this.plan = answer;
      this.origin = answer.origin;
      const held = document.activeElement?.dataset?.id;
      this.$refs.drawing.innerHTML = answer.svg;
      if (held) this.$refs.drawing.querySelector(`[data-id="${held}"]`)?.focus();
    },
    minutes(x) {
      const pieces = this.$refs.drawing.querySelector("svg").dataset.pieces.split(" ").map((p) =>
        p.split(",").map(Number)
      );
      const [x0, x1, m0, m1] = pieces.find((p) => x <= p[1]) ?? pieces.at(-1);
      return m0 + ((Math.max(x, x0) - x0) / (x1 - x0)) * (m1 - m0);
    },
    spot(event) {
      const svg = this.$refs.drawing.querySelector("svg");
      return new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse()).x;
    },
    grab(event) {
      const bar = event.target.closest?.(".tl-bar");
      if (!bar) return;
      event.preventDefault();
      bar.focus();
      this.held = {
        bar,
        from: this.spot(event),
        by: this.spot(event) - Number(bar.querySelector("rect:last-of-type").getAttribute("x")),
        moved: 0,
      };
      this.$refs.drawing.setPointerCapture(event.pointerId);
    },
    drag(event) {
      if (!this.held) return;
      this.held.moved = this.spot(event) - this.held.from;
      this.held.at = this.minutes(this.spot(event) - this.held.by);
      this.held.bar.setAttribute("transform", `translate(${this.held.moved} 0)`);
    },
    drop() {
      const held = this.held;
      this.held = null;
      if (!held || Math.abs(held.moved) < 3) return;
      this.pin(held.bar.dataset.id, Math.round(held.at / STEP) * STEP);
    },
    key(event) {
      const bar = event.target.closest?.(".tl-bar");
      if (!bar) return;
      const step = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
      if (step) {
        event.preventDefault();
        // Where the bar is drawn may be where it stood before the press before this one.
        const stands = this.pinned[bar.dataset.id] ?? Number(bar.dataset.start);
        this.pin(bar.dataset.id, Math.round(stands / STEP) * STEP + step);
      }
      if (event.key === "Escape" && bar.dataset.id in this.pinned) {
        const { [bar.dataset.id]: _, ...rest } = this.pinned;
        this.pinned = rest;
        this.ask();
      }
    },
    pin(id, minutes) {
      this.pinned = { ...this.pinned, [id]: Math.max(0, minutes) };
      this.ask();
    },
    letGo() {
      this.pinned = {};
      this.ask();
    },
  }));
});
