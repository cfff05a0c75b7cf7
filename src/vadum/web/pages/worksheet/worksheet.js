// The worksheet: cells typed, kept here and acknowledged; what is judged comes from the server's answer.
import { operate } from "../../static/js/core/figure.js";
import { firstView, local } from "../../static/js/core/local.js";
import { merged } from "../../static/js/core/merged.js";
import { choices } from "./choices.js";
import { classed } from "./classed.js";
import { overtaken } from "./overtaken.js";
import { Pictures } from "./pictures.js";
import { remarks } from "./remarks.js";
import { Drafts } from "./drafts.js";
import { drawing } from "./drawing.js";
import { fields } from "./fields.js";
import { files } from "./files.js";
import { instruments } from "./instruments.js";
import { layOutAll } from "./later.js";
import { mixing } from "./mixing.js";
import { rows } from "./rows.js";
import { states } from "./states.js";
import { typing } from "./typing.js";
import { says } from "./said.js";
import { words } from "./words.js";

const WIDE = 760;

const page = {
  panel: "",
  asking: "",
  readout: "",
  history: [],
  earlier: null,
  reviewed: null,
  uncertain: null,
  learned: 0,
  moving: null,
  shownFigure: "",
  unfolded: null,
  mixSays: "",
  mixBad: false,
  trouble: "",
  bench: { columns: [], trouble: "" },
  files: [],
  photoSays: "",
  photoBad: false,
  picturesLeft: 0,
  removing: 0,
  reasons: ["attempt", "crust on the mix", "lumps in the mix", "soil lost", "outside the range"],

  init() {
    const opened = this.openSheet({
      saved: (answer, item) => this.saved(answer, item),
      conflict: (conflict) => this.overtakenBy(conflict),
      refused: (answer, item) => this.refusedBy(answer, item),
      elsewhere: () => this.again(),
    });
    this.pictures = new Pictures(this.view.test);
    this.sendPhotos();
    addEventListener("online", () => this.sendPhotos());
    this.store = new Drafts(this.view.test, this.queue.box.who);
    const kept = this.store.kept();
    opened.then(() => {
      this.commitLeft(kept);
      if (Object.keys(this.held).length) this.preview();
    });
    this.operateFigure();
    this.draw();
    if (this.canFail) this.listFiles();
    this.learn();
    // Cautions stand open until the first reading is on record.
    if (!this.view.revision && this.view.figures.length) this.panel = "cautions";
    // The tabs above the figure take their room only after Alpine's first pass.
    this.$nextTick(() => this.fit());
    addEventListener("resize", () => this.preview());
    // The rows stand after Alpine's first pass.
    requestAnimationFrame(() => this.begin());
  },
  operateFigure() {
    this.hold = operate(this.$refs.figure, {
      onRead: (text) => {
        this.readout = text;
      },
      onPoint: (path, leftOut) =>
        leftOut ? this.change({ cells: { [`${path}.left_out`]: "" } }) : this.askLeaveOut(path),
      onHandle: (setting, value) => {
        this.drawn = ""; // the hand has moved a line of it
        this.change({ settings: { [setting]: value } });
      },
      onRelease: () => this.undrawn && this.draw(),
    });
  },
  // The hand starts at the cell asked for, at the first empty field of a fresh sheet, else at the first blank row.
  begin() {
    const blank = this.view.tables[0]?.rows.find((r) => r.blank)?.path, inputs = this.inputs();
    const asked = new URLSearchParams(location.search).get("cell");
    const fresh = !this.view.revision && inputs.find((i) => !i.value && !i.classList.contains("supplied"));
    const cell = (asked && this.cell(asked)) || fresh ||
      (inputs.find((i) => i.dataset.path.startsWith(`${blank}.`)) ?? inputs[0]);
    if (!cell || document.activeElement !== document.body || innerWidth <= WIDE) return;
    if (cell.closest("[hidden]")) layOutAll();
    cell.focus({ preventScroll: true });
  },
};

document.addEventListener("alpine:init", () => {
  const view = firstView();
  Alpine.directive("class", classed);
  Alpine.directive("fields", fields);
  Alpine.directive("rows", rows);
  Alpine.directive("says", says);
  Alpine.data(
    "worksheet",
    () =>
      merged(local, words, drawing, typing, instruments, choices, remarks, files, mixing, states, overtaken, page, {
        view,
      }),
  );
});
