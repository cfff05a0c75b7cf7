// Ticks by column and by row, and what soil they ask for.
const table = document.querySelector("[data-schedule]");
const rows = [...table.tBodies[0].rows].filter((row) => row.querySelector("[name=plan]"));
const boxes = (row) => [...row.querySelectorAll("[name=plan]")];
const grams = (g) => (g >= 1000 ? `${(g / 1000).toFixed(1)} kg` : `${g.toFixed(0)} g`);

function count() {
  let tests = 0;
  for (const row of rows) {
    const ticked = boxes(row).filter((box) => box.checked);
    const need = ticked.reduce((sum, box) => sum + Number(box.dataset.need), 0);
    const left = row.dataset.left === "" ? null : Number(row.dataset.left);
    const cell = row.querySelector("[data-soil]");
    tests += ticked.length;
    const wanted = ticked.length || left === null ? grams(need) : "";
    cell.textContent = left === null ? wanted : wanted ? `${wanted} of ${grams(left)}` : `${grams(left)} left`;
    cell.classList.toggle("state-bad", left !== null && need > left);
  }
  document.querySelector("[data-count]").textContent = tests ? `${tests} test${tests === 1 ? "" : "s"} to plan` : "";
}

table.addEventListener("click", (event) => {
  const { column, above } = event.target.dataset;
  if (column !== undefined) {
    const mine = rows.flatMap(boxes).filter((box) => box.dataset.method === column);
    const all = mine.every((box) => box.checked);
    for (const box of mine) box.checked = !all;
  }
  if (above !== undefined) {
    const row = event.target.closest("tr"), model = boxes(rows[rows.indexOf(row) - 1]);
    boxes(row).forEach((box, i) => {
      box.checked = model[i].checked;
    });
  }
  count();
});
table.addEventListener("change", count);
// Planned all the same is planned.
document.querySelector("[data-anyway]")?.addEventListener("click", (event) => {
  const save = document.createElement("input");
  Object.assign(save, { type: "hidden", name: "save", value: "yes" });
  event.target.form.append(save);
});
count();
