// The tin from the closed groove. The tare of a tin that the register does not know is asked before soil goes in.
export const tins = {
  tinTyped: "",
  doubt: "",

  get tareUnknown() {
    return this.phase === "tin" && this.tinTyped !== "" && !this.view.registered.includes(this.tinTyped);
  },
  tinNamed(event) {
    this.tinTyped = event.target.value.trim();
  },
  keepTin() {
    const tare = this.field("tare").value.trim(), tin = this.field("tin").value.trim();
    const wet = this.field("wet").value.trim();
    this.doubt = !tin || !wet
      ? "Type the tin and its mass with soil, or give the tin up."
      : this.tareUnknown && !tare
      ? `Tin ${tin} is not in the register: weigh it empty first.`
      : "";
    if (this.doubt) return;
    const cells = { [this.cell("tin")]: tin, [this.cell("mass_tin_wet_g")]: wet };
    if (tare) cells[this.cell("mass_tin_g")] = tare;
    this.queue.add({ cells });
    this.said = "";
    this.nextTrial();
  },
  nextTrial() {
    this.newMix();
    this.tinTyped = "";
    this.doubt = "";
    this.keep();
    document.activeElement?.blur();
  },
};
