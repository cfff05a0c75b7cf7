// One page for several sheets: what waits and what was refused is that of all.
import { keptWord } from "../core/local.js";

export const together = {
  get aside() {
    return this.cylinders.flatMap((c) => c.aside);
  },
  get others() {
    return [...new Set(this.cylinders.flatMap((c) => c.others))];
  },
  ofItem(item) {
    return this.cylinders.find((c) => item.key.startsWith(c.queue.box.prefix));
  },
  queueOf(item) {
    return this.ofItem(item).queue;
  },
  asideWords(item) {
    const c = this.ofItem(item);
    return `${c.name}: ${c.asideWords(item)}`;
  },
  get looked() {
    return this.cylinders.every((c) => c.looked);
  },
  get waiting() {
    return this.cylinders.reduce((n, c) => n + c.waiting, 0);
  },
  get offline() {
    return this.cylinders.some((c) => c.offline);
  },
  get kept() {
    return keptWord(this);
  },
  get lineClass() {
    return this.offline ? "off" : "";
  },
  get staleClass() {
    return "";
  },
  get asOf() {
    return "";
  },
  get headline() {
    return "Next";
  },
  get next() {
    return this.coming.next;
  },
};
