// Texts put into a cell by the page. They leave a caret behind them: the hand that had all of the cell would add its
// next reading to what stands there, and its Delete would find nothing. What was wholly selected is so again at once,
// before another key can come.
const wholly = (cell) =>
  cell === document.activeElement && cell.selectionStart === 0 && cell.selectionEnd === cell.value.length;

export function write(cell, text) {
  if (cell.value === text) return;
  const whole = wholly(cell);
  cell.value = text;
  if (whole) cell.select();
}

// What a cell outside the tables says: `:value` that keeps the hand.
export function says(cell, { expression }, { effect, evaluateLater }) {
  const say = evaluateLater(expression);
  effect(() => say((text) => write(cell, text)));
}
