// A tap on the piece, or on its section, fills the place of the fault that is being marked.

const told = (metres, unit) =>
  unit === "in" ? `${(metres / 0.0254).toFixed(2)} in` : `${Math.round(metres * 1000)} mm`;

function fill(places, unit) {
  for (const [name, metres] of Object.entries(places)) {
    const field = document.getElementById(name);
    if (field) field.value = told(Math.max(0, metres), unit);
  }
}

const tapped = (svg, event) =>
  new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());

function onMap(map, event) {
  const { scale, around, unit } = map.closest(".fault-map-box").dataset;
  const { x, y } = tapped(map, event);
  const metres = (px) => (px - Number(around)) / Number(scale);
  fill({ at_x: metres(x), at_y: metres(y) }, unit);
}

function onSection(svg, event) {
  const { width, at, unit } = svg.closest(".fault-section-box").dataset;
  const plane = svg.querySelector(".section-plane");
  const { x, y } = tapped(svg, event);
  const share = (px, from, size) => Math.min(1, Math.max(0, (px - Number(plane.getAttribute(from))) / Number(plane.getAttribute(size))));
  const across = (share(x, "x", "width") * Number(width)) / 1000;
  const above = ((1 - share(y, "y", "height")) * Number(plane.dataset.to)) / 1000;
  // Where it is along the piece stays as it was tapped or typed.
  const along = document.getElementById("at_x")?.value ? {} : { at_x: Number(at) / 1000 };
  fill({ ...along, at_y: across, at_z: above }, unit);
}

document.addEventListener("click", (event) => {
  const svg = event.target.closest?.("svg");
  if (svg?.closest(".fault-map-box")) onMap(svg, event);
  if (svg?.closest(".fault-section-box")) onSection(svg, event);
});
