// The sheet as the page knows it: what the server said last, and over it what the hand wrote since, by path. Rows below
// the last one are made here; which cell is next is found here. The server judges, confirms and decorates.

export const placeOf = (path) => {
  const [table, row, key] = path.split(".");
  return key ? { table, row: Number(row), key } : { table: "", row: -1, key: table };
};
export const number = (text) => {
  const value = Number(String(text ?? "").trim().replace(",", "."));
  return String(text ?? "").trim() && Number.isFinite(value) ? value : null;
};
export const tableOf = (view, name) => view.tables.find((t) => t.name === name);
export const fieldOf = (view, path) => view.fields.find((f) => f.path === path);
const rowOf = (view, path) => {
  const { table, row } = placeOf(path);
  return tableOf(view, table)?.rows.find((r) => r.path === `${table}.${row}`);
};

// What stands in a cell or field: what was written since, else what the server has.
export function textOf(view, written, path) {
  if (path in written) return written[path];
  const { key } = placeOf(path);
  return (path.includes(".") ? rowOf(view, path)?.cells[key]?.text : fieldOf(view, path)?.text) ?? "";
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

// The page makes its own next row: below the last one written into a blank one stands at once.
export function grow(view, written) {
  if (view.locked) return;
  for (const table of view.tables) {
    const typed = Object.keys(written).filter((path) => path.startsWith(`${table.name}.`) && written[path].trim());
    const last = Math.max(-1, ...typed.map((path) => placeOf(path).row));
    for (let n = Math.max(-1, ...numbered(table)) + 1; n <= last + 1; n += 1) table.rows.push(blankRow(table, n));
  }
}

// The row below the last one with anything in it.
export function freeRow(view, written, name) {
  const table = tableOf(view, name);
  const holds = (r) => !r.blank || table.columns.some((c) => textOf(view, written, `${r.path}.${c.key}`).trim());
  const kept = table.rows.filter(holds).map((r) => placeOf(`${r.path}.x`).row);
  const sent = Object.entries(written).filter(([path, text]) => path.startsWith(`${name}.`) && text.trim());
  return Math.max(-1, ...kept, ...sent.map(([path]) => placeOf(path).row)) + 1;
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
export function expectedOf(view, written, table, row, column) {
  const said = row.cells[column.key].expected;
  const above = table.rows[table.rows.indexOf(row) - 1];
  const last = above && number(textOf(view, written, `${above.path}.${column.key}`));
  if (!column.step || last === null || last === undefined) return said;
  const decimals = String(column.resolution ?? column.step).split(".")[1]?.length ?? 0;
  return String(Number((last + column.step).toFixed(decimals)));
}

const NAMES = ["tin", "pycnometer"];

function cellStep(view, written, table, row, i, column) {
  const path = `${row.path}.${column.key}`, above = table.rows.slice(0, i).map((r) => `${r.path}.${column.key}`);
  const named = NAMES.map((key) => key in row.cells && textOf(view, written, `${row.path}.${key}`)).find(Boolean);
  const title = view.tables.length > 1 ? table.title : "row";
  return {
    ...column,
    path,
    supplied: row.cells[column.key].supplied,
    expected: expectedOf(view, written, table, row, column),
    where: `${title} ${i + 1}${named && !NAMES.includes(column.key) ? `, ${named}` : ""}`,
    last: above.map((p) => textOf(view, written, p)).findLast(Boolean) ?? "",
    table: table.name,
    blank: row.blank && !table.columns.some((c) => textOf(view, written, `${row.path}.${c.key}`)),
  };
}

// The empty cells in bench order. Fields before the tables come first, then each table pass by pass, its blank row last
// in each; what a clock keeps is left to it.
export function steps(view, written) {
  const open = (path) => !textOf(view, written, path), clocked = view.clocked ?? [];
  const fields = view.fields.filter((f) => open(f.path) && !clocked.includes(f.path));
  const found = fields.filter((f) => f.before);
  for (const table of view.tables.filter((t) => !clocked.includes(t.name))) {
    for (const columns of passes(table.columns)) {
      table.rows.forEach((row, i) => {
        if (row.leftOut || row.folds) return;
        const free = columns.filter((c) => open(`${row.path}.${c.key}`));
        found.push(...free.map((c) => cellStep(view, written, table, row, i, c)));
      });
    }
  }
  return [...found, ...fields.filter((f) => !f.before)];
}
