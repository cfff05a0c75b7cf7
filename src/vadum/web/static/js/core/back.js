// The browser's own way back brings a page as it was left: its lists are older than what happened since. A sheet asks
// for what it lacks; any other page is fetched again, unless a hand has typed into it or the server does not answer.
// One that was left standing as it was, its scripts and all (`detail`), may hold what a hand did in the page alone.
import { ask } from "./asking.js";

export const BROUGHT_BACK = "vadum-brought-back";

function typedInto(field) {
  if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
  if (field.options) {
    const meant = [...field.options].findIndex((one) => one.defaultSelected);
    return field.selectedIndex !== Math.max(meant, 0);
  }
  return field.value !== field.defaultValue;
}
const typed = () =>
  [...document.querySelectorAll("main :is(input:not([data-narrows]), select, textarea)")].some(typedInto);

addEventListener("pageshow", async ({ persisted }) => {
  const [came] = performance.getEntriesByType("navigation");
  if (!persisted && came?.type !== "back_forward") return;
  const untouched = dispatchEvent(new CustomEvent(BROUGHT_BACK, { cancelable: true, detail: persisted }));
  if (!untouched || typed()) return;
  const { ok } = await ask("/api/clock");
  if (ok && !typed()) location.reload();
});
