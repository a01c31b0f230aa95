// The section as a field of temperatures: asked for, awaited, drawn, scrubbed.

import { settleGrips } from "fondant/depth";
import { css, drawKey } from "fondant/key";
import { drawEdges, drawLines, ink } from "fondant/lines";

const POLL_MS = 250;
const FRAMES_A_SECOND = 24;
const still = matchMedia("(prefers-reduced-motion: reduce)");

// A loop: with a callback for each byte, a field of 2700 cells took a fifth of a second.
const bytes = (text) => {
  const packed = atob(text);
  const all = new Uint8Array(packed.length);
  for (let i = 0; i < all.length; i++) all[i] = packed.charCodeAt(i);
  return all;
};
// The lowest value of a frame that is one.
const lowest = (centi) => {
  let low = 32767;
  for (const v of centi) if (v > -32768 && v < low) low = v;
  return low;
};
const clock = (seconds) => {
  const h = Math.floor(seconds / 3600);
  const m = Math.round((seconds % 3600) / 60);
  return m === 60 ? `${h + 1} h` : h > 0 ? `${h} h ${m} min` : `${m} min`;
};

class FieldView {
  constructor(root) {
    this.root = root;
    this.find = (selector) => root.querySelector(selector);
    this.data = null;
    this.frame = 0;
    this.asking = 0;
    this.playing = 0;
    this.pick = (name) => this.find(`[data-field="${name}"]`);
    this.pick("pours").addEventListener("change", () => this.ask());
    this.pick("show").addEventListener("change", () => {
      root.dataset.show = this.pick("show").value;
      this.draw();
    });
    this.pick("cut")?.addEventListener("input", () => this.sayCut());
    this.pick("cut")?.addEventListener("change", () => this.ask());
    this.find(".field-abandon").addEventListener("click", () => this.abandon());
    this.find(".field-again").addEventListener("click", () => this.ask(true));
    this.find(".field-play").addEventListener("click", () => this.play());
    this.find(".field-slider").addEventListener("input", (event) => {
      this.stop();
      this.goTo(this.timeAt(Number(event.target.value)));
    });
    // What is picked here is for looking, and no change of the plan around it.
    root.addEventListener("change", (event) => event.stopPropagation());
    new ResizeObserver(() => this.draw()).observe(root);
    this.ask();
  }

  sayCut() {
    const cut = this.pick("cut");
    cut.nextElementSibling.textContent = `${cut.value} mm`;
  }

  async ask(again = false) {
    const turn = ++this.asking;
    this.stop();
    this.find(".field-again").hidden = true;
    const query = new URLSearchParams({ pours: this.pick("pours").value, cut: this.pick("cut")?.value ?? this.root.dataset.cut });
    if (again) query.set("again", "1");
    for (;;) {
      let answer;
      try {
        const response = await fetch(`${this.root.dataset.field}?${query}`);
        if (!response.ok) throw new Error(response.statusText);
        answer = await response.json();
      } catch {
        if (turn === this.asking) this.wait("The field could not be fetched. Try again in a moment.", true);
        return;
      }
      if (turn !== this.asking || !this.root.isConnected) return;
      if (answer.state === "done") return this.take(answer);
      if (answer.state === "none") return this.wait(answer.says, false, true);
      if (answer.state === "failed") return this.wait(answer.says, true);
      query.delete("again");
      this.wait(answer.waits ? "It waits for its turn." : `Working it out: ${Math.round(answer.progress * 100)}\u202f%`, false);
      this.find(".field-abandon").hidden = false;
      await new Promise((resolve) => setTimeout(resolve, POLL_MS));
      if (turn !== this.asking) return;
    }
  }

  async abandon() {
    this.asking += 1;
    await fetch(this.root.dataset.abandon, { method: "POST" });
    this.wait("Abandoned.", true);
  }

  wait(says, again, gone = false) {
    this.find(".field-wait").textContent = says;
    this.find(".field-abandon").hidden = true;
    this.find(".field-again").hidden = !again;
    if (gone) this.find(".field-stage").hidden = true;
    this.root.dataset.state = again ? "waiting" : gone ? "none" : "working";
  }

