// The drawing of boards in their form: dragged, typed, by keys, by touch.
//
// The boards' fields (outline-N, bevels-N) hold the truth, in millimetres; the
// drawing reads them, shows them while they are dragged, and writes them back.
// The server answers with figures; nothing here is believed for a volume.

const NS = "http://www.w3.org/2000/svg";
const SNAP_PX = 8;
const TALLEST_PX = 470;
const mm = (v) => String(Math.round(v * 100) / 100);

const svgElement = (name, attributes, parent) => {
  const element = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent?.append(element);
  return element;
};

// A stylesheet's size beats an attribute's: text of the drawing is sized by hand.
const sizeText = (text, pixels, scale) => { text.style.fontSize = `${pixels / scale}px`; };

const readRings = (text) => text.split("/").map((ring) => ring.trim().split(/\s+/).filter(Boolean)
  .map((pair) => pair.split(",").map(Number)).filter((p) => p.length === 2 && p.every(Number.isFinite)));
const writeRings = (rings) => rings.map((r) => r.map((p) => p.map(mm).join(",")).join(" ")).join(" / ");
const path = (rings) => rings.filter((r) => r.length > 1).map((r) => `M${r.map((p) => p.join(" ")).join("L")}Z`).join("");

const signedArea = (ring) => {
  let sum = 0;
  for (let i = 0; i < ring.length; i++) {
    const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
    sum += a[0] * b[1] - a[1] * b[0];
  }
  return sum / 2;
};
const area = (rings) => rings.reduce((sum, r, i) => sum + (i === 0 ? 1 : -1) * Math.abs(signedArea(r)), 0);

// Where a line across the form meets an outline: pairs of y.
const cutAt = (rings, x) => {
  const ys = [];
  for (const ring of rings) {
    for (let i = 0; i < ring.length; i++) {
      const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
      if ((a[0] <= x) !== (b[0] <= x)) ys.push(a[1] + (b[1] - a[1]) * (x - a[0]) / (b[0] - a[0]));
    }
  }
  ys.sort((a, b) => a - b);
  return Array.from({ length: ys.length >> 1 }, (_, i) => [ys[2 * i], ys[2 * i + 1]]);
};

// A length as makers type it, in millimetres; null where it is none.
const readLength = (text, unit) => {
  const match = /^\s*(-?)\s*(?:(\d+)\s+)?(\d+(?:[.,]\d+)?)(?:\/(\d+))?\s*(mm|cm|m|in|"|ft|')?\s*$/.exec(text);
  if (!match) return null;
  const [, sign, whole, figure, below, typed] = match;
  if (whole && !below) return null;
  const value = (whole ? Number(whole) : 0) + Number(figure.replace(",", ".")) / (below ? Number(below) : 1);
  const factor = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8, "'": 304.8 }[typed ?? unit];
  return (sign ? -1 : 1) * value * factor;
};
const showLength = (value, unit) => unit === "in" ? `${mm(value / 25.4)} in` : `${mm(value)} mm`;

class Editor {
  constructor(box) {
    this.box = box;
    this.chosen = { board: 0, point: -1, edge: -1 };
    this.view = null;
    this.pointers = new Map();
    document.addEventListener("keydown", (event) => this.key(event));
    addEventListener("resize", () => this.size());
    this.load();
  }

  // Everything anew from the fields and the frame that the server sent.
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

  // The underside, each edge moved out by its bevel.
  lowerRing(board) {
    if (board.lower[0]?.length) return board.lower[0];
    const ring = board.rings[0] ?? [];
    if (!board.bevels.some((b) => b)) return ring;
    const n = ring.length, out = signedArea(ring) >= 0 ? 1 : -1;
    const unit = (i) => { const [a, b] = [ring[i], ring[(i + 1) % n]]; const l = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1; return [(b[0] - a[0]) / l, (b[1] - a[1]) / l]; };
    return ring.map((p, i) => {
      const [u, v] = [unit((i + n - 1) % n), unit(i)];
      const [du, dv] = [(board.bevels[(i + n - 1) % n] ?? 0) * out, (board.bevels[i] ?? 0) * out];
      const sine = u[0] * v[1] - u[1] * v[0];
      let move = Math.abs(sine) < 0.05
        ? [(u[1] + v[1]) * (du + dv) / 4, -(u[0] + v[0]) * (du + dv) / 4]
        : [(u[0] * dv - v[0] * du) / sine, (u[1] * dv - v[1] * du) / sine];
      const most = 3 * Math.max(Math.abs(du), Math.abs(dv)), length = Math.hypot(...move);
      if (length > most) move = move.map((m) => m * most / (length || 1));
      return [p[0] + move[0], p[1] + move[1]];
    });
  }

