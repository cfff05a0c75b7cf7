// Asks the server for something that is no reading. Without a line, or where it does not answer, the answer says so;
// whoever was signed out meanwhile is told on the page.
const PATIENCE_MS = 20000;
export const NO_LINE = { message: "The line to the server is down: press again once it is back." };

export async function ask(address, body, method = body ? "POST" : "GET") {
  const sent = body && { headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) };
  try {
    const reply = await fetch(address, { method, ...sent, signal: AbortSignal.timeout(PATIENCE_MS) });
    if (reply.status === 401) dispatchEvent(new Event("vadum-signed-out"));
    if (reply.ok) dispatchEvent(new Event("vadum-signed-in"));
    return { ok: reply.ok, answer: await reply.json() };
  } catch {
    return { ok: false, answer: NO_LINE };
  }
}
