// The board: the server says what is due; the browser counts down by the server's clock and asks again now and then.
import { ask, NO_LINE } from "../../static/js/core/asking.js";
import { ahead, heard, setClock, WRONG_MS } from "../../static/js/core/clock.js";
import { merged } from "../../static/js/core/merged.js";
import { tone } from "../../static/js/core/tone.js";
import { addressOf, words } from "../../static/js/core/words.js";
import { due as dueAt, hour } from "../../static/js/core/zone.js";

// A hand works down from the top: of a long part the first lines are enough until somebody asks for the rest.
const AT_ONCE = 40;
const ASK_MS = 20000, UNDO_MS = 10000;

const span = (ms) => {
  const minutes = Math.floor(Math.abs(ms) / 60000), hours = Math.floor(minutes / 60), days = Math.floor(hours / 24);
  const words = days
    ? `${days} d ${hours % 24} h`
    : hours
    ? `${hours} h ${String(minutes % 60).padStart(2, "0")}`
    : minutes >= 10
    ? `${minutes} min`
    : `${minutes}:${String(Math.floor(Math.abs(ms) / 1000) % 60).padStart(2, "0")}`;
  return ms < 0 ? `+${words}` : words;
};

document.addEventListener("alpine:init", () => {
  Alpine.data("board", () =>
    merged(words, {
      view: JSON.parse(document.getElementById("first-view").textContent),
      now: Date.now(),
      ahead: 0,
      said: "",
      refused: "",
      sound: false,
      told: null,
      whole: {},
      lately: null,

      init() {
        setClock(this.view);
        this.ahead = ahead();
        this.told = new Set(this.urgent.map((line) => line.id));
        setInterval(() => {
          this.now = Date.now();
          this.ahead = ahead();
          this.tell();
        }, 1000);
        setInterval(() => this.ask(), ASK_MS);
        this.openWords(() => {
          if (this.words.some((word) => word.refused)) this.lately = null;
          this.ask();
        });
      },
      get time() {
        return this.now - this.ahead;
      },
      get clock() {
        return hour(new Date(this.time));
      },
      get wrongClock() {
        if (Math.abs(this.ahead) < WRONG_MS) return "";
        return `This device's clock is ${span(Math.abs(this.ahead))} ${
          this.ahead > 0 ? "ahead" : "behind"
        }. The laboratory's server counts: times here follow it.`;
      },
      // What was said to be done is, whether the server knows it yet or not.
      get lines() {
        return this.view.parts.flatMap((part) => part.lines).filter((line) => !this.waits(line.test, line.key));
      },
      get parts() {
        // A line moves up by itself when its time comes, without waiting for the next answer.
        const { lines } = this;
        return this.view.parts.map((part) => {
          const mine = lines.filter((line) => this.standing(line) === part.name),
            shown = this.whole[part.name] ? mine : mine.slice(0, AT_ONCE);
          return {
            ...part,
            count: mine.length,
            more: mine.length - shown.length,
            lines: shown.map((line) => ({
              ...line,
              left: span(Date.parse(line.due) - this.time),
              at: this.when(line.due),
              by: line.who ? `${line.who}, ${this.when(line.plannedAt)}` : "",
            })),
          };
        });
      },
      showAll(part) {
        this.whole = { ...this.whole, [part.name]: true };
      },
      standing(line) {
        const left = Date.parse(line.due) - this.time;
        return this.time > Date.parse(line.latest)
          ? "late"
          : left <= 300000
          ? "now"
          : left <= 7200000
          ? "next"
          : "later";
      },
      when(due) {
        return dueAt(due, this.time);
      },
      get urgent() {
        return this.lines.filter((line) => ["late", "now"].includes(this.standing(line)));
      },
      get untimed() {
        return this.view.untimed;
      },
      get nothing() {
        return !this.untimed.length && !this.lines.length;
      },
      get oven() {
        return this.view.oven.map((held) => ({
          ...held,
          left: Date.parse(held.out) <= this.time ? "may come out" : `out in ${span(Date.parse(held.out) - this.time)}`,
        }));
      },

      tell() {
        for (const line of this.urgent) {
          if (this.told.has(line.id)) continue;
          this.told.add(line.id);
          if (this.sound) tone(this.audio, 660, 0.4);
          if (globalThis.Notification?.permission === "granted") new Notification(`${line.place}: ${line.what}`);
        }
      },
      toggleSound() {
        this.sound = !this.sound;
        this.audio ??= new AudioContext();
        if (this.sound && globalThis.Notification?.permission === "default") Notification.requestPermission();
      },
      async ask() {
        const { view } = this, said = await ask("/api/board");
        // What somebody said here meanwhile was answered with a newer board.
        if (this.view === view) this.take(said);
      },
      // An answer that did not come leaves the board as it was, and says so.
      take({ ok, answer }) {
        this.said = ok ? "" : `${answer === NO_LINE ? "the line is down; " : ""}times go on from the last answer`;
        if (ok) this.view = answer;
        if (ok) heard(answer.serverTime);
        return ok;
      },
      done(line) {
        return this.say(line, new Date(this.time));
      },
      // What was said lately can be taken back for ten seconds, and its time put right; the clock waits for a hand.
      async say(line, at) {
        if (await this.send(line, "POST", { at: at.toISOString() })) {
          this.lately = { line, at, until: this.time + UNDO_MS };
        }
      },
      get saidLately() {
        return this.lately !== null && (this.lately.held || this.time < this.lately.until);
      },
      get latelyWords() {
        return this.lately ? `${this.lately.line.what}, ${this.lately.line.place}: done at` : "";
      },
      get latelyAt() {
        return this.lately ? hour(this.lately.at).slice(0, 5) : "";
      },
      hold() {
        this.lately = { ...this.lately, held: true };
      },
      // Hours and minutes of the laboratory that do not lie ahead: of today, or of yesterday.
      doneAt(event) {
        // While a hand types it anew the field holds nothing; what was taken back has no time.
        if (!event.target.value || !this.lately) return;
        const [h, m] = event.target.value.split(":").map(Number);
        const now = hour(new Date(this.time)).split(":").map(Number);
        const ago = (60 * (now[0] - h) + now[1] - m + 1440) % 1440;
        this.say(this.lately.line, new Date(this.time - 60000 * ago));
      },
      async takeBack() {
        const { lately } = this;
        if (!lately) return;
        // A second tap, while the first is on its way, takes nothing back.
        this.lately = null;
        const { line } = lately, word = this.waits(line.test, line.key);
        if (!(word ? await this.dropWord(word) : await this.send(line, "DELETE"))) this.lately = lately;
      },
      async send(line, method, body) {
        const word = { test: line.test, operation: line.key, what: `${line.what}, ${line.place}` };
        const said = await ask(addressOf(word), body, method);
        const kept = said.answer === NO_LINE && body && await this.keepWord({ ...word, at: body.at });
        this.refused = said.ok || kept ? "" : `${word.what}: ${said.answer.message}`;
        return kept || (said.ok && this.take(said));
      },
    }));
});
