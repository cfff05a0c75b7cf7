// The rows of a table, each made at once with its cells. A sheet has hundreds of cells: one effect for a table, in
// which each row looks only at what it was told the last time, instead of a dozen directives for a cell, lets it open
// and answer a key in a fraction of the time.

import { expectedOf } from "../../static/js/core/sheet.js";
import { heads } from "./heads.js";
import { layOutLater } from "./later.js";
import { changing, dress, element, whenever } from "./making.js";
import { write } from "./said.js";

// On a phone a cell bears its heading itself.
const labelled = ({ label, unit }) => unit ? `${label}, ${unit}` : label;

function typedCell(page, k) {
  let path = "";
  const td = element("td"), input = element("input", { autocomplete: "off" });
  td.append(input);
  const dressed = whenever((row, column, locked, origin, expected) => {
    dress(td, { class: page.cellWidth(column), "data-label": labelled(column) });
    dress(input, {
      inputmode: column.kind === "text" ? "text" : "decimal",
      "data-path": path,
      "data-hand": column.hand,
      "aria-label": `${labelled(column)}, row ${page.rowNumber(row)}`,
      "aria-invalid": row.cells[column.key].error ? "true" : "false",
      title: origin,
      placeholder: expected,
      class: page.cellClass(row, column),
    });
    input.disabled = locked;
  });
  const looks = (table, row, { locked }, texts) => {
    const column = table.columns[k];
    path = `${row.path}.${column.key}`;
    dressed(row, column, locked, page.originOf(path), expectedOf(texts, table, row, column));
  };
  const says = (texts) => write(input, texts[path] ?? "");
  return { td, looks, says };
}

function workedCell(k) {
  const td = element("td", { class: "worked" });
  const looks = (table, row) => {
    const column = table.computed[k], text = row.computed[column.key] ?? "";
    dress(td, { "data-label": labelled(column) });
    if (td.textContent !== text) td.textContent = text;
  };
  return { td, looks };
}

function openRow(page, table, path) {
  const tr = element("tr"), td = element("td", { class: "n" }), button = element("button", { type: "button" });
  button.addEventListener("click", () => page.askLeaveOut(path));
  td.append(button);
  const looks = (_, row, { locked }) => {
    dress(tr, { class: row.leftOut ? "out" : null });
    dress(button, { "aria-label": page.rowWord(row) });
    button.disabled = locked || Boolean(row.blank);
    button.textContent = page.rowNumber(row);
  };
  return { tr, tds: [td], looks, typed: table.columns };
}

// Several readings of a stage in one row, until they are asked for.
function foldedRow(page, table, path) {
  const tr = element("tr", { class: "folded" }), td = element("td", { class: "n" });
  const button = element("button", { type: "button", class: "quiet" });
  const wide = element("td", { colspan: table.columns.length });
  button.addEventListener("click", () => page.unfold(path));
  wide.append(button);
  const looks = (table, row) => {
    td.textContent = page.rowNumber(row);
    button.textContent = page.foldWord(table, row);
  };
  return { tr, tds: [td, wide], looks, typed: [] };
}

// Rows of one kind have the same cells.
const kindOf = ({ columns, computed }, { folds }) =>
  [folds ? "folded" : "open", ...columns.map((c) => c.key), "", ...computed.map((c) => c.key)].join(" ");

// The cells of a row, as long as it is of one kind.
function cellsOf(page, table, row) {
  const { tr, tds, looks, typed } = (row.folds ? foldedRow : openRow)(page, table, row.path);
  const inputs = typed.map((_, k) => typedCell(page, k)),
    all = [...inputs, ...table.computed.map((_, k) => workedCell(k))];
  tr.append(...tds, ...all.map((cell) => cell.td));
  return {
    tr,
    kind: kindOf(table, row),
    looks(table, row, view, texts) {
      looks(table, row, view);
      for (const cell of all) cell.looks(table, row, view, texts);
    },
    says(texts) {
      for (const cell of inputs) cell.says(texts);
    },
  };
}

// A row and what is said below it, which is rare and the page's own template.
class Row {
  constructor(page, host) {
    this.page = page;
    this.body = element("tbody");
    this.scope = Alpine.reactive({ row: null });
    Alpine.addScopeToNode(this.body, this.scope, host);
    this.other = changing();
  }

  // Every answer is another view: of most rows it says what the one before it said.
  shows(table, row, view, texts, asking) {
    const other = this.other(row, table.columns, table.computed, view.locked, view.origins);
    if (other && this.cells?.kind !== kindOf(table, row)) {
      this.cells?.tr.remove();
      this.cells = cellsOf(this.page, table, row);
      this.body.prepend(this.cells.tr);
    }
    if (other) {
      this.scope.row = row;
      this.talks = this.page.rowSays(row).length > 0;
    }
    if (other || table.columns.some((column) => column.step)) this.cells.looks(table, row, view, texts);
    this.cells.says(texts);
    this.below(this.talks || asking === row.path);
  }

  below(wanted) {
    if (wanted === Boolean(this.said)) return;
    if (wanted) {
      this.said = document.getElementById("below-row").content.firstElementChild.cloneNode(true);
      this.body.append(this.said);
      Alpine.initTree(this.said);
    } else {
      Alpine.destroyTree(this.said);
      this.said.remove();
      this.said = null;
    }
  }

  drop() {
    this.below(false);
    this.body.remove();
  }
}

// On a table, inside the loop over tables.
export function rows(host, _, { effect, cleanup }) {
  // What a page says is asked of the page itself: through the loop it is looked for in that first.
  const at = Alpine.$data(host), page = Alpine.$data(host.closest("[x-data]")), made = new Map();
  const headed = heads(host);
  const keep = (path) => made.set(path, new Row(page, host)).get(path);
  const show = (table, { view, texts, asking }) => {
    const gone = new Set(made.keys());
    let above = host.tHead;
    headed(table.columns, table.computed);
    for (const row of table.rows) {
      const shown = made.get(row.path) ?? keep(row.path);
      shown.shows(table, row, view, texts, asking);
      if (above.nextElementSibling !== shown.body) above.after(shown.body);
      above = shown.body;
      gone.delete(row.path);
    }
    for (const path of gone) {
      made.get(path).drop();
      made.delete(path);
    }
  };
  effect(() =>
    Alpine.mutateDom(() => {
      const fresh = !made.size;
      show(at.table, page);
      if (fresh) layOutLater(host, [...made.values()].map((row) => row.body));
    })
  );
  cleanup(() => made.forEach((row) => row.drop()));
}
