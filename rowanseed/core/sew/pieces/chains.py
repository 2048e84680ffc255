"""Edges in a row against edges in a row: put the same way round and parted where the others end, so that each lies on one."""

import re
from collections.abc import Mapping, Sequence
from itertools import pairwise

import numpy as np

from rowanseed.core.sew.cloth.sheets import Page

Chains = tuple[tuple[list[str], bool], ...]
PLACES = frozenset({"front", "back", "side", "middle", "centre"})
NEAR = 0.1  # parts of a line that are less than this share of it apart are one


def run_on(one: str, other: str, order: Mapping[str, Sequence[str]]) -> bool:
    """Whether two edges of one sheet meet."""
    names = order[one.rpartition(".")[0]]
    if other not in names:
        return False
    apart = abs(names.index(one) - names.index(other))
    return apart in (1, len(names) - 1)


def matched(
    lines: Mapping[str, Chains], order: Mapping[str, Sequence[str]], length: Mapping[str, float]
) -> tuple[dict[str, list[tuple[str, float]]], dict[str, tuple[Page, ...]]]:
    """Return each edge's parts in the order of its sheet with their lengths in cm, and the lines with edge on edge (`line:k`)."""
    partners = {e: line for line, pages in lines.items() for chain, _ in pages for e in chain}
    parted = {e: [(e, length[e])] for names in order.values() for e in names}
    whole: dict[str, tuple[Page, ...]] = {}
    for line, pages in lines.items():
        run = _same_way(pages, order, lines, partners)
        shares = _aligned([chain for chain, _ in run], length)
        ends = _together([end for each in shares for end in each])
        rows: list[list[Page]] = [[] for _ in ends]
        for (chain, up), each in zip(run, shares, strict=True):
            _part(chain, up, each, ends, parted, rows)
        for k, row in enumerate(rows):
            whole[f"{line}:{k}" if len(rows) > 1 else line] = tuple(row)
    return parted, whole


def _same_way(
    pages: Chains, order: Mapping[str, Sequence[str]], lines: Mapping[str, Chains], partners: Mapping[str, str]
) -> list[tuple[list[str], bool]]:
    """The pages' chains all in the direction in which the line runs.

    Chains of as many edges were told edge by edge, so they are turned together: round an armhole either end leads to the next.
    """
    first, up = pages[0]
    turned = _forward(first, up, order, lines, partners)
    run = [(turned, up)]
    for chain, side in pages[1:]:
        if len(chain) != len(first):
            run.append((_forward(chain, side, order, lines, partners), side))
            continue
        across = _of_one_place(first[0], chain[-1]) and not _of_one_place(first[0], chain[0])
        told = chain[::-1] if across else chain
        run.append((told if turned == first else told[::-1], side))
    return run


def _shares(chain: Sequence[str], length: Mapping[str, float]) -> list[float]:
    """Where each edge of a chain ends, as a share of the whole."""
    total, at, ends = sum(length[e] for e in chain), 0.0, []
    for edge in chain:
        at += length[edge]
        ends.append(at / total)
    return ends


def _aligned(chains: Sequence[list[str]], length: Mapping[str, float]) -> list[list[float]]:
    """Where each chain's edges end, those that plainly belong together (front against back, in shell and lining) at one place."""
    first, *others = [_shares(chain, length) for chain in chains]
    told = [first]
    for chain, ends in zip(chains[1:], others, strict=True):
        anchors = {0.0: 0.0, 1.0: 1.0}
        for one, end in zip(pairwise(chain), ends, strict=False):
            for other, at in zip(pairwise(chains[0]), first, strict=False):
                if all(map(_of_one_place, one, other)) and at not in anchors.values():
                    anchors[end] = at
        own = sorted(anchors)
        told.append([float(x) for x in np.interp(ends, own, sorted(anchors.values()))])
    return told


def _of_one_place(one: str, other: str) -> bool:
    """Whether two edges' pieces are the same part of two layers, by their names: a front and a front's lining."""
    a, b = (re.split(r"[@'.]", edge)[0] for edge in (one, other))
    return a in b or b in a or bool(PLACES & set(a.split("-")) & set(b.split("-")))


def _together(ends: Sequence[float]) -> list[float]:
    """Ends that are nearly the same, once."""
    kept: list[float] = []
    for end in sorted(ends):
        if kept and end - kept[-1] < NEAR:
            kept[-1] = end
        else:
            kept.append(end)
    return kept


def _part(
    chain: Sequence[str], up: bool, own: Sequence[float], ends: Sequence[float],
    parted: dict[str, list[tuple[str, float]]], rows: list[list[Page]],
) -> None:  # fmt: skip
    """Part a chain's edges at the ends of the others and put the parts into the rows."""
    begun = 0
    for edge, end in zip(chain, own, strict=True):
        last = min(range(len(ends)), key=lambda k: abs(ends[k] - end))
        some = range(begun, max(last, begun) + 1)
        names = [f"{edge}:{k}" if len(some) > 1 else edge for k in some]
        wide = parted[edge][0][1] / len(names)
        parts = [(name, wide) for name in names]
        parted[edge] = parts if up else parts[::-1]
        for k, name in zip(some, names, strict=True):
            rows[k].append(Page(name, up))
        begun = min(last + 1, len(ends) - 1)


def _forward(
    chain: list[str],
    up: bool,
    order: Mapping[str, Sequence[str]],
    lines: Mapping[str, Chains],
    partners: Mapping[str, str],
) -> list[str]:
    """A chain in the direction in which a line runs: with its sheets' order where the right side is up, against it where not."""
    for one, other in pairwise(chain):
        for step in (1, -1):
            if _leads(one, other, step, order, lines, partners):
                return chain if (step == 1) == up else chain[::-1]
    return chain


def _leads(
    one: str,
    other: str,
    step: int,
    order: Mapping[str, Sequence[str]],
    lines: Mapping[str, Chains],
    partners: Mapping[str, str],
) -> bool:
    """Whether one comes from an edge to another at its end: they meet, or a seam between what meets them leads there."""
    names = order[one.rpartition(".")[0]]
    beside = names[(names.index(one) + step) % len(names)]
    if beside == other:
        return True
    line = partners.get(beside)
    if line is None:
        return False
    near = [e for chain, _ in lines[line] for e in chain if e != beside]
    return any(run_on(e, other, order) for e in near)
