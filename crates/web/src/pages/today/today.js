// Countdowns on the shop's day run on by themselves.
const spans = (minutes) => {
  const [h, m] = [Math.floor(minutes / 60), minutes % 60];
  if (h >= 48) return `${h} h`;
  return [h ? `${h} h` : "", m || !h ? `${m} min` : ""].filter(Boolean).join(" ");
};
const tick = () => {
  for (const element of document.querySelectorAll("[data-until]")) {
    const minutes = Math.floor((Number(element.dataset.until) * 1000 - Date.now()) / 60000);
    element.textContent = minutes === 0 ? "now" : minutes > 0 ? `in ${spans(minutes)}` : `${spans(-minutes)} ago`;
  }
};
if (document.querySelector("[data-until]")) setInterval(tick, 20000);
