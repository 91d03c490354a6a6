// Before the first paint: the theme that this machine chose, else the one its surroundings ask for.
(() => {
  const dark = matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = localStorage.getItem("fondo-theme") ?? (dark ? "dark" : "light");
})();
