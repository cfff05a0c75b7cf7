// Earlier revisions, and moves from state to state.
import { ask, askingLast, NO_LINE } from "../../static/js/core/asking.js";
import { newKey } from "../../static/js/core/key.js";
import { stamp } from "../../static/js/core/zone.js";

const SENT_MS = 100, SENT_TRIES = 60;
const MOVE_WORDS = {
  done: "Done measuring",
  check: "Check",
  keep: "Keep it",
  take: "Take the newer version",
  issue: "Issue",
  reopen: "Reopen",
  void: "Void",
};

const askEarlier = askingLast();

export const states = {
  async seeEarlier(number) {
    if (this.earlier?.number === number) {
      this.earlier = null;
      return;
    }
    const said = await askEarlier(`/api/tests/${this.view.test}/history/${number}`);
    if (!said) return;
    const { ok, answer } = said;
    this.refused = ok ? "" : answer.message;
    if (ok) this.earlier = answer;
  },
  heading(list, one, more) {
    return list.length === 1 ? `1 ${one}` : `${list.length || "No"} ${more}`;
  },
  fromTo(changed) {
    return changed.texts.map((text) => text || "(empty)").join(" → ");
  },
  savedWhen(revision) {
    const typed = revision.typedAt ? `, typed ${stamp(revision.typedAt)}` : "";
    return `${stamp(revision.at)}, ${revision.who}${typed}`;
  },
  isEarlier(revision) {
    return this.earlier?.number === revision.number;
  },
  get earlierWords() {
    const p = this.earlier.parameters.map((one) => `${one.symbol} ${one.text} ${one.unit}`.trim()).join(", ");
    return `${p || "no result then"}. ${this.earlier.differences.length ? "" : "Its readings are those of now."}`;
  },
  async goBack() {
    const why = document.querySelector("[data-back-why]").value.trim();
    if (why.length < 2) {
      document.querySelector("[data-back-why]").focus();
      return;
    }
    const body = { base_revision: this.view.revision, save_key: newKey(), reason: why };
    const { ok, answer } = await ask(`/api/tests/${this.view.test}/history/${this.earlier.number}/restore`, body);
    if (!ok) {
      this.refused = answer.message;
      return;
    }
    this.earlier = null;
    this.dropDrafts();
    await this.reload();
    this.fill("history", "history");
  },
  moveWord(action) {
    return action === "check" && this.view.state === "checked" ? "Check again" : MOVE_WORDS[action];
  },
  get moveTitle() {
    return this.moving ? MOVE_WORDS[this.moving.action] : "";
  },
  askMove(move) {
    if (!move.needsReason) {
      this.move(move.action, "");
      return;
    }
    this.moving = move;
    this.panel = "move";
    this.$nextTick(() => document.querySelector("[data-move-why]")?.focus());
  },
  moveWithReason() {
    this.move(this.moving.action, document.querySelector("[data-move-why]").value);
  },
  // The hand goes from the last cell straight to the button: what it typed there is sent first.
  async allSent() {
    for (let i = 0; i < SENT_TRIES && this.queue.items.length && !this.queue.offline && !this.conflict; i++) {
      await new Promise((sent) => setTimeout(sent, SENT_MS));
    }
    return !this.queue.items.length;
  },
  async move(action, reason) {
    if (!(await this.allSent())) {
      this.refused = "What was typed last is not saved yet: press again once it is.";
      return;
    }
    // A move is a revision of its own: what is changed meanwhile waits and goes on top of it.
    this.queue.stopped = true;
    // Under one key until it is answered: pressed again because the answer was lost it is not made twice.
    const save_key = this.underWay[action] ??= newKey();
    this.queue.sent.add(save_key);
    const body = {
      action,
      reason,
      base_revision: this.view.revision,
      found: this.view.found,
      save_key,
      ...this.showing,
    };
    const { ok, answer } = await ask(`/api/tests/${this.view.test}/move`, body);
    if (answer !== NO_LINE) delete this.underWay[action];
    if (answer.conflict) return this.movedOn(answer.conflict, action, reason);
    if (!ok) {
      this.refused = answer.message;
      this.queue.rebase(this.queue.revision);
      return;
    }
    this.refused = "";
    this.panel = "";
    this.accept(answer);
    this.queue.rebase(answer.revision);
    // The question left the page and may have given its room to the figure.
    this.$nextTick(() => this.fit());
  },
  // Nobody signs what they have not seen: what was changed meanwhile is shown first. This hand saw what it saved.
  async movedOn({ who, keys }, action, reason) {
    const own = this.queue.sent.all(keys);
    await this.again();
    // What was typed meanwhile is still on top of what was seen: it is asked about.
    this.queue.rebase(this.queue.revision);
    if (own) return this.move(action, reason);
    const what = who ? `${who} changed this sheet meanwhile` : "What this test leans on changed meanwhile";
    this.refused = `${what}; it is shown as it is now. Look, then press again.`;
  },
  underWay: {},
};
