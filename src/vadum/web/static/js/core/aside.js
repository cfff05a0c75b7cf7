// What a page says of readings that were set aside: where they belong, in words, and the queue they came from.
import { nameOf } from "./sheet.js";

export const aside = {
  aside: [],
  others: [],
  asideWords(item) {
    const parts = Object.entries({ ...item.cells, ...item.settings });
    return parts.map(([path, text]) => `${nameOf(this.view, path)} “${text}”`).join("; ") || "a change of the sheet";
  },
  queueOf() {
    return this.queue;
  },
};
