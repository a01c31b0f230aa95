// The form from above as it is seen: boards, handles, dimensions, marks, the
// line of the section. What the hand does to it is in editor.js.

import { area, cutAt, lowerRing, path, readLength, readRings, showLength } from "fondant/outlines";

const NS = "http://www.w3.org/2000/svg";
const TALLEST_PX = 470;

const svgElement = (name, attributes, parent) => {
  const element = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent?.append(element);
  return element;
};

// A stylesheet's size beats an attribute's: text of the drawing is sized by hand.
const sizeText = (text, pixels, scale) => { text.style.fontSize = `${pixels / scale}px`; };

export class Drawing {
  constructor(box) {
    this.box = box;
    // Ring 0 is the rim of the board, the others its holes.
    this.chosen = { board: 0, ring: 0, point: -1, edge: -1 };
    this.view = null;
    addEventListener("resize", () => this.size());
  }

  // Draws everything again from the fields and the frame that the server sent.
  load() {
    const wasAtIt = this.svg && document.activeElement === this.svg;
    const data = JSON.parse(this.box.dataset.editor);
    Object.assign(this, { data, unit: this.box.dataset.unit, cut: data.cut });
    this.boards = [...document.querySelectorAll(".board-item")].map((item) => {
      const number = item.dataset.row;
      const field = (name) => document.getElementById(`${name}-${number}`);
      const rings = readRings(field("outline").value);
      const bevels = field("bevels").value.trim().split(/\s+/).filter(Boolean).map(Number);
      return { item, number, rings, bevels, field, thickness: readLength(field("b_thickness").value, this.unit) ?? 0,
        name: item.querySelector("legend").textContent.trim(), lower: readRings(field("lower").value) };
    });
    this.chosen.board = Math.min(this.chosen.board, this.boards.length - 1);
    this.build();
    this.inspect();
    if (wasAtIt) this.svg.focus({ preventScroll: true });
    this.isLate = false;
  }

  build() {
    const { length, width } = this.data;
    this.box.replaceChildren();
    const tools = document.createElement("div");
    tools.className = "editor-tools";
    const tool = (label, title, act) => {
      const button = Object.assign(document.createElement("button"), { type: "button", className: "plain", textContent: label, title });
      button.addEventListener("click", () => act.call(this));
      tools.append(button);
    };
    tool("Fit", "Show the whole form (0)", this.fit);
    tool("+", "Nearer (+)", () => this.zoom(1.25));
    tool("−", "Farther (−)", () => this.zoom(0.8));
    tool("Turn", "Turn the board by a quarter (R)", () => this.turn(90));
    tool("Flip", "Turn the board over along its length (F)", this.flip);
    tool("Copy", "Lay a copy beside it (D)", this.copy);
    tool("New board", "Draw a new board (N)", this.fresh);
    tool("Hole", "Cut a hole into the board (H)", this.addHole);
    tool("Add point", "Add a point in the middle of the chosen edge (I)", this.addPoint);
    tool("Delete point", "Delete the chosen point (Delete)", this.deletePoint);
    this.readout = Object.assign(document.createElement("span"), { className: "readout" });
    this.readout.setAttribute("aria-live", "polite");
    tools.append(this.readout);
    this.svg = svgElement("svg", { class: "editor-drawing", tabindex: "0", role: "application",
      "aria-label": "The form from above. Tab goes from board to board, comma and full stop from point to point; arrows move what is chosen." });
    this.box.append(tools, this.svg);
    svgElement("rect", { class: "resin", x: 0, y: 0, width: length, height: width }, this.svg);
    if (this.data.backdrop) {
      const { href, length: l, width: w } = this.data.backdrop;
      svgElement("image", { href, x: 0, y: 0, width: l, height: w, preserveAspectRatio: "none", class: "backdrop" }, this.svg);
    }
    this.shapes = this.boards.map((board, i) => {
      const group = svgElement("g", { class: "board-shape", "data-board": i }, this.svg);
      board.under = svgElement("path", { class: "underside", d: "" }, group);
      board.face = svgElement("path", { class: this.data.backdrop ? "timber-glass" : "timber-face", "fill-rule": "evenodd" }, group);
      board.label = svgElement("text", { class: "mid on-timber bold" }, group);
      board.label.textContent = board.name;
      return group;
    });
    this.wall = svgElement("rect", { class: "wall thin", x: 0, y: 0, width: length, height: width }, this.svg);
    this.edgeLine = svgElement("path", { class: "edge-chosen", d: "" }, this.svg);
    this.marks = svgElement("g", {}, this.svg);
    this.cutLine = svgElement("g", { class: "cut-line", tabindex: "0", role: "slider", "aria-label": "Where the section is cut" }, this.svg);
    svgElement("path", { class: "target", d: "" }, this.cutLine);
    svgElement("path", { class: "brass-line", d: "" }, this.cutLine);
    svgElement("path", { class: "brass", d: "" }, this.cutLine);
    this.dimensions = svgElement("g", {}, this.svg);
    this.handles = svgElement("g", {}, this.svg);
    this.listen();
    this.size();
    this.boards.forEach((board) => this.drawBoard(board));
    this.drawChosen();
  }

