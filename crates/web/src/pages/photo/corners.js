// Four corners and a length to check by on a photo: dragged, or moved by arrow keys. They live in the
// form's fields, so that what is seen is what is sent.

const placeCorners = () => {
  const box = document.getElementById("corners");
  if (!box || box.querySelector("svg")) return;
  const width = Number(box.dataset.width), height = Number(box.dataset.height);
  const names = ["1", "2", "3", "4", "a", "b"];
  const fields = ["corner0", "corner1", "corner2", "corner3", "end0", "end1"].map((id) => document.getElementById(id));
  const ns = "http://www.w3.org/2000/svg";
  const make = (name, attributes, parent) => {
    const element = document.createElementNS(ns, name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
    parent.append(element);
    return element;
  };
  const svg = make("svg", { viewBox: `0 0 ${width} ${height}`, class: "corner-marks" }, box);
  const quad = make("polygon", { class: "corner-quad" }, svg);
  const rule = make("polyline", { class: "corner-rule" }, svg);
  const unit = width / 100;
  const handles = fields.map((field, i) => {
    const group = make("g", { class: i < 4 ? "corner" : "corner end-mark", tabindex: "0", role: "slider", "aria-label": i < 4 ? `Corner ${names[i]}` : `End ${names[i]}` }, svg);
    make("circle", { r: unit * 3.2, class: "target" }, group);
    make("circle", { r: unit * 1.1 }, group);
    make("path", { d: `M${-unit * 2.4} 0H${-unit * 0.3}M${unit * 0.3} 0H${unit * 2.4}M0 ${-unit * 2.4}V${-unit * 0.3}M0 ${unit * 0.3}V${unit * 2.4}` }, group);
    const text = make("text", { x: unit * 1.5, y: -unit * 1.5, }, group);
    // A stylesheet's size beats an attribute's.
    text.style.fontSize = `${unit * 2.6}px`;
    text.textContent = names[i];
    return group;
  });
  const point = (i) => {
    const [x, y] = fields[i].value.split(",").map(Number);
    return Number.isFinite(x) && Number.isFinite(y) ? [x, y] : [width / 2, height / 2];
  };
  const draw = () => {
    handles.forEach((handle, i) => {
      const [x, y] = point(i);
      handle.setAttribute("transform", `translate(${x} ${y})`);
      handle.setAttribute("aria-valuetext", `${Math.round(x)}, ${Math.round(y)} pixels`);
    });
    quad.setAttribute("points", [0, 1, 2, 3].map((i) => point(i).join(",")).join(" "));
    rule.setAttribute("points", [4, 5].map((i) => point(i).join(",")).join(" "));
  };
  const put = (i, x, y) => {
    const held = (v, most) => Math.min(Math.max(v, 0), most).toFixed(1).replace(/\.0$/, "");
    fields[i].value = `${held(x, width)},${held(y, height)}`;
    draw();
  };
  handles.forEach((handle, i) => {
    handle.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      handle.focus();
      handle.setPointerCapture(event.pointerId);
    });
    handle.addEventListener("pointermove", (event) => {
      if (!handle.hasPointerCapture(event.pointerId)) return;
      const frame = svg.getBoundingClientRect();
      put(i, (event.clientX - frame.left) / frame.width * width, (event.clientY - frame.top) / frame.height * height);
    });
    handle.addEventListener("keydown", (event) => {
      const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!step) return;
      event.preventDefault();
      const by = event.shiftKey ? 10 : 1;
      const [x, y] = point(i);
      put(i, x + step[0] * by, y + step[1] * by);
    });
    fields[i].addEventListener("input", draw);
  });
  draw();
};
document.addEventListener("DOMContentLoaded", placeCorners);
