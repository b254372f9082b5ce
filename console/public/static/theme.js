// Before the first paint: the reader's choice, else the system's.
(function () {
  var chosen = null;
  try {
    chosen = localStorage.getItem("theme");
  } catch {
    // Storage is switched off; the system's choice holds.
  }
  var dark = chosen ? chosen === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.classList.toggle("dark", dark);
})();
