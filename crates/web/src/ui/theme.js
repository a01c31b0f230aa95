// Runs before the page is drawn, so that the chosen theme never flashes.
(() => {
  let chosen = null;
  try { chosen = localStorage.getItem("theme"); } catch { /* storage may be switched off */ }
  const dark = window.matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = chosen ?? (dark ? "evening" : "day");
})();
