// The bench: every tap is a row that is kept on this device until the server has it, in order and once
// each; clocks run by the server's time; the screen stays awake while a bucket runs.
import { isMoving, showAgain } from "fondant/live";
import { formName, isUntouched, putBack, putBackRow, typed } from "fondant/typed";

const bench = () => document.getElementById("bench");
// What is shown, as the server said it: before a clock has run.
let shown = bench().innerHTML;
const run = bench().dataset.run;
const QUEUE = `bench-queue-${run}`;
const OFFSET = "bench-clock-offset";

const read = (name, otherwise) => {
  try { return JSON.parse(localStorage.getItem(name)) ?? otherwise; } catch { return otherwise; }
};
const keep = (name, value) => {
  try { localStorage.setItem(name, JSON.stringify(value)); return true; } catch { return false; }
};

// The server's time: what its last answer said, carried on by this device's own clock. A page that is
// opened without a connection goes by the difference that was kept.
let offset = read(OFFSET, 0);
const setClock = () => { offset = Number(bench().dataset.now) - Date.now(); keep(OFFSET, offset); };
if (navigator.onLine) setClock();
const now = () => Date.now() + offset;

const told = (ms) => {
  const s = Math.abs(Math.round(ms / 1000));
  const [h, m] = [Math.floor(s / 3600), Math.floor(s / 60) % 60];
  const text = h > 0 ? `${h} h ${String(m).padStart(2, "0")} min` : `${m}:${String(s % 60).padStart(2, "0")}`;
  return ms < 0 ? `${text} over` : text;
};
const LITTLE_MS = 5 * 60 * 1000;
const rung = new Set();
const tick = () => {
  for (const clock of bench().querySelectorAll("[data-until]")) {
    const until = Number(clock.dataset.until);
    const left = clock.querySelector("[data-left]");
    if (!until || !left) continue;
    const ms = until - now();
    left.textContent = told(ms);
    clock.classList.toggle("is-over", ms < 0);
    clock.classList.toggle("is-little", ms >= 0 && ms < LITTLE_MS);
    const name = clock.querySelector(".l")?.textContent;
    if (name && ms < 0 && ms > -20000) ring(`${until}`, name);
  }
};

// Once a clock: a tone, a shake, and a notification where they are allowed.
const ring = (id, name) => {
  if (rung.has(id)) return;
  rung.add(id);
  navigator.vibrate?.([300, 120, 300]);
  try {
    const audio = new AudioContext();
    const tone = audio.createOscillator();
    tone.frequency.value = 880;
    tone.connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + 0.6);
  } catch { /* a device without sound shows it */ }
  if (globalThis.Notification?.permission === "granted") new Notification(name);
};
setInterval(tick, 1000);
tick();

let awake = null;
const stayAwake = async () => {
  const isHot = bench().querySelector(".bench-clock.is-bucket");
  if (!isHot) { awake?.release?.(); awake = null; return; }
  if (awake || document.visibilityState !== "visible") return;
  try { awake = await navigator.wakeLock?.request("screen"); awake?.addEventListener("release", () => { awake = null; }); } catch { awake = null; }
};
document.addEventListener("visibilitychange", stayAwake);

// Rows that the server does not have yet.
const waiting = () => read(QUEUE, []);
const box = () => document.getElementById("bench-queue");
const showWaiting = () => {
  const rows = waiting();
  box().hidden = rows.length === 0;
  box().textContent = rows.length === 1 ? "1 row waiting to be sent" : `${rows.length} rows waiting to be sent`;
  const unsent = document.getElementById("bench-unsent");
  unsent.replaceChildren(...rows.map((row) => {
    const line = document.createElement("p");
    line.className = "bench-unsent quiet";
    line.textContent = `Waiting: ${row.says}`;
    return line;
  }));
};
const refuse = (sentence) => {
  const place = document.getElementById("bench-refusal");
  place.textContent = sentence;
  place.hidden = !sentence;
  if (sentence) place.scrollIntoView({ block: "nearest" });
};

// What is typed while an answer is swapped in stays; a finger that is down finds what it pressed. An
// answer that says the same as the one before changes nothing but the clock.
let isPressed = false;
let whenLifted = null;
document.addEventListener("pointerdown", () => { isPressed = true; }, true);
const lifted = () => {
  // The click comes after the finger is up.
  setTimeout(() => {
    isPressed = false;
    const html = whenLifted;
    whenLifted = null;
    if (html) swap(html);
  }, 0);
};
for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, lifted, true);
const swap = (html) => {
  const next = new DOMParser().parseFromString(html, "text/html").getElementById("bench");
  if (!next) return;
  // Answers overtake each other: one that knows fewer rows than are shown was on its way for longer.
  if (Number(next.dataset.kept) < Number(bench().dataset.kept)) return;
  const [clock, says] = [next.dataset.now, next.innerHTML];
  if (says === shown) { Object.assign(bench().dataset, { now: clock, kept: next.dataset.kept }); setClock(); return; }
  if (isPressed) { whenLifted = html; return; }
  shown = says;
  const stays = typed();
  bench().replaceWith(next);
  setClock();
  named();
  putBack(stays);
  showAgain();
  showWaiting();
  tick();
  stayAwake();
};

