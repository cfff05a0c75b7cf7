// How much soil and water for a mix.
import { askingLast } from "../../static/js/core/asking.js";

const askMix = askingLast();

export const mixing = {
  async mixNow() {
    const typed = {};
    for (const input of document.querySelectorAll("[data-mix]")) {
      if (input.value.trim()) typed[input.dataset.mix] = input.value.trim();
    }
    if (typed.mass_dry_g) {
      for (const name of ["moulds", "volume_cm3", "dry_density_g_cm3", "spare_percent"]) delete typed[name];
    }
    const said = await askMix("/api/preparation", typed);
    if (!said) return;
    const { ok, answer } = said;
    this.mixBad = !ok;
    this.mixSays = ok
      ? answer.words
      : [answer.message, ...(answer.faults ?? []).map((f) => `${f.place.split(".").pop()}: ${f.message}`)].join(" ");
  },
};
