// The worksheet: cells typed, saved and acknowledged; everything shown comes from the server's answer.
import { operate } from "/static/js/core/figure.js";
import { instrumentOf, readCells } from "/static/js/core/instrument.js";
import { aside } from "/static/js/core/aside.js";
import { SaveQueue } from "/static/js/core/savequeue.js";

const PREVIEW_MS = 220;
const MOVE_WORDS = {
  done: "Done measuring",
  check: "Check",
  keep: "Keep it",
  take: "Take the newer version",
  issue: "Issue",
  reopen: "Reopen",
  void: "Void",
};

document.addEventListener("alpine:init", () => {
  Alpine.data("worksheet", () => ({
    view: JSON.parse(document.getElementById("first-view").textContent),
    drafts: {},
    panel: "",
    asking: "",
    conflict: null,
    refused: "",
    ...aside,
    readout: "",
    history: [],
    earlier: null,
    reviewed: null,
    uncertain: null,
    learned: 0,
    waiting: 0,
    offline: false,
    moving: null,
    shownFigure: "",
    unfolded: null,
    mixSays: "",
    mixBad: false,
    trouble: "",
    bench: { columns: [], trouble: "" },
    files: [],
    photoSays: "",
    photoBad: false,
    removing: 0,
    reasons: ["attempt", "crust on the mix", "lumps in the mix", "soil lost", "outside the range"],

    init() {
      this.queue = new SaveQueue(this.view.test, this.view.revision, {
        onSaved: (answer, item) => this.saved(answer, item),
        onConflict: (conflict) => {
          this.conflict = conflict;
        },
        onRefused: (answer, item) => item.aside ? this.putBack(item) : this.refuse(answer),
        onElsewhere: () => this.reload(),
        onState: (waiting, offline, kept) => Object.assign(this, { waiting, offline, ...kept }),
      });
      // What is typed and not yet committed is its own person's too.
      this.draftStore = `vadum.drafts.${this.view.test}.${this.queue.who}`;
      this.drafts = JSON.parse(localStorage.getItem(this.draftStore) ?? "{}");
      for (const path of Object.keys(this.drafts)) this.commitPath(path);
      if (this.queue.revision > this.view.revision) this.reload();
      this.hold = operate(this.$refs.figure, {
        onRead: (text) => {
          this.readout = text;
        },
        onPoint: (
          path,
          leftOut,
        ) => (leftOut ? this.queue.add({ cells: { [`${path}.left_out`]: "" } }) : this.askLeaveOut(path)),
        onHandle: (setting, value) => this.change({ settings: { [setting]: value } }),
        onRelease: () => this.undrawn && this.draw(),
      });
      this.grow();
      this.draw();
      this.learn();
      // Cautions stand open until the first reading is on record.
      if (!this.view.revision && this.view.figures.length) this.panel = "cautions";
      // The tabs above the figure take their room only after Alpine's first pass.
      this.$nextTick(() => {
        if (this.box().width !== 660) this.preview();
      });
      addEventListener("resize", () => this.preview());
      // The rows stand after Alpine's first pass; the hand starts at the first blank row.
      requestAnimationFrame(() => {
        const blank = this.view.tables[0]?.rows.find((r) => r.blank)?.path;
        const asked = new URLSearchParams(location.search).get("cell");
        const fresh = (asked && this.cell(asked)) ||
          !this.view.revision && this.inputs().find((i) => !i.value && !i.classList.contains("supplied"));
        const cell = fresh || (this.inputs().find((i) => i.dataset.path.startsWith(`${blank}.`)) ?? this.inputs()[0]);
        if (document.activeElement === document.body && innerWidth > 760) cell?.focus({ preventScroll: true });
      });
    },

    // What is shown
    get figure() {
      return this.view.figures.find((f) => f.svg) ?? this.view.figures[0];
    },
    // A figure that is held by a handle is not taken out of the hand: it is drawn anew when let go.
    draw() {
      this.undrawn = Boolean(this.hold?.dragging);
      if (this.$refs.figure && !this.undrawn) this.$refs.figure.innerHTML = this.figure?.svg ?? "";
    },
    show(key) {
      this.shownFigure = key;
      this.preview();
    },
    box() {
      const zone = this.$refs.zone.getBoundingClientRect();
      const width = Math.max(300, Math.round(zone.width - 18)),
        tabs = this.$refs.zone.querySelector(".views")?.offsetHeight ?? 0;
      return {
        width: Math.min(width, 2000),
        height: innerWidth < 761 ? Math.round(width * 0.95) : Math.max(240, Math.round(zone.height - 12 - tabs)),
      };
    },
    take(answer) {
      const focus = document.activeElement?.dataset?.path;
      const figureFocus = document.activeElement?.dataset?.setting;
      const changed = answer.revision !== undefined && answer.revision !== this.learned;
      this.view = { ...this.view, ...answer };
      this.grow();
      this.draw();
      if (changed) this.learn();
      if (figureFocus) this.$refs.figure.querySelector(`[data-setting="${figureFocus}"]`)?.focus();
      // Only a focus that the redraw lost is given back: the hand may have moved on meanwhile.
      else if (focus) {
        this.$nextTick(() => {
          if (document.activeElement === document.body) this.cell(focus)?.focus({ preventScroll: true });
        });
      }
    },
    // The page makes its own next row: below the last one typed into a blank one stands at once, whatever the server
    // says when.
    grow() {
      if (this.view.locked) return;
      for (const table of this.view.tables) {
        const numberOf = (path) => (path.startsWith(`${table.name}.`) ? Number(path.split(".")[1]) : -1);
        const typed = Math.max(
          -1,
          ...Object.entries(this.drafts).filter(([, text]) => text.trim()).map(([path]) => numberOf(path)),
        );
        for (let n = table.rows.length ? numberOf(table.rows.at(-1).path) + 1 : 0; n <= typed + 1; n += 1) {
          table.rows.push(this.blankRow(table, n));
        }
      }
    },
    blankRow(table, number) {
      const cells = Object.fromEntries(
        table.columns.map((c) => [c.key, { text: "", error: "", expected: c.expected, supplied: false }]),
      );
      return { path: `${table.name}.${number}`, cells, computed: {}, leftOut: "", findings: [], blank: true };
    },
    // The register knows this tin's mass: the hand skips the cell.
    supplied(cell) {
      if (cell?.classList.contains("supplied")) return true;
      const [table, row, key] = cell?.dataset.path.split(".") ?? [];
      return key === "mass_tin_g" && !cell.value &&
        this.view.registered.includes(this.cell(`${table}.${row}.tin`)?.value.trim());
    },
    shown(row, column) {
      const path = `${row.path}.${column.key}`;
      return path in this.drafts ? this.drafts[path] : row.cells[column.key].text;
    },
    shownField(field) {
      return field.path in this.drafts ? this.drafts[field.path] : field.text;
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
      return `${first.unit ? "" : `${first.label} `}${row.cells[first.key].text || "as above"}${
        first.unit ? ` ${first.unit}` : ""
      }, ${row.folds} readings`;
    },
    unfold(path) {
      this.unfolded = Number(path.split(".")[1]);
      this.preview();
    },
    // Tables of few columns stand side by side.
    gridClass(table) {
      const slim = (t) => t.columns.length + t.computed.length <= 3,
        beside = this.view.tables.filter(slim).length > 1 && slim(table);
      return `${this.dense ? "dense" : ""} ${beside ? "beside" : ""} ${
        table.columns.length + table.computed.length > 7 ? "many" : ""
      } ${table.columns.length > 6 ? "most" : ""}`;
    },
    rowWord(row) {
      return row.leftOut ? `Take row ${this.rowNumber(row)} back` : `Leave row ${this.rowNumber(row)} out`;
    },
    placeName(path) {
      const [table, number, key] = path.split(".");
      const found = this.view.tables.find((t) => t.name === table);
      const column = found?.columns.find((c) => c.key === key);
      return found ? `${found.title} ${Number(number) + 1}, ${column?.label ?? key}` : path;
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
      return h ? `${h.doubt} ${h.unit}`.trim() : "";
    },
    get stateLine() {
      const v = this.view;
      if (v.state === "issued") return `issued as ${v.issued.at(-1)}`;
      return v.stateWords + (v.checkedBy ? ` by ${v.checkedBy}` : "") + (v.voidReason ? `: ${v.voidReason}` : "");
    },
    get doubts() {
      const v = this.view.verdict;
      const say = (n, word) => (n ? `${n} ${word}${n > 1 ? "s" : ""}` : "");
      return [say(v.stop, "open stop"), say(v.warn, "open warning"), say(v.unread, "unreadable cell")].filter(Boolean)
        .join(", ");
    },
    get openLeans() {
      return this.view.leans.filter((l) => l.open);
    },
    get kept() {
      return this.conflict
        ? "not saved, choose below"
        : this.offline
        ? `${this.waiting} waiting for the line`
        : this.waiting
        ? "saving"
        : this.view.revision
        ? `saved, revision ${this.view.revision}`
        : "nothing to save yet";
    },
    get keptClass() {
      return this.offline || this.conflict ? "waiting" : "";
    },
    get fieldsBefore() {
      return this.view.fields.filter((f) => f.before);
    },
    get fieldsAfter() {
      return this.view.fields.filter((f) => !f.before);
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
    get equipmentLine() {
      const names = [...document.querySelectorAll("[data-use]")].filter((b) => this.view.uses.includes(Number(b.value)))
        .map((b) => b.dataset.name);
      return names.length ? ` · ${names.join(", ")}` : "";
    },
    get conflictLine() {
      const { who, revision } = this.conflict;
      return `${who} saved revision ${revision} while you were typing. Nothing of yours is saved yet; choose.`;
    },

    // Typing
    cell(path) {
      return this.$root.querySelector(`[data-path="${CSS.escape(path)}"]`);
    },
    typing(event) {
      this.drafts[event.target.dataset.path] = event.target.value;
      this.keepDrafts();
      this.grow();
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.preview(), PREVIEW_MS);
    },
    keepDrafts() {
      localStorage.setItem(this.draftStore, JSON.stringify(this.drafts));
    },
    focused(event) {
      event.target.select();
    },
    async preview() {
      clearTimeout(this.timer);
      const asked = (this.asked = (this.asked ?? 0) + 1);
      try {
        const reply = await fetch(`/api/tests/${this.view.test}/preview`, {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({
            cells: this.drafts,
            box: this.box(),
            figure: this.shownFigure,
            unfolded: this.unfolded,
          }),
        });
        if (reply.ok && asked === this.asked) this.take(await reply.json());
      } catch { /* the save queue says that the line is down */ }
    },
    commit(event) {
      this.commitPath(event.target.dataset.path);
    },
    commitPath(path) {
      if (!(path in this.drafts)) return;
      const typed = this.drafts[path];
      // Enter commits and then the cell loses focus: the same text is sent once.
      if (this.queue.items.some((item) => item.cells?.[path] === typed)) return;
      clearTimeout(this.timer);
      this.asked = (this.asked ?? 0) + 1;
      this.change({ cells: { [path]: typed } });
    },
    pictureOf(word) {
      return `sketch sketch-${word}`;
    },
    // A shape tapped again is taken back.
    tapPicture(event) {
      const { path, word } = event.currentTarget.dataset, now = this.view.fields.find((f) => f.path === path).text;
      this.change({ cells: { [path]: now === word ? "" : word } });
    },
    commitChoice(event) {
      this.change({ cells: { [event.target.dataset.path]: event.target.value } });
    },
    change(change) {
      this.queue.add({ ...change, box: this.box(), figure: this.shownFigure, unfolded: this.unfolded });
    },
    saved(answer, item) {
      for (const [path, text] of Object.entries(item.cells ?? {})) {
        if (this.drafts[path] === text) delete this.drafts[path];
      }
      this.keepDrafts();
      this.refused = "";
      this.take(answer);
      // Another figure was chosen while the save was on its way: its answer drew the one before.
      if (item.figure !== this.shownFigure) this.preview();
    },
    // A reading that was set aside stands there with its reason; its cell shows what the record holds.
    putBack(item) {
      for (const path of Object.keys(item.cells ?? {})) delete this.drafts[path];
      this.keepDrafts();
      this.reload();
    },
    refuse(answer) {
      this.refused = [answer.message, ...(answer.faults ?? []).map((f) => `${f.place}: ${f.message}`)].join(" ");
      this.reload();
    },
    async reload() {
      const reply = await fetch(`/api/tests/${this.view.test}/sheet`);
      if (reply.ok) {
        this.take(await reply.json());
        this.queue.revision = this.view.revision;
        this.preview();
      }
    },

    // Instruments
    bind(event) {
      this.change({ bindings: { ...this.view.bindings, [event.target.dataset.bind]: event.target.value } });
    },
    originOf(path) {
      const o = this.view.origins[path];
      return o ? `from ${o.instrument} ${o.serial}, calibrated ${o.calibrated}, certificate ${o.certificate}` : null;
    },
    get origins() {
      const cells = {};
      for (const path of Object.keys(this.view.origins)) (cells[this.originOf(path)] ??= []).push(this.placeName(path));
      return Object.entries(cells).map(([words, names]) => ({
        words,
        cells: names.length > 4 ? `${names.length} readings` : names.join("; "),
      }));
    },
    async takeReading(path) {
      const answer = await readCells(this.view.test, { [path]: null });
      this.trouble = answer.troubles[path] ?? "";
      if (answer.cells[path] === undefined) return;
      this.drafts[path] = answer.cells[path];
      this.keepDrafts();
      this.asked = (this.asked ?? 0) + 1;
      this.change({ cells: { [path]: answer.cells[path] }, origins: answer.origins });
      if (document.activeElement?.dataset.path === path) this.next(document.activeElement);
    },

    // Position: into the test's own fields, or into the first row without one.
    get hasPlace() {
      return this.placeFor !== null;
    },
    get placeFor() {
      if (this.view.fields.some((f) => f.path === "latitude_deg")) return "";
      const table = this.view.tables.find((t) => t.columns.some((c) => c.key === "latitude_deg"));
      const row = table?.rows.find((r) => !r.folds && !r.cells.latitude_deg.text);
      return row ? `${row.path}.` : null;
    },
    here() {
      this.trouble = "";
      if (!navigator.geolocation) {
        this.trouble = "This device tells no position. Type latitude and longitude, or take them from the receiver.";
        return;
      }
      const at = this.placeFor;
      navigator.geolocation.getCurrentPosition(
        ({ coords }) =>
          this.change({
            cells: {
              [`${at}latitude_deg`]: coords.latitude.toFixed(6),
              [`${at}longitude_deg`]: coords.longitude.toFixed(6),
            },
          }),
        (error) => {
          this.trouble = `No position: ${
            error.code === 1 ? "this page may not ask for it" : "the device does not find itself"
          }. Type latitude and longitude, or take them from the receiver.`;
        },
        { enableHighAccuracy: true, timeout: 15000 },
      );
    },

    // Keys
    inputs() {
      return [...this.$root.querySelectorAll("input[data-path]")];
    },
    key(event) {
      const cell = event.target, path = cell.dataset.path;
      if (event.key === "Escape") {
        delete this.drafts[path];
        this.keepDrafts();
        this.preview();
        this.$nextTick(() => cell.select());
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
        (target ?? this.neighbour(cell, step))?.focus();
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
      const all = this.inputs();
      return all[all.indexOf(cell) + step];
    },
    next(cell) {
      const [table, row, key] = cell.dataset.path.split(".");
      this.commitPath(cell.dataset.path);
      const below = key ? this.inputs().find((i) => i.dataset.path.startsWith(`${table}.${Number(row) + 1}.`)) : null;
      const wet = cell.dataset.hand === "row" && below;
      const down = cell.dataset.hand === "down" && this.cell(`${table}.${Number(row) + 1}.${key}`);
      if (wet) below.focus();
      else if (down) down.focus();
      else {
        let target = this.neighbour(cell, 1);
        while (this.supplied(target)) target = this.neighbour(target, 1);
        target?.focus();
      }
    },
    paste(event) {
      const text = event.clipboardData.getData("text/plain");
      if (!/[\t\n]/.test(text.trim())) return;
      event.preventDefault();
      const [table, row, key] = event.target.dataset.path.split(".");
      const columns = this.view.tables.find((t) => t.name === table).columns.map((c) => c.key);
      const first = columns.indexOf(key), cells = {};
      text.replace(/\r/g, "").replace(/\n+$/, "").split("\n").forEach((line, i) =>
        line.split("\t").forEach((value, j) => {
          if (columns[first + j]) cells[`${table}.${Number(row) + i}.${columns[first + j]}`] = value.trim();
        })
      );
      this.change({ cells });
    },

    // Leaving out, settings, equipment, states
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
      this.$nextTick(() => this.$root.querySelector("[data-why]")?.focus());
    },
    leaveOut(why) {
      this.change({ cells: { [`${this.asking}.left_out`]: why } });
      this.asking = "";
    },
    leaveOutTyped(event) {
      if (event.target.value.trim()) this.leaveOut(event.target.value.trim());
    },
    setSetting(event) {
      const { setting } = event.target.dataset;
      const value = event.target.type === "checkbox" ? event.target.checked : event.target.value.trim() || null;
      this.change({ settings: { [setting]: value } });
    },
    dropLog(name) {
      this.change({ logs: { [name]: null } });
    },
    // The reason goes with the last construction that is let go.
    automatic() {
      const names = this.figure.byHand, others = this.view.figures.some((f) => f !== this.figure && f.byHand.length);
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
    setUses() {
      this.change({ uses: [...this.$root.querySelectorAll("[data-use]:checked")].map((box) => Number(box.value)) });
    },
    open(panel) {
      this.panel = this.panel === panel ? "" : panel;
      if (this.panel === "instruments") {
        fetch(`/api/tests/${this.view.test}/instruments`).then((r) => r.json()).then((bench) => {
          this.bench = bench;
        });
      }
      if (this.panel === "explain" && !this.uncertain) this.learn(true);
      if (this.panel === "files") {
        fetch(`/api/tests/${this.view.test}/attachments`).then((r) => r.json()).then((list) => {
          this.files = list;
        });
      }
      if (this.panel === "review") {
        fetch(`/api/tests/${this.view.test}/review`).then((r) => r.json()).then((found) => {
          this.reviewed = found;
        });
      }
      if (this.panel === "history") {
        fetch(`/api/tests/${this.view.test}/history`).then((r) => r.json()).then((list) => {
          this.history = list;
        });
      }
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
      const h = this.view.verdict.headline, known = h && (this.uncertain ?? []).find((d) => d.symbol === h.symbol);
      return known ? `± ${known.standardText} by its readings` : "";
    },
    get uncertainties() {
      return (this.uncertain ?? []).map((d) => ({
        key: d.key,
        words: `${d.symbol} ${d.text} ± ${d.standardText} ${d.unit}`,
        by: `by ${d.leading.map((lead) => `${lead.label}: ${Math.round(100 * lead.share)} %`).join(", ")}`,
      }));
    },
    get photographs() {
      return this.files.filter((a) => a.kind === "photograph" && !a.removed);
    },
    get rawFiles() {
      return this.files.filter((a) => a.kind === "readings file");
    },
    async addPhoto(event) {
      const [file] = event.target.files, form = new FormData();
      event.target.value = "";
      if (!file) return;
      form.append("file", file, file.name);
      form.append("caption", this.$root.querySelector("[data-caption]").value.trim());
      form.append("keep_position", this.$root.querySelector("[data-keep-position]").checked);
      this.photoBad = false;
      this.photoSays = "sending";
      await this.filesAfter(fetch(`/api/tests/${this.view.test}/photographs`, { method: "POST", body: form }));
      if (!this.photoBad) this.$root.querySelector("[data-caption]").value = "";
    },
    async removePhoto(id, event) {
      const reason = event.target.value.trim();
      if (reason) {
        await this.filesAfter(
          fetch(`/api/attachments/${id}/remove`, {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: JSON.stringify({ reason }),
          }),
        );
      }
      this.removing = 0;
    },
    async filesAfter(request) {
      try {
        const reply = await request, answer = await reply.json();
        this.photoBad = !reply.ok;
        this.photoSays = reply.ok ? "" : answer.message;
        if (reply.ok) this.files = answer;
      } catch {
        this.photoBad = true;
        this.photoSays = "The line is down; the picture is not sent. Send it again when the line is back.";
      }
    },
    async seeEarlier(number) {
      if (this.earlier?.number === number) {
        this.earlier = null;
        return;
      }
      const reply = await fetch(`/api/tests/${this.view.test}/history/${number}`);
      if (reply.ok) this.earlier = await reply.json();
    },
    heading(list, one, more) {
      return list.length === 1 ? `1 ${one}` : `${list.length || "No"} ${more}`;
    },
    texts(changed) {
      return changed.texts.map((text) => text || "(empty)").join(" → ");
    },
    isEarlier(revision) {
      return this.earlier?.number === revision.number;
    },
    get earlierWords() {
      const p = this.earlier.parameters.map((one) => `${one.symbol} ${one.text} ${one.unit}`.trim()).join(", ");
      return `${p || "no result then"}. ${this.earlier.differences.length ? "" : "Its readings are those of now."}`;
    },
    async goBack() {
      const why = this.$root.querySelector("[data-back-why]").value.trim();
      if (why.length < 2) {
        this.$root.querySelector("[data-back-why]").focus();
        return;
      }
      const body = {
        base_revision: this.view.revision,
        save_key: crypto.randomUUID?.() ?? String(Math.random()).slice(2) + Date.now(),
        reason: why,
      };
      const reply = await fetch(`/api/tests/${this.view.test}/history/${this.earlier.number}/restore`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(body),
      });
      if (!reply.ok) {
        const answer = await reply.json();
        this.refused = answer.message;
        return;
      }
      this.earlier = null;
      this.drafts = {};
      this.keepDrafts();
      await this.reload();
      this.history = await (await fetch(`/api/tests/${this.view.test}/history`)).json();
    },
    async mixNow() {
      const typed = {};
      for (const input of this.$root.querySelectorAll("[data-mix]")) {
        if (input.value.trim()) typed[input.dataset.mix] = input.value.trim();
      }
      if (typed.mass_dry_g) {
        for (const name of ["moulds", "volume_cm3", "dry_density_g_cm3", "spare_percent"]) delete typed[name];
      }
      const reply = await fetch("/api/preparation", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(typed),
      });
      const answer = await reply.json();
      this.mixBad = !reply.ok;
      this.mixSays = reply.ok
        ? answer.words
        : [answer.message, ...(answer.faults ?? []).map((f) => `${f.place.split(".").pop()}: ${f.message}`)].join(" ");
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
      this.$nextTick(() => this.$root.querySelector("[data-move-why]")?.focus());
    },
    moveWithReason() {
      this.move(this.moving.action, this.$root.querySelector("[data-move-why]").value);
    },
    async move(action, reason) {
      // A move is a revision of its own: what is changed meanwhile waits and goes on top of it.
      this.queue.stopped = true;
      const reply = await fetch(`/api/tests/${this.view.test}/move`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ action, reason }),
      });
      const answer = await reply.json();
      if (!reply.ok) {
        this.refused = answer.message;
        this.queue.rebase(this.queue.revision);
        return;
      }
      this.refused = "";
      this.panel = "";
      this.take(answer);
      this.queue.rebase(answer.revision);
      this.preview();
    },

    // Conflict
    keepMine() {
      const { revision } = this.conflict;
      this.conflict = null;
      this.queue.rebase(revision);
    },
    takeTheirs() {
      this.conflict = null;
      this.drafts = {};
      this.keepDrafts();
      this.queue.drop();
      this.reload();
    },
  }));
});
