// A tap on the piece fills the place of the fault that is being marked.

document.addEventListener("click", (event) => {
  const map = event.target.closest?.("svg.fault-map");
  const box = map?.closest(".fault-map-box");
  if (!box) return;
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(map.getScreenCTM().inverse());
  const { scale, around, unit } = box.dataset;
  const metres = [point.x, point.y].map((px) => Math.max(0, (px - Number(around)) / Number(scale)));
  const says = metres.map((m) => unit === "in" ? `${(m / 0.0254).toFixed(2)} in` : `${Math.round(m * 1000)} mm`);
  ["at_x", "at_y"].forEach((name, index) => {
    const field = document.getElementById(name);
    if (field) field.value = says[index];
  });
});
