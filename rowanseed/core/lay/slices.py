"""The compiled tables of the nester: exact slices of the regions where two shapes collide.

Rows are lines of constant y, `step` mm apart; x is continuous. A *shape* is one piece in one pose, its polygon
already grown by half the gap, cut into *parts* that every row meets in one interval. For two shapes and a row
difference d, the forbidden x differences are the union of one open interval for each pair of parts, found exactly from
the slabs of both: no rounding of outlines to rows, so pieces may touch and never overlap.

Tables are flat: for shapes s and t, `off[s, t] + d - dmin[s, t]` is the cell of row difference d, and its
intervals (from, to) are `span[cell[k]:cell[k + 1]]`; `build_tables` gives their two columns apart.
"""

import numpy as np

from rowanseed.core.lay.compiled import compiled

EPS = 1e-7
MOST = 256  # intervals one row can hold


@compiled()
def cut_into_slabs(xs, ys):
    """Cut a polygon into slabs between successive vertex heights, grouped into parts.

    Args: xs, ys: the polygon's vertices, mm, first not repeated.
    Returns: (slabs, part): slabs[k] = y0, y1, left x at y0 and y1, right x at y0 and y1; part[k] its part's number.
    """
    n = xs.shape[0]
    heights = np.unique(ys)
    slabs = np.empty((4 * n + 16, 6))
    part = np.empty(4 * n + 16, np.int64)
    count = 0
    parts = 0
    prev_from = 0
    prev_to = 0
    cross = np.empty((n, 3))
    for k in range(heights.shape[0] - 1):
        y0, y1 = heights[k], heights[k + 1]
        if y1 - y0 < EPS:
            continue
        ym = 0.5 * (y0 + y1)
        m = 0
        for i in range(n):
            j = i + 1 if i + 1 < n else 0
            ya, yb = ys[i], ys[j]
            if (ya <= ym) == (yb <= ym):
                continue
            slope = (xs[j] - xs[i]) / (yb - ya)
            cross[m, 0] = xs[i] + (ym - ya) * slope
            cross[m, 1] = xs[i] + (y0 - ya) * slope
            cross[m, 2] = xs[i] + (y1 - ya) * slope
            m += 1
        order = np.argsort(cross[:m, 0])
        start = count
        for q in range(0, m - 1, 2):
            a, b = order[q], order[q + 1]
            if count == slabs.shape[0]:
                grown = np.empty((2 * count, 6))
                grown[:count] = slabs
                slabs = grown
                more = np.empty(2 * count, np.int64)
                more[:count] = part
                part = more
            slabs[count, 0] = y0
            slabs[count, 1] = y1
            slabs[count, 2] = cross[a, 1]
            slabs[count, 3] = cross[a, 2]
            slabs[count, 4] = cross[b, 1]
            slabs[count, 5] = cross[b, 2]
            part[count] = -1
            count += 1
        for c in range(start, count):
            below = -1
            links = 0
            for p in range(prev_from, prev_to):
                if slabs[p, 1] == y0 and slabs[p, 3] < slabs[c, 4] and slabs[p, 5] > slabs[c, 2]:
                    below = p
                    links += 1
            if links == 1:
                ups = 0
                for o in range(start, count):
                    if slabs[below, 3] < slabs[o, 4] and slabs[below, 5] > slabs[o, 2]:
                        ups += 1
                if ups == 1:
                    part[c] = part[below]
            if part[c] < 0:
                part[c] = parts
                parts += 1
        prev_from, prev_to = start, count
    order = np.argsort(part[:count], kind="mergesort")
    return slabs[:count][order], part[:count][order]


@compiled()
def _slice_parts(slabs, a0, a1, b0, b1, dy):
    """The forbidden x difference of two parts, the second raised by dy: (lo, hi), lo >= hi when none."""
    lo = 1e18
    hi = -1e18
    i = a0
    while i < a1 and slabs[i, 1] <= slabs[b0, 0] + dy:
        i += 1
    if i == a1:
        return lo, hi
    j = b0
    while j < b1 and slabs[j, 1] + dy <= slabs[i, 0]:
        j += 1
    while i < a1 and j < b1:
        u = max(slabs[i, 0], slabs[j, 0] + dy)
        v = min(slabs[i, 1], slabs[j, 1] + dy)
        if v - u > EPS:
            ha = 1.0 / (slabs[i, 1] - slabs[i, 0])
            hb = 1.0 / (slabs[j, 1] - slabs[j, 0])
            ua = (u - slabs[i, 0]) * ha
            va = (v - slabs[i, 0]) * ha
            ub = (u - dy - slabs[j, 0]) * hb
            vb = (v - dy - slabs[j, 0]) * hb
            la, ra = slabs[i, 3] - slabs[i, 2], slabs[i, 5] - slabs[i, 4]
            lb, rb = slabs[j, 3] - slabs[j, 2], slabs[j, 5] - slabs[j, 4]
            hi = max(hi, slabs[i, 4] + ra * ua - slabs[j, 2] - lb * ub)
            hi = max(hi, slabs[i, 4] + ra * va - slabs[j, 2] - lb * vb)
            lo = min(lo, slabs[i, 2] + la * ua - slabs[j, 4] - rb * ub)
            lo = min(lo, slabs[i, 2] + la * va - slabs[j, 4] - rb * vb)
        if slabs[i, 1] < slabs[j, 1] + dy:
            i += 1
        else:
            j += 1
    return lo, hi


