// A label's code out of a picture that the phone's camera takes: the server reads it, the field gets it.
const AN_ADDRESS = /^https?:\/\//;
let here = null;

// The camera takes the focus away: what stood in it before is meant. What was said is read by then.
document.addEventListener("focusin", ({ target }) => {
  if (target.matches("[data-scans]")) return;
  here = target;
  document.querySelector("[data-scan] [role=status]")?.replaceChildren();
});

function fieldFor(selector) {
  if (here?.isConnected && here.matches(selector)) return here;
  const fields = [...document.querySelectorAll(selector)].filter((field) => field.checkVisibility() && !field.disabled);
  return fields.find((field) => !field.value) ?? fields.at(-1);
}

async function codeIn(picture) {
  const form = new FormData();
  form.append("file", picture, picture.name);
  const reply = await fetch("/api/code", { method: "POST", body: form }), answer = await reply.json();
  if (!reply.ok) throw new Error(answer.message);
  return answer.code;
}

function fill(field, code) {
  const search = field.closest("[role=search]");
  if (!search && AN_ADDRESS.test(code)) throw new Error("That is the label of a sample, not of a tin.");
  field.focus();
  field.value = code;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  if (search) search.requestSubmit();
  else field.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true }));
}

document.addEventListener("change", async ({ target }) => {
  const selector = target.dataset?.scans, [picture] = selector ? target.files : [];
  if (!picture) return;
  const says = target.closest("[data-scan]").querySelector("[role=status]"), field = fieldFor(selector);
  says.textContent = "reading the label";
  try {
    if (!field) throw new Error("There is no field for it here.");
    fill(field, await codeIn(picture));
    says.textContent = "";
  } catch (error) {
    says.textContent = error instanceof TypeError ? "The line is down: type what stands on the label." : error.message;
  }
  target.value = "";
});
