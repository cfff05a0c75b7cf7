// The gauges at a plate: what stood there last, what is expected, what is typed now.
import { number } from "../core/sheet.js";

export const gauges = {
  get gauges() {
    return this.p.gauges.map(([name, label]) => {
      const before = this.readRows.map((row) => this.text(this.cell(row, name))).findLast(Boolean);
      const here = this.table.rows.find((r) => r.path === `${this.p.table}.${this.row}`);
      return { name, label, expected: here?.cells[name]?.expected ?? "", last: before ? `last ${before}` : "" };
    });
  },
  // Rows above the one in hand, as they stand here; what is left out stood nowhere.
  get readRows() {
    const out = this.table.rows.filter((r) => r.leftOut).map((r) => r.path);
    return Array.from({ length: this.row ?? 0 }, (_, row) => row).filter((row) =>
      !out.includes(`${this.p.table}.${row}`)
    );
  },
  field(name) {
    return this.$root.querySelector(`[data-gauge="${name}"]`);
  },
  typed() {
    return Object.fromEntries(this.p.gauges.map(([name]) => [name, this.field(name)?.value.trim() ?? ""]));
  },
  emptyFields() {
    for (const input of this.$root.querySelectorAll("[data-gauge], [data-name=pressure]")) input.value = "";
  },
  odd(values) {
    for (const { name, label, expected } of this.gauges) {
      const [low, high] = expected.split("–").map(Number), value = number(values[name]);
      if (value === null && values[name]) return `${label}: “${values[name]}” is not a number. Type it again.`;
      if (Number.isFinite(low) && Number.isFinite(high) && (value < low || value > high)) {
        return `${label}: ${values[name]} is outside ${expected}. Read it again.`;
      }
    }
    return "";
  },
};
