// The rows of a table, each made at once with its cells. A sheet has hundreds of cells: two effects for a row, one for
// what it looks like and one for its texts, instead of a dozen directives for a cell, let it open and answer a key in a
// fraction of the time.

import { write } from "./said.js";

function element(name, attributes = {}) {
  const made = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

function dress(cell, attributes) {
  for (const [key, value] of Object.entries(attributes)) {
    if (value === null || value === undefined) cell.removeAttribute(key);
    else if (cell.getAttribute(key) !== String(value)) cell.setAttribute(key, value);
  }
}

// Whether one of what it is given is another than the last time.
function changing() {
  let before = null;
  return (...now) => {
    const other = !before || now.some((one, i) => one !== before[i]);
    before = now;
    return other;
  };
}

// Does something only when one of what it is given is another than the last time.
function whenever(act) {
  const another = changing();
  return (...now) => {
    if (another(...now)) act(...now);
  };
}

function typedCell(page, column, k) {
  const td = element("td"), input = element("input", { autocomplete: "off" });
  td.append(input);
  const dressed = whenever((row, column, locked, origin, expected) => {
    dress(td, { class: page.cellWidth(column), "data-label": column.label });
    dress(input, {
      inputmode: column.kind === "text" ? "text" : "decimal",
      "data-path": `${row.path}.${column.key}`,
      "data-hand": column.hand,
      "aria-label": `${column.label}, row ${page.rowNumber(row)}`,
      "aria-invalid": row.cells[column.key].error ? "true" : "false",
      title: origin,
      placeholder: expected,
      class: page.cellClass(row, column),
    });
    input.disabled = locked;
  });
  const looks = (table, row, locked) => {
    const column = table.columns[k];
    dressed(row, column, locked, page.originOf(`${row.path}.${column.key}`), page.expected(table, row, column));
  };
  const says = (row) => {
    if (!row.cells[column.key]) return;
    const text = page.shown(row, column);
    write(input, text);
  };
  return { td, looks, says };
}

function workedCell(k) {
  const td = element("td", { class: "worked" });
  const looks = (table, row) => {
    const { key, label } = table.computed[k], text = row.computed[key] ?? "";
    dress(td, { "data-label": label });
    if (td.textContent !== text) td.textContent = text;
  };
  return { td, looks };
}

function openRow(at, page) {
  const tr = element("tr"), td = element("td", { class: "n" }), button = element("button", { type: "button" });
  button.addEventListener("click", () => page.askLeaveOut(at.row.path));
  td.append(button);
  const looks = whenever((row, locked) => {
    dress(tr, { class: row.leftOut ? "out" : null });
    dress(button, { "aria-label": page.rowWord(row) });
    button.disabled = locked || Boolean(row.blank);
    button.textContent = page.rowNumber(row);
  });
  return { tr, tds: [td], looks: (_, row, locked) => looks(row, locked), typed: at.table.columns };
}

// Several readings of a stage in one row, until they are asked for.
function foldedRow(at, page) {
  const tr = element("tr", { class: "folded" }), td = element("td", { class: "n" });
  const button = element("button", { type: "button", class: "quiet" });
  const wide = element("td", { colspan: at.table.columns.length });
  button.addEventListener("click", () => page.unfold(at.row.path));
  wide.append(button);
  const looks = whenever((number, word) => {
    td.textContent = number;
    button.textContent = word;
  });
  return {
    tr,
    tds: [td, wide],
    looks: (table, row) => looks(page.rowNumber(row), page.foldWord(table, row)),
    typed: [],
  };
}

// Rows of one kind have the same cells.
const kindOf = ({ columns, computed }, { folds }) =>
  [folds ? "folded" : "open", ...columns.map((c) => c.key), "", ...computed.map((c) => c.key)].join(" ");

function rowOf(at, page) {
  const kind = kindOf(at.table, at.row);
  const { tr, tds, looks, typed } = (at.row.folds ? foldedRow : openRow)(at, page);
  const cells = [
    ...typed.map((column, k) => typedCell(page, column, k)),
    ...at.table.computed.map((_, k) => workedCell(k)),
  ];
  tr.append(...tds, ...cells.map((cell) => cell.td));
  const another = changing(), filled = cells.filter((cell) => cell.says);
  const effects = [
    // Every answer is another view: of most rows it says what the one before it said.
    Alpine.effect(() => {
      const { table, row } = at, { locked, origins } = page.view;
      const follows = table.columns.some((column) => column.step);
      if (!another(row, table.columns, table.computed, locked, origins) && !follows) return;
      if (kindOf(table, row) !== kind) return;
      looks(table, row, locked);
      for (const cell of cells) cell.looks(table, row, locked);
    }),
    Alpine.effect(() => {
      const { row } = at;
      for (const cell of filled) cell.says(row);
    }),
  ];
  return { kind, tr, drop: () => effects.forEach(Alpine.release) };
}

// On the body of a row, inside the loops over `table` and `row`. What is said below a row is the page's own template.
export function rows(tbody, _, { effect, cleanup }) {
  // What a page says is asked of the page itself: through the loops it is looked for in each of them first.
  const at = Alpine.$data(tbody),
    page = Alpine.$data(tbody.closest("[x-data]")),
    template = document.getElementById("below-row");
  let made = null, below = null;
  const drop = () => {
    made?.drop();
    made?.tr.remove();
  };
  const silence = () => {
    if (below) Alpine.destroyTree(below);
    below?.remove();
    below = null;
  };
  const another = changing();
  effect(() => {
    const { table, row } = at;
    if (!another(table.columns, table.computed, !row.folds) || kindOf(table, row) === made?.kind) return;
    drop();
    made = rowOf(at, page);
    tbody.prepend(made.tr);
  });
  effect(() => {
    const wanted = page.asking === at.row.path || page.rowSays(at.row).length > 0;
    if (wanted === Boolean(below)) return;
    if (!wanted) return silence();
    below = template.content.firstElementChild.cloneNode(true);
    Alpine.mutateDom(() => {
      tbody.append(below);
      Alpine.initTree(below);
    });
  });
  cleanup(() => {
    drop();
    silence();
  });
}
