// Leaving out, school, equipment, and the panels in the figure's half.
import { ask } from "../../static/js/core/asking.js";

export const choices = {
  askLeaveOut(path) {
    if (!path) {
      this.asking = "";
      return;
    }
    const row = this.view.tables.flatMap((t) => t.rows).find((r) => r.path === path);
    if (row?.leftOut) {
      this.change({ cells: { [`${path}.left_out`]: "" } });
      return;
    }
    this.asking = path;
    this.$nextTick(() => document.querySelector("[data-why]")?.focus());
  },
  leaveOut(why) {
    this.change({ cells: { [`${this.asking}.left_out`]: why } });
    this.asking = "";
  },
  leaveOutTyped(event) {
    if (event.target.value.trim()) this.leaveOut(event.target.value.trim());
  },
  settingDrafts: {},
  // What is being typed, or waits to be kept, stands: the answer to another change must not take it away.
  shownSetting(s) {
    const draft = this.settingDrafts[s.name];
    return draft && (!draft.sent || this.waiting) ? draft.text : s.value;
  },
  draftSetting(event, sent = false) {
    const { setting } = event.target.dataset;
    this.settingDrafts = { ...this.settingDrafts, [setting]: { text: event.target.value, sent } };
  },
  setSetting(event) {
    const { setting } = event.target.dataset;
    if (event.target.type === "text") this.draftSetting(event, true);
    const value = event.target.type === "checkbox" ? event.target.checked : event.target.value.trim() || null;
    this.change({ settings: { [setting]: value } });
  },
  dropLog(name) {
    this.change({ logs: { [name]: null } });
  },
  // The reason goes with the last construction that is let go.
  automatic() {
    const { key, byHand: names } = this.figure;
    const others = this.view.figures.some((f) => f.key !== key && f.byHand.length);
    this.change({
      settings: Object.fromEntries([...names, ...(others ? [] : ["by_hand_because"])].map((name) => [name, null])),
    });
  },
  get because() {
    return this.view.settings.find((s) => s.name === "by_hand_because")?.value ?? null;
  },
  sayWhy(event) {
    this.change({ settings: { by_hand_because: event.target.value.trim() || null } });
  },
  uses(id) {
    return this.view.uses.includes(id);
  },
  sayUses() {
    this.change({ uses: [...this.view.uses] });
  },
  setUses() {
    this.change({ uses: [...document.querySelectorAll("[data-use]:checked")].map((box) => Number(box.value)) });
  },
  shut() {
    const tool = document.querySelector('.tools [aria-expanded="true"]');
    this.panel = "";
    tool?.focus();
  },
  open(panel) {
    this.panel = this.panel === panel ? "" : panel;
    if (this.panel === "instruments") this.fill("instruments", "bench");
    if (this.panel === "explain" && !this.uncertain) this.learn(true);
    if (this.panel === "files") this.listFiles();
    if (this.panel === "review") this.fill("review", "reviewed");
    if (this.panel === "history") this.fill("history", "history");
  },
  // What the server does not say is not shown as if there were none.
  async fill(panel, name) {
    const { ok, answer } = await ask(`/api/tests/${this.view.test}/${panel}`);
    this.refused = ok ? "" : answer.message;
    if (ok) this[name] = answer;
    else if (this.panel === panel) this.panel = "";
  },
  // How well a result is known takes the server a moment: asked for once the measuring is done, or when somebody
  // looks.
  async learn(asked = this.panel === "explain") {
    this.uncertain = null;
    const revision = this.learned = this.view.revision;
    if (!asked && !["reduced", "checked", "issued"].includes(this.view.state)) return;
    const reply = await fetch(`/api/tests/${this.view.test}/uncertainty`).catch(() => null);
    if (reply?.ok && revision === this.learned) this.uncertain = await reply.json();
  },
  get headlineKnown() {
    const h = this.view.verdict.headline;
    const known = h && (this.uncertain?.results ?? []).find((d) => d.symbol === h.symbol);
    return known ? known.expandedText : "";
  },
  get uncertainties() {
    return (this.uncertain?.results ?? []).map((d) => ({
      key: d.key,
      words: `${d.symbol} ${d.text} ${d.unit} ${d.expandedText}`,
      by: `by ${d.leading.map((lead) => `${lead.label}: ${Math.round(100 * lead.share)} %`).join(", ")}`,
    }));
  },
  get uncertaintyNotes() {
    return this.uncertainties.length ? this.uncertain.notes : [];
  },
};
