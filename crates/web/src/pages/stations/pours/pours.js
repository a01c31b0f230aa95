// The time axis: pours and boundaries of layers that are dragged, and its zoom.
// While one is held the server says what moving it would do; it is kept when
// let go.
import { hold, letGo } from "fondant/hold";

const GRID = 900;

export const axisOf = (svg) => {
  const plane = svg.querySelector(".axis-plane");
  const [from, to] = [Number(plane.dataset.from), Number(plane.dataset.to)];
  const [x, width] = [Number(plane.getAttribute("x")), Number(plane.getAttribute("width"))];
  // The drawing is exchanged while it is held: what it spans now counts.
  const inverse = svg.getScreenCTM().inverse();
  const second = (clientX) => {
    const point = new DOMPoint(clientX, 0).matrixTransform(inverse);
    return Math.min(to, Math.max(from, from + ((point.x - x) / width) * (to - from)));
  };
  return { second, at: (clientX) => Math.round(second(clientX) / GRID) * GRID };
};

const keepMove = (values) => {
  const address = document.getElementById("pour-axis").dataset.move;
  const revision = document.getElementById("workspace").dataset.revision;
  return htmx.ajax("POST", address, {
    target: "#workspace", swap: "outerMorph", values: { revision, ...values },
  });
};

// One preview is on its way at a time; the newest wish waits for it.
let asking = false;
let wish = null;
const preview = async (pour, at) => {
  wish = { pour, at };
  if (asking) return;
  asking = true;
  while (wish) {
    const { pour, at } = wish;
    wish = null;
    const box = document.getElementById("pour-axis");
    try {
      const answer = await fetch(`${box.dataset.try}?pour=${pour}&at=${at}`);
      if (answer.ok && (held || moving)) {
        const left = box.querySelector(".axis-scroll")?.scrollLeft ?? 0;
        box.innerHTML = await answer.text();
        box.querySelector(".axis-scroll").scrollLeft = left;
        box.querySelector(`.pour-flag[data-pour="${pour}"]`)?.classList.add("is-held");
      }
    } catch { /* the page says so itself once something is kept */ }
  }
  asking = false;
};

let held = null;
const redrawFlag = () => {
  const flag = document.querySelector(`#pour-axis .pour-flag[data-pour="${held.pour}"]`);
  if (!flag) { held = null; return false; }
  preview(held.pour, held.at);
  return true;
};
document.addEventListener("pointerdown", (event) => {
  const flag = event.target.closest?.(".pour-flag[data-pour]");
  if (!flag) return;
  event.preventDefault();
  const box = document.getElementById("pour-axis");
  box.setPointerCapture(event.pointerId);
  const axis = axisOf(flag.ownerSVGElement);
  const grabbed = axis.at(event.clientX);
  held = { pour: Number(flag.dataset.pour), start: Number(flag.dataset.at), grabbed, axis };
  held.at = held.start;
  flag.classList.add("is-held");
  hold(redrawFlag);
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const at = held.start + held.axis.at(event.clientX) - held.grabbed;
  if (at === held.at) return;
  held.at = at;
  preview(held.pour, at);
});
for (const end of ["pointerup", "pointercancel"]) {
  document.addEventListener(end, () => {
    if (!held) return;
    const { pour, at, start } = held;
    held = null;
    if (end === "pointerup" && at !== start) keepMove({ pour, at });
    letGo();
  });
}

// Keys move a pour by a quarter of an hour, with shift by an hour; it is kept
// by Enter or when the flag is left.
let moving = null;
const keepMoved = () => {
  if (!moving) return;
  const { pour, at } = moving;
  moving = null;
  keepMove({ pour, at });
};
document.addEventListener("keydown", (event) => {
  const flag = event.target.closest?.(".pour-flag[data-pour]");
  if (!flag) return;
  const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
  if (event.key === "Enter") { event.preventDefault(); keepMoved(); return; }
  if (!step) return;
  event.preventDefault();
  const pour = Number(flag.dataset.pour);
  const before = moving?.pour === pour ? moving.at : Number(flag.dataset.at);
  moving = { pour, at: before + step * GRID * (event.shiftKey ? 4 : 1) };
  preview(pour, moving.at).then(() => {
    document.querySelector(`#pour-axis svg:not(.narrow) .pour-flag[data-pour="${pour}"]`)?.focus();
  });
});
document.addEventListener("pointerdown", (event) => {
  if (moving && !event.target.closest?.(".pour-flag")) keepMoved();
});

