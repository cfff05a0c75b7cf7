// Typing, keys and pasting: where a text goes, and where the hand goes next.
import { instrumentOf } from "../../static/js/core/instrument.js";
import { placeOf } from "../../static/js/core/sheet.js";
import { layOutAll } from "./later.js";

const PREVIEW_MS = 220;
const AT_CELL = {
  input: "typing",
  keydown: "key",
  paste: "paste",
  focusin: "focused",
  focusout: "commit",
  click: "clicked",
};

export const typing = {
  // The register knows this tin's mass: the hand skips the cell.
  supplied(cell) {
    if (cell?.classList.contains("supplied")) return true;
    const [table, row, key] = cell?.dataset.path.split(".") ?? [];
    return key === "mass_tin_g" && !cell.value &&
      this.view.registered.includes(this.cell(`${table}.${row}.tin`)?.value.trim());
  },
  // Typing. One pair of ears for all cells: a sheet has hundreds.
  atCell(event) {
    if (!event.target.matches("input[data-path]")) return;
    if (event.type !== "input") this.laid();
    this[AT_CELL[event.type]](event);
  },
  // Looked for in the whole page: what asks may be a button that is gone by now.
  cell(path) {
    return document.querySelector(`[data-path="${CSS.escape(path)}"]`);
  },
  typing(event) {
    const { path } = event.target.dataset;
    const begun = this.text(path);
    this.stood[path] ??= begun;
    this.drafts[path] = event.target.value;
    this.store.keep(path, event.target.value);
    // The first letter may begin a row, and a scanner's next key goes into the one below.
    if (begun) this.layOncePainted();
    else this.lay();
    // What was asked for before this key is overtaken: its answer would be shown while the hand goes on.
    this.asked = (this.asked ?? 0) + 1;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.preview(), PREVIEW_MS);
  },
  // The letter stands in its cell and is painted first; what follows from it in the page is laid after that, or before
  // the hand does anything else.
  unlaid: false,
  layOncePainted() {
    if (!this.unlaid) requestAnimationFrame(() => setTimeout(() => this.laid()));
    this.unlaid = true;
  },
  laid() {
    if (this.unlaid) this.lay();
    this.unlaid = false;
  },
  dropDraft(path) {
    this.pressed = "";
    delete this.drafts[path];
    delete this.stood[path];
    this.lay();
    this.store.drop(path);
  },
  dropDrafts() {
    for (const path of Object.keys(this.drafts)) this.dropDraft(path);
  },
  // What was being typed when a page of this sheet went away is committed now.
  async commitLeft(kept) {
    for (const [path, text] of Object.entries(await this.store.left(kept))) {
      if (text === this.text(path)) {
        this.store.drop(path);
        continue;
      }
      this.drafts[path] = text;
      this.commitPath(path);
    }
  },
  focused(event) {
    this.pressed = "";
    this.unselected = null;
    event.target.select();
  },
  pressed: "",
  unselected: null,
  // A press on the cell where the hand already is would set a caret into what stands there, and the next reading into
  // its figures: 4 before 45.3. Pressed a second time it is for correcting a figure.
  clicked({ target: cell }) {
    const { path } = cell.dataset;
    // The browser sets its caret after this; a page that is busy may hear the next key before its clock.
    if (this.pressed !== path && !(path in this.drafts)) {
      this.unselected = cell;
      setTimeout(() => this.wholly());
    }
    this.pressed = path;
  },
  wholly() {
    this.unselected?.select();
    this.unselected = null;
  },
  async preview() {
    clearTimeout(this.timer);
    const asked = (this.asked = (this.asked ?? 0) + 1);
    try {
      const reply = await fetch(`/api/tests/${this.view.test}/preview`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ cells: this.written, ...this.showing }),
      });
      const answer = reply.ok && await reply.json();
      if (!answer || asked !== this.asked) return;
      // Judged before the last save: what is typed is shown by today's record or not at all.
      if (answer.basis < this.view.revision) this.preview();
      else this.accept(answer);
    } catch { /* the save queue says that the line is down */ }
  },
  commit(event) {
    this.commitPath(event.target.dataset.path);
  },
  // Once committed it waits in the queue, under its own person's name.
  commitPath(path) {
    if (!(path in this.drafts)) return;
    const typed = this.drafts[path];
    clearTimeout(this.timer);
    this.change({ cells: { [path]: typed } });
    this.dropDraft(path);
  },
  pictureOf(word) {
    return `sketch sketch-${word}`;
  },
  // A shape tapped again is taken back.
  tapPicture(event) {
    const { path, word } = event.currentTarget.dataset, now = this.text(path);
    this.change({ cells: { [path]: now === word ? "" : word } });
  },
  commitChoice(event) {
    this.change({ cells: { [event.target.dataset.path]: event.target.value } });
  },
  // What stood in a cell before it was typed in, and in the cells before each change of this page, the last one last.
  stood: {},
  before: [],
  change(change) {
    if (change.cells) {
      const paths = Object.keys(change.cells);
      this.before.push(Object.fromEntries(paths.map((path) => [path, this.stood[path] ?? this.text(path)])));
      for (const path of paths) delete this.stood[path];
    }
    this.put(change);
  },
  // Brought back is a change like any other, on record with who and when; it is not itself brought back.
  bringBack() {
    const cells = this.before.pop();
    if (!cells) return;
    this.put({ cells });
    this.cell(Object.keys(cells)[0])?.focus();
  },
  put(change) {
    // The cautions stood open until there was something to see.
    if (this.panel === "cautions" && !this.view.revision) this.panel = "";
    // A preview that was asked for before knows nothing of it.
    this.asked = (this.asked ?? 0) + 1;
    this.queue.add({ ...change, ...this.showing });
    if (this.conflict) this.compare();
  },
  saved(_, item) {
    // Another figure was chosen while the save was on its way: its answer drew the one before.
    if (item.figure !== this.shownFigure) this.preview();
    if (this.picturesLeft) this.sendPhotos();
  },
  // A reading that was set aside stands there with its reason; its cell shows what the record holds.
  refusedBy(answer, item) {
    if (!item.aside) this.refused = answer.message;
    this.again();
  },
  async again() {
    await this.reload();
    this.preview();
  },

  // Keys
  inputs() {
    return [...document.querySelectorAll("input[data-path]")];
  },
  key(event) {
    const cell = event.target, path = cell.dataset.path;
    layOutAll();
    this.wholly();
    if (event.key === "Escape") {
      this.dropDraft(path);
      // At once, and then asked: a text that comes back behind the hand would take the selection with it.
      cell.value = this.text(path);
      cell.select();
      this.preview();
      return;
    }
    // While a cell is being typed in, the browser takes its letters back; afterwards the value before comes back.
    if (event.key === "z" && (event.ctrlKey || event.metaKey) && !(path in this.drafts)) {
      event.preventDefault();
      this.bringBack();
      return;
    }
    if (event.key === " " && !cell.value.trim() && instrumentOf(this.view, path)) {
      event.preventDefault();
      this.takeReading(path);
      return;
    }
    if (event.key === "Enter") {
      event.preventDefault();
      this.next(cell);
      return;
    }
    const [table, row, key] = path.split(".");
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      const target = key ? this.cell(`${table}.${Number(row) + step}.${key}`) : null;
      this.onTo(target ?? this.neighbour(cell, step), cell);
    }
    const atEnd = cell.selectionStart === cell.value.length, atStart = cell.selectionEnd === 0;
    const all = cell.selectionStart === 0 && cell.selectionEnd === cell.value.length;
    if (event.key === "ArrowRight" && (atEnd || all)) {
      event.preventDefault();
      this.neighbour(cell, 1)?.focus();
    }
    if (event.key === "ArrowLeft" && (atStart || all)) {
      event.preventDefault();
      this.neighbour(cell, -1)?.focus();
    }
  },
  neighbour(cell, step) {
    const inputs = this.inputs();
    return inputs[inputs.indexOf(cell) + step];
  },
  next(cell) {
    this.commitPath(cell.dataset.path);
    let target = this.onward(cell);
    while (this.supplied(target)) target = this.neighbour(target, 1);
    this.onTo(target, cell);
  },
  // From the last cell nothing leads on: what was typed counts, and what is typed next takes its place.
  onTo(target, cell) {
    if (target) target.focus();
    else {
      this.commitPath(cell.dataset.path);
      cell.select();
    }
  },
  // The hand stays in its table: along the row, down the column, or to the next row, which always stands below. An
  // empty row, left at its first cell, is the end of the table.
  onward(cell) {
    const { path, hand } = cell.dataset, { table, row, key } = placeOf(path), inputs = this.inputs();
    if (!table) return this.neighbour(cell, 1);
    const inRow = (n) => inputs.filter((i) => i.dataset.path.startsWith(`${table}.${n}.`));
    const blank = (n) => !inRow(n).some((i) => i.value.trim());
    const beyond = () => inputs.slice(inputs.indexOf(cell)).find((i) => !i.dataset.path.startsWith(`${table}.`));
    if (cell === inRow(row)[0] && blank(row)) return beyond();
    if (hand === "row") return inRow(row + 1)[0] ?? beyond();
    if (hand === "down") return blank(row + 1) ? beyond() : this.cell(`${table}.${row + 1}.${key}`);
    return this.neighbour(cell, 1);
  },
  paste(event) {
    const text = event.clipboardData.getData("text/plain");
    const [table, row, key] = event.target.dataset.path.split(".");
    if (!key || !/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    const columns = this.view.tables.find((t) => t.name === table).columns.map((c) => c.key);
    const first = columns.indexOf(key), cells = {};
    text.replace(/\r/g, "").replace(/\n+$/, "").split("\n").forEach((line, i) =>
      line.split("\t").forEach((value, j) => {
        if (columns[first + j]) cells[`${table}.${Number(row) + i}.${columns[first + j]}`] = value.trim();
      })
    );
    this.change({ cells });
  },
};
