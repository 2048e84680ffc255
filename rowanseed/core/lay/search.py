"""The compiled part of the search: bottom-left placing, and guided overlap minimisation on the tables of `slices`.

Every kernel takes a `Board`. Items stand at x (mm) and row, in a pose that is the number of a shape; item i may take the poses
`item_pose[item_at[i]:item_at[i + 1]]`, each on every `stride`-th row between its rmin and rmax. Where a print must match, a shape
stands only at certain x: `ph[p]` is (phase, period, row where it counts from, rows after which it shifts by half a period);
a period of 0 leaves it free, a fourth of 0 never shifts.
"""

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from rowanseed.core.lay.slices import EPS, MOST

STRIDE = 12  # rows between those that are tried first

_Floats = NDArray[np.float64]
_Ints = NDArray[np.int64]


class Board(NamedTuple):
    """Where the items stand, what each may do, and the tables of forbidden positions, as `slices` says."""

    x: _Floats
    row: _Ints
    pose: _Ints
    item_at: _Ints
    item_pose: _Ints
    rmin: _Ints
    rmax: _Ints
    stride: _Ints
    ph: _Floats
    movable: NDArray[np.bool_]
    size: _Floats
    deep: _Floats
    step: float
    off: _Ints
    dmin: _Ints
    nd: _Ints
    cell: _Ints
    lo: _Floats
    hi: _Floats


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
def _phase(p, r, ph):
    """Where shape p's positions on row r are counted from."""
    if ph[p, 3] > 0.0 and round((r - ph[p, 2]) / ph[p, 3]) % 2 != 0:
        return ph[p, 0] + ph[p, 1] / 2
    return ph[p, 0]


