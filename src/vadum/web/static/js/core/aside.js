// What a page says of readings that were set aside: where they belong, in words, and the queue they came from.
const place = (path) => {
  const [table, row, name] = path.split(".");
  return (name ? `${table}, row ${Number(row) + 1}, ${name}` : table).replaceAll("_", " ");
};

export const aside = {
  aside: [],
  others: [],
  asideWords(item) {
    const parts = Object.entries({ ...item.cells, ...item.settings });
    return parts.map(([path, text]) => `${place(path)} “${text}”`).join("; ") || "a change of the sheet";
  },
  queueOf() {
    return this.queue;
  },
};
