// The colours of a field, and the key that tells what they stand for.
import { ink } from "fondant/lines";

// Even in lightness from dark blue to straw, safe for eyes that mix up red and green.
const SCALE = [[27, 42, 99], [96, 45, 110], [164, 62, 66], [206, 122, 52], [240, 216, 140]];

const colour = (share) => {
  const at = Math.min(0.9999, Math.max(0, share)) * (SCALE.length - 1);
  const [a, b] = [SCALE[Math.floor(at)], SCALE[Math.floor(at) + 1]];
  return a.map((v, i) => Math.round(v + (b[i] - v) * (at % 1)));
};
// The colours in as many steps as an eye can tell apart, each written once.
const STEPS = 256;
const PAINTS = Array.from({ length: STEPS }, (_, step) => `rgb(${colour(step / (STEPS - 1)).join(" ")})`);
export const css = (share) => PAINTS[Math.min(STEPS - 1, Math.max(0, Math.round(share * (STEPS - 1))))];

export const drawKey = (canvas, width, shown) => {
  const dense = devicePixelRatio || 1;
  canvas.width = width * dense;
  canvas.height = 34 * dense;
  canvas.style.width = `${width}px`;
  const pen = canvas.getContext("2d");
  pen.scale(dense, dense);
  const bar = width - 90;
  for (let i = 0; i < bar; i++) { pen.fillStyle = css(i / bar); pen.fillRect(8 + i, 2, 1.5, 11); }
  pen.fillStyle = pen.strokeStyle = ink("--ink");
  pen.font = "12px Next, sans-serif";
  pen.textAlign = "center";
  for (let v = shown.low; v <= shown.high + 1e-9; v += shown.high - shown.low > 60 ? 20 : 10) {
    const at = 8 + ((v - shown.low) / (shown.high - shown.low)) * bar;
    pen.fillRect(at, 13, 1, 4);
    pen.fillText(shown.say(v), at, 29);
  }
  pen.textAlign = "left";
  pen.fillText(shown.unit, 8 + bar + 8, 12);
  canvas.setAttribute("aria-label", `Key: ${shown.say(shown.low)} dark blue to ${shown.say(shown.high)} straw, ${shown.unit}`);
};
