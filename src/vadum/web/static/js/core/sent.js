// The keys of what this tab sent of a test: over a reload it knows its own hand again.
const MOST = 400;

export class Sent {
  constructor(test) {
    this.name = `vadum.sent.${test}`;
    this.keys = JSON.parse(sessionStorage.getItem(this.name) ?? "[]");
  }
  add(key) {
    if (this.keys.includes(key)) return;
    this.keys = [...this.keys, key].slice(-MOST);
    try {
      sessionStorage.setItem(this.name, JSON.stringify(this.keys));
    } catch { /* without room a conflict with oneself is asked about */ }
  }
  // None is no answer of a server that knows keys.
  all(keys = []) {
    return keys.length > 0 && keys.every((key) => this.keys.includes(key));
  }
}