  lowerOf(board) {
    const lower = this.lowerRing(board);
    return lower === board.rings[0] ? "" : path([lower]);
  }

  drawChosen() {
    if (!this.handles) return;
    const board = this.boards[this.chosen.board];
    this.shapes.forEach((g, i) => g.classList.toggle("chosen", i === this.chosen.board));
    const ring = board?.rings[0] ?? [];
    // Handles are reused: two hundred of them are moved, not made, on each frame.
    while (this.handles.childElementCount > ring.length) this.handles.lastChild.remove();
    while (this.handles.childElementCount < ring.length) svgElement("circle", { class: "handle" }, this.handles);
    ring.forEach((p, i) => {
      const handle = this.handles.children[i];
      handle.setAttribute("cx", p[0]);
      handle.setAttribute("cy", p[1]);
      handle.setAttribute("r", (i === this.chosen.point ? 7 : ring.length > 60 ? 3 : 4.5) / this.scale);
      handle.classList.toggle("chosen", i === this.chosen.point);
    });
    const { edge } = this.chosen;
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
      if (keep && (typed === null || typed <= 0)) { input.setAttribute("aria-invalid", "true"); this.say("That is no length. Type one such as 120 mm."); return; }
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
      const upper = cutAt(board.rings, this.cut), lower = cutAt([this.lowerRing(board), ...board.rings.slice(1)], this.cut);
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
    const timber = this.boards.reduce((sum, b) => sum + (area(b.rings) + area([this.lowerRing(b)])) / 2 * b.thickness, 0);
    const litres = (length * width * thick - timber) / 1e6;
    this.say(`about ${litres.toFixed(2)} L between the boards`);
  }

  // ---- the hand

  listen() {
    const svg = this.svg;
    svg.addEventListener("wheel", (event) => {
      event.preventDefault();
      this.zoom(Math.exp(-event.deltaY * 0.0015), this.place(event));
    }, { passive: false });
    svg.addEventListener("pointerdown", (event) => this.down(event));
    svg.addEventListener("pointermove", (event) => this.move(event));
    for (const name of ["pointerup", "pointercancel"]) svg.addEventListener(name, (event) => this.up(event));
    svg.addEventListener("dblclick", (event) => {
      const at = this.place(event), edge = this.nearestEdge(at);
      if (edge) { Object.assign(this.chosen, edge); this.addPoint(at); }
    });
    this.cutLine.addEventListener("keydown", (event) => {
      const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      this.cut = Math.min(Math.max(this.cut + step * (event.shiftKey ? 50 : 5), 0), this.data.length);
      this.drawCut();
      this.previewSection();
      clearTimeout(this.cutTimer);
      this.cutTimer = setTimeout(() => this.sendCut(), 400);
    });
  }

  down(event) {
    if (event.button > 0) return;
    this.pointers.set(event.pointerId, [event.clientX, event.clientY]);
    this.svg.setPointerCapture(event.pointerId);
    const at = this.place(event);
    if (this.pointers.size === 2) { this.drag = null; this.startPinch(); return; }
    if (event.target.closest(".cut-line")) { this.drag = { kind: "cut" }; return; }
    const ring = this.boards[this.chosen.board]?.rings[0] ?? [];
    const reach = (event.pointerType === "touch" ? 18 : 9) / this.scale;
    let best = reach, point = -1;
    ring.forEach((p, i) => { const d = Math.hypot(p[0] - at[0], p[1] - at[1]); if (d < best) { best = d; point = i; } });
    if (point >= 0) {
      this.choose({ point, edge: -1 });
      this.drag = { kind: "point", from: [...ring[point]] };
      return;
    }
    const shape = event.target.closest(".board-shape");
    if (shape) {
      const board = Number(shape.dataset.board);
      const edge = board === this.chosen.board ? this.nearestEdge(at) : null;
      this.choose({ board, point: -1, edge: edge?.edge ?? -1 });
      this.drag = { kind: "board", at, rings: this.boards[board].rings.map((r) => r.map((p) => [...p])),
        lower: this.boards[board].lower.map((r) => r.map((p) => [...p])) };
      return;
    }
    this.choose({ point: -1, edge: -1 });
    this.drag = { kind: "pan", x: event.clientX, y: event.clientY, view: { ...this.view } };
  }

