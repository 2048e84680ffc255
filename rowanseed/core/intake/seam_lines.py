"""Seam lines among the lines of several sizes: its own kind of line drawn twice, or one kind inside all of them."""

from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from dataclasses import replace

from rowanseed.core.errors import Finding
from rowanseed.core.intake.nesting import even_distance
from rowanseed.core.intake.outlines import Closed
from rowanseed.core.intake.sizing import style_key

Key = Callable[[Closed], str]
MOST = 0.8  # of the lines have to be explained before any is taken as a seam line
ALIKE_MM = 0.6
LEAST_INNER = 0.35  # of all lines: of three sizes none has so many, and its lines may run evenly inside the next size's
NEAREST = 10  # of the lines around one, how many are measured
# What of a line a size may be told by, while cutting line and seam line differ in the rest.
KEYS: tuple[Key, ...] = (
    lambda c: c.stroke.style.colour,
    lambda c: f"{c.stroke.style.dashed} {c.stroke.style.dashes}",
)


def seams_among_sizes(outlines: Sequence[Closed]) -> tuple[list[Closed], tuple[Finding, ...]]:
    """Return outlines with seam lines marked, each in the size of its cutting line; as they are where most are not explained.

    A pair counts where the inner line runs evenly inside the outer, all pairs of a file equally far.
    """
    plain = [c for c in outlines if c.stroke.size is None and c.stroke.sense in ("", "cut")]
    if len(plain) < len(outlines) or len(plain) < 4:
        return list(outlines), ()
    for key in KEYS:
        by_key: dict[str, list[Closed]] = defaultdict(list)
        for c in plain:
            by_key[key(c)].append(c)
        if len(by_key) < 2:
            continue
        pairs = _paired([(own, own) for own in by_key.values()])
        # Sizes may take turns in few colours: of two lines alike in everything nothing says that one is the other's seam line.
        unlike = sum(1 for c, o, _ in pairs if style_key(c.stroke) != style_key(o.stroke))
        if 2 * len(pairs) >= MOST * len(plain) and unlike >= MOST * len(pairs):
            return _marked(outlines, pairs, key)
    by_style: dict[str, list[Closed]] = defaultdict(list)
    for c in plain:
        by_style[style_key(c.stroke)].append(c)
    for kind, inner in by_style.items():
        outer = [c for other, own in by_style.items() if other != kind for c in own]
        if len(by_style) > 2 and len(inner) >= LEAST_INNER * len(plain):
            pairs = _paired([(inner, outer)])
            if len(pairs) >= MOST * len(inner):
                return _marked(outlines, pairs, lambda c: style_key(c.stroke))
    return list(outlines), ()


def _paired(groups: Sequence[tuple[Sequence[Closed], Sequence[Closed]]]) -> list[tuple[Closed, Closed, float]]:
    """Inner lines with their outer ones, all about equally far apart; no line is both."""
    found = [(c, o, d) for inner, outer in groups for c in inner for o, d in _around(c, outer)]
    if not found:
        return []
    usual = Counter(round(d * 2) for _, _, d in found).most_common(1)[0][0] / 2
    near = sorted((pair for pair in found if abs(pair[2] - usual) < ALIKE_MM), key=lambda pair: abs(pair[2] - usual))
    taken: set[int] = set()
    pairs = []
    for c, o, d in near:
        if id(c) not in taken and id(o) not in taken:
            taken |= {id(c), id(o)}
            pairs.append((c, o, d))
    return pairs


def _around(closed: Closed, others: Sequence[Closed]) -> list[tuple[Closed, float]]:
    """The lines that run evenly around one, with their distances."""
    xs, ys = [p[0] for p in closed.outline], [p[1] for p in closed.outline]
    near = [o for o in others if o.area > closed.area and _holds(o, min(xs), min(ys), max(xs), max(ys))]
    nearest = sorted(near, key=lambda o: o.area)[:NEAREST]
    return [(o, d) for o in nearest if (d := even_distance(closed, o)) is not None]


def _holds(outer: Closed, x0: float, y0: float, x1: float, y1: float) -> bool:
    xs, ys = [p[0] for p in outer.outline], [p[1] for p in outer.outline]
    return min(xs) - 1 <= x0 and x1 <= max(xs) + 1 and min(ys) - 1 <= y0 and y1 <= max(ys) + 1


def _marked(
    outlines: Sequence[Closed], pairs: Sequence[tuple[Closed, Closed, float]], key: Key
) -> tuple[list[Closed], tuple[Finding, ...]]:
    """Outlines with the inner ones as seam lines; both of a pair carry the kind of line that their size is told by."""
    inner = {id(c) for c, _, _ in pairs}
    kinds = {id(line): key(o) for c, o, _ in pairs for line in (c, o)}
    marked = [
        replace(
            c, stroke=replace(c.stroke, sense="seam" if id(c) in inner else c.stroke.sense), kind=kinds.get(id(c), "")
        )
        for c in outlines
    ]
    far = sorted(d for _, _, d in pairs)[len(pairs) // 2]
    text = f"Lines that run evenly inside each size's own, {far:.1f} mm away, were taken as seam lines."
    return marked, (Finding("note", "guess-seam-lines", text),)
