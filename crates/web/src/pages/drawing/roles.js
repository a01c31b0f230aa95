// What a line is chosen to be shows in the drawing at once.
const classes = ["is-board", "is-hole", "is-underside", "is-form", "is-out"];

function lines(select) {
  const index = select.name.slice("role-".length);
  return document.querySelectorAll(`[data-line="${index}"]`);
}

document.addEventListener("change", (event) => {
  const select = event.target.closest?.("select[name^=role-]");
  if (!select) return;
  for (const line of lines(select)) {
    line.classList.remove(...classes);
    line.classList.add(`is-${select.value}`);
  }
});

// The line whose row is in hand stands out.
function mark(event) {
  const select = event.target.closest?.("tr")?.querySelector("select[name^=role-]");
  for (const line of document.querySelectorAll(".drawn.is-meant")) line.classList.remove("is-meant");
  for (const line of select ? lines(select) : []) line.classList.add("is-meant");
}
document.addEventListener("mouseover", mark);
document.addEventListener("focusin", mark);
