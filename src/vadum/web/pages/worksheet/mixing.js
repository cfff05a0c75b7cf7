// How much soil and water for a mix.
export const mixing = {
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
};
