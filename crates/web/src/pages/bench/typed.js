// What somebody has typed or chosen at the bench and not yet tapped: it outlives every answer that is
// swapped in, whether its field still has the focus or not.

// What a form asks for: the act at hand is another form than the one below that asks for the same, and
// the amount of one colour is nothing to the next.
export const formName = (form) => [...form.querySelectorAll("input[type=hidden]")]
  .map((field) => `${field.name}=${field.value}`).concat(form.classList.contains("bench-form") ? "act" : "").join("&");

const isChanged = (field) => {
  if (!field.matches("input:not([type=hidden]), select")) return false;
  if (field.type === "checkbox") return field.checked !== field.defaultChecked;
  if (field.tagName === "SELECT") {
    const begun = [...field.options].findIndex((option) => option.defaultSelected);
    return field.selectedIndex !== Math.max(0, begun);
  }
  // What an instrument wrote there is nobody's; the next reading writes it again.
  return field.value !== field.defaultValue && field.value !== field.dataset.live;
};

// Whether nobody has typed or chosen anything in it.
export const isUntouched = (form) => ![...form.elements].some((field) => field.name && isChanged(field));

const forms = () => [...document.querySelectorAll("#bench form[data-row]")];

// What a field, a button or a line that folds is called: it is called the same after an answer.
const nameOf = (it) => [
  it.tagName, it.id, it.form ? formName(it.form) : "", it.name ?? "",
  it.tagName === "BUTTON" ? it.value : "", it.matches("a, summary") ? it.ariaLabel ?? it.textContent : "",
].join(" ");
const find = (name) => [...document.querySelectorAll("#bench :is(a, button, input, select, summary)")]
  .find((it) => nameOf(it) === name);

const fields = () => [...document.querySelectorAll("#bench form[data-row] :is(input, select)[name], #bench-by")];

// What was typed, field by field, what is folded open, and where the next key goes: into a field that is
// still empty, too.
export const typed = () => {
  const it = document.activeElement;
  const at = it?.closest("#bench") ? { name: nameOf(it), range: [it.selectionStart, it.selectionEnd] } : null;
  const written = fields().filter(isChanged)
    .map((field) => ({ name: nameOf(field), value: field.value, isTicked: field.checked }));
  const open = [...document.querySelectorAll("#bench details[open] > summary")].map(nameOf);
  return { written, open, at };
};

// Puts it back into the page as it is now. What is no longer asked for is dropped.
export const putBack = ({ written, open, at }) => {
  for (const name of open) find(name)?.parentElement.setAttribute("open", "");
  for (const one of written) {
    const field = find(one.name);
    if (!field) continue;
    if (field.type === "checkbox") field.checked = one.isTicked; else field.value = one.value;
  }
  const it = at && find(at.name);
  it?.focus({ preventScroll: true });
  if (it && at.range[0] != null) it.setSelectionRange(...at.range);
};

// What was refused stands in its form again, as it was typed.
export const putBackRow = ({ form: name, entries }) => {
  const form = forms().find((other) => formName(other) === name);
  for (const field of form?.elements ?? []) {
    if (field.name in entries && field.matches("input[type=text], input:not([type])") && !isChanged(field)) field.value = entries[field.name];
  }
};
