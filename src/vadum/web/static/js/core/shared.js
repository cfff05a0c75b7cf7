// What an answer says anew, built on what was known before: every part that says the same is the very same object. A
// page looks only at what is another one, and of a sheet of hundreds of cells one typed reading changes a few.
export function shared(before, after) {
  if (before === after || !isPart(before) || !isPart(after) || Array.isArray(before) !== Array.isArray(after)) {
    return after;
  }
  const keys = Object.keys(after), found = Array.isArray(after) ? [] : {};
  let same = keys.length === Object.keys(before).length;
  for (const key of keys) {
    found[key] = shared(before[key], after[key]);
    same &&= key in before && found[key] === before[key];
  }
  return same ? before : found;
}
const isPart = (value) => typeof value === "object" && value !== null;

// What is never changed in place, all the way down. Alpine watches nothing of what cannot change.
export function frozen(part) {
  if (!isPart(part) || Object.isFrozen(part)) return part;
  Object.values(part).forEach(frozen);
  return Object.freeze(part);
}
