// The classes of an element that follow from the page, as `:class` of a text sets them; but what says the same changes
// nothing. A class taken off a table and put back at every answer has each of its hundreds of cells styled and laid out
// again.
export function classed(el, { expression }, { effect, evaluateLater }) {
  const own = el.className, say = evaluateLater(expression);
  effect(() =>
    say((said) => {
      const wanted = [own, said].filter(Boolean).join(" ").trim();
      if (el.className !== wanted) el.className = wanted;
    })
  );
}
