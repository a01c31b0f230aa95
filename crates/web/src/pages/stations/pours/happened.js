// What happened is written down on the time axis: the row of a layer is
// touched at the moment it happened, and what was found is chosen there. The
// fields below the axis say the same and are what is sent.
import { axisOf } from "fondant/pours";

const STEP = 300;

const momentAt = (row, clientX) => {
  const second = axisOf(row.ownerSVGElement).second(clientX);
  const latest = Math.floor(Number(row.dataset.latest) / STEP) * STEP;
  return Math.min(latest, Math.round(second / STEP) * STEP);
};

// A moment on the shop's clock, as its field takes it.
const onTheClock = (second, timeZone) => {
  const parts = new Intl.DateTimeFormat("en-GB", {
    timeZone, year: "numeric", month: "2-digit", day: "2-digit",
    hour: "2-digit", minute: "2-digit", hourCycle: "h23",
  }).formatToParts(new Date(second * 1000));
  const part = (type) => parts.find((p) => p.type === type).value;
  return `${part("year")}-${part("month")}-${part("day")}T${part("hour")}:${part("minute")}`;
};

document.addEventListener("click", (event) => {
  const row = event.target.closest?.(".row-reach");
  const menu = document.getElementById("fact-menu");
  if (!row || !menu) return;
  const fields = document.getElementById("station-form").elements;
  fields.fact_pour.value = row.dataset.id;
  menu.querySelector(".fact-menu-says").textContent = fields.fact_pour.selectedOptions[0].textContent;
  // A finger is coarse: the moment can still be set.
  const at = onTheClock(momentAt(row, event.clientX), menu.dataset.zone);
  menu.querySelector(".fact-menu-at").value = at;
  for (const button of menu.querySelectorAll("[data-fact]")) {
    button.hidden = (button.dataset.fact === "poured") === Boolean(row.dataset.poured);
  }
  menu.showPopover();
  const left = Math.min(event.clientX, innerWidth - menu.offsetWidth - 8);
  const top = Math.min(event.clientY + 10, innerHeight - menu.offsetHeight - 8);
  menu.style.left = `${Math.max(8, left)}px`;
  menu.style.top = `${Math.max(8, top)}px`;
  menu.querySelector("[data-fact]:not([hidden])").focus();
});

document.addEventListener("click", (event) => {
  const choice = event.target.closest?.("#fact-menu [data-fact]");
  if (!choice) return;
  const menu = document.getElementById("fact-menu");
  const fields = document.getElementById("station-form").elements;
  fields.fact_at.value = menu.querySelector(".fact-menu-at").value;
  fields.fact_what.value = choice.dataset.fact;
  menu.hidePopover();
  document.getElementById("write-fact").click();
});
