// Somebody else saved in between: both versions are told, all that waits here with them, and the hand chooses.
import { ask } from "../../static/js/core/asking.js";
import { placeOf } from "../../static/js/core/sheet.js";

export const overtaken = {
  conflict: null,
  overtakenBy(conflict) {
    this.conflict = conflict;
    this.compare();
  },
  async compare() {
    const told = Alpine.raw(this.conflict);
    const changes = this.queue.items.map(({ base_revision, cells = {} }) => ({ base_revision, cells }));
    const { ok, answer } = await ask(`/api/tests/${this.view.test}/against`, { changes });
    // Without an answer what the refusal itself said stands there.
    if (ok && Alpine.raw(this.conflict) === told) this.conflict = answer;
  },
  get conflictLine() {
    const { who, revision } = this.conflict;
    return `${who} saved revision ${revision} while you were typing. Nothing of yours is saved yet; choose.`;
  },
  // What waits beside readings.
  get alsoWaiting() {
    const others = this.queue.items.map(({ cells: _, ...item }) => item);
    return others.filter((item) => item.settings || item.uses || item.bindings || item.logs).map((item) =>
      this.asideWords(item)
    ).join("; ");
  },
  // Where a cell of a row that was begun here belongs, below the rows that were begun there since it was typed.
  below({ base_revision }, path) {
    const { table, row, key } = placeOf(path), begun = this.conflict.begun?.[base_revision]?.[table];
    return begun && row >= begun.then ? `${table}.${row + begun.now - begun.then}.${key}` : path;
  },
  get bothBegan() {
    return this.queue.items.some((item) =>
      Object.keys(item.cells ?? {}).some((path) => this.below(item, path) !== path)
    );
  },
  keepMine() {
    this.chosen();
  },
  keepBelow() {
    this.chosen((item, path) => this.below(item, path));
  },
  chosen(moved) {
    this.queue.rebase(this.conflict.revision, moved);
    this.conflict = null;
    this.reload();
  },
  takeTheirs() {
    this.queue.overtaken(`Set aside when what ${this.conflict.who} saved was taken.`);
    this.conflict = null;
    this.dropDrafts();
    this.reload();
  },
};
