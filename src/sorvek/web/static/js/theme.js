// Runs before the first paint so that a dark page never flashes light.
(function () {
  var kept = null;
  try { kept = localStorage.getItem("theme"); } catch (e) { /* private mode */ }
  var dark = kept ? kept === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.setAttribute("data-bs-theme", dark ? "dark" : "light");
  document.documentElement.classList.add("js");
})();
