// The deepest layer, dragged along the curve of peak against depth: peak and
// layers follow at once, and the plan on release.
import { hold, letGo } from "fondant/hold";

const peakAt = (points, depth) => {
  const next = points.findIndex((p) => p[0] >= depth);
  if (next <= 0) return points[next === 0 ? 0 : points.length - 1][1];
  const [a, b] = [points[next - 1], points[next]];
  return a[1] + ((b[1] - a[1]) * (depth - a[0])) / (b[0] - a[0]);
};

// What a depth is said in and kept to.
const stepOf = (unit) => (unit === "mm" ? 1 : 1 / 16);

// A depth as it is said and kept: no deeper than it is, but of one step at least. Its own figure was
// rounded to a hundredth.
const keptOf = (depth, unit) => {
  const step = stepOf(unit);
  return Math.max(1, Math.floor((depth + 0.005) / step)) * step;
};

// As a rule is read: 38, 1 1/2.
const written = (depth) => {
  const whole = Math.floor(depth);
  let above = (depth - whole) * 16, below = 16;
  if (!above) return String(whole);
  while (above % 2 === 0) [above, below] = [above / 2, below / 2];
  return `${whole ? `${whole} ` : ""}${above}/${below}`;
};

const moveGrip = (grip, figure, depth) => {
  const d = grip.dataset;
  const points = JSON.parse(figure.dataset.points);
  const peak = peakAt(points, depth);
  const x = Number(d.left) + (depth / Number(d.most)) * (Number(d.right) - Number(d.left));
  const share = Math.min(1, Math.max(0, (peak - Number(d.low)) / (Number(d.high) - Number(d.low))));
  const y = Number(d.bottom) - share * (Number(d.bottom) - Number(d.top));
  const [line, reach, knob] = [grip.querySelector("path"), ...grip.querySelectorAll("circle")];
  line.setAttribute("d", `M${x} ${y}V${d.bottom}`);
  for (const circle of [reach, knob]) circle.setAttribute("cx", String(x));
  const text = grip.querySelector("text");
  const atEnd = x > Number(d.right) - 150;
  text.setAttribute("x", String(atEnd ? x - 8 : x + 8));
  text.setAttribute("y", String(Number(d.bottom) - 12));
  text.setAttribute("text-anchor", atEnd ? "end" : "start");
  // What is said is of the depth that is kept.
  const unit = figure.dataset.unit, kept = keptOf(depth, unit);
  const layers = Math.max(1, Math.ceil(Number(figure.dataset.main) / kept - 1e-9));
  const hottest = peakAt(points, kept).toFixed(0);
  text.textContent = `${written(kept)} ${unit}: ${hottest}°, ${layers} ${layers === 1 ? "layer" : "layers"}`;
  grip.setAttribute("aria-valuenow", depth.toFixed(2));
  grip.setAttribute("aria-valuetext", text.textContent);
  grip.dataset.depth = String(depth);
};

const depthAt = (grip, clientX) => {
  const svg = grip.ownerSVGElement;
  const x = new DOMPoint(clientX, 0).matrixTransform(svg.getScreenCTM().inverse()).x;
  const d = grip.dataset;
  const depth = ((x - Number(d.left)) / (Number(d.right) - Number(d.left))) * Number(d.most);
  return Math.min(Number(d.most), Math.max(Number(d.most) / 100, depth));
};

const keepDepth = (grip, figure) => {
  const input = document.getElementById("layer_depth");
  const depth = Number(grip.dataset.depth);
  const unit = figure.dataset.unit;
  input.value = `${written(keptOf(depth, unit))} ${unit}`;
  input.dispatchEvent(new Event("change", { bubbles: true }));
};

export const settleGrips = () => {
  for (const figure of document.querySelectorAll(".depth-drag")) {
    for (const grip of figure.querySelectorAll(".grip")) moveGrip(grip, figure, Number(grip.dataset.depth));
  }
};

let held = null;
// The grip that is held, in the drawing as it is now.
const gripNow = () => document.querySelectorAll(".depth-drag .grip")[held.nth];
const draw = (grip) => {
  grip.classList.add("is-held");
  if (held.depth !== null) moveGrip(grip, grip.closest(".depth-drag"), held.depth);
};
const redraw = () => {
  const grip = gripNow();
  if (!grip) { held = null; return false; }
  draw(grip);
  return true;
};
document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.(".grip");
  if (!grip) return;
  event.preventDefault();
  held = { nth: [...document.querySelectorAll(".depth-drag .grip")].indexOf(grip), depth: null };
  draw(grip);
  hold(redraw);
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  held.depth = depthAt(gripNow(), event.clientX);
  draw(gripNow());
});
for (const end of ["pointerup", "pointercancel"]) {
  document.addEventListener(end, () => {
    if (!held) return;
    const [grip, { depth }] = [gripNow(), held];
    held = null;
    grip.classList.remove("is-held");
    if (end === "pointerup" && depth !== null) keepDepth(grip, grip.closest(".depth-drag"));
    letGo();
  });
}
document.addEventListener("keydown", (event) => {
  const grip = event.target.closest?.(".grip");
  const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
  if (!grip || !(step || event.key === "Enter")) return;
  event.preventDefault();
  const figure = grip.closest(".depth-drag");
  if (event.key === "Enter") return keepDepth(grip, figure);
  const by = stepOf(figure.dataset.unit);
  const depth = Math.min(Number(grip.dataset.most), Math.max(by, Number(grip.dataset.depth) + step * by));
  moveGrip(grip, figure, depth);
});
