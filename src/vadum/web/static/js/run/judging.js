// What the server says of a reading after it was kept: named, and offered to be read again; never in the way. What the
// next readings will mend by themselves is no doubt about this one.
import { fieldOf, nameOf, placeOf, tableOf } from "../core/sheet.js";

export const judging = {
  judged: null,

  judge(item) {
    for (const path of Object.keys(item.cells ?? {})) {
      if (!item.cells[path]) continue;
      const text = this.complaint(path);
      if (text) this.judged = { path, text: `${nameOf(this.view, path)}, ${item.cells[path]}: ${text}` };
      else if (this.judged?.path === path) this.judged = null;
    }
  },
  complaint(path) {
    const { table, row, key } = placeOf(path);
    const place = tableOf(this.view, table)?.rows.find((r) => r.path === `${table}.${row}`) ?? fieldOf(this.view, path);
    const error = place?.cells?.[key]?.error ?? place?.error;
    const doubted = (f) => f.severity !== "note" && !this.view.awaited.includes(f.code) && f.cells.includes(path);
    const said = (place?.findings ?? []).find(doubted);
    return error || (said ? `${said.message} ${said.action}` : "");
  },
  get judgedWord() {
    return this.judged?.text ?? "";
  },
  readAgain() {
    if (!this.judged) return;
    this.inHand = this.judged.path;
    this.judged = null;
    this.clear();
  },
  leaveIt() {
    this.judged = null;
  },
  // What stands open on the sheet beside the reading in hand.
  get says() {
    const found = this.view.tables.flatMap((t) => t.rows).flatMap((r) => r.findings)
      .concat(this.view.fields.flatMap((f) => f.findings), this.view.findings);
    return found.filter((f) => f.severity !== "note").slice(0, 3)
      .map((f) => ({ severity: f.severity, text: `${f.message} ${f.action}` }));
  },
};
