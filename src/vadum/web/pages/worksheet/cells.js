// The cells of a row, made at once. A sheet has hundreds: two effects each, instead of a dozen directives, let it open
// and answer a key in a fraction of the time.

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

// Runs an effect that looks again at what it depends on, and does something only when one of these is another.
function whenever(look, act) {
  let before = [];
  return Alpine.effect(() => {
    const now = look();
    if (now.length === before.length && now.every((one, i) => one === before[i])) return;
    before = now;
    act(...now);
  });
}

function typedCell(at, key) {
  const td = element("td"), input = element("input", { autocomplete: "off" });
  td.append(input);
  const column = () => at.table.columns.find((c) => c.key === key);
  const looks = whenever(
    () => {
      const { table, row, view } = at, c = column();
      return [row, c, view.locked, at.originOf(`${row.path}.${key}`), at.expected(table, row, c)];
    },
    (row, c, locked, origin, expected) => {
      dress(td, { class: at.cellWidth(c), "data-label": c.label });
      dress(input, {
        inputmode: c.kind === "text" ? "text" : "decimal",
        "data-path": `${row.path}.${key}`,
        "data-hand": c.hand,
        "aria-label": `${c.label}, row ${at.rowNumber(row)}`,
        "aria-invalid": row.cells[key].error ? "true" : "false",
        title: origin,
        placeholder: expected,
        class: at.cellClass(row, c),
      });
      input.disabled = locked;
    },
  );
  const says = Alpine.effect(() => {
    const text = at.shown(at.row, column());
    if (input.value !== text) input.value = text;
  });
  return { td, effects: [looks, says] };
}

function workedCell(at, key) {
  const td = element("td", { class: "worked" });
  const column = () => at.table.computed.find((c) => c.key === key);
  const says = whenever(() => [column().label, at.row.computed[key]], (label, text) => {
    td.dataset.label = label;
    td.textContent = text ?? "";
  });
  return { td, effects: [says] };
}

// On a row of a table, inside the loops over `table` and `row`.
export function cells(tr, _, { effect, cleanup }) {
  const at = Alpine.$data(tr);
  let made = [], kind = "";
  const drop = () => {
    for (const { td, effects } of made) {
      effects.forEach(Alpine.release);
      td.remove();
    }
  };
  effect(() => {
    const { columns, computed } = at.table, keys = (some) => some.map((c) => c.key);
    const now = JSON.stringify([keys(columns), keys(computed)]);
    if (now === kind) return;
    kind = now;
    drop();
    made = [...keys(columns).map((key) => typedCell(at, key)), ...keys(computed).map((key) => workedCell(at, key))];
    tr.append(...made.map(({ td }) => td));
  });
  cleanup(drop);
}
