// Readings out of instruments, and the place from the device.
import { readCells } from "../../static/js/core/instrument.js";

export const instruments = {
  bind(event) {
    this.change({ bindings: { ...this.view.bindings, [event.target.dataset.bind]: event.target.value } });
  },
  originOf(path) {
    const o = this.view.origins[path];
    if (o?.typed) return `typed as ${o.typed}`;
    if (!o) return null;
    const calibrated = o.calibrated ? `calibrated ${o.calibrated}` : "no calibration known";
    const certified = [calibrated, o.certificate && `certificate ${o.certificate}`, o.out_of_date];
    const standing = o.simulated ? "SIMULATED" : certified.filter(Boolean).join(", ");
    return `from ${o.instrument} ${o.serial}, ${standing}`;
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
    // Who types meanwhile reads by eye.
    if (this.text(path) || this.drafts[path]?.trim()) return;
    this.trouble = answer.troubles[path] ?? "";
    if (answer.cells[path] === undefined) return;
    this.asked = (this.asked ?? 0) + 1;
    this.change({ cells: { [path]: answer.cells[path] }, origins: answer.origins });
    if (document.activeElement?.dataset.path === path) this.next(document.activeElement);
  },

  get hasTins() {
    return !this.view.locked && this.view.tables.some((t) => t.columns.some((c) => c.key === "tin"));
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
};
