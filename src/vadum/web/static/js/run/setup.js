// Before a run in the ground: what is on hand is confirmed piece by piece, and what makes the run safe is answered. A
// "no" locks the run; a blank is said.
import { fieldOf } from "../core/sheet.js";

const plan = JSON.parse(document.getElementById("set-up")?.textContent ?? "null");

export const setup = {
  begunRun: false,
  confirmed: {},
  drafts: {},

  get settingUp() {
    return Boolean(plan) && !this.begunRun;
  },
  get setUpFields() {
    return (plan?.fields ?? []).map((path) => fieldOf(this.view, path)).filter(Boolean).map((f) => {
      const text = this.text(f.path);
      return {
        ...f,
        text,
        shown: this.drafts[f.path] ?? text,
        locked: Boolean(f.locks) && text === "no",
        more: this.moreOf(f, text),
      };
    });
  },
  // A force at the ring is set by its divisions.
  moreOf(f, text) {
    const factor = fieldOf(this.view, "ring_factor_n_div"), force = Number(text);
    const perDiv = factor && Number(this.text("ring_factor_n_div") || factor.expected);
    return f.unit === "N" && force && perDiv ? `${Math.round(force / perDiv)} div of the ring` : "";
  },
  answer(f, code) {
    this.queue.add({ cells: { [f.path]: f.text === code ? "" : code } });
  },
  // What is being typed is not on the sheet yet: the answer to an earlier field must not take it away.
  draft(f, event) {
    this.drafts = { ...this.drafts, [f.path]: event.target.value };
  },
  answerTyped(f, event) {
    const { [f.path]: _, ...others } = this.drafts;
    this.drafts = others;
    this.queue.add({ cells: { [f.path]: event.target.value.trim() } });
  },

  // The pieces of the last test are offered; each is confirmed by a tap, or another is taken.
  get kinds() {
    const pieces = plan?.pieces ?? [];
    return [...new Set(pieces.map((p) => p.kind))].map((kind) => {
      const known = pieces.filter((p) => p.kind === kind), last = known.find((p) => this.view.uses.includes(p.id));
      const word = last ? `last test: ${last.words}. This one?` : "which one is on hand?";
      return {
        kind,
        word: this.confirmed[kind] ? "confirmed" : word,
        pieces: known.map((p) => ({ ...p, chosen: this.confirmed[kind] === p.id })),
      };
    });
  },
  choosePiece({ kind, id }) {
    const others = plan.pieces.filter((p) => p.kind === kind).map((p) => p.id);
    this.confirmed = { ...this.confirmed, [kind]: id };
    const uses = [...this.view.uses.filter((one) => !others.includes(one)), id];
    if (!this.view.uses.includes(id) || uses.length !== this.view.uses.length) this.queue.add({ cells: {}, uses });
    this.keep();
  },

  get locked() {
    return this.setUpFields.find((f) => f.locked) ?? null;
  },
  get unanswered() {
    const kinds = this.kinds.map((k) => k.kind).filter((kind) => !this.confirmed[kind]);
    const open = this.setUpFields.filter((f) => !f.text && !f.supplied).map((f) => f.label);
    return [...kinds.map((kind) => `${kind} not confirmed`), ...open.map((label) => `${label}: not answered`)];
  },
  get openWord() {
    return this.locked || !this.unanswered.length ? "" : `${this.unanswered.join("; ")}. The sheet will say so.`;
  },
  get beginWord() {
    return this.locked ? "Locked" : this.unanswered.length ? "Begin without" : "Begin the run";
  },
  get lockWord() {
    return this.locked?.locks ?? "What is on hand, and does it stand as it should?";
  },
  beginRun() {
    if (this.locked) return;
    this.begunRun = true;
    this.keep();
  },
};
