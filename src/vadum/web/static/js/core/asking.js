// Asks the server for something that is no reading. Without a line, or where it does not answer, the answer says so;
// whoever was signed out meanwhile is told on the page.
const PATIENCE_MS = 20000;
export const NO_LINE = { message: "The line to the server is down: press again once it is back." };

// Says for whom the page was made: somebody else who signed in in this browser since does nothing with it.
export function madeFor() {
  const { who } = document.body.dataset;
  return who ? { "Vadum-Person": encodeURIComponent(who) } : {};
}

// Tells what was asked last and nothing that came late: an answer that something asked since has overtaken is null.
export function askingLast() {
  let last = 0;
  return async (...asked) => {
    const mine = ++last, said = await ask(...asked);
    return mine === last ? said : null;
  };
}

export async function ask(address, body, method = body ? "POST" : "GET") {
  const headers = { ...madeFor(), ...(body && { "Content-Type": "application/json" }) };
  const sent = { method, headers, body: body && JSON.stringify(body) };
  try {
    const reply = await fetch(address, { ...sent, signal: AbortSignal.timeout(PATIENCE_MS) });
    if (reply.status === 401 && document.body.dataset.who) dispatchEvent(new Event("vadum-signed-out"));
    if (reply.ok) dispatchEvent(new Event("vadum-signed-in"));
    return { ok: reply.ok, status: reply.status, answer: await reply.json() };
  } catch {
    return { ok: false, answer: NO_LINE };
  }
}