  take(data) {
    data.holds = bytes(data.holds);
    for (const frame of data.frames) {
      frame.c = new Int16Array(bytes(frame.c).buffer);
      frame.a = bytes(frame.a);
    }
    this.data = data;
    this.wait("", false);
    this.root.dataset.state = "done";
    this.find(".field-stage").hidden = false;
    this.find(".field-curves").innerHTML = data.curves;
    const says = this.find(".field-says");
    says.replaceChildren(...data.says.map((text) => Object.assign(document.createElement("li"), { textContent: text })));
    this.low = Math.min(...data.frames.map((f) => lowest(f.c))) / 100;
    this.high = Math.max(data.limit, ...data.frames.map((f) => f.hot[0]));
    this.show(data.hottest);
  }

  end() { return this.data.frames.at(-1).t; }

  // The slider goes by the square root of time: the first hours matter most.
  timeAt(value) { return this.end() * (value / 1000) ** 2; }

  goTo(seconds) {
    const frames = this.data.frames;
    let best = 0;
    frames.forEach((frame, index) => { if (Math.abs(frame.t - seconds) < Math.abs(frames[best].t - seconds)) best = index; });
    this.show(best);
  }

  show(index) {
    this.frame = index;
    const t = this.data.frames[index].t;
    this.find(".field-slider").value = String(1000 * Math.sqrt(t / this.end()));
    this.find(".field-slider").setAttribute("aria-valuetext", clock(t));
    this.draw();
  }

  play() {
    if (this.playing) return this.stop();
    if (this.frame >= this.data.frames.length - 1) this.frame = 0;
    const step = () => {
      if (this.frame >= this.data.frames.length - 1) return this.stop();
      this.show(this.frame + 1);
    };
    // With motion switched off, play moves one picture on.
    if (still.matches) return step();
    this.playing = setInterval(step, 1000 / FRAMES_A_SECOND);
    this.find(".field-play").textContent = "❚❚";
    this.find(".field-play").setAttribute("aria-label", "Pause");
  }

  stop() {
    clearInterval(this.playing);
    this.playing = 0;
    this.find(".field-play").textContent = "▶";
    this.find(".field-play").setAttribute("aria-label", "Play");
  }

  degrees(celsius) { return this.data.fahrenheit ? celsius * 1.8 + 32 : celsius; }

  unit() { return this.data.fahrenheit ? "°F" : "°C"; }

  // What is shown: its range, and the value of each cell or NaN.
  shown() {
    const shown = this.picked();
    const values = new Float64Array(this.data.holds.length);
    for (let cell = 0; cell < values.length; cell++) values[cell] = shown.of(cell);
    return { ...shown, values };
  }

  picked() {
    const { data } = this;
    const frame = data.frames[this.frame];
    const show = this.pick("show").value;
    if (show === "heat") {
      const low = Math.floor(this.low / 5) * 5;
      const high = Math.ceil(this.high / 10) * 10;
      return { low, high, step: high - low > 60 ? 10 : 5, of: (i) => (frame.c[i] === -32768 ? NaN : frame.c[i] / 100), say: (v) => `${Math.round(this.degrees(v))}` , unit: this.unit() };
    }
    const cure = (i) => (frame.a[i] === 255 ? NaN : frame.a[i] / 250);
    if (show === "cure") return { low: 0, high: 100, step: 10, of: (i) => cure(i) * 100, say: (v) => `${Math.round(v)}`, unit: "% cured" };
    const [t0, t1, lambda] = data.glass;
    const glass = (a) => t0 + ((t1 - t0) * lambda * a) / (1 - (1 - lambda) * a);
    return { low: -40, high: 80, step: 10, of: (i) => glass(cure(i)), say: (v) => `${Math.round(this.degrees(v))}`, unit: `${this.unit()} glass` };
  }

