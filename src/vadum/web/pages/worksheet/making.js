// Elements made by a script, and changed only where they are to say something else.

export function element(name, attributes = {}, text = "") {
  const made = document.createElement(name);
  made.textContent = text;
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

export function dress(cell, attributes) {
  for (const [key, value] of Object.entries(attributes)) {
    if (value === null || value === undefined) cell.removeAttribute(key);
    else if (cell.getAttribute(key) !== String(value)) cell.setAttribute(key, value);
  }
}

// Whether one of what it is given is another than the last time.
export function changing() {
  let before = null;
  return (...now) => {
    const other = !before || now.some((one, i) => one !== before[i]);
    before = now;
    return other;
  };
}

// Does something only when one of what it is given is another than the last time.
export function whenever(act) {
  const another = changing();
  return (...now) => {
    if (another(...now)) act(...now);
  };
}
