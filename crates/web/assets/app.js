// Behaviour of the pages. Markup only names what stands here, as the
// Content-Security-Policy allows no script in it.

// Fields of a row carry its number behind a hyphen: a copy gets another one.
const renumber = (row, old, number) => {
  row.dataset.row = number;
  for (const element of row.querySelectorAll("[id], [name], [for]")) {
    for (const name of ["id", "name", "for"]) {
      const value = element.getAttribute(name);
      if (value?.endsWith(`-${old}`)) element.setAttribute(name, value.slice(0, -old.length) + number);
    }
  }
};

document.addEventListener("alpine:init", () => {
  Alpine.data("themeSwitch", () => ({
    evening: document.documentElement.dataset.theme === "evening",
    get label() { return this.evening ? "Day shop" : "Evening shop"; },
    toggle() {
      this.evening = !this.evening;
      const theme = this.evening ? "evening" : "day";
      document.documentElement.dataset.theme = theme;
      try { localStorage.setItem("theme", theme); } catch { /* kept for this page only */ }
    },
  }));

  // A list whose rows come and go: each row's fields carry its number.
  Alpine.data("airWays", () => ({
    init() { this.choose(); },
    choose() {
      const chosen = this.$root.querySelector("select[name=air]").value;
      for (const way of this.$root.querySelectorAll(".air-way")) way.hidden = way.dataset.way !== chosen;
    },
  }));
  Alpine.data("logFile", () => ({
    async read(event) {
      const [file] = event.target.files;
      if (file) this.$refs.log.value = await file.text();
    },
  }));
  Alpine.data("rowList", () => ({
    add() {
      const rows = this.$refs.rows;
      const last = rows.lastElementChild;
      const form = this.$root.closest("form");
      if (!last) return;
      const numbers = [...rows.children].map((row) => Number(row.dataset.row));
      const [old, number] = [last.dataset.row, String(Math.max(...numbers) + 1)];
      const fresh = last.cloneNode(true);
      renumber(fresh, old, number);
      fresh.querySelector("input[type=hidden]").value = number;
      last.after(fresh);
      form.dispatchEvent(new Event("change", { bubbles: true }));
      fresh.querySelector("input[type=text]")?.focus();
    },
    remove(event) {
      const row = event.target.closest(".row-item");
      const form = row.closest("form");
      row.remove();
      form.dispatchEvent(new Event("change", { bubbles: true }));
    },
  }));

  // The rows of stations: a new one goes in after a row or at the end.
  Alpine.data("stationRows", () => ({
    add() { this.insertAfter(this.$refs.rows.querySelector("tr:last-child")); },
    insert(event) { this.insertAfter(event.target.closest("tr")); },
    insertAfter(row) {
      const fresh = row.cloneNode(true);
      fresh.classList.remove("here");
      for (const input of fresh.querySelectorAll("input")) {
        for (const name of ["id", "value", "aria-invalid", "aria-describedby"]) input.removeAttribute(name);
        input.value = "";
      }
      for (const note of fresh.querySelectorAll(".other")) note.textContent = "";
      row.after(fresh);
      fresh.querySelector("input").focus();
    },
    remove(event) {
      const row = event.target.closest("tr");
      const form = row.closest("form");
      row.remove();
      form.dispatchEvent(new Event("change", { bubbles: true }));
    },
  }));
});

// A file that is picked is read into the box beside it, where it can be seen.
document.addEventListener("change", async (event) => {
  const into = event.target.dataset?.into;
  const file = into && event.target.files?.[0];
  if (file) document.getElementById(into).value = await file.text();
});

// On a phone the rail runs across; the station shown is brought into sight.
// Only the rail is moved: a page that scrolled by itself would lose its strip.
const rail = document.querySelector(".rail");
const here = rail?.querySelector("a[aria-current]");
if (here) rail.scrollLeft = here.offsetLeft - (rail.clientWidth - here.offsetWidth) / 2;

const isTyping = (target) =>
  target instanceof HTMLElement && target.matches("input, select, textarea, [contenteditable]");

// Digits jump to stations; Ctrl+Z and Ctrl+Y undo and redo.
document.addEventListener("keydown", (event) => {
  if (isTyping(event.target)) return;
  if ((event.ctrlKey || event.metaKey) && !event.altKey) {
    const act = { z: event.shiftKey ? "redo" : "undo", y: "redo" }[event.key.toLowerCase()];
    const button = act && document.querySelector(`button[data-act="${act}"]`);
    if (button && !button.disabled) { event.preventDefault(); button.click(); }
    return;
  }
  if (event.altKey) return;
  // A letter chooses among what is compared.
  const compared = /^[a-z]$/.test(event.key) && document.querySelector(`.choice[data-key="${event.key}"] input`);
  if (compared) { compared.click(); return; }
  if (!/^[1-9]$/.test(event.key)) return;
  document.querySelector(`a[data-digit="${event.key}"]`)?.click();
});

// A station that is being typed is sent once its row is left or complete, so
// that nobody is told of a missing width while reading it off the tape.
const isHalfTyped = (row) => {
  const texts = [...row.querySelectorAll("input")].map((input) => input.value.trim());
  return (texts[0] === "") !== (texts[1] === "");
};
document.addEventListener("change", (event) => {
  const row = event.target.closest?.(".stations-table tbody tr");
  if (row && isHalfTyped(row)) event.stopPropagation();
}, true);
document.addEventListener("focusout", (event) => {
  const row = event.target.closest?.(".stations-table tbody tr");
  if (!row?.isConnected || row.contains(event.relatedTarget) || !isHalfTyped(row)) return;
  row.closest("form").dispatchEvent(new Event("change", { bubbles: true }));
});

// Changes on their way to the server. A link that is followed meanwhile waits
// for them, and is not followed at all where one is refused: the maker stays
// with the sentence at the field instead of losing what was typed.
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
  if ((event.detail.ctx.response?.status ?? 0) >= 400) waitingLink = null;
  if (onTheirWay > 0 || waitingLink === null) return;
  const address = waitingLink;
  waitingLink = null;
  location.assign(address);
});

// A change may wait while the one before it is on its way. It is then made on
// the revision that this tab shows once the first has been answered. It
// outlives the page, should the tab be closed.
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

document.addEventListener("htmx:finally:request", () => {
  document.documentElement.classList.remove("is-working");
});

// The server could not be reached: say so, and keep what was typed.
document.addEventListener("htmx:error", () => {
  const notice = document.getElementById("unreachable");
  if (notice) notice.hidden = false;
});
document.addEventListener("htmx:after:request", () => {
  const notice = document.getElementById("unreachable");
  if (notice) notice.hidden = true;
});
