// Guesses the time zone and the units from the browser, until somebody has typed them.
const form = document.getElementById("welcome");
const zone = form.elements.namedItem("zone");
const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
if (zone.value === zone.defaultValue && zone.value === "UTC" && here) {
  zone.value = here;
}
const units = form.elements.namedItem("units");
if (units.value === "metric" && navigator.language === "en-US" && !form.querySelector("[aria-invalid]")) {
  units.value = "us_customary";
}
