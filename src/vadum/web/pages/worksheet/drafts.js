// What is typed and not yet committed, each cell by itself in the browser's store: it outlives a reload and a closed
// tab. A key names the tab that types, since another one that is open may be typing in the same sheet.
import { newKey } from "../../static/js/core/key.js";

const TAB = "vadum.tab";

// The same after a reload. Nothing is left for a copy of this tab while it is open: the copy is another one.
const tab = sessionStorage.getItem(TAB) ?? newKey();
sessionStorage.removeItem(TAB);
addEventListener("pagehide", () => sessionStorage.setItem(TAB, tab));
navigator.locks?.request(`${TAB}.${tab}`, () => new Promise(() => {}));

// None where the browser does not let tabs know of each other.
async function openTabs() {
  const { held = [] } = await navigator.locks?.query() ?? {};
  return held.map(({ name }) => name);
}

export class Drafts {
  constructor(test, who) {
    this.sheet = `vadum.typing.${test}.${who}.`;
    this.own = `${this.sheet}@${tab}.`;
    this.older = [`vadum.drafts.${test}`, `vadum.drafts.${test}.${who}`];
  }
  keep(path, text) {
    localStorage.setItem(this.own + path, text);
  }
  drop(path) {
    localStorage.removeItem(this.own + path);
  }
  // What is kept of this sheet, whoever types it; asked for before a hand can type in this page.
  kept() {
    // Earlier releases kept a sheet's cells together, then each by itself, and named no tab.
    for (const older of this.older) {
      for (const [path, text] of Object.entries(JSON.parse(localStorage.getItem(older) ?? "{}"))) {
        localStorage.setItem(this.sheet + path, text);
      }
      localStorage.removeItem(older);
    }
    return Object.keys(localStorage).filter((key) => key.startsWith(this.sheet)).map((key) => {
      const rest = key.slice(this.sheet.length), [, owner, path] = rest.match(/^@([^.]*)\.(.*)$/) ?? [, "", rest];
      return { key, owner, path, text: localStorage.getItem(key) };
    });
  }
  // Of what was kept the texts whose tab is gone, by path; what the hand has typed here meanwhile stands.
  async left(kept) {
    const open = await openTabs(), found = {};
    for (const { key, owner, path, text } of kept) {
      if (owner !== tab && open.includes(`${TAB}.${owner}`)) continue;
      const typedHere = localStorage.getItem(this.own + path);
      if (owner === tab ? typedHere === text : typedHere === null) found[path] = text;
      if (owner !== tab) localStorage.removeItem(key);
    }
    return found;
  }
}
