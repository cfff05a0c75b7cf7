// The sheet as the page knows it: what the server said last, and over it what the hand wrote since, by path. Rows below
// the last one are made here; which cell is next is found here. The server judges, confirms and decorates.

export const placeOf = (path) => {
  const [table, row, key] = path.split(".");
  return key ? { table, row: Number(row), key } : { table: "", row: -1, key: table };
};
// A number as the laboratory reads it where no unit stands behind it: either mark, a long minus, marks nobody sees.
const FIGURES = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$/;
const UNSEEN = /[\u{feff}\u{200b}-\u{200f}\u{2060}\u{ad}]/gu;
export const number = (text) => {
  const typed = String(text ?? "").replace(UNSEEN, "").replace(/[−–]/, "-").trim();
  const value = FIGURES.test(typed) ? Number(typed.replace(",", ".")) : NaN;
  return Number.isFinite(value) ? value : null;
};
export const tableOf = (view, name) => view.tables.find((t) => t.name === name);
export const fieldOf = (view, path) => view.fields.find((f) => f.path === path);

// A cell in the words of the sheet.
export function nameOf(view, path) {
  const { table, row, key } = placeOf(path), found = view.tables.find((t) => t.name === table);
  if (!found) return view.fields.find((f) => f.path === path)?.label ?? path.replaceAll("_", " ");
  return `${found.title}, row ${row + 1}, ${
    found.columns.find((c) => c.key === key)?.label ?? key.replaceAll("_", " ")
  }`;
}

// What follows from the sheet alone is worked out once for each state of it, however often a clock asks. `texts` is
// new whenever anything was written or answered. Frozen like them: nothing watches what cannot change.
export function once(work) {
  let of = null, found = null;
  return (texts, ...more) => {
    const asked = [texts, ...more];
    if (!of || asked.some((one, i) => one !== of[i])) [of, found] = [asked, Object.freeze(work(...asked))];
    return found;
  };
}

// Every text of the sheet by its path: what the server has, and over it what was written since. Frozen, so that nothing
// watches it cell by cell.
export function textsOf(view, written) {
  const texts = Object.fromEntries(view.fields.map((f) => [f.path, f.text]));
  for (const { rows } of view.tables) {
    for (const { path, cells } of rows) for (const key in cells) texts[`${path}.${key}`] = cells[key].text;
  }
  return Object.freeze(Object.assign(texts, written));
}

const blankRow = (table, n) => ({
  path: `${table.name}.${n}`,
  cells: Object.fromEntries(
    table.columns.map((c) => [c.key, { text: "", error: "", expected: c.expected, supplied: false }]),
  ),
  computed: {},
  leftOut: "",
  findings: [],
  blank: true,
});

const numbered = (table) => table.rows.map((r) => placeOf(`${r.path}.x`).row);

// The page makes its own next row: below the last one written into a blank one stands at once. The row where the hand
// is stays, though what stood above it was cleared.
export function grown(view, written, here = "") {
  if (view.locked) return view;
  const hand = placeOf(here);
  const tables = view.tables.map((table) => {
    const last = Math.max(lastWritten(written, table.name) + 1, hand.table === table.name ? hand.row : 0);
    const rows = [...table.rows];
    for (let n = Math.max(-1, ...numbered(table)) + 1; n <= last; n += 1) rows.push(blankRow(table, n));
    return rows.length > table.rows.length ? { ...table, rows } : table;
  });
  return tables.some((table, i) => table !== view.tables[i]) ? { ...view, tables } : view;
}
const lastWritten = (written, name) =>
  Math.max(
    -1,
    ...Object.entries(written).filter(([path, text]) => path.startsWith(`${name}.`) && text.trim())
      .map(([path]) => placeOf(path).row),
  );

// The row below the last one with anything in it.
export function freeRow(view, texts, name) {
  const { rows, columns } = tableOf(view, name);
  const holds = (r) => r.folds || columns.some((c) => texts[`${r.path}.${c.key}`]?.trim());
  const last = rows.findLast(holds);
  return Math.max(last ? placeOf(`${last.path}.x`).row : -1, lastWritten(texts, name)) + 1;
}

// The columns up to one after which the hand goes to the next row are filled for all rows before those that follow it.
function passes(columns) {
  const found = [[]];
  for (const column of columns) {
    found.at(-1).push(column);
    if (column.hand === "row") found.push([]);
  }
  return found.filter((pass) => pass.length);
}

// What a blank cell is expected to hold: what the server says of it, else one step on from the row above.
export function expectedOf(texts, table, row, column) {
  const said = row.cells[column.key].expected;
  if (!column.step) return said;
  const above = table.rows[table.rows.indexOf(row) - 1];
  const last = above && number(texts[`${above.path}.${column.key}`]);
  if (last === null || last === undefined) return said;
  const decimals = String(column.resolution ?? column.step).split(".")[1]?.length ?? 0;
  return String(Number((last + column.step).toFixed(decimals)));
}

const NAMES = ["tin", "pycnometer", "opening_mm"];

function cellStep(view, texts, table, row, i, column) {
  const path = `${row.path}.${column.key}`, above = table.rows.slice(0, i).map((r) => `${r.path}.${column.key}`);
  const names = table.columns.filter((c) => NAMES.includes(c.key) && texts[`${row.path}.${c.key}`]);
  const [named] = names.map((c) => `${texts[`${row.path}.${c.key}`]} ${c.unit}`.trim());
  const title = view.tables.length > 1 ? table.title : "row";
  return {
    ...column,
    path,
    supplied: row.cells[column.key].supplied,
    expected: expectedOf(texts, table, row, column),
    where: `${title} ${i + 1}${named && !NAMES.includes(column.key) ? `, ${named}` : ""}`,
    last: above.map((p) => texts[p]).findLast(Boolean) ?? "",
    table: table.name,
    blank: row.blank && !table.columns.some((c) => texts[`${row.path}.${c.key}`]),
  };
}

// The empty cells in bench order. Each table comes with the fields before it, pass by pass, its blank row last in each;
// what a clock keeps is left to it, and what may stay blank is passed over once the hand has gone on in its row, or
// read a gauge or a balance in a later one; never a cell that is to be read again.
export function steps(view, texts, again = "") {
  const open = (path) => !texts[path] || path === again, clocked = view.clocked ?? [];
  // What matters only beside another reading, or stands in for one, is not asked where that is blank, or taken.
  const wanted = (c, at) => !(c.beside && open(at + c.beside)) && !(c.instead && !open(at + c.instead));
  const fields = view.fields.filter((f) => open(f.path) && wanted(f, "") && !clocked.includes(f.path));
  const found = [], before = (name) => fields.filter((f) => f.before === name);
  for (const table of view.tables) {
    found.push(...before(table.name));
    if (clocked.includes(table.name)) continue;
    for (const columns of passes(table.columns)) {
      const measured = columns.filter((c) => c.measured);
      const reached = table.rows.findLastIndex((row) => measured.some((c) => !open(`${row.path}.${c.key}`)));
      table.rows.forEach((row, i) => {
        if (row.leftOut || row.folds) return;
        const last = i < reached ? columns.length : columns.findLastIndex((c) => !open(`${row.path}.${c.key}`));
        const asked = columns.filter((c) => wanted(c, `${row.path}.`));
        const passed = (c) => c.optional && columns.indexOf(c) < last && `${row.path}.${c.key}` !== again;
        const free = asked.filter((c) => open(`${row.path}.${c.key}`) && !passed(c));
        found.push(...free.map((c) => cellStep(view, texts, table, row, i, c)));
      });
    }
  }
  return [...found, ...before("")];
}
