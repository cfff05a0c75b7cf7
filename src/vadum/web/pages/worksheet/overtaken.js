// Somebody else saved in between: both versions are told, all that waits here with them, and the hand chooses.
import { placeOf } from "../../static/js/core/sheet.js";

export const overtaken = {
  conflict: null,
  async overtakenBy(conflict) {
    this.conflict = conflict;
    const [first] = this.queue.items;
    try {
      const reply = await fetch(`/api/tests/${this.view.test}/against`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ base_revision: first.base_revision, cells: this.held }),
      });
      if (reply.ok && Alpine.raw(this.conflict) === conflict) this.conflict = await reply.json();
    } catch { /* what the refusal itself said stands there */ }
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
  // Where a cell of a row that was begun here belongs, below the rows that were begun there.
  below(path) {
    const { table, row, key } = placeOf(path), begun = this.conflict.begun?.[table];
    return begun && row >= begun.then ? `${table}.${row + begun.now - begun.then}.${key}` : path;
  },
  get bothBegan() {
    return Object.keys(this.held).some((path) => this.below(path) !== path);
  },
  keepMine() {
    this.chosen((path) => path);
  },
  keepBelow() {
    this.chosen((path) => this.below(path));
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
