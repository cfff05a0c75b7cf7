// The mix stands covered before the first trial: its clock, and when it may begin.
import { span } from "../core/clock.js";

const MINUTE = 60000;

export const seasoning = {
  covered: null,

  get seasoned() {
    return Boolean(this.text("seasoning_min")) || this.trials.length > 0;
  },
  get standing() {
    return this.covered === null ? null : this.now - this.covered;
  },
  get mayCover() {
    return !this.seasoned && this.covered === null;
  },
  get isCovered() {
    return !this.seasoned && this.covered !== null;
  },
  get seasoningWord() {
    if (!this.isCovered) return "";
    const left = this.view.cup.seasoningMin * MINUTE - this.standing;
    return left > 0
      ? `The mix stands covered: ${span(left)} of ${this.view.cup.seasoningMin} min to go.`
      : `The mix has stood ${span(this.standing)}: make the first trial.`;
  },
  tick() {
    if (this.isCovered && this.standing >= this.view.cup.seasoningMin * MINUTE) this.call("seasoned");
  },
  cover() {
    this.covered = this.clock.now();
    this.keep();
  },
  begin() {
    this.queue.add({ cells: { seasoning_min: (this.standing / MINUTE).toFixed(0) } });
    this.covered = null;
    this.keep();
  },
};