  // ---- what is seen

  fit() {
    this.view = null;
    this.size();
  }

  // As high as the form asks for, within reason; seen whole until somebody zooms.
  size() {
    if (!this.svg?.isConnected) return;
    const { length, width } = this.data;
    const pixels = this.svg.clientWidth || 900, edge = 36;
    const whole = Math.min(pixels / (length * 1.1 + 16), (TALLEST_PX - 2 * edge) / width);
    const high = Math.max(width * whole + 2 * edge, 200);
    this.svg.style.height = `${Math.round(high)}px`;
    this.view ??= { x: (length - pixels / whole) / 2, y: (width - high / whole) / 2, w: pixels / whole };
    this.scale = pixels / this.view.w;
    this.viewHeight = high / this.scale;
    const { x, y, w } = this.view;
    this.svg.setAttribute("viewBox", `${x} ${y} ${w} ${this.viewHeight}`);
    this.drawChosen();
    this.boards.forEach((board) => this.drawLabel(board));
    this.drawCut();
    this.drawMarks();
    this.drawFrame();
  }

  zoom(by, at) {
    const focus = at ?? [this.view.x + this.view.w / 2, this.view.y + this.viewHeight / 2];
    const w = Math.min(Math.max(this.view.w / by, 40), this.data.length * 6);
    const k = w / this.view.w;
    this.view = { x: focus[0] - (focus[0] - this.view.x) * k, y: focus[1] - (focus[1] - this.view.y) * k, w };
    this.size();
  }

  place(event) {
    const frame = this.svg.getBoundingClientRect();
    return [this.view.x + (event.clientX - frame.left) / this.scale, this.view.y + (event.clientY - frame.top) / this.scale];
  }

  // ---- drawing

  drawBoard(board) {
    board.face.setAttribute("d", path(board.rings));
    board.under.setAttribute("d", this.lowerOf(board));
    this.drawLabel(board);
  }

  drawLabel(board) {
    const xs = board.rings[0]?.map((p) => p[0]) ?? [], ys = board.rings[0]?.map((p) => p[1]) ?? [];
    if (!xs.length || !board.label) return;
    sizeText(board.label, 13, this.scale);
    board.label.setAttribute("x", (Math.min(...xs) + Math.max(...xs)) / 2);
    board.label.setAttribute("y", (Math.min(...ys) + Math.max(...ys)) / 2 + 4 / this.scale);
  }

  lowerOf(board) {
    const lower = lowerRing(board);
    return lower === board.rings[0] ? "" : path([lower]);
  }

  // The rim or the hole in hand.
  get ring() {
    return this.boards[this.chosen.board]?.rings[this.chosen.ring] ?? [];
  }

