// The page of what is on this device, and the keys that take something along.
import { hindrance, leave, packs, take } from "../../static/js/core/pack.js";
import { stamp } from "../../static/js/core/zone.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("pack", () => ({
    packs: packs(),
    says: hindrance(),
    busy: "",

    at(p) {
      const older = p.version !== this.$root.dataset.release;
      return `taken ${stamp(p.at)}${older ? " by an older Vadum: take it anew" : ""}`;
    },
    sheetOf(t) {
      return t.pages[0];
    },
    runOf(t) {
      return t.pages[1];
    },
    async again(p) {
      this.busy = p.query;
      try {
        await take(p.query, (done, whole) => {
          this.says = `${p.title}: ${done} of ${whole}`;
        });
        this.says = `${p.title} is on this device as it stands now.`;
      } catch (error) {
        this.says = `${p.title} was not taken anew: ${error.message}.`;
      }
      this.busy = "";
      this.packs = packs();
    },
    async leave(p) {
      await leave(p.query);
      this.packs = packs();
    },
  }));
});
