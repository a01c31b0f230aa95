// What every page does: the theme, printing, notices, holding still, and hearing of what others change.

const themeSwitch = document.getElementById("theme-switch");
const nameTheme = () => {
  const evening = document.documentElement.dataset.theme === "evening";
  themeSwitch.textContent = evening ? "Day shop" : "Evening shop";
};
themeSwitch.addEventListener("click", () => {
  const theme = document.documentElement.dataset.theme === "evening" ? "day" : "evening";
  document.documentElement.dataset.theme = theme;
  try { localStorage.setItem("theme", theme); } catch { /* kept for this page only */ }
  nameTheme();
});
nameTheme();

const keysSwitch = document.getElementById("keys-switch");
const nameKeys = () => { keysSwitch.textContent = `Keys ${document.documentElement.dataset.keys}`; };
keysSwitch.addEventListener("click", () => {
  const keys = document.documentElement.dataset.keys === "on" ? "off" : "on";
  document.documentElement.dataset.keys = keys;
  try { localStorage.setItem("keys", keys); } catch { /* kept for this page only */ }
  nameKeys();
});
nameKeys();

document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-print]")) print();
});

// Notices: what went wrong stands above the page, which stays as it is, with what was typed.
const notice = document.getElementById("notice");
const retryButton = notice.querySelector(".notice-retry");
let onRetry = null;
// What is said of a request is taken back by the next that succeeds; the rest by the next change.
let isOfRequest = false;
const say = (sentence, retry, label = "Try again") => {
  isOfRequest = false;
  notice.querySelector(".notice-says").textContent = sentence;
  retryButton.textContent = label;
  onRetry = retry;
  retryButton.hidden = !retry;
  notice.hidden = false;
};
const hush = () => { notice.hidden = true; onRetry = null; };
addEventListener("say", (event) => say(event.detail, null));
const sayOfRequest = (sentence, retry) => { say(sentence, retry); isOfRequest = true; };
retryButton.addEventListener("click", () => { const retry = onRetry; hush(); retry?.(); });

// Asking again, as it was asked before: a form by its change, a button by a press, a part of the
// page by its own name for it.
const again = (source) => () => {
  if (source.matches("form")) source.dispatchEvent(new Event("change", { bubbles: true }));
  else if (source.matches("button")) source.click();
  else source.dispatchEvent(new Event("retry"));
};
const UNREACHABLE = "Fondant cannot be reached. What you typed is still here; nothing of it was saved.";
const FAILED = "Fondant could not do this. What you typed is still here; nothing of it was saved.";
document.addEventListener("htmx:error", (event) => {
  const source = event.detail.ctx?.sourceElement;
  if (source) sayOfRequest(UNREACHABLE, again(source));
});
document.addEventListener("htmx:after:request", (event) => {
  const { ctx } = event.detail;
  const status = ctx.response?.status ?? 0;
  const isPlain = ctx.response?.headers?.get("Content-Type")?.startsWith("text/plain");
  // The station itself says why entries were refused, or that they came too late.
  if (status < 400 || ((status === 409 || status === 422) && !isPlain)) {
    if (status > 0 && (isOfRequest || ctx.request.method !== "GET")) hush();
    return;
  }
  sayOfRequest(isPlain && ctx.text ? ctx.text : FAILED, status >= 500 ? again(ctx.sourceElement) : null);
});

// What the mouse points at stays under it when a part of the page comes in that nobody has asked for.
let mouse = null;
addEventListener("pointermove", ({ pointerType, clientX, clientY }) => {
  mouse = pointerType === "mouse" ? [clientX, clientY] : null;
}, { capture: true, passive: true });
document.documentElement.addEventListener("pointerleave", () => { mouse = null; });
let under = null;
document.addEventListener("htmx:before:swap", ({ target }) => {
  const at = mouse && target.matches?.("[hx-trigger^=load]") && document.elementFromPoint(...mouse);
  under = at ? { at, top: at.getBoundingClientRect().top } : null;
});
document.addEventListener("htmx:after:swap", () => {
  if (under?.at.isConnected) scrollBy({ top: under.at.getBoundingClientRect().top - under.top, behavior: "instant" });
  under = null;
});

// What others change is heard while the page is looked at.
const follows = document.body.dataset.follows;
const workspace = () => document.getElementById("workspace");
const isTouched = () => [...document.querySelectorAll("main input, main textarea, main select")].some((field) => {
  if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
  if (field.matches("select")) return [...field.options].some((option) => option.selected !== option.defaultSelected) && [...field.options].some((option) => option.defaultSelected);
  return field.type !== "hidden" && field.value !== field.defaultValue;
});
const CHANGED = "It was changed in another tab or by somebody else since you opened it here.";
let reloading = 0;
const reload = () => {
  clearTimeout(reloading);
  // Many changes at once are one.
  reloading = setTimeout(() => location.reload(), 600);
};
const refresh = () => {
  if (isTouched() || document.activeElement?.matches("input, textarea")) say(CHANGED, () => location.reload(), "Show it as it is now");
  else reload();
};
const bench = () => document.getElementById("bench");
const hear = (heard) => {
  if (bench()) {
    if (heard.what === "run") dispatchEvent(new CustomEvent("bench:changed", { detail: heard.run }));
    else if (heard.what === "read") dispatchEvent(new CustomEvent("bench:read", { detail: heard }));
    else if (heard.what === "missed") dispatchEvent(new Event("bench:again"));
    return;
  }
  const shown = workspace();
  if (shown) {
    if (heard.what === "cast" && String(heard.cast) === shown.dataset.cast) dispatchEvent(new CustomEvent("cast:changed", { detail: heard.revision }));
    return;
  }
  if (follows === "agendas" || (follows === "casts" && heard.what === "cast")) refresh();
  if (follows === "devices" && (heard.what === "read" || heard.what === "shop")) { dispatchEvent(new CustomEvent("devices:read")); return; }
  // A reading changes no plan: nothing but the bench and the list of instruments shows it.
  if (heard.what === "read") return;
  if (follows === "shop" && heard.what === "shop") say(CHANGED, () => location.reload(), "Show it as it is now");
};
let source = null;
const listen = () => {
  if (document.visibilityState !== "visible") { source?.close(); source = null; return; }
  if (source || !(follows || workspace() || bench())) return;
  const cast = (workspace() ?? bench())?.dataset.cast;
  source = new EventSource(cast ? `/events?cast=${cast}` : "/events");
  // What happened while it was away is looked at again.
  source.addEventListener("open", () => dispatchEvent(new Event("bench:again")));
  source.addEventListener("message", (event) => hear(JSON.parse(event.data)));
};
document.addEventListener("visibilitychange", listen);
addEventListener("pagehide", () => { source?.close(); source = null; });
addEventListener("pageshow", listen);
listen();