// Boundaries of layers, up and down on the section.
let lifted = null;
const levelsOf = (svg) => [...svg.querySelectorAll(".layer-grip")].map((g) => g.dataset.mm).join(" ");
const mainGrips = (svg) => [...svg.querySelectorAll(".layer-grip:not([data-stage])")];
const gripOf = ({ index }) => document.querySelector(`.layer-grip[data-index="${index}"]`);
// The boundary that is held, among the levels it was taken from.
const redrawLevel = () => {
  const grip = gripOf(lifted);
  if (!grip || levelsOf(grip.ownerSVGElement) !== lifted.levels) { lifted = null; return false; }
  if (lifted.mm !== null) showLevel(grip, lifted.mm);
  return true;
};
const levelAt = (svg, clientY) => {
  const plane = svg.querySelector(".layers-plane");
  const [y, height] = [Number(plane.getAttribute("y")), Number(plane.getAttribute("height"))];
  const point = new DOMPoint(0, clientY).matrixTransform(svg.getScreenCTM().inverse());
  return Math.round((1 - (point.y - y) / height) * Number(plane.dataset.to) * 2) / 2;
};
const bounded = (grip, mm) => {
  // A stage keeps its other edge; how deep it may be the server says.
  if (grip.dataset.stage) {
    const [level, other] = [Number(grip.dataset.mm), Number(grip.dataset.other)];
    return level > other ? Math.max(other + 0.5, mm) : Math.min(other - 0.5, mm);
  }
  const all = mainGrips(grip.ownerSVGElement).map((g) => Number(g.dataset.mm));
  const index = Number(grip.dataset.index);
  const top = Number(grip.ownerSVGElement.querySelector(".layers-plane").dataset.to);
  const [low, high] = [index > 0 ? all[index - 1] : 0, all[index + 1] ?? top];
  return Math.min(high - 1, Math.max(low + 1, mm));
};
const showLevel = (grip, mm) => {
  const plane = grip.ownerSVGElement.querySelector(".layers-plane");
  const [y, height] = [Number(plane.getAttribute("y")), Number(plane.getAttribute("height"))];
  const at = y + height * (1 - mm / Number(plane.dataset.to));
  const was = Number(grip.querySelector("circle").getAttribute("cy"));
  grip.setAttribute("transform", `translate(0 ${at - was})`);
  grip.dataset.wished = mm;
  grip.setAttribute("aria-valuenow", mm);
  grip.setAttribute("aria-valuetext", `${mm} mm`);
};
const keepStage = (grip) => {
  const form = document.getElementById("station-form");
  const depth = Math.abs(Number(grip.dataset.wished ?? grip.dataset.mm) - Number(grip.dataset.other));
  form.elements[`stage_depth-${grip.dataset.stage}`].value = `${depth.toFixed(2)} mm`;
  form.requestSubmit();
};
const keepLevels = (grip) => {
  if (grip.dataset.stage) { keepStage(grip); return; }
  const form = document.getElementById("station-form");
  const levels = mainGrips(grip.ownerSVGElement).map((g) => `${g.dataset.wished ?? Number(g.dataset.mm).toFixed(2)} mm`);
  form.elements.split.value = "by_hand";
  let field = form.elements.levels;
  if (!field) {
    field = document.createElement("input");
    Object.assign(field, { type: "hidden", name: "levels" });
    form.append(field);
  }
  field.value = levels.join("; ");
  form.requestSubmit();
};
document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.(".layer-grip");
  if (!grip) return;
  event.preventDefault();
  lifted = { index: grip.dataset.index, levels: levelsOf(grip.ownerSVGElement), mm: null };
  hold(redrawLevel);
});
document.addEventListener("pointermove", (event) => {
  if (!lifted) return;
  const grip = gripOf(lifted);
  lifted.mm = bounded(grip, levelAt(grip.ownerSVGElement, event.clientY));
  showLevel(grip, lifted.mm);
});
for (const end of ["pointerup", "pointercancel"]) {
  document.addEventListener(end, () => {
    if (!lifted) return;
    const { mm } = lifted;
    const grip = gripOf(lifted);
    lifted = null;
    if (end === "pointerup" && mm !== null) keepLevels(grip);
    letGo();
  });
}
document.addEventListener("keydown", (event) => {
  const grip = event.target.closest?.(".layer-grip");
  const step = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key];
  if (!grip || !(step || event.key === "Enter")) return;
  event.preventDefault();
  if (event.key === "Enter") { keepLevels(grip); return; }
  showLevel(grip, bounded(grip, Number(grip.dataset.wished ?? grip.dataset.mm) + step));
});

// Zoom: the days get wider and the axis scrolls; + and − do it too.
const ZOOMS = [["1", "whole"], ["2", "2 × wider"], ["4", "4 × wider"]];
const zoomBy = (by) => {
  const now = ZOOMS.findIndex(([zoom]) => zoom === (document.documentElement.dataset.zoom ?? "1"));
  const [zoom, says] = ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, now + by))];
  document.documentElement.dataset.zoom = zoom;
  for (const output of document.querySelectorAll(".zoom-says")) output.textContent = says;
};
document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-zoom=in], [data-zoom=out]");
  if (button) zoomBy(button.dataset.zoom === "in" ? 1 : -1);
});
document.addEventListener("keydown", (event) => {
  if (!document.getElementById("pour-axis") || event.target.matches?.("input, select, textarea")) return;
  if (document.documentElement.dataset.keys === "off") return;
  if (event.key === "+" || event.key === "=") zoomBy(1);
  if (event.key === "-") zoomBy(-1);
});

// Fields that only filter the view, or that have a button of their own, do not change the plan.
document.addEventListener("change", (event) => {
  if (event.target.closest?.("[data-looks-only]")) event.stopPropagation();
}, true);
