"""The compiled part of the search: bottom-left placing, and guided overlap minimisation on the tables of `slices`.

Every kernel takes a `Layout`, whose arrays `layout_arrays` describes.
"""

from typing import NamedTuple

import numpy as np
from numba import njit

from rowanseed.core.lay.compiled import compiled
from rowanseed.core.lay.layout_arrays import Floats, Ints
from rowanseed.core.lay.slices import EPS, MOST
from rowanseed.core.lay.snapping import random_share, snap_down, snap_up

STRIDE = 12  # rows between those that are tried first
NEAR = 4  # rows between those tried next, about the best of them
ABREAST = 8  # places priced together


class ScratchArrays(NamedTuple):
    """Where one move is worked out: for each row under trial the intervals that are taken there (from, to, weight, way out
    across rows) and their number; the places tried on one row and what they cost."""

    held: Ints
    taken: Floats
    at: Floats
    cost: Floats


@compiled()
def _scratch_arrays(b):
    """An empty scratch, large enough for every item of the board."""
    rows = 4 * STRIDE + 3
    for q in range(b.rmin.shape[0]):
        rows = max(rows, (b.rmax[q] - b.rmin[q]) // (STRIDE if b.stride[q] == 1 else b.stride[q]) + 3)
    room = min(MOST, (3 * b.x.shape[0] + 23) // 8 * 8)
    return ScratchArrays(
        np.empty(rows, np.int64), np.empty((rows, 4, room)), np.empty(2 * room + 32), np.empty(2 * room + 32)
    )


@compiled()
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
                            if b.x[j] + b.span[z, 0] + EPS < at < b.x[j] + b.span[z, 1] - EPS:
                                at = snap_up(b.x[j] + b.span[z, 1], p, r, b.ph)
                                moved = True
                    if at + b.size[p] > best + noise:
                        break
                score = at + b.size[p] + noise * random_share(rng)
                if score < best - EPS:
                    best = score
                    b.x[i] = at
                    b.row[i] = r
                    b.pose[i] = p
        done[i] = True
        length = max(length, b.x[i] + b.size[b.pose[i]])
    return length, work


@compiled()
def _depth(b, i, j):
    """How far items i and j overlap: the shorter way out, along x or across rows; 0 when they do not."""
    s, p = b.pose[j], b.pose[i]
    k = b.row[i] - b.row[j] - b.dmin[s, p]
    if k < 0 or k >= b.nd[s, p]:
        return 0.0
    c = b.off[s, p] + k
    dx = b.x[i] - b.x[j]
    for z in range(b.cell[c], b.cell[c + 1]):
        if b.span[z, 0] + EPS < dx < b.span[z, 1] - EPS:
            across = min((b.row[j] - b.row[i]) * b.step + b.deep[s], (b.row[i] - b.row[j]) * b.step + b.deep[p])
            return min(min(dx - b.span[z, 0], b.span[z, 1] - dx), max(across, 0.05))
    return 0.0


@compiled()
def _gather(b, i, p, start, stop, pace, top, w, scratch):
    """Write on the scratch what others take of the rows start, start + pace ... below stop, for item i in pose p; returns the work
    done.

    It goes item by item and not row by row: an item's rows lie one after the other in the tables.
    """
    x, row, pose, off, dmin, nd = b.x, b.row, b.pose, b.off, b.dmin, b.nd
    cell, span, deep, step = b.cell, b.span, b.deep, b.step
    held, taken = scratch.held, scratch.taken
    room = taken.shape[2]
    for k in range((stop - start + pace - 1) // pace):
        held[k] = 0
    work = x.shape[0]
    for j in range(x.shape[0]):
        s = pose[j]
        if j == i or nd[s, p] <= 0:
            continue
        low = row[j] + dmin[s, p]
        base = off[s, p] - low
        k = max(0, (low - start + pace - 1) // pace)
        for r in range(start + k * pace, min(low + nd[s, p], stop), pace):
            for z in range(cell[base + r], cell[base + r + 1]):
                first, last = x[j] + span[z, 0], x[j] + span[z, 1]
                m = held[k]
                if last > 0.0 and first < top and m < room:
                    across = min((row[j] - r) * step + deep[s], (r - row[j]) * step + deep[p])
                    taken[k, 0, m] = first
                    taken[k, 1, m] = last
                    taken[k, 2, m] = w[i, j]
                    taken[k, 3, m] = max(across, 0.05)
                    held[k] = m + 1
                    work += 1
            k += 1
    return work


@njit(inline="always")
def _places(taken, k, m, top, p, r, ph, at):
    """Fill `at` with the places worth trying on a row: both ends, and beside whatever lies there; returns their number."""
    bound = ph[p, 1] > 0.0
    count = 0
    for z in range(-1, m):
        v = taken[k, 1, z] if z >= 0 else 0.0
        if bound:
            v = snap_up(v, p, r, ph)
        at[count] = v
        count += v <= top
    for z in range(-1, m):
        v = taken[k, 0, z] if z >= 0 else top
        if bound:
            v = snap_down(v, p, r, ph)
        at[count] = v
        count += v >= 0.0
    return count


@njit(inline="always")
def _price(taken, k, m, at, count, cost):
    """Fill `cost` with the weighted overlap at each place: interval by interval and without a branch, so that it runs on several
    places at a time."""
    for c in range(count):
        cost[c] = 0.0
    for z in range(m):
        first, last, weight, across = taken[k, 0, z] + EPS, taken[k, 1, z] - EPS, taken[k, 2, z], taken[k, 3, z]
        for c in range(count):
            way = min(min(at[c] - first, last - at[c]), across)
            cost[c] += weight * max(way, 0.0)


@njit(inline="always")
def _beats(price, x, least, best_x, ties, rng):
    """Whether a place is taken over the best so far: it costs less; or neither costs anything and it lies nearer the cut end;
    or, among equals, by lot."""
    if price < least - EPS:
        return True
    if least > EPS or abs(x - best_x) <= EPS:
        return random_share(rng) * ties < 1.0
    return x < best_x


@compiled(fastmath=("reassoc", "nsz", "nnan", "contract"))
def _try_rows(b, i, p, start, stop, pace, limit, w, rng, scratch, found):
    """Try item i in pose p on every `pace`-th row from start to below stop; returns the work done.

    `found` holds the least cost so far, its x, row and pose, and how many places share it. All arrays have names of their own
    here: taken out of their tuple in a loop, each would be counted in and out again.
    """
    top = max(limit - b.size[p], 0.0)
    work = _gather(b, i, p, start, stop, pace, top, w, scratch)
    held, taken, at, cost, ph = scratch.held, scratch.taken, scratch.at, scratch.cost, b.ph
    least, best_x, best_row, best_pose, ties = found[0], found[1], found[2], found[3], found[4]
    for k in range((stop - start + pace - 1) // pace):
        r = start + k * pace
        m = held[k]
        count = _places(taken, k, m, top, p, r, ph, at)
        padded = (count + ABREAST - 1) // ABREAST * ABREAST
        at[count:padded] = -1.0
        _price(taken, k, m, at, padded, cost)
        for c in range(count):
            if cost[c] > least + EPS or (least <= 0.0 and at[c] > best_x + EPS):
                continue
            ties = 1.0 if cost[c] < least - EPS else ties + 1.0
            if _beats(cost[c], at[c], least, best_x, ties, rng):
                least, best_x, best_row, best_pose = cost[c], at[c], r, p
        work += 3 + m * padded // 16
    found[0], found[1], found[2], found[3], found[4] = least, best_x, best_row, best_pose, ties
    return work


@compiled()
def _about(b, i, w, limit, rng, scratch, found):
    """Try the rows about the best place found, first every `NEAR`-th, then each; returns the work done."""
    work = 0
    p = int(found[3])
    for q in range(b.item_at[i], b.item_at[i + 1]):
        best = int(found[2])
        low, high = b.rmin[q], b.rmax[q]
        if b.stride[q] > 1 or b.item_pose[q] != p or best < low or best > high:
            continue
        first = best - min(best - low, 2 * NEAR) // NEAR * NEAR
        work += _try_rows(b, i, p, first, min(high, best + 2 * NEAR) + 1, NEAR, limit, w, rng, scratch, found)
        best = int(found[2])
        first, last = max(low, best - NEAR + 1), min(high, best + NEAR - 1)
        work += _try_rows(b, i, p, first, last + 1, 1, limit, w, rng, scratch, found)
    return work


@compiled()
def _move(b, i, w, limit, rng, scratch):
    """Move item i to the place of least weighted overlap in [0, limit]; returns the work done.

    Rows are tried a few apart first, from a random one on, and those about the best of them then: overlap changes little from row
    to row.
    """
    found = np.array([1e18, b.x[i], float(b.row[i]), float(b.pose[i]), 0.0])
    work = 0
    for q in range(b.item_at[i], b.item_at[i + 1]):
        p = b.item_pose[q]
        if limit - b.size[p] < -EPS:
            continue
        every, low, high = b.stride[q], b.rmin[q], b.rmax[q]
        pace = STRIDE if every == 1 and high - low > 4 * STRIDE else every
        start = low + (int(random_share(rng) * pace) if every == 1 else 0)
        work += _try_rows(b, i, p, start, high + 1, pace, limit, w, rng, scratch, found)
        if pace > every:
            work += _try_rows(b, i, p, low, high + 1, high - low, limit, w, rng, scratch, found)
    if found[0] < 1e17:
        work += _about(b, i, w, limit, rng, scratch, found)
    b.x[i] = found[1]
    b.row[i] = int(found[2])
    b.pose[i] = int(found[3])
    return work


@compiled()
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


@compiled()
def _weigh(w, least, depth, worst):
    """Raise the weights of pairs that collide, by how far; let the others' fade to their least."""
    n = w.shape[0]
    for i in range(n):
        for j in range(n):
            if depth[i, j] > 0.0:
                w[i, j] = min(1e6, w[i, j] * (1.2 + 0.8 * depth[i, j] / worst))
            else:
                w[i, j] = max(least[i, j], w[i, j] * 0.95)


@compiled()
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
        o = int(random_share(rng) * (k + 1))
        hits[k], hits[o] = hits[o], hits[k]
    return m


@compiled()
def _still_in_the_way(b, i, limit):
    """Whether an item collides with another, or runs past the limit, as things stand now."""
    if b.x[i] + b.size[b.pose[i]] > limit + EPS:
        return True
    hit = False
    for j in range(b.x.shape[0]):
        hit = hit or (j != i and _depth(b, i, j) > 0.0)
    return hit


@compiled()
def separate(b, pairs, w, limit, rng, budget, patience):
    """Guided overlap minimisation within `limit`: move colliding items one at a time, raise the weights of pairs that
    still collide.

    The board's x, row and pose, and w, change in place; on failure they hold the least overlapping state seen.
    Returns: (overlap left, 0 when none; work done).
    """
    n = b.x.shape[0]
    depth = np.zeros((n, n))
    scratch = _scratch_arrays(b)
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
        _weigh(w, pairs, depth, worst)
        m = _colliding(b, hits, depth, limit, rng)
        for k in range(m):
            if _still_in_the_way(b, hits[k], limit):
                work += _move(b, hits[k], w, limit, rng, scratch)
    b.x[:] = bx
    b.row[:] = br
    b.pose[:] = bp
    return (0.0 if least <= EPS else least), work
