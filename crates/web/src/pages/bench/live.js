// What instruments read is shown at once, and written into the field that asks for it, unless something
// else is typed there. It is written down with a tap, never by itself.
const bench = () => document.getElementById("bench");
const isUs = () => "us" in bench().dataset;

// With a minus as the rest of the page writes it, and none before what is nothing.
const figure = (value, digits) => {
  const text = value.toFixed(digits);
  return text.replace("-", Number(text) === 0 ? "" : "−");
};
// By where an instrument reads: its name, the fields that it fills, and how its figure is told.
const KINDS = {
  scale: {
    name: "Scale", fields: "#act-amount", whats: ["weighed", "tinted"],
    text: (kg) => `${figure(kg * 1000, kg < 0.1 ? 1 : 0)} g`,
  },
  bucket: {
    name: "Bucket", fields: "input[name=temperature]", whats: ["mix_begun", "read"],
    text: (k) => isUs() ? `${figure(k * 1.8 - 459.67, 1)} °F` : `${figure(k - 273.15, 1)} °C`,
  },
  gauge: {
    name: "Gauge", fields: "#act-bar", whats: ["gauge"],
    text: (bar) => isUs() ? `${figure(bar * 14.503774, 1)} psi` : `${figure(bar, 2)} bar`,
  },
};
const fieldsOf = (kind) => [...bench().querySelectorAll(kind.fields)]
  .filter((field) => kind.whats.includes(field.form?.elements.what?.value));

// A scale that is still filling is not taken over: its last readings have to agree to a gram, or two in a
// thousand.
const STEADY_READINGS = 3;
let lately = [];
const isSteady = () => {
  const most = Math.max(...lately);
  return lately.length === STEADY_READINGS && most - Math.min(...lately) <= Math.max(0.001, most * 0.002);
};
// Whether a form would write down what a scale shows while it is still moving.
export const isMoving = (form) => {
  const field = fieldsOf(KINDS.scale).find((one) => one.form === form);
  return Boolean(field?.dataset.live) && field.value === field.dataset.live && !isSteady();
};

// The line of what the act at hand asks for has its place before anything is read, where the shop has an
// instrument for it: what a finger is on its way to does not move.
const SILENT_MS = 5000;
const last = {};
const show = ({ place, value, doubt }) => {
  const line = document.getElementById("bench-live");
  // An instrument beside it has nothing to say.
  if (line?.dataset.place !== place) return;
  const kind = KINDS[place];
  line.hidden = false;
  // Figure and unit stay in one line.
  line.querySelector("span").textContent = `${kind.name} ${kind.text(value).replace(" ", "\u202f")}${doubt ? " ▲ not believed" : ""}`;
  line.classList.toggle("is-doubted", Boolean(doubt));
  const target = Number(line.dataset.target);
  const left = target - value;
  const isWeighed = place === "scale" && target > 0;
  line.querySelector("b").textContent = !isWeighed ? ""
    : left > 0 ? `${figure(left * 1000, left < 0.1 ? 1 : 0)}\u202fg to go`
    : left < 0 ? `${figure(-left * 1000, 1)}\u202fg over` : "there";
  line.classList.toggle("is-near", isWeighed && Math.abs(left) <= target * 0.05);
};
const fill = ({ place, value }) => {
  const text = KINDS[place].text(value);
  for (const field of fieldsOf(KINDS[place])) {
    const isTyped = field.value !== field.defaultValue && field.value !== field.dataset.live;
    if (isTyped) continue;
    field.value = text;
    field.dataset.live = text;
  }
};
addEventListener("bench:read", ({ detail }) => {
  const kind = KINDS[detail.place];
  if (!kind) return;
  last[detail.place] = { detail, at: performance.now() };
  if (detail.place === "scale") lately = [...lately, detail.value].slice(-STEADY_READINGS);
  show(detail);
  if (!detail.doubt) fill(detail);
});
// After an answer was swapped in: what was read is still told.
export const showAgain = () => {
  const read = last[document.getElementById("bench-live")?.dataset.place];
  if (read && performance.now() - read.at < SILENT_MS) show(read.detail);
};
