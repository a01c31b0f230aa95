// Lines over the field: where substances meet, and lines of equal value with their figures. `px` and `pz`
// turn mm across and up into px; `columns` are the halves that are drawn.

// A colour of the theme.
export const ink = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

// Room that the figure of a line of equal value needs, px across and down.
const LABEL_PX = [26, 15];

// Lines where resin, timber and air meet.
export const drawEdges = (pen, { x, z, holds, isBlock }, frame, { px, pz, columns }) => {
  const [nx, nz] = [x.length - 1, z.length - 1];
  const kind = (i, k) => (i < 0 || k < 0 || i >= nx || k >= nz ? 0 : frame.c[k * nx + i] === -32768 ? 0 : holds[k * nx + i]);
  pen.strokeStyle = ink("--ink");
  pen.lineWidth = 1.4;
  pen.beginPath();
  for (const side of columns) {
    for (let k = 0; k <= nz; k++) {
      for (let i = 0; i <= nx; i++) {
        const mirror = isBlock && i === 0;
        if (k < nz && !mirror && kind(i, k) !== kind(i - 1, k)) { pen.moveTo(px(side * x[i]), pz(z[k])); pen.lineTo(px(side * x[i]), pz(z[k + 1])); }
        if (i < nx && kind(i, k) !== kind(i, k - 1)) { pen.moveTo(px(side * x[i]), pz(z[k])); pen.lineTo(px(side * x[i + 1]), pz(z[k])); }
      }
    }
  }
  pen.stroke();
};

// Writes the figure of a line below its highest place that is free; where all is taken, none.
const drawLabel = (pen, text, line, placed) => {
  const isFree = ([x, y]) => placed.every(([ox, oy]) => Math.abs(x - ox) > LABEL_PX[0] || Math.abs(y - oy) > LABEL_PX[1]);
  const at = line.filter(isFree).reduce((best, one) => (best && best[1] <= one[1] ? best : one), null);
  if (!at) return;
  placed.push(at);
  pen.lineWidth = 3;
  pen.strokeStyle = "rgb(20 26 34 / .75)";
  pen.strokeText(text, at[0], at[1] + 12);
  pen.fillStyle = "#fff";
  pen.fillText(text, at[0], at[1] + 12);
  pen.lineWidth = 1;
};

// Few squares hold a piece of a line, and all are asked. Where a corner has no value, none does.
const crosses = (a, b, c, d, level) => {
  if (Number.isNaN(a + b + c + d)) return false;
  const isUnder = a < level;
  return b < level !== isUnder || c < level !== isUnder || d < level !== isUnder;
};

// Lines of equal value with their figures: the field can be read without colour.
export const drawLines = (pen, { x, z, isBlock }, shown, { px, pz, columns }) => {
  const [nx, nz] = [x.length - 1, z.length - 1];
  // A block goes on beyond its middle as in a mirror.
  const from = isBlock ? -1 : 0;
  const at = (i, k) => shown.values[k * nx + (i < 0 ? 0 : i)];
  const mid = (all, i) => (i < 0 ? -(all[0] + all[1]) / 2 : (all[i] + all[i + 1]) / 2);
  pen.lineWidth = 1;
  pen.font = "600 12px Next, sans-serif";
  pen.textAlign = "center";
  const placed = [];
  for (let level = shown.low + shown.step; level < shown.high; level += shown.step) {
    const line = [];
    pen.strokeStyle = "rgb(255 255 255 / .75)";
    pen.beginPath();
    for (let k = 0; k < nz - 1; k++) {
      for (let i = from; i < nx - 1; i++) {
        if (!crosses(at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1), level)) continue;
        const corners = [[i, k], [i + 1, k], [i + 1, k + 1], [i, k + 1]];
        const around = corners.map(([a, b]) => at(a, b));
        const cuts = [];
        for (let edge = 0; edge < 4; edge++) {
          const [va, vb] = [around[edge], around[(edge + 1) % 4]];
          if ((va < level) === (vb < level)) continue;
          const share = (level - va) / (vb - va);
          const [[ia, ka], [ib, kb]] = [corners[edge], corners[(edge + 1) % 4]];
          cuts.push([mid(x, ia) + (mid(x, ib) - mid(x, ia)) * share, mid(z, ka) + (mid(z, kb) - mid(z, ka)) * share]);
        }
        for (let c = 0; c + 1 < cuts.length; c += 2) {
          for (const side of columns) {
            pen.moveTo(px(side * cuts[c][0]), pz(cuts[c][1]));
            pen.lineTo(px(side * cuts[c + 1][0]), pz(cuts[c + 1][1]));
          }
          line.push(cuts[c]);
        }
      }
    }
    pen.stroke();
    drawLabel(pen, shown.say(level), line.map(([mmX, mmZ]) => [px(mmX), pz(mmZ)]), placed);
  }
};