  // Every point of a board: the rim's first, then those of its holes.
  pointsOf(board) {
    return (board?.rings ?? []).flatMap((r, ring) => r.map((at, point) => ({ at, ring, point })));
  }

  drawChosen() {
    if (!this.handles) return;
    const board = this.boards[this.chosen.board];
    this.shapes.forEach((g, i) => g.classList.toggle("chosen", i === this.chosen.board));
    const points = this.pointsOf(board);
    // Handles are reused: two hundred of them are moved, not made, on each frame.
    while (this.handles.childElementCount > points.length) this.handles.lastChild.remove();
    while (this.handles.childElementCount < points.length) svgElement("circle", { class: "handle" }, this.handles);
    points.forEach(({ at, ring, point }, i) => {
      const handle = this.handles.children[i], isChosen = ring === this.chosen.ring && point === this.chosen.point;
      handle.setAttribute("cx", at[0]);
      handle.setAttribute("cy", at[1]);
      handle.setAttribute("r", (isChosen ? 7 : points.length > 60 ? 3 : 4.5) / this.scale);
      handle.classList.toggle("chosen", isChosen);
    });
    const { edge } = this.chosen, ring = this.ring;
    const a = ring[edge], b = ring[(edge + 1) % ring.length];
    this.edgeLine.setAttribute("d", a && b ? `M${a.join(" ")}L${b.join(" ")}` : "");
    this.drawDimension(a, b);
  }

  // The length of the chosen edge, on the drawing, where it can be typed.
  drawDimension(a, b) {
    this.dimensions.replaceChildren();
    if (!a || !b) return;
    const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const text = svgElement("text", { class: "mid dimension", tabindex: "0", role: "button",
      x: (a[0] + b[0]) / 2, y: (a[1] + b[1]) / 2 - 7 / this.scale, "aria-label": "Length of the edge, press Enter to type it" }, this.dimensions);
    text.textContent = showLength(long, this.unit);
    sizeText(text, 14, this.scale);
    const type = () => this.typeAt(text, showLength(long, this.unit), (value) => this.setEdgeLength(value));
    text.addEventListener("pointerdown", (event) => { event.stopPropagation(); event.preventDefault(); type(); });
    text.addEventListener("keydown", (event) => { if (event.key === "Enter") { event.preventDefault(); type(); } });
  }

  // A field over a figure of the drawing.
  typeAt(text, value, accept) {
    const frame = text.getBoundingClientRect(), home = this.box.getBoundingClientRect();
    const input = Object.assign(document.createElement("input"), { value, className: "on-drawing" });
    input.setAttribute("aria-label", "Length");
    input.style.left = `${frame.left - home.left - 10}px`;
    input.style.top = `${frame.top - home.top - 6}px`;
    const done = (keep) => {
      if (!input.isConnected) return;
      const typed = keep ? readLength(input.value, this.unit) : null;
      if (keep && (typed === null || typed <= 0)) { input.setAttribute("aria-invalid", "true"); this.say("That is not a length. Type one such as 120 mm."); return; }
      input.remove();
      if (keep && mm(typed) !== mm(readLength(value, this.unit))) accept(typed);
    };
    input.addEventListener("keydown", (event) => {
      event.stopPropagation();
      if (event.key === "Enter") { event.preventDefault(); done(true); }
      if (event.key === "Escape") done(false);
    });
    input.addEventListener("change", (event) => event.stopPropagation());
    input.addEventListener("blur", () => done(input.getAttribute("aria-invalid") !== "true"));
    this.box.append(input);
    input.select();
  }

