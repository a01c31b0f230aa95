// What somebody has typed or chosen at the bench and not yet tapped: it outlives every answer that is
// swapped in, whether its field still has the focus or not.

// What a form asks for: the act at hand is another form than the one below that asks for the same, and
// the amount of one colour is nothing to the next.
export const formName = (form) => [...form.querySelectorAll("input[type=hidden]")]
  .map((field) => `${field.name}=${field.value}`).concat(form.classList.contains("bench-form") ? "act" : "").join("&");

const isChanged = (field) => {
  if (!field.matches("input:not([type=hidden]), select") || field.id === "bench-by") return false;
  if (field.type === "checkbox") return field.checked !== field.defaultChecked;
  if (field.tagName === "SELECT") {
    const begun = [...field.options].findIndex((option) => option.defaultSelected);
    return field.selectedIndex !== Math.max(0, begun);
  }
  // What an instrument wrote there is nobody's; the next reading writes it again.
  return field.value !== field.defaultValue && field.value !== field.dataset.live;
};

const forms = () => [...document.querySelectorAll("#bench form[data-row]")];

// What was typed, field by field.
export const typed = () => forms().flatMap((form) =>
  [...form.elements].filter((field) => field.name && isChanged(field)).map((field) => ({
    form: formName(form), name: field.name, value: field.value, isTicked: field.checked,
    hasFocus: field === document.activeElement,
  })));

// Puts it back into the forms as they are now. What is no longer asked for is dropped.
export const putBack = (all) => {
  for (const one of all) {
    const field = forms().find((form) => formName(form) === one.form)?.elements[one.name];
    if (!field) continue;
    if (field.type === "checkbox") field.checked = one.isTicked; else field.value = one.value;
    const folded = field.closest("details");
    if (folded) folded.open = true;
    if (one.hasFocus) field.focus();
  }
};

// What was refused stands in its form again, as it was typed.
export const putBackRow = ({ form: name, entries }) => {
  const form = forms().find((other) => formName(other) === name);
  for (const field of form?.elements ?? []) {
    if (field.name in entries && field.matches("input[type=text], input:not([type])") && !isChanged(field)) field.value = entries[field.name];
  }
};
