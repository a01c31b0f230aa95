// A cast's workspace: jumping between stations, changes on their way, changes by others.

import { isHolding } from "fondant/hold";

// On a phone the rail runs across; the station shown is brought into sight. Only the rail is moved: a
// page that scrolled by itself would lose its strip.
const rail = document.querySelector(".rail");
const here = rail?.querySelector("a[aria-current]");
if (here) rail.scrollLeft = here.offsetLeft - (rail.clientWidth - here.offsetWidth) / 2;

const isTyping = (target) =>
  target instanceof HTMLElement && target.matches("input, select, textarea, [contenteditable]");

// Digits jump to stations; Ctrl+Z and Ctrl+Y undo and redo.
document.addEventListener("keydown", (event) => {
  // A letter chooses among what is compared, while it is in hand: a stray one changes no resin.
  const compared = /^[a-z]$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey
    && event.target.closest?.("[role=radiogroup]")?.querySelector(`.choice[data-key="${event.key}"] input`);
  if (compared) { compared.focus(); compared.click(); return; }
  if (isTyping(event.target)) return;
  if ((event.ctrlKey || event.metaKey) && !event.altKey) {
    const act = { z: event.shiftKey ? "redo" : "undo", y: "redo" }[event.key.toLowerCase()];
    const button = act && document.querySelector(`button[data-act="${act}"]`);
    if (button && !button.disabled) { event.preventDefault(); button.click(); }
    return;
  }
  if (event.altKey || document.documentElement.dataset.keys === "off") return;
  if (!/^[1-9]$/.test(event.key)) return;
  document.querySelector(`a[data-digit="${event.key}"]`)?.click();
});

// Changes on their way to the server. A link that is followed meanwhile waits for them, and is not
// followed at all where one is refused: the maker stays with the sentence at the field instead of losing
// what was typed.
let onTheirWay = 0;
let waitingLink = null;
document.addEventListener("htmx:config:request", () => { onTheirWay += 1; });
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  const plain = event.button === 0 && !event.ctrlKey && !event.metaKey && !event.shiftKey;
  if (!link || !plain || onTheirWay === 0) return;
  event.preventDefault();
  waitingLink = link.href.baseVal ?? link.href;
});
document.addEventListener("htmx:finally:request", (event) => {
  onTheirWay = Math.max(0, onTheirWay - 1);
  document.documentElement.classList.remove("is-working");
  if ((event.detail.ctx.response?.status ?? 0) >= 400) waitingLink = null;
  if (onTheirWay > 0) return;
  if (waitingLink === null) { lookAgain(); return; }
  const address = waitingLink;
  waitingLink = null;
  location.assign(address);
});

// A change may wait while the one before it is on its way. It is then made on the revision that this tab
// shows once the first has been answered. It outlives the page, should the tab be closed.
document.addEventListener("htmx:before:request", (event) => {
  const { ctx } = event.detail;
  const revision = document.getElementById("workspace")?.dataset.revision;
  if (revision && ctx.request.body instanceof URLSearchParams && ctx.request.body.has("revision")) {
    ctx.request.body.set("revision", revision);
  }
  // Browsers refuse to keep more than 64 kB alive.
  ctx.request.keepalive = String(ctx.request.body ?? "").length < 60000;
  document.documentElement.classList.add("is-working");
});

// Fields that were accepted show the figure as it is kept, with its unit.
document.addEventListener("htmx:after:swap", () => {
  for (const input of document.querySelectorAll("#workspace input[type=text]")) {
    const kept = input.getAttribute("value") ?? "";
    if (input !== document.activeElement && input.value !== kept) input.value = kept;
  }
  // The sentence stands under the field: both have to be seen.
  const refused = document.querySelector("#workspace [aria-invalid=true]");
  (refused?.closest(".field") ?? refused)?.scrollIntoView({ block: "nearest" });
});

// What others change is shown at once where nothing is being typed or held here; a change made here on what is no
// longer so leads to the choice.
let newest = 0;
const lookAgain = () => {
  const workspace = document.getElementById("workspace");
  const isBehind = newest > Number(workspace?.dataset.revision ?? 0);
  const isChoosing = workspace?.querySelector(".banner");
  if (!isBehind || isChoosing || onTheirWay > 0 || isHolding() || isTyping(document.activeElement)) return;
  htmx.ajax("GET", location.pathname + location.search, { target: "#workspace", swap: "outerMorph" });
};
addEventListener("cast:changed", (event) => { newest = Math.max(newest, event.detail); lookAgain(); });
document.addEventListener("focusout", () => setTimeout(lookAgain, 0));
addEventListener("let-go", () => setTimeout(lookAgain, 0));

// On a phone the strip is one line until it is tapped.
document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-strip-fold]")) return;
  const root = document.documentElement;
  root.dataset.strip = root.dataset.strip === "open" ? "folded" : "open";
});
