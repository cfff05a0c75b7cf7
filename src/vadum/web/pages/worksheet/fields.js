// The single readings before a table or after all of them: each made at once with its label and what is said below it.

import { changing, dress, element, whenever } from "./making.js";
import { write } from "./said.js";

const idOf = (path) => `field-${path}`;

function typed(_, { path, kind }) {
  const control = element("input", {
    autocomplete: "off",
    inputmode: kind === "text" ? "text" : "decimal",
    id: idOf(path),
    "data-path": path,
    "data-hand": "right",
  });
  const looks = ({ expected, error, supplied }, text, locked) => {
    dress(control, {
      placeholder: expected,
      "aria-invalid": error ? "true" : "false",
      class: (error ? "bad " : "") + (supplied ? "supplied" : ""),
    });
    control.disabled = locked;
    write(control, text);
  };
  return { control, looks };
}

function chosen(page, { path, choices }) {
  const control = element("select", { id: idOf(path), "data-path": path });
  const option = ({ code, label }) => element("option", { value: code }, label);
  control.append(...[{ code: "", label: "not set" }, ...choices].map(option));
  control.addEventListener("change", (event) => page.commitChoice(event));
  const looks = (_, text, locked) => {
    control.disabled = locked;
    control.value = choices.some(({ code }) => code === text) ? text : "";
  };
  return { control, looks };
}

function pictured(page, { path, label, choices }) {
  const control = element("div", { class: "pictures", role: "radiogroup", "aria-label": label });
  const buttons = choices.map(({ code, label }) => {
    const button = element("button", { type: "button", role: "radio", "data-path": path, "data-word": code });
    button.append(element("span", { class: page.pictureOf(code) }), element("span", {}, label));
    button.addEventListener("click", (event) => page.tapPicture(event));
    return button;
  });
  control.append(...buttons);
  const looks = (_, text, locked) => {
    for (const button of buttons) {
      dress(button, { "aria-checked": button.dataset.word === text ? "true" : "false" });
      button.disabled = locked;
    }
  };
  return { control, looks };
}

// What is wrong with a reading or asked about it, below it.
function saying(box) {
  const under = element("div", { class: "under" });
  return ({ error, findings }) => {
    const said = findings.map(({ severity, message, action }) => [severity, `${message} ${action}`]);
    if (error) said.unshift(["stop", error]);
    under.replaceChildren(...said.map(([severity, text]) => element("div", { class: `say-${severity}` }, text)));
    if (said.length) box.append(under);
    else under.remove();
  };
}

// Of one kind is a field that has the same control.
const kindOf = ({ path, kind, label, unit, about, choices }) =>
  [path, kind, label, unit, about, ...choices.map(({ code, label }) => code + label)].join("\n");

function made(page, field) {
  const box = element("div", { class: `field ${page.fieldClass(field)}` });
  const label = element("label", { for: idOf(field.path) }), unit = field.unit ? `,\u00a0${field.unit}` : "";
  if (field.about) label.title = field.about;
  label.append(element("span", {}, field.label), element("span", {}, unit));
  const { control, looks } = (field.pictured ? pictured : field.kind === "choice" ? chosen : typed)(page, field);
  box.append(label, control);
  const says = saying(box);
  const shows = whenever((field, text, locked) => {
    looks(field, text, locked);
    says(field);
  });
  return { box, kind: kindOf(field), shows };
}

export function fields(host, { expression }, { effect, evaluate }) {
  const page = Alpine.$data(host.closest("[x-data]")), before = evaluate(expression), known = new Map();
  const others = changing();
  const boxOf = (field) => {
    if (known.get(field.path)?.kind !== kindOf(field)) known.set(field.path, made(page, field));
    const { box, shows } = known.get(field.path);
    shows(field, page.shownField(field), page.view.locked);
    return box;
  };
  effect(() =>
    Alpine.mutateDom(() => {
      const boxes = page.fieldsBefore(before).map(boxOf);
      host.hidden = !boxes.length;
      if (others(boxes.length, ...boxes)) host.replaceChildren(...boxes);
    })
  );
}