  drawFrame() {
    this.frame?.remove();
    const { length, width } = this.data;
    this.frame = svgElement("g", {}, this.svg);
    const figure = (x, y, value, name, turned) => {
      const at = turned ? { transform: `translate(${x} ${y}) rotate(-90)` } : { x, y };
      const text = svgElement("text", { class: "mid dimension", ...at, tabindex: "0", role: "link" }, this.frame);
      text.textContent = showLength(value, this.unit);
      sizeText(text, 13, this.scale);
      svgElement("title", {}, text).textContent = `${name}: change it at station 1`;
      const go = () => location.assign(`/casts/${this.box.dataset.cast}/piece`);
      text.addEventListener("click", go);
      text.addEventListener("keydown", (event) => { if (event.key === "Enter") go(); });
    };
    figure(length / 2, -9 / this.scale, length, "Inside length");
    figure(-9 / this.scale, width / 2, width, "Inside width", true);
  }

  drawMarks() {
    if (!this.marks) return;
    this.marks.replaceChildren();
    const r = 8 / this.scale;
    for (const [x, y] of this.data.places) {
      svgElement("circle", { class: "hold", cx: x, cy: y, r }, this.marks);
      svgElement("path", { class: "hold", d: `M${x - r / 2} ${y}h${r}M${x} ${y - r / 2}v${r}` }, this.marks);
    }
    for (const [x, y] of this.data.trims) svgElement("path", { class: "trim", d: `M${x - r} ${y - r}h${2 * r}l${-r} ${1.4 * r}z` }, this.marks);
    for (const [x, y] of this.data.marks) {
      svgElement("circle", { class: "fault", cx: x, cy: y, r: 2.2 * r }, this.marks);
      svgElement("path", { class: "fault", d: `M${x} ${y - r}v${r}M${x} ${y + r * 0.7}v${r * 0.1}` }, this.marks);
    }
  }

  drawCut() {
    if (!this.cutLine) return;
    const { width } = this.data, s = 1 / this.scale;
    const [target, line, tip] = this.cutLine.children;
    const d = `M${this.cut} ${-14 * s}V${width + 14 * s}`;
    target.setAttribute("d", d);
    target.setAttribute("stroke-width", 26 * s);
    line.setAttribute("d", d);
    tip.setAttribute("d", `M${this.cut - 7 * s} ${width + 22 * s}h${14 * s}l${-7 * s} ${-11 * s}z`);
    this.cutLine.setAttribute("aria-valuetext", showLength(this.cut, this.unit));
  }

  // The section at the line, while it is dragged; the server's takes its place.
  previewSection() {
    const home = document.getElementById("section");
    if (!home) return;
    const { width, depth, base } = this.data;
    const high = Math.max(depth * 1.25, width * 0.05);
    const svg = svgElement("svg", { class: "drawing", viewBox: `${-width * 0.04} ${-high * 0.1} ${width * 1.08} ${high * 1.25}` });
    const y = (level) => high - level;
    svgElement("rect", { class: "resin", x: 0, y: y(depth), width, height: depth }, svg);
    for (const board of this.boards) {
      const upper = cutAt(board.rings, this.cut), lower = cutAt([lowerRing(board), ...board.rings.slice(1)], this.cut);
      const low = lower.length === upper.length ? lower : upper;
      upper.forEach(([a, b], i) => {
        const [c, d] = low[i];
        svgElement("path", { class: "timber-face", d: `M${a} ${y(base + board.thickness)}L${b} ${y(base + board.thickness)}L${d} ${y(base)}L${c} ${y(base)}Z` }, svg);
      });
    }
    svgElement("path", { class: "wall thin", d: `M0 ${y(high * 0.98)}V${y(0)}H${width}V${y(high * 0.98)}` }, svg);
    home.replaceChildren(svg);
  }

  say(text) { this.readout.textContent = text; }

  // A quick look at what is left between the boards, while something moves.
  tell() {
    const { length, width } = this.data;
    const thick = Math.max(...this.boards.map((b) => b.thickness), 0);
    const timber = this.boards.reduce((sum, b) => sum + (area(b.rings) + area([lowerRing(b)])) / 2 * b.thickness, 0);
    const litres = (length * width * thick - timber) / 1e6;
    this.say(`about ${litres.toFixed(2)} L between the boards`);
  }
}
