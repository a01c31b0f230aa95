// Outlines in millimetres: reading and writing them, areas, cuts, snapping.
// Pure functions; the drawing that uses them is in editor.js.

export const mm = (v) => String(Math.round(v * 100) / 100);

export const readRings = (text) => text.split("/").map((ring) => ring.trim().split(/\s+/).filter(Boolean)
  .map((pair) => pair.split(",").map(Number)).filter((p) => p.length === 2 && p.every(Number.isFinite)));
export const writeRings = (rings) => rings.map((r) => r.map((p) => p.map(mm).join(",")).join(" ")).join(" / ");
export const path = (rings) => rings.filter((r) => r.length > 1).map((r) => `M${r.map((p) => p.join(" ")).join("L")}Z`).join("");

const signedArea = (ring) => {
  let sum = 0;
  for (let i = 0; i < ring.length; i++) {
    const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
    sum += a[0] * b[1] - a[1] * b[0];
  }
  return sum / 2;
};
export const area = (rings) => rings.reduce((sum, r, i) => sum + (i === 0 ? 1 : -1) * Math.abs(signedArea(r)), 0);

// Where a line across the form meets an outline: pairs of y.
export const cutAt = (rings, x) => {
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

// A length as makers type it, in millimetres; null where the text is not a length.
export const readLength = (text, unit) => {
  const match = /^\s*(-?)\s*(?:(\d+)\s+)?(\d+(?:[.,]\d+)?)(?:\/(\d+))?\s*(mm|cm|m|in|"|ft|')?\s*$/.exec(text);
  if (!match) return null;
  const [, sign, whole, figure, below, typed] = match;
  if (whole && !below) return null;
  const value = (whole ? Number(whole) : 0) + Number(figure.replace(",", ".")) / (below ? Number(below) : 1);
  const factor = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8, "'": 304.8 }[typed ?? unit];
  return (sign ? -1 : 1) * value * factor;
};
export const showLength = (value, unit) => unit === "in" ? `${mm(value / 25.4)} in` : `${mm(value)} mm`;

// The underside, each edge moved out by its bevel.
export const lowerRing = (board) => {
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
};

// To the walls, level or upright with its neighbours, or square to them.
export const snapPoint = (ring, index, at, reach, { length, width }) => {
  const n = ring.length;
  const [p, q] = [ring[(index + n - 1) % n], ring[(index + 1) % n]];
  const to = (value, wanted) => wanted.find((w) => Math.abs(w - value) < reach) ?? value;
  const snapped = [to(at[0], [0, length, p[0], q[0]]), to(at[1], [0, width, p[1], q[1]])];
  if (snapped[0] !== at[0] || snapped[1] !== at[1]) return snapped;
  // On the circle over both neighbours the corner is a right angle (Thales).
  const middle = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2], radius = Math.hypot(p[0] - q[0], p[1] - q[1]) / 2;
  const d = [at[0] - middle[0], at[1] - middle[1]], l = Math.hypot(...d);
  return l > 0 && Math.abs(l - radius) < reach ? [middle[0] + d[0] / l * radius, middle[1] + d[1] / l * radius] : at;
};

// A board pulled close to a wall lies against it.
export const snapBoard = (drag, at, reach, { length, width }) => {
  const by = [at[0] - drag.at[0], at[1] - drag.at[1]];
  [length, width].forEach((most, axis) => {
    const all = drag.rings[0].map((p) => p[axis] + by[axis]);
    const low = Math.min(...all), high = Math.max(...all);
    if (Math.abs(low) < reach) by[axis] -= low; else if (Math.abs(high - most) < reach) by[axis] -= high - most;
  });
  return by;
};

// Index of the edge within reach of a point; −1 without one.
export const nearestEdge = (ring, at, reach) => {
  let best = reach, edge = -1;
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length];
    const d = [b[0] - a[0], b[1] - a[1]], l = d[0] ** 2 + d[1] ** 2 || 1;
    const t = Math.min(Math.max(((at[0] - a[0]) * d[0] + (at[1] - a[1]) * d[1]) / l, 0), 1);
    const far = Math.hypot(a[0] + d[0] * t - at[0], a[1] + d[1] * t - at[1]);
    if (far < best) { best = far; edge = i; }
  });
  return edge;
};
