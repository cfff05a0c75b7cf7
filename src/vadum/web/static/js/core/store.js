// The browser's own durable store: what was typed lies in "waiting" until the server has it, what the server last said
// of a test in "states". A write counts once it is on the disk.
const NAME = "vadum", TABLES = { waiting: "key", states: "test" };
let opening = null;

function opened() {
  opening ??= new Promise((resolve, reject) => {
    const asked = indexedDB.open(NAME, 1);
    asked.onupgradeneeded = () => {
      for (const [table, keyPath] of Object.entries(TABLES)) asked.result.createObjectStore(table, { keyPath });
    };
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });
  return opening;
}

async function within(table, mode, act) {
  const base = await opened();
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
