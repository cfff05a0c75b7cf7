// On the virtual bench a frame records by itself, row after row, as a logger beside it would: until its instruments
// show nothing more, a reading is doubted by the page or by the server, or the hand stops it.
import { instrumentOf, readCells } from "../core/instrument.js";

const rowOf = (path) => path.slice(0, path.lastIndexOf("."));

export const frame = {
  recording: false,

  get mayRecord() {
    return Boolean(this.view.practice && this.step && !this.inHand && this.view.recorded.includes(this.step.table));
  },
  get recordWord() {
    return this.recording ? "Stop the frame" : "Let the frame record";
  },
  async record() {
    this.recording = !this.recording;
    while (this.recording && this.mayRecord && !this.doubt && !this.trouble && !this.judged) await this.readRow();
    this.recording = false;
  },
  async readRow() {
    const row = rowOf(this.step.path);
    const wanted = this.open.filter((s) =>
      rowOf(s.path) === row && !s.supplied && !this.skipped.includes(s.path) && instrumentOf(this.view, s.path)
    );
    this.busy = true;
    const minutes = this.minutes();
    const read = await readCells(this.view.test, Object.fromEntries(wanted.map((s) => [s.path, minutes])));
    this.busy = false;
    // What was typed or skipped meanwhile stays as the hand left it.
    const open = this.open.map((s) => s.path).filter((path) => !this.skipped.includes(path));
    const got = wanted.filter((s) => read.cells[s.path] && open.includes(s.path)),
      doubtful = got.find((s) => this.ask(s, read.cells[s.path]));
    const sure = doubtful ? got.slice(0, got.indexOf(doubtful)) : got;
    if (sure.length) {
      const of = (kept) => Object.fromEntries(sure.filter((s) => kept[s.path]).map((s) => [s.path, kept[s.path]]));
      this.queue.add({ cells: of(read.cells), origins: of(read.origins) });
      this.taken.push(...sure.map((s) => s.path));
      this.clear();
    }
    if (doubtful && doubtful.path === this.step?.path) {
      this.typed = read.cells[doubtful.path];
      this.origin = read.origins[doubtful.path] ?? null;
      this.doubt = this.ask(doubtful, this.typed);
    } else if (!got.length) this.trouble = Object.values(read.troubles)[0] ?? "";
  },
};
