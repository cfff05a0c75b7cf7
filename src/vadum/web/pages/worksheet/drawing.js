// The figure: drawn for the room it has, chosen, held by the hand.
import { local } from "../../static/js/core/local.js";

// The share of its room that a figure keeps with a photograph beside it, as in the style of `narrower`.
const BESIDE = 0.62;

export const drawing = {
  drawn: "",

  // What is shown
  get figure() {
    return this.view.figures.find((f) => f.svg) ?? this.view.figures[0];
  },
  // A figure that is pressed, at a handle or a point, is not taken out of the hand: it is drawn anew when let go.
  draw() {
    const svg = this.figure?.svg ?? "";
    this.undrawn = Boolean(this.hold?.pressed);
    if (!this.$refs.figure || this.undrawn || svg === this.drawn) return;
    this.$refs.figure.innerHTML = this.drawn = svg;
  },
  show(key) {
    this.shownFigure = key;
    this.preview();
  },
  box() {
    const zone = this.$refs.zone.getBoundingClientRect();
    const share = this.beside && innerWidth >= 761 ? BESIDE : 1;
    const width = Math.max(300, Math.round(share * (zone.width - 18))),
      tabs = this.$refs.zone.querySelector(".views")?.offsetHeight ?? 0;
    return {
      width: Math.min(width, 2000),
      height: innerWidth < 761 ? Math.round(width * 0.95) : Math.max(240, Math.round(zone.height - 12 - tabs)),
    };
  },
  // A figure drawn for another room is drawn again.
  fit() {
    const { width, height } = this.box(), size = `0 0 ${width} ${height}`;
    if (this.figure?.svg && !this.figure.svg.includes(`viewBox="${size}"`)) this.preview();
  },
  // What the answer is to be drawn for.
  get showing() {
    return { box: this.box(), figure: this.shownFigure, unfolded: this.unfolded };
  },
  accept(answer) {
    const focus = document.activeElement?.dataset?.path;
    const figureFocus = document.activeElement?.dataset?.setting;
    const changed = answer.revision !== undefined && answer.revision !== this.learned;
    local.accept.call(this, answer);
    this.draw();
    if (changed) this.learn();
    if (figureFocus) this.$refs.figure.querySelector(`[data-setting="${figureFocus}"]`)?.focus();
    // Only a focus that the redraw lost is given back: the hand may have moved on meanwhile.
    else if (focus) {
      this.$nextTick(() => {
        if (document.activeElement === document.body) this.cell(focus)?.focus({ preventScroll: true });
      });
    }
  },
};
