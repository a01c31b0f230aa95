// Runs before the page is drawn, so that the chosen theme never flashes. Keys without Ctrl can be
// turned off: for people who speak to the machine, words must not act.
(() => {
  let chosen = null;
  let keys = null;
  try {
    chosen = localStorage.getItem("theme");
    keys = localStorage.getItem("keys");
  } catch { /* storage may be switched off */ }
  document.documentElement.dataset.keys = keys ?? "on";
  const dark = window.matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = chosen ?? (dark ? "evening" : "day");
})();
