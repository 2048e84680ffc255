// Polygons that a hand moves: do two overlap, how near are they. Millimetres; a polygon is a list of [x, y].
// The page judges with this while a piece moves; the server's checker has the last word.
const Geometry = (() => {
  const DEEP = 0.1; // overlap that counts, as in the checker

  function box(points) {
    let x0 = Infinity, y0 = Infinity, x1 = -Infinity, y1 = -Infinity;
    for (const [x, y] of points) {
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
    }
    return [x0, y0, x1, y1];
  }

  function apart(a, b, by) {
    return a[2] + by <= b[0] || b[2] + by <= a[0] || a[3] + by <= b[1] || b[3] + by <= a[1];
  }

  function toSegment(px, py, ax, ay, bx, by) {
    const dx = bx - ax, dy = by - ay, size = dx * dx + dy * dy;
    const t = size ? Math.max(0, Math.min(1, ((px - ax) * dx + (py - ay) * dy) / size)) : 0;
    return Math.hypot(px - ax - t * dx, py - ay - t * dy);
  }

  function toEdge(px, py, points) {
    let near = Infinity;
    for (let i = 0, n = points.length; i < n; i += 1) {
      const a = points[i], b = points[(i + 1) % n];
      near = Math.min(near, toSegment(px, py, a[0], a[1], b[0], b[1]));
    }
    return near;
  }

  function inside(px, py, points) {
    let is = false;
    for (let i = 0, j = points.length - 1; i < points.length; j = i, i += 1) {
      const [xi, yi] = points[i], [xj, yj] = points[j];
      if ((yi > py) !== (yj > py) && px < ((xj - xi) * (py - yi)) / (yj - yi) + xi) is = !is;
    }
    return is;
  }

  // Whether some stretch of a's outline lies deeper than DEEP inside b.
  function enters(a, b) {
    for (let i = 0; i < a.length; i += 1) {
      const p = a[i], q = a[(i + 1) % a.length], cuts = [0, 1];
      for (let j = 0; j < b.length; j += 1) {
        const r = b[j], s = b[(j + 1) % b.length];
        const d = (q[0] - p[0]) * (s[1] - r[1]) - (q[1] - p[1]) * (s[0] - r[0]);
        if (Math.abs(d) < 1e-12) continue;
        const t = ((r[0] - p[0]) * (s[1] - r[1]) - (r[1] - p[1]) * (s[0] - r[0])) / d;
        const u = ((r[0] - p[0]) * (q[1] - p[1]) - (r[1] - p[1]) * (q[0] - p[0])) / d;
        if (t > 0 && t < 1 && u >= 0 && u <= 1) cuts.push(t);
      }
      cuts.sort((m, n) => m - n);
      for (let k = 0; k + 1 < cuts.length; k += 1) {
        const t = (cuts[k] + cuts[k + 1]) / 2, x = p[0] + t * (q[0] - p[0]), y = p[1] + t * (q[1] - p[1]);
        if (inside(x, y, b) && toEdge(x, y, b) > DEEP) return true;
      }
    }
    return false;
  }

  function overlap(a, b) {
    return enters(a, b) || enters(b, a);
  }

  function distance(a, b) {
    let near = Infinity;
    for (const [x, y] of a) near = Math.min(near, toEdge(x, y, b));
    for (const [x, y] of b) near = Math.min(near, toEdge(x, y, a));
    return near;
  }

  return { box, apart, overlap, distance };
})();
