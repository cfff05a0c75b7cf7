// Parts of one page's component as one object; what is computed on reading stays so.
export const merged = (...parts) =>
  Object.defineProperties({}, Object.assign({}, ...parts.map((part) => Object.getOwnPropertyDescriptors(part))));
