"""Sizes that a file does not name: by the kind of line, by the order of nesting; seam lines that run beside cutting lines."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from rowanseed.core.errors import Finding
from rowanseed.core.intake.model import Stroke, Words
from rowanseed.core.intake.names import size_of, size_rank
from rowanseed.core.intake.nesting import even_distance, nested
from rowanseed.core.intake.outlines import Closed

# Seam allowances in use, mm: 1/4, 3/8, 1/2, 5/8, 3/4, 1 in and whole figures; common practice, no source.
USUAL_ALLOWANCES = (6.0, 6.35, 7.0, 9.5, 10.0, 12.0, 12.7, 15.0, 15.9, 19.05, 20.0, 25.0, 25.4)


def style_key(stroke: Stroke) -> str:
    """Return what names a kind of line where a file has no layers: its colour, whether it is dashed, its width."""
    dashed = f" dashed {stroke.style.dashes}".rstrip() if stroke.style.dashed else ""
    return f"{stroke.style.colour}{dashed} {stroke.style.width_mm:g}"


def seams_by_style(outlines: Sequence[Closed]) -> tuple[list[Closed], tuple[Finding, ...]]:
    """Return outlines with those marked as seam lines that are drawn in a kind of line of their own, each evenly inside another.

    One such pair alone counts only where it lies by a usual allowance inside and is dashed.
    """
    plain = [c for c in outlines if c.stroke.size is None and c.stroke.sense in ("", "cut")]
    by_style: dict[str, list[Closed]] = defaultdict(list)
    for c in plain:
        by_style[style_key(c.stroke)].append(c)
    common = sorted((cs for cs in by_style.values() if len(cs) > 0.1 * len(plain)), key=len)
    if len(plain) < len(outlines) or len(common) != 2:
        return list(outlines), ()
    inner, outer = sorted(common, key=lambda cs: sum(c.area for c in cs) / len(cs))
    if len(inner) > len(outer):
        return list(outlines), ()
    pairs = {id(c): d for c in inner if (d := _beside(c, outer)) is not None}
    alone = len(inner) == 1 and not (
        inner[0].stroke.style.dashed and any(abs(d - u) < 0.35 for d in pairs.values() for u in USUAL_ALLOWANCES)
    )
    if alone or len(pairs) < max(1, 0.8 * len(inner)):
        return list(outlines), ()
    theirs = {id(c) for c in inner}
    marked = [replace(c, stroke=replace(c.stroke, sense="seam")) if id(c) in theirs else c for c in outlines]
    far = sorted(pairs.values())[len(pairs) // 2]
    text = f"Lines of their own kind that run evenly inside the outlines, {far:.1f} mm away, were taken as seam lines."
    return marked, (Finding("note", "guess-seam-lines", text),)


def _beside(closed: Closed, outer: Sequence[Closed]) -> float | None:
    """Return how far outside a line the nearest of others runs evenly, or None."""
    x, y = closed.outline[0]
    near = [o for o in outer if o.area > closed.area and _holds(o, x, y)]
    found = [d for o in sorted(near, key=lambda o: o.area)[:6] if (d := even_distance(closed, o)) is not None]
    return min(found, default=None)


def _holds(outer: Closed, x: float, y: float) -> bool:
    xs, ys = [p[0] for p in outer.outline], [p[1] for p in outer.outline]
    return min(xs) - 1 <= x <= max(xs) + 1 and min(ys) - 1 <= y <= max(ys) + 1


def sizes_by_style(outlines: list[Closed]) -> tuple[list[Closed], tuple[Finding, ...]]:
    """Return outlines with a size for each kind of line, where nested lines of one sheet differ in it.

    The sizes are numbered by how large their outlines are; the user names them.
    """
    plain = [c for c in outlines if c.stroke.size is None and c.stroke.sense in ("", "cut")]
    told = any(c.kind for c in outlines)
    if len(plain) + (sum(1 for c in outlines if c.kind and c.stroke.sense == "seam") if told else 0) < len(outlines):
        return outlines, ()
    layers = {c.stroke.layer for c in plain}
    nests = [n for n in nested(plain) if len(n.members) > 1]
    apart = len(nests) > 1 and len(layers) == len(plain)  # a name for each line, as programs number what they draw
    by_layer = len(layers) > 1 and not apart and len({style_key(c.stroke) for c in plain}) <= len(layers)

    def key(c: Closed) -> str:
        return c.stroke.layer if by_layer else c.kind if told else style_key(c.stroke)

    kinds = {key(c) for c in plain}
    whole = sum(len(n.members) for n in nests)
    distinct = all(len({key(m) for m in n.members}) == len(n.members) for n in nests)
    if len(kinds) < 2 or not nests or not distinct or whole < 0.5 * len(plain):
        return outlines, ()
    rank: dict[str, list[float]] = defaultdict(list)
    for nest in nests:
        for k, member in enumerate(sorted(nest.members, key=lambda m: m.area)):
            rank[key(member)].append(k / (len(nest.members) - 1))
    order = sorted(rank, key=lambda kind: sum(rank[kind]) / len(rank[kind]))
    names = {kind: str(k) for k, kind in enumerate(order, start=1)}
    listed = ", ".join(f"{names[kind]}: {kind or 'no name'}" for kind in order[:16])
    what = "layer" if by_layer else "kind of line (colour, dashes, width)"
    text = f"Each {what} was taken as a size, the smallest first ({listed}). Name them after the pattern's own sizes."
    sized = [replace(c, stroke=replace(c.stroke, size=names.get(key(c)))) for c in outlines]
    return sized, (Finding("note", "guess-sizes-by-style", text),)


def listed_sizes(words: Sequence[Words], count: int) -> tuple[tuple[str, ...], Finding]:
    """Return the sizes of nested lines that carry no name: a list of as many sizes among the words, else numbers."""
    for w in words:
        tokens = [t for t in re.split(r"[\s,;/–—-]+", re.sub(r"(?i)\bsizes?\b:?", " ", w.text)) if t]
        listed = [s for t in tokens if (s := size_of(t)) is not None]
        if len(listed) == count == len(tokens) and len(set(listed)) == count:
            text = f"Nested lines were taken as the sizes listed in the file, the innermost as {listed[0]}."
            return tuple(sorted(listed, key=size_rank)), Finding("note", "guess-sizes-nested", text)
    text = (
        f"Up to {count} lines lie nested in a piece and carry no size: they were numbered from the smallest. Name them."
    )
    return tuple(str(k) for k in range(1, count + 1)), Finding("note", "guess-sizes-nested", text)
