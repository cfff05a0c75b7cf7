// The order of chapters is the order they stand in on the page.
for (const list of document.querySelectorAll("[data-chapters]")) {
  list.addEventListener("click", (event) => {
    const item = event.target.closest("li"), up = event.target.closest("[data-up]");
    if (!item || !(up || event.target.closest("[data-down]"))) return;
    const other = up ? item.previousElementSibling : item.nextElementSibling;
    if (!other) return;
    if (up) other.before(item);
    else other.after(item);
    event.target.focus();
  });
}
