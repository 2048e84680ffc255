"""The compiled part of the search: bottom-left placing, and guided overlap minimisation on the tables of `slices`.

Every function takes the flat tables as `slices` says: off, dmin, nd, cell, lo, hi. Items stand at x (mm) and row, in a pose that
is the number of a shape; item i may take the poses `item_pose[item_at[i]:item_at[i + 1]]`, each on every `stride`-th row between
its rmin and rmax. Where a print must match, a shape stands only at certain x: `ph[p]` is (phase, period, row where it counts
from, rows after which it shifts by half a period); a period of 0 leaves it free, a fourth of 0 never shifts.
"""

import numpy as np
from numba import njit

from rowanseed.core.lay.slices import EPS, MOST

STRIDE = 12  # rows between those that are tried first


@njit(cache=True, nogil=True)
def _random(rng):
    """A number in [0, 1) from an xorshift generator; rng holds its one word of state."""
    v = rng[0]
    v ^= (v << np.uint64(13)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    v ^= v >> np.uint64(7)
    v ^= (v << np.uint64(17)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    rng[0] = v
    return (v >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@njit(cache=True, nogil=True)
def snap_up(at, p, r, ph):
    """The first x not below `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = ph[p, 0]
    if ph[p, 3] > 0.0 and round((r - ph[p, 2]) / ph[p, 3]) % 2 != 0:
        phase += period / 2
    return phase + np.ceil((at - phase) / period - 1e-9) * period


@njit(cache=True, nogil=True)
def snap_down(at, p, r, ph):
    """The last x not above `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = ph[p, 0]
    if ph[p, 3] > 0.0 and round((r - ph[p, 2]) / ph[p, 3]) % 2 != 0:
        phase += period / 2
    return phase + np.floor((at - phase) / period + 1e-9) * period


@njit(cache=True, nogil=True)
def bottom_left(
    order,
    placed,
    x,
    row,
    pose,
    item_at,
    item_pose,
    rmin,
    rmax,
    stride,
    ph,
    size,
    off,
    dmin,
    nd,
    cell,
    lo,
    hi,
    noise,
    rng,
):
    """Place items in the order given, each where its far end lies nearest the cut end; (length, work done).

    Items flagged in `placed` stand already and do not count toward the length. `noise` mm of randomness is added to the choice
    among places.
    """
    n = placed.shape[0]
    done = placed.copy()
    length = 0.0
    work = 0
    for i in order:
        if done[i]:
            continue
        best = 1e18
        for q in range(item_at[i], item_at[i + 1]):
            p = item_pose[q]
            for r in range(rmin[q], rmax[q] + 1, stride[q]):
                at = snap_up(0.0, p, r, ph)
                moved = True
                while moved:
                    moved = False
                    work += n
                    for j in range(n):
                        if not done[j] or j == i:
                            continue
                        s = pose[j]
                        k = r - row[j] - dmin[s, p]
                        if k < 0 or k >= nd[s, p]:
                            continue
                        c = off[s, p] + k
                        for z in range(cell[c], cell[c + 1]):
                            if x[j] + lo[z] + EPS < at < x[j] + hi[z] - EPS:
                                at = snap_up(x[j] + hi[z], p, r, ph)
                                moved = True
                    if at + size[p] > best + noise:
                        break
                score = at + size[p] + noise * _random(rng)
                if score < best - EPS:
                    best = score
                    x[i] = at
                    row[i] = r
                    pose[i] = p
        done[i] = True
        length = max(length, x[i] + size[pose[i]])
    return length, work


@njit(cache=True, nogil=True)
def _depth(i, j, x, row, pose, deep, step, off, dmin, nd, cell, lo, hi):
    """How far items i and j overlap: the shorter way out, along x or across rows; 0 when they do not."""
    s, p = pose[j], pose[i]
    k = row[i] - row[j] - dmin[s, p]
    if k < 0 or k >= nd[s, p]:
        return 0.0
    c = off[s, p] + k
    dx = x[i] - x[j]
    for z in range(cell[c], cell[c + 1]):
        if lo[z] + EPS < dx < hi[z] - EPS:
            across = min((row[j] - row[i]) * step + deep[s], (row[i] - row[j]) * step + deep[p])
            return min(min(dx - lo[z], hi[z] - dx), max(across, 0.05))
    return 0.0


@njit(cache=True, nogil=True)
def _try_row(i, p, r, top, x, row, pose, ph, deep, step, off, dmin, nd, cell, lo, hi, w, rng, buf, found):
    """Try item i in pose p on row r, at both ends and beside whatever it would meet there; returns the work done.

    `found` holds the least cost so far, its x, row and pose, and how many places share it.
    """
    n = x.shape[0]
    m = 0
    for j in range(n):
        if j == i:
            continue
        s = pose[j]
        k = r - row[j] - dmin[s, p]
        if k < 0 or k >= nd[s, p]:
            continue
        c = off[s, p] + k
        for z in range(cell[c], cell[c + 1]):
            a, b = x[j] + lo[z], x[j] + hi[z]
            if b > 0.0 and a < top and m < MOST:
                across = min((row[j] - r) * step + deep[s], (r - row[j]) * step + deep[p])
                buf[m, 0] = a
                buf[m, 1] = b
                buf[m, 2] = w[i, j]
                buf[m, 3] = max(across, 0.05)
                m += 1
    for e in range(-2, 2 * m):
        if e == -2:
            at = snap_up(0.0, p, r, ph)
        elif e == -1:
            at = snap_down(top, p, r, ph)
        elif e < m:
            at = snap_up(buf[e, 1], p, r, ph)
        else:
            at = snap_down(buf[e - m, 0], p, r, ph)
        if at < 0.0 or at > top:
            continue
        cost = 0.0
        for z in range(m):
            if buf[z, 0] + EPS < at < buf[z, 1] - EPS:
                cost += buf[z, 2] * min(min(at - buf[z, 0], buf[z, 1] - at), buf[z, 3])
                if cost > found[0]:
                    break
        better = cost < found[0] - EPS
        if better:
            found[4] = 1.0
        elif cost <= found[0] + EPS:
            found[4] += 1.0
            if found[0] > EPS:
                better = _random(rng) * found[4] < 1.0
            else:
                better = at < found[1] - EPS or (at < found[1] + EPS and _random(rng) * found[4] < 1.0)
        if better:
            found[0], found[1], found[2], found[3] = cost, at, r, p
    return n + m * m


@njit(cache=True, nogil=True)
def _move(
    i,
    x,
    row,
    pose,
    item_at,
    item_pose,
    rmin,
    rmax,
    stride,
    ph,
    size,
    deep,
    step,
    off,
    dmin,
    nd,
    cell,
    lo,
    hi,
    w,
    limit,
    rng,
    buf,
):
    """Move item i to the place of least weighted overlap in [0, limit]; returns the work done.

    Rows are tried a few apart first, from a random one on, and every row then about the best of them: overlap changes little
    from row to row.
    """
    found = np.array([1e18, x[i], float(row[i]), float(pose[i]), 0.0])
    work = 0
    for q in range(item_at[i], item_at[i + 1]):
        p = item_pose[q]
        top = limit - size[p]
        if top < -EPS:
            continue
        top = max(top, 0.0)
        every = stride[q]
        pace = STRIDE if every == 1 and rmax[q] - rmin[q] > 4 * STRIDE else every
        start = rmin[q] + (int(_random(rng) * pace) if every == 1 else 0)
        for r in range(start, rmax[q] + 1, pace):
            work += _try_row(
                i, p, r, top, x, row, pose, ph, deep, step, off, dmin, nd, cell, lo, hi, w, rng, buf, found
            )
        if pace > every:
            for r in (rmin[q], rmax[q]):
                work += _try_row(
                    i, p, r, top, x, row, pose, ph, deep, step, off, dmin, nd, cell, lo, hi, w, rng, buf, found
                )
    if found[0] < 1e17:
        p, near = int(found[3]), int(found[2])
        for q in range(item_at[i], item_at[i + 1]):
            if stride[q] > 1 or item_pose[q] != p or near < rmin[q] or near > rmax[q]:
                continue
            top = max(limit - size[p], 0.0)
            for r in range(max(rmin[q], near - STRIDE + 1), min(rmax[q], near + STRIDE - 1) + 1):
                if r != near:
                    work += _try_row(
                        i, p, r, top, x, row, pose, ph, deep, step, off, dmin, nd, cell, lo, hi, w, rng, buf, found
                    )
    x[i] = found[1]
    row[i] = int(found[2])
    pose[i] = int(found[3])
    return work


@njit(cache=True, nogil=True)
def _overlaps(depth, x, row, pose, size, deep, step, off, dmin, nd, cell, lo, hi, movable, limit):
    """Fill `depth` with how far every pair overlaps; (their sum with what runs past the limit, the largest)."""
    n = x.shape[0]
    total = 0.0
    worst = 0.0
    for i in range(n):
        for j in range(i):
            if not movable[i] and not movable[j]:
                continue
            d = _depth(i, j, x, row, pose, deep, step, off, dmin, nd, cell, lo, hi)
            depth[i, j] = d
            depth[j, i] = d
            total += d
            worst = max(worst, d)
    for i in range(n):
        total += max(0.0, x[i] + size[pose[i]] - limit - EPS) if movable[i] else 0.0
    return total, worst


@njit(cache=True, nogil=True)
def _weigh(w, depth, worst):
    """Raise the weights of pairs that collide, by how far; let the others' fade."""
    n = w.shape[0]
    for i in range(n):
        for j in range(n):
            if depth[i, j] > 0.0:
                w[i, j] = min(1e6, w[i, j] * (1.2 + 0.8 * depth[i, j] / worst))
            else:
                w[i, j] = max(1.0, w[i, j] * 0.95)


@njit(cache=True, nogil=True)
def _colliding(hits, depth, x, pose, size, movable, limit, rng):
    """The movable items that collide or run past the limit, in random order in `hits`; returns their number."""
    n = x.shape[0]
    m = 0
    for i in range(n):
        if not movable[i]:
            continue
        hit = x[i] + size[pose[i]] > limit + EPS
        for j in range(n):
            hit = hit or depth[i, j] > 0.0
        if hit:
            hits[m] = i
            m += 1
    for k in range(m - 1, 0, -1):
        o = int(_random(rng) * (k + 1))
        hits[k], hits[o] = hits[o], hits[k]
    return m


@njit(cache=True, nogil=True)
def separate(
    x,
    row,
    pose,
    item_at,
    item_pose,
    rmin,
    rmax,
    stride,
    ph,
    size,
    deep,
    step,
    off,
    dmin,
    nd,
    cell,
    lo,
    hi,
    w,
    movable,
    limit,
    rng,
    budget,
    patience,
):
    """Guided overlap minimisation within `limit`: move colliding items one at a time, raise the weights of pairs that
    still collide.

    x, row, pose and w change in place; on failure they hold the least overlapping state seen.
    Returns: (overlap left, 0 when none; work done).
    """
    n = x.shape[0]
    depth = np.zeros((n, n))
    buf = np.empty((MOST, 4))
    hits = np.empty(n, np.int64)
    bx, br, bp = x.copy(), row.copy(), pose.copy()
    least = 1e18
    stall = 0
    work = 0
    for i in range(n):
        if movable[i] and x[i] + size[pose[i]] > limit:
            x[i] = snap_down(max(0.0, limit - size[pose[i]]), pose[i], row[i], ph)
            if x[i] < 0.0:
                x[i] = snap_up(0.0, pose[i], row[i], ph)
    while True:
        total, worst = _overlaps(depth, x, row, pose, size, deep, step, off, dmin, nd, cell, lo, hi, movable, limit)
        work += n * n + 50  # also for a single item, or its caller would never spend its budget
        if total < least - EPS:
            if total < 0.98 * least:
                stall = 0
            least = total
            bx[:] = x
            br[:] = row
            bp[:] = pose
        if total <= EPS or stall > patience or work > budget:
            break
        stall += 1
        _weigh(w, depth, worst)
        m = _colliding(hits, depth, x, pose, size, movable, limit, rng)
        for k in range(m):
            i = hits[k]
            still = x[i] + size[pose[i]] > limit + EPS
            for j in range(n):
                if j != i and _depth(i, j, x, row, pose, deep, step, off, dmin, nd, cell, lo, hi) > 0.0:
                    still = True
            if still:
                work += _move(
                    i, x, row, pose, item_at, item_pose, rmin, rmax, stride, ph, size, deep, step, off, dmin, nd, cell, lo,
                    hi, w, limit, rng, buf,
                )  # fmt: skip
    x[:] = bx
    row[:] = br
    pose[:] = bp
    return (0.0 if least <= EPS else least), work
