// Names what is sent, so that it counts once. Without a secure context a browser has no key of its own to give.
export const newKey = () => crypto.randomUUID?.() ?? `${Math.random()}`.slice(2).padEnd(18, "0");
