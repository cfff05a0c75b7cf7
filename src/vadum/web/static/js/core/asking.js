// Asks the server for something that is no reading. Without a line, or where it does not answer, the answer says so.
const PATIENCE_MS = 20000;
export const NO_LINE = { message: "The line to the server is down: press again once it is back." };

export async function ask(address, body) {
  const posted = body && {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  };
  try {
    const reply = await fetch(address, { ...posted, signal: AbortSignal.timeout(PATIENCE_MS) });
    return { ok: reply.ok, answer: await reply.json() };
  } catch {
    return { ok: false, answer: NO_LINE };
  }
}