@njit(cache=True, nogil=True)
def snap_up(at, p, r, ph):
    """The first x not below `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.ceil((at - phase) / period - 1e-9) * period


@njit(cache=True, nogil=True)
def snap_down(at, p, r, ph):
    """The last x not above `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.floor((at - phase) / period + 1e-9) * period


@njit(cache=True, nogil=True)
def bottom_left(b, order, placed, noise, rng):
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
        for q in range(b.item_at[i], b.item_at[i + 1]):
            p = b.item_pose[q]
            for r in range(b.rmin[q], b.rmax[q] + 1, b.stride[q]):
                at = snap_up(0.0, p, r, b.ph)
                moved = True
                while moved:
                    moved = False
                    work += n
                    for j in range(n):
                        if not done[j] or j == i:
                            continue
                        s = b.pose[j]
                        k = r - b.row[j] - b.dmin[s, p]
                        if k < 0 or k >= b.nd[s, p]:
                            continue
                        c = b.off[s, p] + k
                        for z in range(b.cell[c], b.cell[c + 1]):
                            if b.x[j] + b.lo[z] + EPS < at < b.x[j] + b.hi[z] - EPS:
                                at = snap_up(b.x[j] + b.hi[z], p, r, b.ph)
                                moved = True
                    if at + b.size[p] > best + noise:
                        break
                score = at + b.size[p] + noise * _random(rng)
                if score < best - EPS:
                    best = score
                    b.x[i] = at
                    b.row[i] = r
                    b.pose[i] = p
        done[i] = True
        length = max(length, b.x[i] + b.size[b.pose[i]])
    return length, work


@njit(cache=True, nogil=True)
def _depth(b, i, j):
    """How far items i and j overlap: the shorter way out, along x or across rows; 0 when they do not."""
    s, p = b.pose[j], b.pose[i]
    k = b.row[i] - b.row[j] - b.dmin[s, p]
    if k < 0 or k >= b.nd[s, p]:
        return 0.0
    c = b.off[s, p] + k
    dx = b.x[i] - b.x[j]
    for z in range(b.cell[c], b.cell[c + 1]):
        if b.lo[z] + EPS < dx < b.hi[z] - EPS:
            across = min((b.row[j] - b.row[i]) * b.step + b.deep[s], (b.row[i] - b.row[j]) * b.step + b.deep[p])
            return min(min(dx - b.lo[z], b.hi[z] - dx), max(across, 0.05))
    return 0.0


@njit(cache=True, nogil=True)
def _reach(b, i, p, near):
    """Whom item i could meet in pose p: (item, first row, row after the last, cell of row 0) for each; returns their number."""
    m = 0
    for j in range(b.x.shape[0]):
        s = b.pose[j]
        count = b.nd[s, p]
        if j == i or count <= 0:
            continue
        first = b.row[j] + b.dmin[s, p]
        near[m, 0] = j
        near[m, 1] = first
        near[m, 2] = first + count
        near[m, 3] = b.off[s, p] - first
        m += 1
    return m


@njit(cache=True, nogil=True)
def _meet(b, i, p, r, top, w, buf, near, others):
    """Fill `buf` with the intervals that are taken on row r: from, to, weight, way out across rows; returns their number."""
    m = 0
    for o in range(others):
        if r < near[o, 1] or r >= near[o, 2]:
            continue
        j = near[o, 0]
        c = near[o, 3] + r
        for z in range(b.cell[c], b.cell[c + 1]):
            first, last = b.x[j] + b.lo[z], b.x[j] + b.hi[z]
            if last > 0.0 and first < top and m < MOST:
                across = min((b.row[j] - r) * b.step + b.deep[b.pose[j]], (r - b.row[j]) * b.step + b.deep[p])
                buf[0, m] = first
                buf[1, m] = last
                buf[2, m] = w[i, j]
                buf[3, m] = max(across, 0.05)
                m += 1
    return m


@njit(cache=True, nogil=True, fastmath={"reassoc", "nsz", "nnan"})
def _cost(at, m, first, last, weight, across):
    """The weighted overlap at x = `at`: without a branch, so that it runs on several intervals at a time."""
    cost = 0.0
    for z in range(m):
        way = min(min(at - first[z], last[z] - at) - EPS, across[z])
        cost += weight[z] * max(way, 0.0)
    return cost


@njit(cache=True, nogil=True)
def _try_row(b, i, p, r, top, w, rng, buf, near, others, found):
    """Try item i in pose p on row r, at both ends and beside whatever it would meet there; returns the work done.

    `found` holds the least cost so far, its x, row and pose, and how many places share it.
    """
    m = _meet(b, i, p, r, top, w, buf, near, others)
    first, last, weight, across = buf[0], buf[1], buf[2], buf[3]
    free = b.ph[p, 1] <= 0.0
    for e in range(-2, 2 * m):
        if e == -2:
            at = 0.0
        elif e == -1:
            at = top
        else:
            at = last[e] if e < m else first[e - m]
        if not free:
            at = snap_down(at, p, r, b.ph) if e == -1 or e >= m else snap_up(at, p, r, b.ph)
        if at < 0.0 or at > top or (found[0] <= 0.0 and at > found[1] + EPS):
            continue
        cost = _cost(at, m, first, last, weight, across)
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
    return b.x.shape[0] + m * m


@njit(cache=True, nogil=True)
def _move(b, i, w, limit, rng, buf, near):
    """Move item i to the place of least weighted overlap in [0, limit]; returns the work done.

    Rows are tried a few apart first, from a random one on, and every row then about the best of them: overlap changes little
    from row to row.
    """
    found = np.array([1e18, b.x[i], float(b.row[i]), float(b.pose[i]), 0.0])
    work = 0
    for q in range(b.item_at[i], b.item_at[i + 1]):
        p = b.item_pose[q]
        top = limit - b.size[p]
        if top < -EPS:
            continue
        top = max(top, 0.0)
        every = b.stride[q]
        pace = STRIDE if every == 1 and b.rmax[q] - b.rmin[q] > 4 * STRIDE else every
        start = b.rmin[q] + (int(_random(rng) * pace) if every == 1 else 0)
        others = _reach(b, i, p, near)
        for r in range(start, b.rmax[q] + 1, pace):
            work += _try_row(b, i, p, r, top, w, rng, buf, near, others, found)
        if pace > every:
            for r in (b.rmin[q], b.rmax[q]):
                work += _try_row(b, i, p, r, top, w, rng, buf, near, others, found)
    if found[0] < 1e17:
        p, best = int(found[3]), int(found[2])
        others = _reach(b, i, p, near)
        for q in range(b.item_at[i], b.item_at[i + 1]):
            if b.stride[q] > 1 or b.item_pose[q] != p or best < b.rmin[q] or best > b.rmax[q]:
                continue
            top = max(limit - b.size[p], 0.0)
            for r in range(max(b.rmin[q], best - STRIDE + 1), min(b.rmax[q], best + STRIDE - 1) + 1):
                if r != best:
                    work += _try_row(b, i, p, r, top, w, rng, buf, near, others, found)
    b.x[i] = found[1]
    b.row[i] = int(found[2])
    b.pose[i] = int(found[3])
    return work


@njit(cache=True, nogil=True)
def _overlaps(b, depth, limit):
    """Fill `depth` with how far every pair overlaps; (their sum with what runs past the limit, the largest)."""
    n = b.x.shape[0]
    total = 0.0
    worst = 0.0
    for i in range(n):
        for j in range(i):
            if not b.movable[i] and not b.movable[j]:
                continue
            d = _depth(b, i, j)
            depth[i, j] = d
            depth[j, i] = d
            total += d
            worst = max(worst, d)
    for i in range(n):
        total += max(0.0, b.x[i] + b.size[b.pose[i]] - limit - EPS) if b.movable[i] else 0.0
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
def _colliding(b, hits, depth, limit, rng):
    """The movable items that collide or run past the limit, in random order in `hits`; returns their number."""
    n = b.x.shape[0]
    m = 0
    for i in range(n):
        if not b.movable[i]:
            continue
        hit = b.x[i] + b.size[b.pose[i]] > limit + EPS
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
def _still_in_the_way(b, i, limit):
    """Whether an item collides with another, or runs past the limit, as things stand now."""
    if b.x[i] + b.size[b.pose[i]] > limit + EPS:
        return True
    hit = False
    for j in range(b.x.shape[0]):
        hit = hit or (j != i and _depth(b, i, j) > 0.0)
    return hit


@njit(cache=True, nogil=True)
def separate(b, w, limit, rng, budget, patience):
    """Guided overlap minimisation within `limit`: move colliding items one at a time, raise the weights of pairs that
    still collide.

    The board's x, row and pose, and w, change in place; on failure they hold the least overlapping state seen.
    Returns: (overlap left, 0 when none; work done).
    """
    n = b.x.shape[0]
    depth = np.zeros((n, n))
    buf = np.empty((4, MOST))
    near = np.empty((n, 4), np.int64)
    hits = np.empty(n, np.int64)
    bx, br, bp = b.x.copy(), b.row.copy(), b.pose.copy()
    least = 1e18
    stall = 0
    work = 0
    for i in range(n):
        p = b.pose[i]
        if b.movable[i] and b.x[i] + b.size[p] > limit:
            b.x[i] = snap_down(max(0.0, limit - b.size[p]), p, b.row[i], b.ph)
            if b.x[i] < 0.0:
                b.x[i] = snap_up(0.0, p, b.row[i], b.ph)
    while True:
        total, worst = _overlaps(b, depth, limit)
        work += n * n + 50  # also for a single item, or its caller would never spend its budget
        if total < least - EPS:
            if total < 0.98 * least:
                stall = 0
            least = total
            bx[:] = b.x
            br[:] = b.row
            bp[:] = b.pose
        if total <= EPS or stall > patience or work > budget:
            break
        stall += 1
        _weigh(w, depth, worst)
        m = _colliding(b, hits, depth, limit, rng)
        for k in range(m):
            if _still_in_the_way(b, hits[k], limit):
                work += _move(b, hits[k], w, limit, rng, buf, near)
    b.x[:] = bx
    b.row[:] = br
    b.pose[:] = bp
    return (0.0 if least <= EPS else least), work
