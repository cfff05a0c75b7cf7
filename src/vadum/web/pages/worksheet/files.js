// Photographs and raw files of the test.
export const files = {
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
};