  draw() {
    if (!this.data || this.find(".field-stage").hidden) return;
    const canvas = this.find(".field-canvas");
    const { data } = this;
    const shown = this.shown();
    const [x, z] = [data.x, data.z];
    const wide = data.isBlock ? 2 * x.at(-1) : x.at(-1) - x[0];
    const tall = z.at(-1);
    const width = this.root.clientWidth;
    const room = width - 8;
    // True to scale where that can be read; else heights are drawn larger.
    let scale = room / wide;
    let stretch = 1;
    if (tall * scale > 380) scale = 380 / tall;
    while (tall * scale * stretch < 130 && stretch < 6) stretch += 1;
    const left = (width - wide * scale) / 2;
    const height = tall * scale * stretch + 34;
    const dense = devicePixelRatio || 1;
    canvas.width = width * dense;
    canvas.height = height * dense;
    canvas.style.height = `${height}px`;
    const pen = canvas.getContext("2d");
    pen.scale(dense, dense);
    pen.clearRect(0, 0, width, height);
    const px = (mm) => left + (mm - (data.isBlock ? -x.at(-1) : x[0])) * scale;
    const pz = (mm) => 18 + (tall - mm) * scale * stretch;
    const [nx, nz] = [x.length - 1, z.length - 1];
    const columns = data.isBlock ? [-1, 1] : [1];
    for (let k = 0; k < nz; k++) {
      for (let i = 0; i < nx; i++) {
        const value = shown.values[k * nx + i];
        if (Number.isNaN(value)) continue;
        pen.fillStyle = css((value - shown.low) / (shown.high - shown.low));
        for (const side of columns) {
          const [a, b] = side > 0 ? [px(x[i]), px(x[i + 1])] : [px(-x[i + 1]), px(-x[i])];
          pen.fillRect(a - 0.3, pz(z[k + 1]) - 0.3, b - a + 0.6, pz(z[k]) - pz(z[k + 1]) + 0.6);
        }
      }
    }
    const to = { px, pz, columns };
    drawEdges(pen, data, data.frames[this.frame], to);
    drawLines(pen, data, shown, to);
    this.drawHottest(pen, px, pz, width);
    pen.fillStyle = ink("--ink2");
    pen.font = "12px Next, sans-serif";
    pen.textAlign = "left";
    pen.fillText(stretch > 1 ? `heights drawn ${stretch} times as large` : "to scale", left, height - 3);
    drawKey(this.find(".field-scale"), Math.min(420, this.root.clientWidth), shown);
    this.moveCursor();
    const t = data.frames[this.frame].t;
    this.find(".field-now").textContent = `${clock(t)} after the first pour`;
    canvas.setAttribute("aria-label", `Field of temperatures ${clock(t)} after the first pour: hottest ${data.frames[this.frame].says}`);
  }

  drawHottest(pen, px, pz, width) {
    const { hot: [celsius, mmX, mmZ], says } = this.data.frames[this.frame];
    const [cx, cz] = [px(mmX), pz(mmZ)];
    const right = cx < width - 130;
    pen.lineWidth = 4;
    pen.strokeStyle = "rgb(20 26 34 / .8)";
    for (const paint of [[4, "rgb(20 26 34 / .8)"], [2, "#fff"]]) {
      [pen.lineWidth, pen.strokeStyle] = paint;
      pen.beginPath();
      pen.arc(cx, cz, 6, 0, 7);
      pen.moveTo(cx + (right ? 5 : -5), cz - 5);
      pen.lineTo(cx + (right ? 22 : -22), 9);
      pen.stroke();
    }
    pen.font = "650 14px Next, sans-serif";
    pen.textAlign = right ? "left" : "right";
    const over = celsius > this.data.limit;
    pen.fillStyle = over ? ink("--hot") : ink("--ink");
    pen.fillText(`${over ? "▲ " : ""}hottest ${says}`, cx + (right ? 26 : -26), 13);
  }

  moveCursor() {
    const hours = this.data.frames[this.frame].t / 3600;
    for (const line of this.root.querySelectorAll(".moment")) {
      const { left, right, hours: most } = line.dataset;
      const at = Number(left) + (hours / Number(most)) * (Number(right) - Number(left));
      line.setAttribute("transform", `translate(${at - Number(left)} 0)`);
    }
  }
}

// The map is worked out only for those who open it.
document.addEventListener("toggle", async (event) => {
  const holder = event.target;
  if (!holder.matches?.(".map-holder") || !holder.open) return;
  const place = holder.querySelector(".map-place");
  place.textContent = "Working it out…";
  const response = await fetch(holder.dataset.map);
  place.innerHTML = response.ok ? await response.text() : "The map could not be worked out. Close and open it again.";
}, true);

// The map on show belongs to the plan as it was.
const views = new WeakMap();
let planShown = null;
const begin = () => {
  const root = document.getElementById("heat-field");
  if (!root) return;
  const revision = document.getElementById("workspace").dataset.revision;
  settleGrips();
  if (!views.has(root)) views.set(root, new FieldView(root));
  else if (planShown !== revision) {
    views.get(root).ask();
    for (const holder of document.querySelectorAll(".map-holder")) holder.open = false;
  }
  planShown = revision;
};
document.addEventListener("htmx:after:swap", begin);
new MutationObserver(() => views.get(document.getElementById("heat-field"))?.draw()).observe(document.documentElement, { attributeFilter: ["data-theme"] });
begin();
