// The drawing of boards in their form: dragged, typed, by keys, by touch.
//
// The boards' fields (outline-N, bevels-N) hold the truth, in millimetres; the
// drawing reads them, shows them while they are dragged, and writes them back.
// The server answers with figures; nothing here is believed for a volume.

import { Drawing } from "fondant/drawing";
import { mm, nearestEdge, readLength, showLength, snapBoard, snapPoint, writeRings } from "fondant/outlines";

// Distance within which a drag snaps to a wall or a right angle, px.
const SNAP_PX = 8;

// What an arrow key moves by, and with Shift, mm.
const STEPS = {
  mm: { by: [1, 10], said: "move it by 1 mm, with Shift by 10" },
  in: { by: [25.4 / 32, 25.4 / 4], said: "move it by 1/32 in, with Shift by 1/4" },
};
const KEYS = [
  ["B", "next board"], [". ,", "next point, the one before"],
  ["N", "new board"], ["D", "copy of this board"], ["R", "turn it by 90°"], ["F", "turn it over"],
  ["I", "point in the middle of the edge"], ["H", "hole in the board"], ["Delete", "take the point away"],
  ["0 + −", "all of it, closer, farther"],
];
let isLegendOpen = false;
const keysLegend = (unit) => {
  const legend = Object.assign(document.createElement("details"), { className: "keys-legend", open: isLegendOpen });
  legend.addEventListener("toggle", () => { isLegendOpen = legend.open; });
  legend.append(Object.assign(document.createElement("summary"), { textContent: "Keys, with the drawing in hand" }));
  const list = document.createElement("dl");
  for (const [key, does] of [["Arrows", STEPS[unit].said], ...KEYS]) {
    list.append(
      Object.assign(document.createElement("dt"), { textContent: key }),
      Object.assign(document.createElement("dd"), { textContent: does }),
    );
  }
  legend.append(list);
  return legend;
};

