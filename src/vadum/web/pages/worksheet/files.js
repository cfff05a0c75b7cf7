// Photographs and raw files of the test.
import { ask } from "../../static/js/core/asking.js";

export const files = {
  get photographs() {
    return this.files.filter((a) => a.kind === "photograph" && !a.removed);
  },
  get rawFiles() {
    return this.files.filter((a) => a.kind === "readings file");
  },
  // A test whose specimens fail in a shape that is sketched.
  get canFail() {
    return this.view.figures.some((f) => f.key === "failure");
  },
  // The newest picture that stands beside the figure shown.
  get beside() {
    const shown = this.shownFigure || this.figure?.key;
    return this.photographs.findLast((a) => a.beside && a.beside === shown) ?? null;
  },
  get besideSource() {
    return this.beside ? `/attachments/${this.beside.id}/small` : "";
  },
  get besideWords() {
    return this.beside?.caption || "the specimen as it failed";
  },
  async addPhoto(event) {
    const [file] = event.target.files, about = (name) => document.querySelector(`[data-${name}]`);
    if (!file) return;
    this.photoSays = "sending";
    await this.pictures.add(file, {
      caption: about("caption").value.trim(),
      keep_position: about("keep-position").checked,
      beside: about("failed").checked ? "failure" : "",
    });
    event.target.value = "";
    about("caption").value = "";
    await this.sendPhotos();
  },
  // What waits is sent when the page opens, when the line is back, and after a reading that found it.
  async sendPhotos() {
    const { files: sent, refused, left } = await this.pictures.send();
    const wait = left > 1 ? `${left} pictures wait here and are` : "the picture waits here and is";
    this.picturesLeft = left;
    this.photoBad = Boolean(refused || left);
    this.photoSays = refused || (left ? `The line is down; ${wait} sent when it is back.` : "");
    if (sent) this.showFiles(sent);
  },
  async removePhoto(id, event) {
    const reason = event.target.value.trim();
    if (reason) {
      const { ok, answer } = await ask(`/api/attachments/${id}/remove`, { reason });
      this.photoBad = !ok;
      this.photoSays = ok ? "" : answer.message;
      if (ok) this.showFiles(answer);
    }
    this.removing = 0;
  },
  // Without a line the pictures are not shown.
  async listFiles() {
    const { ok, answer } = await ask(`/api/tests/${this.view.test}/attachments`);
    if (ok) this.showFiles(answer);
  },
  showFiles(files) {
    this.files = files;
    this.fit();
  },
};