  move(event) {
    if (!this.pointers.has(event.pointerId)) return;
    this.pointers.set(event.pointerId, [event.clientX, event.clientY]);
    if (this.pinch) { this.movePinch(); return; }
    if (!this.drag) return;
    this.latest = event;
    // One drawing a frame, however many events arrive.
    this.pending ??= requestAnimationFrame(() => { this.pending = null; if (this.drag) this.step(this.latest); });
  }

  step(event) {
    const at = this.place(event), { drag } = this;
    const board = this.boards[this.chosen.board];
    if (drag.kind === "pan") {
      this.view.x = drag.view.x - (event.clientX - drag.x) / this.scale;
      this.view.y = drag.view.y - (event.clientY - drag.y) / this.scale;
      this.svg.setAttribute("viewBox", `${this.view.x} ${this.view.y} ${this.view.w} ${this.viewHeight}`);
      return;
    }
    if (drag.kind === "cut") {
      this.cut = Math.min(Math.max(at[0], 0), this.data.length);
      drag.moved = true;
      this.drawCut();
      this.previewSection();
      return;
    }
    drag.moved = true;
    if (drag.kind === "point") {
      board.rings[0][this.chosen.point] = event.altKey ? at : this.snapPoint(board, this.chosen.point, at);
    } else {
      const by = event.altKey ? [at[0] - drag.at[0], at[1] - drag.at[1]] : this.snapBoard(drag, at);
      const moved = (rings) => rings.map((r) => r.map((p) => [p[0] + by[0], p[1] + by[1]]));
      board.rings = moved(drag.rings);
      board.lower = moved(drag.lower);
    }
    this.drawBoard(board);
    this.drawChosen();
    this.tell();
  }

  up(event) {
    this.pointers.delete(event.pointerId);
    if (this.pinch) { if (this.pointers.size < 2) this.pinch = null; return; }
    const { drag } = this;
    this.drag = null;
    if (this.isLate && !(drag?.moved && ["point", "board"].includes(drag.kind))) {
      this.isLate = false;
      this.load();
    }
    if (!drag?.moved) return;
    if (this.pending) { cancelAnimationFrame(this.pending); this.pending = null; this.drag = drag; this.step(this.latest); this.drag = null; }
    if (drag.kind === "cut") this.sendCut(); else if (drag.kind !== "pan") this.keep();
  }

  startPinch() {
    const [a, b] = [...this.pointers.values()];
    this.pinch = { apart: Math.hypot(a[0] - b[0], a[1] - b[1]), w: this.view.w, middle: this.place({ clientX: (a[0] + b[0]) / 2, clientY: (a[1] + b[1]) / 2 }) };
  }

  movePinch() {
    const [a, b] = [...this.pointers.values()];
    if (!b) return;
    const apart = Math.hypot(a[0] - b[0], a[1] - b[1]);
    this.view.w = Math.min(Math.max(this.pinch.w * this.pinch.apart / apart, 40), this.data.length * 6);
    this.scale = this.svg.clientWidth / this.view.w;
    const frame = this.svg.getBoundingClientRect();
    this.view.x = this.pinch.middle[0] - ((a[0] + b[0]) / 2 - frame.left) / this.scale;
    this.view.y = this.pinch.middle[1] - ((a[1] + b[1]) / 2 - frame.top) / this.scale;
    this.size();
  }

