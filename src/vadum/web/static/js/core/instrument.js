// Asks the server to read the instruments bound to cells. What cannot be read is told by path, and nothing of it is
// kept. A gauge that is only watched, until it stands where it should, has not been read.
import { ask, NO_LINE } from "./asking.js";

const NOT_READ = "The line to the server is down. Type the reading; it waits in this browser.";

export async function readCells(test, cells, watching = false) {
  const { ok, answer } = await ask(`/api/tests/${test}/read`, { cells, watching });
  if (ok) return answer;
  const why = answer === NO_LINE ? NOT_READ : `${answer.message} Read again, or type it.`;
  return { cells: {}, origins: {}, troubles: Object.fromEntries(Object.keys(cells).map((path) => [path, why])) };
}

export const columnOf = (path) => {
  const [table, , key] = path.split(".");
  return key ? `${table}.${key}` : table;
};
export const instrumentOf = (view, path) =>
  (view.bindings[columnOf(path)] ?? "").split(" / ")[0] || (view.practice ? "the virtual bench" : "");