class Editor extends Drawing {
  constructor(box) {
    super(box);
    this.pointers = new Map();
    document.addEventListener("keydown", (event) => this.key(event));
    this.load();
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
      const at = this.place(event), edge = this.edgeAt(at);
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
    let best = (event.pointerType === "touch" ? 18 : 9) / this.scale, near = null;
    for (const candidate of this.pointsOf(this.boards[this.chosen.board])) {
      const far = Math.hypot(candidate.at[0] - at[0], candidate.at[1] - at[1]);
      if (far < best) { best = far; near = candidate; }
    }
    if (near) {
      this.choose({ ring: near.ring, point: near.point, edge: -1 });
      this.drag = { kind: "point" };
      return;
    }
    const shape = event.target.closest(".board-shape");
    if (shape) {
      const board = Number(shape.dataset.board);
      const edge = board === this.chosen.board ? this.edgeAt(at) : null;
      this.choose({ board, ring: edge?.ring ?? 0, point: -1, edge: edge?.edge ?? -1 });
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
      this.ring[this.chosen.point] = event.altKey ? at : snapPoint(this.ring, this.chosen.point, at, SNAP_PX / this.scale, this.data);
    } else {
      const by = event.altKey ? [at[0] - drag.at[0], at[1] - drag.at[1]] : snapBoard(drag, at, SNAP_PX / this.scale, this.data);
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

  edgeAt(at) {
    const rings = this.boards[this.chosen.board]?.rings ?? [];
    const found = rings.map((r, ring) => ({ ring, edge: nearestEdge(r, at, 10 / this.scale) }));
    return found.find(({ edge }) => edge >= 0) ?? null;
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
      r: () => this.turn(90), f: () => this.flip(), d: () => this.copy(), n: () => this.fresh(), i: () => this.addPoint(), h: () => this.addHole(),
      Delete: () => this.deletePoint(), Backspace: () => this.deletePoint(), Escape: () => this.choose({ point: -1, edge: -1 }),
      ".": () => this.nextPoint(1), ",": () => this.nextPoint(-1),
      b: () => this.choose({ board: (this.chosen.board + 1) % this.boards.length, ring: 0, point: -1, edge: -1 }),
    };
    if (arrows[event.key] && board) {
      event.preventDefault();
      const by = arrows[event.key].map((v) => v * STEPS[this.unit].by[event.shiftKey ? 1 : 0]);
      if (this.chosen.point >= 0) {
        const p = this.ring[this.chosen.point];
        this.ring[this.chosen.point] = [p[0] + by[0], p[1] + by[1]];
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
    const all = this.pointsOf(this.boards[this.chosen.board]);
    if (!all.length) return;
    const here = all.findIndex(({ ring, point }) => ring === this.chosen.ring && point === this.chosen.point);
    const { ring, point } = all[(Math.max(here, by > 0 ? -1 : 0) + by + all.length) % all.length];
    this.choose({ ring, point, edge: -1 });
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
    item.querySelector("input[name=board]").value = number;
    renumber(item, board.number, number);
    // Typed text is not an attribute yet, and a clone copies only attributes.
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
    this.chosen = { board: this.boards.length, ring: 0, point: -1, edge: -1 };
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
    this.chosen = { board: this.boards.length, ring: 0, point: -1, edge: -1 };
    this.send();
  }

  addPoint(at) {
    const board = this.boards[this.chosen.board], { edge } = this.chosen;
    const ring = this.ring, isRim = this.chosen.ring === 0;
    if (edge < 0) { this.say("Choose an edge first: click on it."); return; }
    const [a, b] = [ring[edge], ring[(edge + 1) % ring.length]];
    const point = Array.isArray(at) ? at : [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
    ring.splice(edge + 1, 0, point);
    if (isRim && board.bevels.length > edge) board.bevels.splice(edge + 1, 0, board.bevels[edge]);
    this.chosen = { ...this.chosen, point: edge + 1, edge: -1 };
    this.keep();
  }

  deletePoint() {
    const board = this.boards[this.chosen.board], { point } = this.chosen;
    if (!board || point < 0) { this.say("Choose a point first: click on it, or press full stop."); return; }
    const { ring } = this.chosen;
    if (ring === 0 && this.ring.length <= 3) { this.say("An outline needs three points."); return; }
    // A hole needs three points.
    if (ring > 0 && this.ring.length <= 3) board.rings.splice(ring, 1); else this.ring.splice(point, 1);
    if (ring === 0 && board.bevels.length > point) board.bevels.splice(point, 1);
    this.chosen = { ...this.chosen, ring: 0, point: -1 };
    this.keep();
  }

  // A square on its corner in the middle of the board, to be dragged into shape.
  addHole() {
    const board = this.boards[this.chosen.board];
    if (!board) return;
    const [x, y] = this.middle(board), ys = board.rings[0].map((p) => p[1]);
    const r = Math.min(30, (Math.max(...ys) - Math.min(...ys)) / 6);
    board.rings.push([[x - r, y], [x, y + r], [x + r, y], [x, y - r]]);
    this.chosen = { ...this.chosen, ring: board.rings.length - 1, point: 0, edge: -1 };
    this.keep();
  }

  setEdgeLength(value) {
    const ring = this.ring, { edge } = this.chosen;
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
          this.say(plain ? "That is not an angle. Type degrees, such as 12.5." : "That is not a length. Type one such as 120 mm.");
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
    const ring = this.ring, rim = board.rings[0] ?? [], { point, edge } = this.chosen;
    if (point >= 0 && ring[point]) {
      figure(`Point ${point + 1}, along`, ring[point][0], (v) => { ring[point][0] = v; this.keep(); });
      figure("across", ring[point][1], (v) => { ring[point][1] = v; this.keep(); });
    } else if (edge >= 0 && ring[edge]) {
      const b = ring[(edge + 1) % ring.length];
      figure(`Edge ${edge + 1}, length`, Math.hypot(b[0] - ring[edge][0], b[1] - ring[edge][1]), (v) => this.setEdgeLength(v));
      if (this.chosen.ring === 0) figure("Underside farther out", board.bevels[edge] ?? 0, (v) => {
        while (board.bevels.length < ring.length) board.bevels.push(0);
        board.bevels[edge] = v;
        this.keep();
      });
    } else if (rim.length) {
      const left = Math.min(...rim.map((p) => p[0])), near = Math.min(...rim.map((p) => p[1]));
      figure("From the left end", left, (v) => { this.shift(board, [v - left, 0]); this.keep(); });
      figure("From the near wall", near, (v) => { this.shift(board, [0, v - near]); this.keep(); });
      figure("Turn by", "0°", (v) => this.turn(v), true);
    }
    const why = Object.assign(document.createElement("p"), { className: "why" });
    why.textContent = "Drag a board, a point or the brass line. Click an edge for its length and bevel; double-click puts a point there. Alt drags without snapping.";
    home.append(why, keysLegend(this.unit));
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
