// The browser's own durable store: what was typed lies in "waiting" until the server has it, pictures in "pictures",
// what the server last said of a test in "states", what was said to be done in "words". A write counts once it is on
// the disk. A base keeps its tables for good: one made anew waits for every tab of an earlier release to close.
const BASES = {
  vadum: { waiting: "key", states: "test" },
  "vadum.pictures": { pictures: "key" },
  "vadum.words": { words: "key" },
};
const opening = {};

function opened(name) {
  opening[name] ??= new Promise((resolve, reject) => {
    const asked = indexedDB.open(name, 1);
    asked.onupgradeneeded = () => {
      for (const [table, keyPath] of Object.entries(BASES[name])) asked.result.createObjectStore(table, { keyPath });
    };
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });
  return opening[name];
}

async function within(table, mode, act) {
  const base = await opened(Object.keys(BASES).find((name) => table in BASES[name]));
  return new Promise((resolve, reject) => {
    const transaction = base.transaction(table, mode, mode === "readwrite" ? { durability: "strict" } : {});
    const asked = act(transaction.objectStore(table));
    transaction.oncomplete = () => resolve(asked.result);
    transaction.onabort = () => reject(transaction.error);
  });
}

export const put = (table, item) => within(table, "readwrite", (t) => t.put(item));
export const remove = (table, key) => within(table, "readwrite", (t) => t.delete(key));
export const get = (table, key) => within(table, "readonly", (t) => t.get(key));
// In the order of their keys; with a prefix, those whose key begins so.
export const all = (table, prefix = "") =>
  within(table, "readonly", (t) => t.getAll(prefix ? IDBKeyRange.bound(prefix, `${prefix}\uffff`) : null));
