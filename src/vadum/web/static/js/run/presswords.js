// What the page at the press says: the row in hand in mm and divisions, the pace, what was missed.
import { tableOf } from "../core/sheet.js";

export const pressWords = (span) => ({
  get digits() {
    return this.going && this.row ? this.row.at.toFixed(2) : this.over(this.name) ? "done" : "0.00";
  },
  get divisions() {
    return this.going && this.row ? `mm, ${Math.round(this.row.at / this.p.gaugeMm)} div on the gauge` : "mm";
  },
  get title() {
    return this.runs[this.run].title;
  },
  get clockWord() {
    return this.going ? `${span(this.seconds * 1000)} since the start` : "";
  },
  get dueWord() {
    if (!this.going) return this.over(this.name) ? `${this.title} is run` : "seated, ring and gauge at zero?";
    return this.left > 0.5 ? `there in about ${Math.ceil(this.left)} s` : "read the ring when the gauge is there";
  },
  get urgent() {
    return this.going && this.left < 3;
  },
  get rateWord() {
    const set = `set ${this.rate}`;
    if (!this.measured) return `${set} mm/min`;
    return `${this.measured.toFixed(2)} mm/min${this.rateBad ? `, ${set}` : ""}`;
  },
  get rateBad() {
    return Boolean(this.measured && Math.abs(this.measured - this.rate) > 0.2 * this.rate);
  },
  get lastWord() {
    const read = this.rows.filter((row) => row.ring !== null).slice(-2).map((row) => row.ring);
    if (!read.length) return "";
    return read.length > 1 ? `last ${read[1]}, about ${Math.round(2 * read[1] - read[0])}` : `last ${read[0]}`;
  },
  get missedWord() {
    const gone = this.rows.filter((row) => this.missed[row.path] && row.ring === null);
    return gone.length ? `bridged: ${gone.map((row) => row.at).join(", ")} mm` : "";
  },
  get marks() {
    return this.rows.filter((row) => row.ring !== null).slice(-6)
      .map((row) => ({ path: row.path, text: `${row.at.toFixed(2)}: ${row.ring}` }));
  },
  get back() {
    const i = this.rows.findIndex((row) => row.path === this.row?.path);
    return this.going && i > 0 ? `‹ ${this.rows[i - 1].at.toFixed(2)}` : "";
  },
  get onward() {
    const i = this.rows.findIndex((row) => row.path === this.row?.path), row = this.rows[i + 1];
    return this.going && row ? `${row.at.toFixed(2)} ›` : "";
  },
  get missWord() {
    return `Missed ${this.row?.at.toFixed(2) ?? ""} mm`;
  },
  get takeWord() {
    if (this.going) return `Keep ${this.row.at.toFixed(2)} mm`;
    return this.over(this.name) ? "Run is over" : `Start: ${this.title}`;
  },
  get next() {
    return this.going
      ? `Read the ring when the gauge shows ${Math.round(this.row.at / this.p.gaugeMm)} div. Do not pause.`
      : this.view.verdict.next;
  },
  get says() {
    const rows = tableOf(this.view, this.name).rows.flatMap((r) => r.findings);
    return this.view.findings.concat(rows).filter((f) => f.severity !== "note").slice(0, 2);
  },
});
