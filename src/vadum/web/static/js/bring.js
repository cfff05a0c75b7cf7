// A file is sent, looked at, and sent again to be taken: the browser keeps it, so that it is chosen once.
const look = document.querySelector("[data-look]");
const found = document.querySelector("[data-found]");

look.addEventListener("submit", async (event) => {
  event.preventDefault();
  const button = look.querySelector("button");
  button.disabled = true;
  found.textContent = "The file is being read.";
  try {
    const answer = await fetch(look.action, { method: "POST", body: new FormData(look) });
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const shown = page.querySelector("[data-found]") ?? page.querySelector("main");
    found.replaceChildren(...shown.childNodes);
    keep();
  } catch {
    found.textContent =
      "The file did not arrive: the line is down, or the file changed since it was chosen. Choose it again.";
  } finally {
    button.disabled = false;
  }
});
look.addEventListener("change", () => found.replaceChildren());

// The second form takes over the file of the first.
function keep() {
  const second = found.querySelector("[data-bring]");
  if (!second) return;
  second.querySelector("[data-again] input").files = look.querySelector("[type=file]").files;
  second.querySelector("[data-again]").hidden = true;
}
