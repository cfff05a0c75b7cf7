// What the worksheet says, in words and classes.
import { keptWord } from "../../static/js/core/local.js";
import { nameOf } from "../../static/js/core/sheet.js";

export const words = {
  shownField(field) {
    return this.drafts[field.path] ?? this.held[field.path] ?? field.text;
  },
  get notNamedWords() {
    return `Not named: ${this.view.notNamed.join(", ")}. Tick which it was, under Equipment.`;
  },
  cellClass(row, column) {
    const cell = row.cells[column.key];
    return (cell.error ? "bad " : "") + (cell.supplied ? "supplied" : "");
  },
  cellWidth(column) {
    return column.resolution === 0.000001
      ? "place"
      : column.kind === "text"
      ? "words"
      : column.resolution === 0.01
      ? "fine"
      : "";
  },
  rowSays(row) {
    const said = Object.values(row.cells).filter((c) => c.error).map((c) => ({ severity: "stop", text: c.error }));
    if (row.leftOut) said.push({ severity: "note", text: `Left out: ${row.leftOut}` });
    return said.concat(row.findings.map((f) => ({ severity: f.severity, text: `${f.message} ${f.action}` })));
  },
  rowNumber(row) {
    return Number(row.path.split(".")[1]) + 1;
  },
  foldWord(table, row) {
    const first = table.columns[0];
    return `${first.unit ? "" : `${first.label} `}${row.cells[first.key].text || row.folded || "as above"}${
      first.unit ? ` ${first.unit}` : ""
    }, ${row.folds} readings`;
  },
  unfold(path) {
    this.unfolded = Number(path.split(".")[1]);
    this.preview();
  },
  // Tables of few columns stand side by side.
  gridClass(table) {
    const wide = (t) => t.columns.length + t.computed.length, slim = (t) => wide(t) <= 3;
    const beside = this.view.tables.filter(slim).length > 1 && slim(table);
    const most = table.columns.length > 6 || wide(table) > 8;
    // On a phone, where what is worked out fills a line, the cells of a row stand two and two below it.
    const typed = table.columns.length, worked = table.computed.length;
    const two = typed === 2 && worked === 2 || typed === 4 && worked > 2;
    const many = wide(table) > 7;
    const said = [this.dense && "dense", beside && "beside", many && "many", most && "most", two && "two"];
    return said.filter(Boolean).join(" ");
  },
  rowWord(row) {
    return row.leftOut ? `Take row ${this.rowNumber(row)} back` : `Leave row ${this.rowNumber(row)} out`;
  },
  placeName(path) {
    return nameOf(this.view, path);
  },
  get headlineLabel() {
    const h = this.view.verdict.headline;
    return h ? `${h.symbol}, ${this.view.verdict.reportable ? "reported" : "not reportable yet"}` : "no result yet";
  },
  get headlineText() {
    return this.view.verdict.headline?.text ?? "–";
  },
  get headlineUnit() {
    const h = this.view.verdict.headline;
    return h ? h.unit : "";
  },
  get stateLine() {
    const v = this.view;
    if (v.state === "issued") return `issued as ${v.issued.at(-1)}`;
    return v.stateWords + (v.checkedBy ? ` by ${v.checkedBy}` : "") + (v.voidReason ? `: ${v.voidReason}` : "");
  },
  get doubts() {
    const v = this.view.verdict;
    const say = (n, word) => (n ? `${n} ${word}${n > 1 ? "s" : ""}` : "");
    return [say(v.stop, "open stop"), say(v.warn, "open warning")].filter(Boolean).join(", ");
  },
  get openLeans() {
    return this.view.leans.filter((l) => l.open);
  },
  get kept() {
    if (this.conflict) return "not saved, choose below";
    const said = keptWord(this);
    return said !== "saved"
      ? said
      : this.view.revision
      ? `saved, revision ${this.view.revision}`
      : "nothing to save yet";
  },
  get keptClass() {
    return this.offline || this.conflict ? "waiting" : "";
  },
  fieldsBefore(table) {
    return this.view.fields.filter((f) => f.before === table);
  },
  fieldClass(f) {
    return f.pictured
      ? "wide alone"
      : f.kind === "choice"
      ? `wide ${f.choices.map((o) => o.label).join("").length > 18 ? "alone" : ""}`
      : f.kind === "text"
      ? "wide alone"
      : "";
  },
  get dense() {
    return this.view.tables.reduce((n, t) => n + t.rows.length, 0) > 8;
  },
  get byHand() {
    return (this.figure?.byHand.length ?? 0) > 0 && !this.view.locked;
  },
  get equipmentNames() {
    return [...document.querySelectorAll("[data-use]")].filter((b) => this.view.uses.includes(Number(b.value)))
      .map((b) => b.dataset.name).join(", ");
  },
  get equipmentLine() {
    const names = this.equipmentNames;
    return names && !this.view.proposed ? ` · ${names}` : "";
  },
};