  // To the walls, level or upright with its neighbours, or square to them.
  snapPoint(board, index, at) {
    const reach = SNAP_PX / this.scale, ring = board.rings[0], n = ring.length;
    const { length, width } = this.data;
    const [p, q] = [ring[(index + n - 1) % n], ring[(index + 1) % n]];
    const to = (value, wanted) => wanted.find((w) => Math.abs(w - value) < reach) ?? value;
    const snapped = [to(at[0], [0, length, p[0], q[0]]), to(at[1], [0, width, p[1], q[1]])];
    if (snapped[0] !== at[0] || snapped[1] !== at[1]) return snapped;
    // On the circle over both neighbours the corner is a right angle (Thales).
    const middle = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2], radius = Math.hypot(p[0] - q[0], p[1] - q[1]) / 2;
    const d = [at[0] - middle[0], at[1] - middle[1]], l = Math.hypot(...d);
    return l > 0 && Math.abs(l - radius) < reach ? [middle[0] + d[0] / l * radius, middle[1] + d[1] / l * radius] : at;
  }

  snapBoard(drag, at) {
    const reach = SNAP_PX / this.scale, { length, width } = this.data;
    const by = [at[0] - drag.at[0], at[1] - drag.at[1]];
    [length, width].forEach((most, axis) => {
      const all = drag.rings[0].map((p) => p[axis] + by[axis]);
      const low = Math.min(...all), high = Math.max(...all);
      if (Math.abs(low) < reach) by[axis] -= low; else if (Math.abs(high - most) < reach) by[axis] -= high - most;
    });
    return by;
  }

  nearestEdge(at) {
    const ring = this.boards[this.chosen.board]?.rings[0] ?? [];
    let best = 10 / this.scale, edge = -1;
    ring.forEach((a, i) => {
      const b = ring[(i + 1) % ring.length];
      const d = [b[0] - a[0], b[1] - a[1]], l = d[0] ** 2 + d[1] ** 2 || 1;
      const t = Math.min(Math.max(((at[0] - a[0]) * d[0] + (at[1] - a[1]) * d[1]) / l, 0), 1);
      const far = Math.hypot(a[0] + d[0] * t - at[0], a[1] + d[1] * t - at[1]);
      if (far < best) { best = far; edge = i; }
    });
    return edge >= 0 ? { edge } : null;
  }

  choose(what) {
    Object.assign(this.chosen, what);
    this.drawChosen();
    this.inspect();
  }

  // ---- keys

  key(event) {
    if (!this.box.isConnected || event.ctrlKey || event.metaKey) return;
    const inDrawing = document.activeElement === this.svg;
    if (!inDrawing) return;
    const board = this.boards[this.chosen.board];
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    const acts = {
      0: () => this.fit(), "+": () => this.zoom(1.25), "-": () => this.zoom(0.8),
      r: () => this.turn(90), f: () => this.flip(), d: () => this.copy(), n: () => this.fresh(), i: () => this.addPoint(),
      Delete: () => this.deletePoint(), Backspace: () => this.deletePoint(), Escape: () => this.choose({ point: -1, edge: -1 }),
      ".": () => this.nextPoint(1), ",": () => this.nextPoint(-1),
      b: () => this.choose({ board: (this.chosen.board + 1) % this.boards.length, point: -1, edge: -1 }),
    };
    if (arrows[event.key] && board) {
      event.preventDefault();
      const by = arrows[event.key].map((v) => v * (event.shiftKey ? 10 : 1));
      if (this.chosen.point >= 0) {
        const p = board.rings[0][this.chosen.point];
        board.rings[0][this.chosen.point] = [p[0] + by[0], p[1] + by[1]];
      } else {
        this.shift(board, by);
      }
      this.drawBoard(board);
      this.drawChosen();
      this.tell();
      clearTimeout(this.keyTimer);
      this.keyTimer = setTimeout(() => this.keep(), 350);
    } else if (acts[event.key]) {
      event.preventDefault();
      event.stopImmediatePropagation();
      acts[event.key]();
    }
  }

  nextPoint(by) {
    const n = this.boards[this.chosen.board]?.rings[0].length ?? 0;
    if (n) this.choose({ point: (this.chosen.point + by + n) % n, edge: -1 });
  }

  shift(board, by) {
    const moved = (rings) => rings.map((r) => r.map((p) => [p[0] + by[0], p[1] + by[1]]));
    board.rings = moved(board.rings);
    board.lower = moved(board.lower);
  }

  // ---- changes

  middle(board) {
    const xs = board.rings[0].map((p) => p[0]), ys = board.rings[0].map((p) => p[1]);
    return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
  }

  turn(degrees) {
    const board = this.boards[this.chosen.board];
    if (!board) return;
    const [cx, cy] = this.middle(board), a = degrees * Math.PI / 180, [s, c] = [Math.sin(a), Math.cos(a)];
    const turned = (rings) => rings.map((r) => r.map(([x, y]) => [cx + (x - cx) * c - (y - cy) * s, cy + (x - cx) * s + (y - cy) * c]));
    board.rings = turned(board.rings);
    board.lower = turned(board.lower);
    this.keep();
  }

  flip() {
    const board = this.boards[this.chosen.board];
    if (!board) return;
    const [, cy] = this.middle(board);
    // Turned over, the rim runs the other way round: its points are reversed,
    // and each bevel stays with its edge.
    const flipped = (rings) => rings.map((r) => r.map(([x, y]) => [x, 2 * cy - y]).reverse());
    const n = board.rings[0].length;
    const bevels = Array.from({ length: n }, (_, i) => board.bevels[i] ?? 0);
    board.rings = flipped(board.rings);
    board.lower = flipped(board.lower);
    board.bevels = bevels.map((_, i) => bevels[(2 * n - 2 - i) % n]);
    this.keep();
  }

  // A board's fields are copied under a new number; the drawing follows them.
  copyFields(board) {
    const numbers = this.boards.map((b) => Number(b.number));
    const number = String(Math.max(...numbers) + 1);
    const item = board.item.cloneNode(true);
    item.dataset.row = number;
    item.querySelector("input[name=board]").value = number;
    for (const element of item.querySelectorAll("[id], [name], [for]")) {
      for (const name of ["id", "name", "for"]) {
        const value = element.getAttribute(name);
        if (value?.endsWith(`-${board.number}`)) element.setAttribute(name, value.slice(0, -board.number.length) + number);
      }
    }
    // What was typed is no attribute yet, and a clone knows attributes alone.
    const typed = [...board.item.querySelectorAll("input")].map((input) => input.value);
    item.querySelectorAll("input").forEach((input, i) => { if (input.name !== "board") input.value = typed[i]; });
    this.boards.at(-1).item.after(item);
    return { number, field: (name) => item.querySelector(`[name="${name}-${number}"]`) };
  }

  copy() {
    const board = this.boards[this.chosen.board];
    if (!board) return;
    const [fresh, xs] = [this.copyFields(board), board.rings[0].map((p) => p[1])];
    const high = Math.max(...xs) - Math.min(...xs) + 10;
    fresh.field("outline").value = writeRings(board.rings.map((r) => r.map((p) => [p[0], p[1] + high])));
    this.chosen = { board: this.boards.length, point: -1, edge: -1 };
    this.send();
  }

  fresh() {
    const board = this.boards[this.chosen.board] ?? this.boards[0];
    if (!board) return;
    const fresh = this.copyFields(board);
    const { length, width } = this.data;
    const [x, y, w, h] = [length * 0.35, width * 0.42, length * 0.3, width * 0.16];
    fresh.field("outline").value = writeRings([[[x, y], [x + w, y], [x + w, y + h], [x, y + h]]]);
    fresh.field("bevels").value = "";
    fresh.field("lower").value = "";
    this.chosen = { board: this.boards.length, point: -1, edge: -1 };
    this.send();
  }

  addPoint(at) {
    const board = this.boards[this.chosen.board], { edge } = this.chosen;
    const ring = board?.rings[0];
    if (!ring || edge < 0) { this.say("Choose an edge first: click on it."); return; }
    const [a, b] = [ring[edge], ring[(edge + 1) % ring.length]];
    const point = Array.isArray(at) ? at : [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
    ring.splice(edge + 1, 0, point);
    if (board.bevels.length > edge) board.bevels.splice(edge + 1, 0, board.bevels[edge]);
    this.chosen = { ...this.chosen, point: edge + 1, edge: -1 };
    this.keep();
  }

  deletePoint() {
    const board = this.boards[this.chosen.board], { point } = this.chosen;
    if (!board || point < 0) { this.say("Choose a point first: click on it, or press full stop."); return; }
    if (board.rings[0].length <= 3) { this.say("An outline needs three points."); return; }
    board.rings[0].splice(point, 1);
    if (board.bevels.length > point) board.bevels.splice(point, 1);
    this.chosen.point = -1;
    this.keep();
  }

  setEdgeLength(value) {
    const ring = this.boards[this.chosen.board].rings[0], { edge } = this.chosen;
    const [a, b] = [ring[edge], ring[(edge + 1) % ring.length]];
    const long = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    ring[(edge + 1) % ring.length] = [a[0] + (b[0] - a[0]) * value / long, a[1] + (b[1] - a[1]) * value / long];
    this.keep();
  }

  // Writes what was dragged into the fields and sends them.
  keep() {
    for (const board of this.boards) {
      board.field("outline").value = writeRings(board.rings);
      board.field("bevels").value = board.bevels.some((b) => b) ? board.bevels.map(mm).join(" ") : "";
      if (board.lower[0]?.length) board.field("lower").value = writeRings(board.lower);
      this.drawBoard(board);
    }
    this.drawChosen();
    this.send();
  }

  send() {
    document.getElementById("station-form").dispatchEvent(new Event("change", { bubbles: true }));
  }

  sendCut() {
    const address = `${location.pathname}?cut=${mm(this.cut)}`;
    history.replaceState(null, "", address);
    document.getElementById("cut").value = mm(this.cut);
    // Only the section is taken from the answer: what else is on the page may
    // have changed meanwhile.
    const asked = this.cut;
    fetch(address, { headers: { "HX-Request": "true" } })
      .then((answer) => answer.ok ? answer.text() : Promise.reject(new Error(answer.statusText)))
      .then((text) => {
        if (asked !== this.cut) return;
        const fresh = new DOMParser().parseFromString(text, "text/html");
        for (const id of ["section", "section-caption"]) {
          document.getElementById(id)?.replaceChildren(...document.importNode(fresh.getElementById(id), true).childNodes);
        }
      })
      .catch(() => this.say("The section is a sketch: Fondant does not answer."));
  }

  // ---- the chosen board, point and edge in figures

  inspect() {
    const home = document.getElementById("inspector");
    // A figure that is being typed is not taken away from under the fingers.
    if (!home || home.querySelector("input:focus")) return;
    const board = this.boards[this.chosen.board];
    home.replaceChildren();
    if (!board) return;
    const heading = document.createElement("h2");
    heading.textContent = board.name;
    const fields = Object.assign(document.createElement("div"), { className: "fields four" });
    home.append(heading, fields);
    const figure = (label, value, accept, plain) => {
      const wrap = Object.assign(document.createElement("label"), { className: "field" });
      const name = Object.assign(document.createElement("span"), { className: "name", textContent: label });
      const line = Object.assign(document.createElement("span"), { className: "line" });
      const input = Object.assign(document.createElement("input"), { type: "text", value: plain ? value : showLength(value, this.unit), autocomplete: "off" });
      input.addEventListener("change", (event) => {
        event.stopPropagation();
        const typed = plain ? Number(input.value.replace("°", "").replace(",", ".")) : readLength(input.value, this.unit);
        if (typed === null || !Number.isFinite(typed)) {
          input.setAttribute("aria-invalid", "true");
          this.say(plain ? "That is no angle. Type degrees, such as 12.5." : "That is no length. Type one such as 120 mm.");
          return;
        }
        accept(typed);
        input.blur();
        this.inspect();
      });
      line.append(input);
      wrap.append(name, line);
      fields.append(wrap);
    };
    const ring = board.rings[0] ?? [], { point, edge } = this.chosen;
    if (point >= 0 && ring[point]) {
      figure(`Point ${point + 1}, along`, ring[point][0], (v) => { ring[point][0] = v; this.keep(); });
      figure("across", ring[point][1], (v) => { ring[point][1] = v; this.keep(); });
    } else if (edge >= 0 && ring[edge]) {
      const b = ring[(edge + 1) % ring.length];
      figure(`Edge ${edge + 1}, length`, Math.hypot(b[0] - ring[edge][0], b[1] - ring[edge][1]), (v) => this.setEdgeLength(v));
      figure("Underside farther out", board.bevels[edge] ?? 0, (v) => {
        while (board.bevels.length < ring.length) board.bevels.push(0);
        board.bevels[edge] = v;
        this.keep();
      });
    } else if (ring.length) {
      const left = Math.min(...ring.map((p) => p[0])), near = Math.min(...ring.map((p) => p[1]));
      figure("From the left end", left, (v) => { this.shift(board, [v - left, 0]); this.keep(); });
      figure("From the near wall", near, (v) => { this.shift(board, [0, v - near]); this.keep(); });
      figure("Turn by", "0°", (v) => this.turn(v), true);
    }
    const why = Object.assign(document.createElement("p"), { className: "why" });
    why.textContent = "Drag a board, a point or the brass line. Click an edge for its length and bevel; double-click puts a point there. Alt drags without snapping. With the drawing in hand: B next board, full stop and comma next point, arrows move, R F D N I Delete.";
    home.append(why);
  }
}

const openEditor = () => {
  const box = document.getElementById("editor");
  if (!box) return;
  if (!box.editor) box.editor = new Editor(box);
  // An answer that arrives in the middle of a drag waits until the hand lets go.
  else if (box.editor.drag || box.editor.pinch) box.editor.isLate = true;
  else box.editor.load();
};
document.addEventListener("DOMContentLoaded", openEditor);
document.addEventListener("htmx:after:swap", openEditor);

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-remove-board]");
  if (!button) return;
  button.closest(".board-item").remove();
  document.getElementById("station-form").dispatchEvent(new Event("change", { bubbles: true }));
});