// A server that says nothing for so long is asked again; it knows the row by its key.
const ANSWER_MS = 15000;
let isSending = false;
// Another device wrote something down while this one was sending.
let isMissed = false;
let retryAt = 0;
const send = async () => {
  if (isSending) return;
  isSending = true;
  try {
    for (let rows = waiting(); rows.length > 0; rows = waiting()) {
      const [row] = rows;
      let answer;
      try {
        answer = await fetch(bench().dataset.rows, {
          method: "POST", body: new URLSearchParams(row.entries), keepalive: true,
          headers: { "HX-Request": "true" }, redirect: "manual", signal: AbortSignal.timeout(ANSWER_MS),
        });
      } catch { later(); return; }
      // A server that cannot answer now will; one that refuses has said why.
      if (answer.status >= 500) { later(); return; }
      keep(QUEUE, waiting().filter((other) => other.entries.key !== row.entries.key));
      const text = await answer.text();
      if (answer.ok) { swap(text); refuse(""); continue; }
      showWaiting();
      await look();
      putBackRow(row);
      const says = text.startsWith("<") ? "The server could not take this." : text;
      refuse(row.isLate ? `${row.says}, tapped without a connection, was not written down. ${says}` : says);
    }
  } finally {
    isSending = false;
    showWaiting();
    if (isMissed) { isMissed = false; look(); }
  }
};
const later = () => {
  keep(QUEUE, waiting().map((row) => ({ ...row, isLate: true })));
  showWaiting();
  clearTimeout(retryAt);
  retryAt = setTimeout(send, 2000);
};
const look = async () => {
  try {
    const answer = await fetch(location.pathname, { headers: { "HX-Request": "true" }, signal: AbortSignal.timeout(ANSWER_MS) });
    if (answer.ok) swap(await answer.text());
  } catch { /* shown as it was until the server answers */ }
};

// A second tap on the same button is no second row while the first is on its way: the same was typed
// again or, as the act at hand is done once, nothing. What else is typed is a row of its own.
const isSameTap = (form, button, entries) => waiting().some((row) =>
  !row.isLate && row.form === formName(form) && row.button === (button?.value ?? "")
  && ((form.matches(".bench-form") && isUntouched(form)) || Object.keys(entries).every((name) => entries[name] === row.entries[name])));

// A double tap is one: the answer to its first half may have come, and the next act stands there.
document.addEventListener("click", (event) => {
  if (event.detail > 1 && event.target.closest?.("#bench form[data-row] button")) event.preventDefault();
}, true);

const KEY_BYTES = 16;
const newKey = () => [...crypto.getRandomValues(new Uint8Array(KEY_BYTES))].map((b) => b.toString(16).padStart(2, "0")).join("");
document.addEventListener("submit", (event) => {
  const form = event.target.closest?.("form[data-row]");
  if (!form) return;
  event.preventDefault();
  const entries = Object.fromEntries(new FormData(form, event.submitter));
  if (isSameTap(form, event.submitter, entries)) { form.reset(); return; }
  Object.assign(entries, { key: newKey(), at: String(Math.round(now())), by: read("bench-by", "") });
  if (isMoving(form)) {
    refuse("The scale has not settled. Tap again once it stands still, or type what it shows.");
    return;
  }
  const button = event.submitter ?? form.querySelector("button");
  const amount = entries.amount || entries.temperature || entries.bar || entries.note || "";
  const says = [button?.textContent.trim(), amount].filter(Boolean).join(" ");
  const row = { entries, says, form: formName(form), button: event.submitter?.value ?? "" };
  if (!keep(QUEUE, [...waiting(), row])) { refuse("This device keeps nothing. The row was not written down."); return; }
  // It is kept: what was typed has been said.
  form.reset();
  showWaiting();
  send();
});

// What this page needs is kept, so that it opens without a connection. Browsers keep nothing for pages that
// come over plain HTTP from another machine.
const MOST_KEPT = 80;
const keepPage = async () => {
  if (!("serviceWorker" in navigator) || !globalThis.caches) return;
  await navigator.serviceWorker.register("/bench-worker.js");
  const kept = await caches.open("bench");
  const loaded = performance.getEntriesByType("resource").map((entry) => new URL(entry.name).pathname);
  const needed = [...new Set(loaded.filter((path) => path.startsWith("/assets/")))];
  await kept.addAll([location.pathname, ...needed]);
  const all = await kept.keys();
  for (const old of all.slice(0, Math.max(0, all.length - MOST_KEPT))) await kept.delete(old);
  document.documentElement.dataset.kept = "bench";
};

// A clock that ends rings where this is allowed; it is asked for once.
const offerNotices = () => {
  const button = document.querySelector("[data-notify]");
  if (button) button.hidden = globalThis.Notification?.permission !== "default";
};
document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-notify]")) Notification.requestPermission().then(offerNotices);
});

const named = () => {
  offerNotices();
  const field = document.getElementById("bench-by");
  if (!field) return;
  field.defaultValue = read("bench-by", "");
  field.addEventListener("change", () => {
    field.defaultValue = field.value.trim().slice(0, 60);
    keep("bench-by", field.defaultValue);
  });
};
addEventListener("online", send);
addEventListener("bench:changed", (event) => {
  if (String(event.detail) !== run) return;
  if (isSending) isMissed = true;
  else look();
});
addEventListener("bench:again", () => { send(); look(); });
named();
showWaiting();
stayAwake();
send();
if (navigator.onLine) keepPage().catch(() => { /* it opens with a connection alone */ });
