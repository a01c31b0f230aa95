// Lists whose rows come and go: components for Alpine.

// Names of a row's fields end in a hyphen and its number: a copy gets the next number.
const renumber = (row, old, number) => {
  row.dataset.row = number;
  for (const element of row.querySelectorAll("[id], [name], [for]")) {
    for (const name of ["id", "name", "for"]) {
      const value = element.getAttribute(name);
      if (value?.endsWith(`-${old}`)) element.setAttribute(name, value.slice(0, -old.length) + number);
    }
  }
};

const changed = (form) => form.dispatchEvent(new Event("change", { bubbles: true }));

document.addEventListener("alpine:init", () => {
  // A list of groups of fields: each row's fields carry its number.
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
      changed(form);
      fresh.querySelector("input[type=text]")?.focus();
    },
    remove(event) {
      const row = event.target.closest(".row-item");
      const form = row.closest("form");
      row.remove();
      changed(form);
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
      changed(form);
    },
  }));
});

// A station that is being typed is sent once its row is left or complete, so that nobody is told of a
// missing width while reading it off the tape.
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
  changed(row.closest("form"));
});
