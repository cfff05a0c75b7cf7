// A file is sent, looked at, and only then saved; the file itself stays in the browser until it is.
import { madeFor } from "../../static/js/core/asking.js";
import { BROUGHT_BACK } from "../../static/js/core/back.js";
import { newKey } from "../../static/js/core/key.js";

const LARGEST = 8000000;

document.addEventListener("alpine:init", () => {
  Alpine.data("importing", () => ({
    file: null,
    rest: [],
    name: "",
    over: false,
    stage: "",
    progress: null,
    problem: "",
    found: null,
    mapping: "",
    sheet: "",
    mode: "",
    constants: {},
    ways: {},
    units: {},
    decimal: "found",
    waived: false,

    get findings() {
      return this.found?.findings ?? [];
    },
    get nextWords() {
      return this.found?.verdict?.next ?? "";
    },

    // What stands in the table already is added to or replaced: that is asked, never guessed.
    get unsaid() {
      return Boolean(this.found?.holds && !this.mode);
    },
    get notYet() {
      return this.stage !== "" || this.unsaid || (this.found?.lacking.length > 0 && !this.waived);
    },
    waive(event) {
      this.waived = event.target.checked;
    },
    // What is said of one column is kept while others are said; the rest is as the server finds it.
    readAs(event) {
      this.ways = { ...this.ways, [event.target.dataset.way]: event.target.value };
      this.look(this.found.target);
    },
    inUnit(event) {
      this.units = { ...this.units, [event.target.dataset.unit]: event.target.value };
      this.look(this.found.target);
    },
    marked(event) {
      this.decimal = event.target.value;
      this.look(this.found.target);
    },
    get how() {
      const each = (said) => this.found.columns.map((_, i) => said[i] ?? null);
      const untold = !Object.keys(this.ways).length && !Object.keys(this.units).length && this.decimal === "found";
      return untold || !this.found
        ? ""
        : JSON.stringify({ ways: each(this.ways), units: each(this.units), decimal: this.decimal });
    },
    forget() {
      Object.assign(this, {
        mapping: "",
        mode: "",
        constants: {},
        ways: {},
        units: {},
        decimal: "found",
        waived: false,
      });
    },
    get holdsWords() {
      return `This table holds ${this.found?.holds} rows. The file`;
    },
    join(event) {
      this.mode = event.target.value;
      this.constants = {};
      this.look(this.found.target);
    },
    everyRow(event) {
      this.constants = { ...this.constants, [event.target.dataset.constant]: event.target.value };
      this.look(this.found.target);
    },

    // On a slow machine a file may have been chosen before this page could listen.
    init() {
      addEventListener(BROUGHT_BACK, (event) => event.detail && this.file && event.preventDefault());
      this.pick(this.$root.querySelector("#file"));
    },
    chosen(event) {
      this.pick(event.target);
    },
    // Emptied at once: a file corrected and chosen again under its old name is a new file.
    pick(field) {
      const files = [...field.files];
      field.value = "";
      this.takeAll(files);
    },
    dropped(event) {
      this.over = false;
      this.takeAll([...event.dataTransfer.files]);
    },
    // Several files are looked at one after the other, by name: a frame writes one for each specimen.
    takeAll(files) {
      if (!files.length) return;
      const byName = new Intl.Collator("en", { numeric: true });
      const [first, ...rest] = files.sort((a, b) => byName.compare(a.name, b.name));
      this.rest = rest;
      this.take(first);
    },
    get saveWords() {
      const [next] = this.rest;
      return next ? `Save these rows and look at ${next.name}` : "Save these rows";
    },
    take(file, mode = "") {
      if (file.size > LARGEST) {
        Object.assign(this, {
          file: null,
          name: file.name,
          found: null,
          problem: `${file.name} has ${
            (file.size / 1e6).toFixed(0)
          } MB; at most 8 MB are read. Cut the file, or keep fewer columns.`,
        });
        return;
      }
      this.forget();
      Object.assign(this, { file, name: file.name, sheet: "", found: null, mode });
      this.look("");
    },
    again() {
      this.forget();
      this.sheet = this.$refs.sheet?.value ?? "";
      this.look(this.$refs.target?.value ?? "");
    },
    remap() {
      this.mapping = JSON.stringify([...this.$root.querySelectorAll("[data-map]")].map((select) => select.value));
      this.look(this.$refs.target?.value ?? this.found.target);
    },

    form(target) {
      const form = new FormData();
      form.append("file", this.file, this.name);
      form.append("target", target);
      form.append("mapping", this.mapping);
      form.append("sheet", this.sheet);
      form.append("mode", this.mode);
      form.append("constants", JSON.stringify(this.constants));
      form.append("how", this.how);
      return form;
    },
    // XMLHttpRequest, since fetch tells nothing of an upload's progress.
    send(path, form) {
      return new Promise((resolve) => {
        const request = new XMLHttpRequest();
        request.open("POST", `/api/tests/${this.$root.dataset.test}/${path}`);
        for (const [name, said] of Object.entries(madeFor())) request.setRequestHeader(name, said);
        request.upload.onprogress = (event) => {
          this.progress = event.loaded / event.total;
          this.stage = `sent ${Math.round(100 * this.progress)} %`;
        };
        request.upload.onload = () => {
          this.progress = null;
          this.stage = "reading the rows";
        };
        request.onload = () => {
          let answer = {};
          try {
            answer = JSON.parse(request.responseText);
          } catch {
            answer = { message: "The laboratory's server gave no answer that can be read." };
          }
          resolve({ ok: request.status < 300, answer });
        };
        request.onerror = () =>
          resolve({
            ok: false,
            answer: {
              message:
                "The file did not arrive: the line is down, or the file changed since it was chosen. Choose it again.",
            },
          });
        request.send(form);
      });
    },
    async look(target) {
      this.problem = "";
      // What is chosen next would be chosen from columns that are just being matched: until the answer is there nothing
      // is.
      this.stage = "sending";
      const asked = (this.asked = (this.asked ?? 0) + 1), held = document.activeElement;
      const { ok, answer } = await this.send("import/preview", this.form(target));
      if (asked !== this.asked) return;
      this.stage = "";
      if (!ok) {
        this.problem = answer.message;
        this.found = null;
        return;
      }
      this.found = answer;
      this.$nextTick(() => {
        if (document.activeElement === document.body) held?.focus();
      });
      this.$nextTick(() => {
        if (this.$refs.figure) this.$refs.figure.innerHTML = answer.figure ?? "";
      });
    },
    save() {
      const [next, ...rest] = this.rest;
      return this.keep(() => {
        if (!next) {
          location.href = `/tests/${this.$root.dataset.test}`;
          return;
        }
        this.rest = rest;
        // What was chosen together belongs together.
        this.take(next, "append");
      });
    },
    passOver() {
      const [next, ...rest] = this.rest;
      this.rest = rest;
      this.problem = "";
      this.take(next, this.mode);
    },
    saveAndStay() {
      return this.keep(() => {
        this.forget();
        this.look("");
      });
    },
    async keep(then) {
      // What is said of columns meanwhile would be said of the next table.
      this.stage = "saving";
      const form = this.form(this.found.target);
      this.key ??= newKey();
      form.append("base_revision", this.found.revision);
      form.append("save_key", this.key);
      const { ok, answer } = await this.send("import", form);
      this.stage = "";
      if (ok) {
        this.key = null;
        then();
        return;
      }
      this.problem = answer.conflict
        ? `${answer.conflict.who} saved this sheet in between. Look again, then save.`
        : answer.message;
      if (answer.conflict) this.look(this.found.target);
    },
  }));
});
