// Readings at the press by its instruments: the ring when asked, ring and penetration together by themselves.
import { instrumentOf, readCells } from "../core/instrument.js";

// The gauge is asked this often when readings are taken by themselves.
const ASK_MS = 1000;

export const byItself = {
  get bound() {
    return instrumentOf(this.view, `${this.name}.0.${this.p.column}`);
  },
  // By itself only where the penetration is read too: a clock does not know where the plunger is.
  get canAuto() {
    return Boolean(this.bound && instrumentOf(this.view, `${this.name}.0.penetration_mm`));
  },
  toggleAuto() {
    this.auto = !this.auto;
    this.keep();
  },
  async ask(paths, watching = false) {
    this.busy = true;
    const minutes = this.seconds / 60;
    const answer = await readCells(this.view.test, Object.fromEntries(paths.map((path) => [path, minutes])), watching);
    this.busy = false;
    this.trouble = Object.values(answer.troubles)[0] ?? "";
    return this.trouble ? null : answer;
  },
  async watchGauge() {
    const { row } = this;
    if (this.busy || !row || this.now - (this.askedAt ?? 0) < ASK_MS) return;
    this.askedAt = this.now;
    const depth = `${row.path}.penetration_mm`, seen = await this.ask([depth], true);
    if (!seen || Number(seen.cells[depth]) < row.at - 0.005) return;
    const { seconds } = this, answer = await this.ask([depth, `${row.path}.${this.p.column}`]);
    if (answer && row.path === this.row?.path) this.keepRing(row, answer.cells, answer.origins, { seconds });
  },
};
