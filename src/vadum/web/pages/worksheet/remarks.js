// Remarks of a test, and the findings that ask for one.
export const remarks = {
  get shownRemarks() {
    return this.drafts.remarks ?? this.held.remarks ?? this.view.remarks;
  },
  // A finding that asks for a remark is answered by one that quotes it.
  get unanswered() {
    const everywhere = [
      ...this.view.findings,
      ...this.view.fields.flatMap((f) => f.findings),
      ...this.view.tables.flatMap((t) => t.rows).flatMap((r) => r.findings),
    ];
    const asking = everywhere.filter((f) => f.action.includes("remarks")).map((f) => f.message);
    return [...new Set(asking)].filter((message) => !this.shownRemarks.includes(message));
  },
  answer(event) {
    const words = document.querySelector("[data-path=remarks]");
    words.value = `${this.shownRemarks}\n${event.target.dataset.message} `.trimStart();
    words.dispatchEvent(new Event("input", { bubbles: true }));
    words.focus();
  },
};