@compiled()
def _slice_shapes(slabs, part_at, shape_at, s, t, dy, out):
    """Forbidden x differences of shapes s and t with t raised by dy, merged and ascending; returns their number."""
    m = 0
    for a in range(shape_at[s], shape_at[s + 1]):
        for b in range(shape_at[t], shape_at[t + 1]):
            a0, a1, b0, b1 = part_at[a], part_at[a + 1], part_at[b], part_at[b + 1]
            if slabs[a1 - 1, 1] <= slabs[b0, 0] + dy or slabs[b1 - 1, 1] + dy <= slabs[a0, 0]:
                continue
            lo, hi = _slice_parts(slabs, a0, a1, b0, b1, dy)
            if hi - lo > EPS and m < out.shape[0]:
                k = m
                while k > 0 and out[k - 1, 0] > lo:
                    out[k, 0] = out[k - 1, 0]
                    out[k, 1] = out[k - 1, 1]
                    k -= 1
                out[k, 0] = lo
                out[k, 1] = hi
                m += 1
    w = 0
    for k in range(m):
        if w > 0 and out[k, 0] < out[w - 1, 1] - EPS:
            out[w - 1, 1] = max(out[w - 1, 1], out[k, 1])
        else:
            out[w, 0] = out[k, 0]
            out[w, 1] = out[k, 1]
            w += 1
    return w


@compiled()
def build_tables(slabs, part_at, shape_at, base, flip_x, flip_y, size, rows, step, dmin, nd):
    """Tabulate every pair of shapes over the row differences asked for.

    Shapes of one base differ by mirroring in x (flip_x) and in y (flip_y), y about the whole number of rows, so a pair's
    table follows from that of the pair with the first shape unmirrored; only those are computed.

    Args: size[s]: length of s, mm; rows[s]: its height in whole rows; dmin, nd: first row difference and how many.
    Returns: (off, cell, lo, hi) as the module says.
    """
    count = base.shape[0]
    off = np.zeros((count, count), np.int64)
    cells = 0
    for s in range(count):
        for t in range(count):
            off[s, t] = cells
            cells += nd[s, t]
    cell = np.zeros(cells + 1, np.int64)
    room = max(1024, 2 * cells)
    lo = np.empty(room)
    hi = np.empty(room)
    used = 0
    out = np.empty((MOST, 2))
    source = np.empty((count, count), np.int64)
    for s in range(count):
        for t in range(count):
            source[s, t] = -1
            for a in range(s + 1):
                if base[a] != base[s] or source[s, t] >= 0:
                    continue
                fx, fy = flip_x[a] != flip_x[s], flip_y[a] != flip_y[s]
                for b in range(count):
                    if a == s and b >= t:
                        break
                    if base[b] != base[t] or (flip_x[b] != flip_x[t]) != fx or (flip_y[b] != flip_y[t]) != fy:
                        continue
                    if a < s or b < t:
                        source[s, t] = a * count + b
                        break
    for s in range(count):
        for t in range(count):
            src = source[s, t]
            for k in range(nd[s, t]):
                d = dmin[s, t] + k
                m = -1
                if src >= 0:
                    a, b = src // count, src % count
                    da = d if flip_y[a] == flip_y[s] else rows[s] - rows[t] - d
                    ka = da - dmin[a, b]
                    if 0 <= ka < nd[a, b]:
                        c0, c1 = cell[off[a, b] + ka], cell[off[a, b] + ka + 1]
                        m = c1 - c0
                        shift = size[s] - size[t]
                        for q in range(m):
                            if flip_x[a] == flip_x[s]:
                                out[q, 0] = lo[c0 + q]
                                out[q, 1] = hi[c0 + q]
                            else:
                                out[m - 1 - q, 0] = shift - hi[c0 + q]
                                out[m - 1 - q, 1] = shift - lo[c0 + q]
                elif t < s:
                    kb = -d - dmin[t, s]
                    if 0 <= kb < nd[t, s]:
                        c0, c1 = cell[off[t, s] + kb], cell[off[t, s] + kb + 1]
                        m = c1 - c0
                        for q in range(m):
                            out[m - 1 - q, 0] = -hi[c0 + q]
                            out[m - 1 - q, 1] = -lo[c0 + q]
                if m < 0:
                    m = _slice_shapes(slabs, part_at, shape_at, s, t, d * step, out)
                if used + m > room:
                    room = 2 * (used + m)
                    grown = np.empty(room)
                    grown[:used] = lo[:used]
                    lo = grown
                    grown = np.empty(room)
                    grown[:used] = hi[:used]
                    hi = grown
                for q in range(m):
                    lo[used + q] = out[q, 0]
                    hi[used + q] = out[q, 1]
                used += m
                cell[off[s, t] + k + 1] = used
    return off, cell, lo[:used].copy(), hi[:used].copy()
