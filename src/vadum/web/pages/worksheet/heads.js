// The headings of a table, made anew only when it has other columns.

import { element, whenever } from "./making.js";

function heading({ label, unit, about, kind }) {
  const th = element("th", { scope: "col" });
  if (about) th.title = about;
  if (kind === "text") th.className = "words";
  th.append(element("span", {}, label), element("small", {}, unit));
  return th;
}

function headings(columns) {
  const tr = element("tr"), number = element("th", { scope: "col" });
  number.append(element("span", { class: "visually-hidden" }, "row"));
  tr.append(number, ...columns.map(heading));
  return tr;
}

export function heads(host) {
  const head = host.createTHead();
  return whenever((columns, computed) => head.replaceChildren(headings([...columns, ...computed])));
}
