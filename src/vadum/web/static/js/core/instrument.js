// Asks the server to read the instruments bound to cells. What cannot be read is told by path, and nothing of it is
// kept. A gauge that is only watched, until it stands where it should, has not been read.
export async function readCells(test, cells, watching = false) {
  const paths = Object.keys(cells);
  const none = (why) => ({ cells: {}, origins: {}, troubles: Object.fromEntries(paths.map((path) => [path, why])) });
  try {
    const reply = await fetch(`/api/tests/${test}/read`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ cells, watching }),
    });
    return reply.ok ? await reply.json() : none("The reading was refused. Read again, or type it.");
  } catch {
    return none("The line to the server is down. Type the reading; it waits in this browser.");
  }
}

export const columnOf = (path) => {
  const [table, , key] = path.split(".");
  return key ? `${table}.${key}` : table;
};
export const instrumentOf = (view, path) =>
  (view.bindings[columnOf(path)] ?? "").split(" / ")[0] || (view.practice ? "the virtual bench" : "");
