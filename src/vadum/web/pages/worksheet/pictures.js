// Pictures wait in this browser until the server has them: one taken in the pit is in no other place. Only who took
// them sends them, one tab at a time.
import * as store from "../../static/js/core/store.js";

const PATIENCE_MS = 60000;
// What is no picture is not one tomorrow.
const NEVER = [413, 422];

export class Pictures {
  constructor(test) {
    this.test = test;
    this.who = document.body.dataset.who ?? "";
    this.prefix = `${String(test).padStart(9, "0")}.`;
    this.unkept = []; // where the browser keeps nothing: a private window, or no room left
  }
  async add(file, about) {
    const key = `${this.prefix}${String(Date.now()).padStart(15, "0")}.${Math.random()}`;
    const picture = { ...about, file, name: file.name, who: this.who, key };
    await store.put("pictures", picture).catch(() => this.unkept.push(picture));
  }
  async waiting() {
    const kept = await store.all("pictures", this.prefix).catch(() => []);
    return [...kept.filter((one) => one.who === this.who), ...this.unkept];
  }
  async forget(picture) {
    this.unkept = this.unkept.filter((one) => one !== picture);
    await store.remove("pictures", picture.key).catch(() => {/* it was never kept */});
  }
  // Returns the attachments as they are then, what was refused and why, and how many wait still.
  async send() {
    return await navigator.locks?.request(`vadum.pictures.${this.test}`, () => this.sendAll()) ?? this.sendAll();
  }
  async sendAll() {
    const all = await this.waiting(), found = { files: null, refused: "", left: all.length };
    for (const one of all) {
      const { reply, answer } = await this.post(one);
      if (!answer) return found;
      if (!reply.ok) found.refused = answer.message;
      if (!reply.ok && !NEVER.includes(reply.status)) return found;
      if (reply.ok) found.files = answer;
      await this.forget(one);
      found.left -= 1;
    }
    return found;
  }
  async post({ file, name, who, caption, keep_position, beside }) {
    const form = new FormData();
    form.append("file", file, name);
    for (const [field, text] of Object.entries({ caption, keep_position, beside, taken_by: who })) {
      form.append(field, text);
    }
    try {
      const address = `/api/tests/${this.test}/photographs`, signal = AbortSignal.timeout(PATIENCE_MS);
      const reply = await fetch(address, { method: "POST", body: form, signal });
      return { reply, answer: await reply.json() };
    } catch {
      return {};
    }
  }
}
