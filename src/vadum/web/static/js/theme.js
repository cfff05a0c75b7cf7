// Runs before the first paint: light or dark as chosen, else as the system says.
(() => {
  const key = "vadum.theme";
  const system = matchMedia("(prefers-color-scheme: dark)");
  const apply = () => {
    const chosen = localStorage.getItem(key);
    document.documentElement.dataset.bsTheme = chosen ?? (system.matches ? "dark" : "light");
  };
  apply();
  system.addEventListener("change", apply);
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-theme-switch]")) return;
    const dark = document.documentElement.dataset.bsTheme === "dark";
    localStorage.setItem(key, dark ? "light" : "dark");
    apply();
  });
})();
