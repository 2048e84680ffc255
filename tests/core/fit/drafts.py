"""Drafts of a dozen garments, drawn by plain rules along their seam lines, for laws that alterations must keep.

Block drafting is common practice, no source; the figures are invented. x runs down the grain, y from the centre outward.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache

from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape, with_allowance
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece

EASE = 24.0  # of a cap in its armhole
Run = tuple[str, list[Point]]


@dataclass(frozen=True)
class Draft:
    """A garment: its pieces, the seams between them, and the piece that each part of the body is altered on."""

    name: str
    pieces: tuple[AlterPiece, ...]
    seams: tuple[Seam, ...]
    parts: Mapping[str, str] = field(default_factory=dict)  # front, back, sleeve, leg -> piece


def curve(a: Point, ca: Point, cb: Point, b: Point, parts: int = 14) -> list[Point]:
    """A cubic from a to b, its controls given."""
    out = []
    for k in range(parts + 1):
        t = k / parts
        w = ((1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3)
        out.append(tuple(sum(s * p[i] for s, p in zip(w, (a, ca, cb, b))) for i in (0, 1)))
    return out


def drawn(
    runs: Sequence[Run],
    *,
    fold: str = "",
    notches: Mapping[str, Sequence[float]] | None = None,
    darts: Sequence[tuple[str, float, float, Point]] = (),
    levels: Mapping[str, float] | None = None,
    marks: Mapping[str, Point] | None = None,
    lengthen: float | None = None,
) -> PieceShape:
    """A shape from runs, each a named edge and its points, end to end and closed.

    Args:
        notches: edge to shares of its length.
        darts: (edge, share along it, mm taken, point).
    """
    outline: list[Point] = []
    edges: dict[str, tuple[int, int]] = {}
    total = sum(len(points) - 1 for _, points in runs)
    for name, points in runs:
        first = len(outline)
        outline += points[:-1]
        edges[name] = (first % total, (first + len(points) - 1) % total)
    lines = [Line("dart", _legs(edge_points(outline, edges[e]), share, mm, tip)) for e, share, mm, tip in darts]
    if lengthen is not None:
        lines.append(Line("lengthen", ((lengthen, min(y for _, y in outline)), (lengthen, max(y for _, y in outline)))))
    at = [
        Notch(_along(edge_points(outline, edges[edge]), share))
        for edge, shares in (notches or {}).items()
        for share in shares
    ]
    on = edge_points(outline, edges[fold]) if fold else []
    return PieceShape(
        tuple(outline),
        (on[0], on[-1]) if fold else None,
        notches=tuple(at),
        marks=tuple(Mark(k, p) for k, p in (marks or {}).items()),
        lines=tuple(lines),
        edges={k: v for k, v in edges.items() if k != "-"},
        levels=dict(levels or {}),
    )


def _along(points: Sequence[Point], share: float) -> Point:
    left = share * path_length(points)
    for a, b in zip(points, points[1:]):
        step = math.dist(a, b)
        if left <= step and step:
            return (a[0] + (b[0] - a[0]) * left / step, a[1] + (b[1] - a[1]) * left / step)
        left -= step
    return points[-1]


def _legs(points: Sequence[Point], share: float, mm: float, tip: Point) -> tuple[Point, Point, Point]:
    half = mm / 2 / path_length(points)
    first = _along(points, share - half)
    reach = math.dist(first, tip)
    # The second leg as long as the first: where a circle about the tip cuts the edge again.
    best = min(
        (k / 2000 for k in range(2001) if k / 2000 > share),
        key=lambda s: abs(math.dist(_along(points, s), tip) - reach),
    )
    return first, tip, _along(points, best)


def cut(name: str, shape: PieceShape, allowance: float = 10.0, *, follows: str = "", same_as: str = "") -> AlterPiece:
    """A piece as it is cut."""
    return AlterPiece(name, with_allowance(shape, allowance), same_as, follows=follows)


def length(shape: PieceShape, *edges: str) -> float:
    """Edges together, less what their darts fold away, on the line that is drawn, mm."""
    total = 0.0
    for edge in edges:
        points = edge_points(shape.outline, shape.edges[edge])
        total += path_length(points)
        for line in shape.lines:
            if line.kind == "dart" and min(math.dist(line.points[0], p) for p in fine(points)) < 1.0:
                total -= math.dist(line.points[0], line.points[2])
    return total


def fine(points: Sequence[Point]) -> list[Point]:
    """A line's points, a millimetre apart at most."""
    out = []
    for a, b in zip(points, points[1:]):
        parts = max(1, math.ceil(math.dist(a, b)))
        out += [(a[0] + (b[0] - a[0]) * k / parts, a[1] + (b[1] - a[1]) * k / parts) for k in range(parts)]
    return [*out, points[-1]]


@dataclass(frozen=True)
class Names:
    """What a draft calls the edges of a bodice."""

    centre: str = "centre"
    hem: str = "hem"
    side: str = "side"
    armhole: str = "armhole"
    shoulder: str = "shoulder"
    neck: str = "neck"


def bodice(
    *,
    front: bool,
    bust: float = 245.0,
    long: float = 620.0,
    waist_in: float = 18.0,
    neck: float = 72.0,
    depth: float | None = None,
    slope: float = 42.0,
    shoulder: float = 128.0,
    armhole: float = 225.0,
    fold: bool = True,
    names: Names = Names(),
    darts: Sequence[tuple[str, float, float, Point]] = (),
    notched: bool = True,
    flip: bool = False,
    pleat: float = 0.0,
) -> PieceShape:
    """A quarter of a top, from shoulder to hem: shaped at a waist of 400 where it reaches so far."""
    depth = depth if depth is not None else (88.0 if front else 22.0)
    tip = (slope, neck + math.sqrt(shoulder**2 - slope**2))
    under = (armhole, bust + pleat)
    n = names
    waist = (min(400.0, long), bust - waist_in + pleat)
    side = curve(under, (armhole + 60, bust + pleat), (waist[0] - 60, waist[1]), waist, 8)
    if long > 420:
        side += curve(waist, (waist[0] + 60, waist[1]), (long - 60, bust + 6 + pleat), (long, bust + 6 + pleat), 8)[1:]
    inward = 34.0 if front else 20.0
    scye = curve(
        under,
        (armhole, under[1] - 55),
        (armhole * 0.62, tip[1] - inward - 6),
        (tip[0] + 70, tip[1] - inward * 0.55),
        10,
    )
    scye += curve(scye[-1], (tip[0] + 45, tip[1] - inward * 0.4), (tip[0] + 20, tip[1] - 6), tip, 6)[1:]
    throat = curve((0.0, neck), (depth * 0.55, neck * 0.97), (depth, neck * 0.6), (depth, -pleat if pleat else 0.0))
    inner = 0.0 if not pleat else -pleat
    runs = [
        (n.centre, [(depth, inner), (long, inner)]),
        (n.hem, [(long, inner), side[-1]]),
        (n.side, side[::-1]),
        (n.armhole, scye),
        (n.shoulder, [tip, (0.0, neck)]),
        (n.neck, throat),
    ]
    shape = drawn(
        runs,
        fold=n.centre if fold else "",
        notches={n.side: (0.4,), n.armhole: (0.35,)} if notched else {},
        darts=darts,
        levels={"bust": armhole + 25, "waist": 400.0, **({"hip": 600.0} if long >= 600 else {})},
        marks={"bust point": (armhole + 40, 98.0)} if front else {},
    )
    return mirrored(shape) if flip else shape


def mirrored(shape: PieceShape) -> PieceShape:
    """The same piece drawn the other way: its outline runs round otherwise, its centre at the greatest y."""

    def at(p: Point) -> Point:
        return (p[0], 300.0 - p[1])

    n = len(shape.outline)
    return replace(
        shape,
        outline=tuple(at(p) for p in reversed(shape.outline)),
        fold_edge=(at(shape.fold_edge[0]), at(shape.fold_edge[1])) if shape.fold_edge else None,
        notches=tuple(replace(k, at=at(k.at)) for k in shape.notches),
        marks=tuple(replace(m, at=at(m.at)) for m in shape.marks),
        lines=tuple(replace(line, points=tuple(at(p) for p in line.points)) for line in shape.lines),
        edges={name: (n - 1 - j, n - 1 - i) for name, (i, j) in shape.edges.items()},
    )


def sleeve(
    front: float,
    back: float,
    *,
    halves: Sequence[str] = ("cap front", "cap back"),
    seams: Sequence[str] = ("front seam", "back seam"),
    wide: float = 340.0,
    long: float = 560.0,
    hem: float = 230.0,
) -> PieceShape:
    """A sleeve whose cap halves are as long as asked, found by moving the crown; `halves` of one name is a cap in one."""

    def made(crown: Point) -> tuple[list[Point], list[Point]]:
        cap = 150.0
        one = curve((cap, 0.0), (cap - 18, 40.0), (crown[0] + 40, crown[1] - 95), (crown[0] + 6, crown[1] - 45), 9)
        one += curve(one[-1], (crown[0] + 1, crown[1] - 26), (crown[0], crown[1] - 14), crown, 6)[1:]
        two = curve(crown, (crown[0], crown[1] + 16), (crown[0] + 1, crown[1] + 28), (crown[0] + 6, crown[1] + 47), 6)
        two += curve(two[-1], (crown[0] + 30, crown[1] + 95), (cap - 26, wide - 60), (cap, wide), 9)[1:]
        return one, two

    x, y = 0.0, wide / 2
    for _ in range(60):
        one, two = made((x, y))
        off = path_length(one) - front, path_length(two) - back
        if max(abs(o) for o in off) < 1e-6:
            break
        step = 1e-3
        grad = []
        for moved in ((x + step, y), (x, y + step)):
            a, b = made(moved)
            grad.append(((path_length(a) - front - off[0]) / step, (path_length(b) - back - off[1]) / step))
        det = grad[0][0] * grad[1][1] - grad[1][0] * grad[0][1]
        x -= (off[0] * grad[1][1] - off[1] * grad[1][0]) / det
        y -= (off[1] * grad[0][0] - off[0] * grad[0][1]) / det
    one, two = made((x, y))
    end = 150.0 + long - 140.0
    low, high = (wide - hem) / 2, (wide + hem) / 2
    inner = curve((150.0, 0.0), (250.0, 8.0), (end - 120, low - 2), (end, low), 8)
    outer = curve((150.0, wide), (250.0, wide - 8.0), (end - 120, high + 2), (end, high), 8)
    caps = [(halves[0], one), (halves[1], two)] if len(halves) > 1 else [(halves[0], one + two[1:])]
    runs = [*caps, (seams[1], outer), ("hem", [(end, high), (end, low)]), (seams[0], inner[::-1])]
    notch = {halves[0]: (0.35,)} if len(halves) < 2 else {halves[0]: (0.35,), halves[1]: (0.65,)}
    return drawn(runs, notches=notch, levels={"upper_arm": 170.0}, marks={"shoulder": (x, y)}, lengthen=330.0)


def band(
    neck_edge: float,
    wide: float,
    names: tuple[str, str, str, str] = ("neck", "end", "top", "centre"),
    fold: bool = True,
) -> PieceShape:
    """A straight band, half of it from the fold: its long edge lies across, from the centre outward."""
    runs = [
        (names[3], [(0.0, 0.0), (wide, 0.0)]),
        (names[0], [(wide, 0.0), (wide, neck_edge)]),
        (names[1], [(wide, neck_edge), (0.0, neck_edge)]),
        (names[2], [(0.0, neck_edge), (0.0, 0.0)]),
    ]
    return drawn(runs, fold=names[3] if fold else "")


def neck_facing(shell: PieceShape, wide: float = 60.0, names: Names = Names()) -> PieceShape:
    """A facing along the neck of a shell, traced from it: its neck and shoulder lie on the shell's."""
    throat = edge_points(shell.outline, shell.edges[names.neck])
    if math.dist(throat[0], edge_points(shell.outline, shell.edges[names.shoulder])[-1]) > 1e-6:
        throat = throat[::-1]
    shoulder = edge_points(shell.outline, shell.edges[names.shoulder])
    if math.dist(shoulder[-1], throat[0]) > 1e-6:
        shoulder = shoulder[::-1]
    outer = _along(shoulder[::-1], wide / path_length(shoulder))
    foot = (throat[-1][0] + wide, throat[-1][1])
    hollow = throat[-1][0] - throat[0][0] + wide
    edge = curve(foot, (foot[0], foot[1] + (outer[1] - foot[1]) * 0.6), (outer[0] + hollow * 0.6, outer[1]), outer)
    runs = [
        ("centre", [throat[-1], foot]),
        ("outer", edge),
        (names.shoulder, [outer, throat[0]]),
        (names.neck, throat),
    ]
    return drawn(runs, fold="centre" if shell.fold_edge else "")


def top() -> Draft:
    """A top with a cap in one, facings tied to their shells, a side dart."""
    front = bodice(front=True, darts=(("side", 0.88, 26.0, (262.0, 122.0)),), bust=246.0)
    back = bodice(front=False)
    back = _as_long(back, "side", length(front, "side"))
    arm = sleeve(length(front, "armhole") + EASE / 2, length(back, "armhole") + EASE / 2, halves=("cap",))
    pieces = (
        cut("front", front),
        cut("back", back),
        cut("sleeve", arm),
        cut("front facing", neck_facing(front), follows="front"),
        cut("back facing", neck_facing(back), follows="back"),
    )
    seams = (
        Seam(("front", "shoulder"), ("back", "shoulder")),
        Seam(("front", "side"), ("back", "side")),
        Seam(("sleeve", "cap"), ("front", "armhole"), EASE, more_b=(("back", "armhole"),), why="cap ease"),
        Seam(("sleeve", "front seam"), ("sleeve", "back seam")),
        Seam(("front facing", "neck"), ("front", "neck")),
        Seam(("back facing", "neck"), ("back", "neck")),
        Seam(("front facing", "shoulder"), ("back facing", "shoulder")),
    )
    return _draft("top", pieces, seams, front="front", back="back", sleeve="sleeve")


def _draft(name: str, pieces: Sequence[AlterPiece], seams: Sequence[Seam], **parts: str) -> Draft:
    """A draft whose seams mean what they are, so that every one meets to begin with."""
    by_id = {p.id: p for p in pieces}

    def own(side: Sequence[tuple[str, str]]) -> float:
        from rowanseed.core.pattern.seamwalk import Walker

        return sum(Walker().edge_mm(by_id[p], e) for p, e in side)

    meant = [replace(s, meant_mm=own(s.sides[0]) - own(s.sides[1])) for s in seams]
    for new, old in zip(meant, seams):
        assert abs(new.meant_mm - old.meant_mm) < 12.0, (name, old, new.meant_mm)
    # What is drawn by plain rules meets within a few millimetres; the rest counts as meant.
    return Draft(name, tuple(pieces), tuple(meant), parts)


def _as_long(shape: PieceShape, edge: str, wanted: float) -> PieceShape:
    """A piece with all below 300 slid along the grain until its edge is as long as wanted."""
    made = shape
    for _ in range(12):
        by = wanted - length(made, edge)

        def at(p: Point, by: float = by) -> Point:
            return (p[0] + by * min(1.0, max(0.0, (p[0] - 250.0) / 100.0)), p[1])

        made = replace(
            made,
            outline=tuple(at(p) for p in made.outline),
            fold_edge=(at(made.fold_edge[0]), at(made.fold_edge[1])) if made.fold_edge else None,
            notches=tuple(replace(n, at=at(n.at)) for n in made.notches),
            lines=tuple(replace(line, points=tuple(at(p) for p in line.points)) for line in made.lines),
        )
    return made


def shirt() -> Draft:
    """A shirt: yoke, back below it, front with its own edge, cap in halves, collar on a stand, cuff."""
    front = bodice(front=True, fold=False, long=760.0, waist_in=6.0)
    full = bodice(front=False, long=760.0, waist_in=6.0)
    yoke, back = _yoked(full, 105.0)
    arm = sleeve(
        length(front, "armhole") + 6, length(back, "armhole") + length(yoke, "armhole") + 6, wide=380.0, hem=260.0
    )
    around = length(front, "neck") + length(yoke, "neck")
    stand = drawn(
        [
            ("centre", [(0.0, 0.0), (32.0, 0.0)]),
            ("neck", curve((32.0, 0.0), (32.0, around * 0.4), (30.0, around * 0.8), (24.0, around))),
            ("end", [(24.0, around), (-6.0, around - 4)]),
            ("top", curve((-6.0, around - 4), (0.0, around * 0.8), (0.0, around * 0.4), (0.0, 0.0))),
        ],
        fold="centre",
    )
    stand = _spread_to(stand, "neck", around)
    collar = band(length(stand, "top"), 45.0, ("neck", "end", "outer", "centre"))
    pieces = (
        cut("1", front),
        cut("2", back),
        cut("3", yoke),
        cut("3a", yoke, same_as="3"),
        cut("4", arm),
        cut("5", stand),
        cut("6", collar),
        cut("7", band(260.0, 60.0, ("arm", "end", "edge", "half"), fold=False)),
    )
    seams = (
        Seam(("3", "back"), ("2", "top")),
        Seam(("1", "shoulder"), ("3", "shoulder")),
        Seam(("1", "side"), ("2", "side")),
        Seam(("4", "cap front"), ("1", "armhole"), 6.0),
        Seam(("4", "cap back"), ("2", "armhole"), 6.0, more_b=(("3", "armhole"),)),
        Seam(("4", "front seam"), ("4", "back seam")),
        Seam(("5", "neck"), ("1", "neck"), more_b=(("3", "neck"),)),
        Seam(("6", "neck"), ("5", "top")),
        Seam(("7", "arm"), ("4", "hem")),
    )
    return _draft("shirt", pieces, seams, front="1", back="2", sleeve="4")


def _spread_to(shape: PieceShape, edge: str, wanted: float) -> PieceShape:
    """A band scaled across until its edge is as long as wanted."""
    for _ in range(20):
        k = wanted / length(shape, edge)
        shape = replace(shape, outline=tuple((x, y * k) for x, y in shape.outline))
    return shape


def _yoked(full: PieceShape, at: float) -> tuple[PieceShape, PieceShape]:
    """A back cut in two across at a line: the yoke above, the back below."""
    scye = edge_points(full.outline, full.edges["armhole"])
    k = next(k for k, (x, _) in enumerate(scye) if x <= at)
    (ax, ay), (bx, by) = scye[k - 1], scye[k]
    met = (at, ay + (by - ay) * (at - ax) / (bx - ax))
    shoulder, neck, centre = (edge_points(full.outline, full.edges[e]) for e in ("shoulder", "neck", "centre"))
    yoke = drawn(
        [
            ("centre", [centre[0], (at, 0.0)]),
            ("back", [(at, 0.0), met]),
            ("armhole", [met, *scye[k:]]),
            ("shoulder", shoulder),
            ("neck", neck),
        ],
        fold="centre",
    )
    hem, side = (edge_points(full.outline, full.edges[e]) for e in ("hem", "side"))
    below = drawn(
        [
            ("centre", [(at, 0.0), centre[1]]),
            ("hem", hem),
            ("side", side),
            ("armhole", [*scye[:k], met]),
            ("top", [met, (at, 0.0)]),
        ],
        fold="centre",
        notches={"side": (0.4,)},
        levels={"bust": 250.0, "waist": 400.0, "hip": 600.0},
    )
    return yoke, below


def princess() -> Draft:
    """A princess front: centre panel and side panel over the bust, a back with shoulder and waist darts."""
    front = bodice(front=True, long=640.0)
    bp = (265.0, 98.0)
    scye = edge_points(front.outline, front.edges["armhole"])
    k = len(scye) * 2 // 3
    join = scye[k]
    low = (640.0, 110.0)
    inner = curve(join, (join[0] + 60, join[1] - 30), (bp[0] - 60, bp[1] - 2), bp, 8)
    inner += curve(bp, (bp[0] + 60, bp[1] + 2), (560.0, 108.0), low, 8)[1:]
    outer = curve(join, (join[0] + 55, join[1] - 22), (bp[0] - 60, bp[1] + 8), (bp[0], bp[1] + 8), 8)
    outer += curve((bp[0], bp[1] + 8), (bp[0] + 70, bp[1] + 6), (560.0, 112.0), low, 8)[1:]
    centre, hem, side, shoulder, neck = (
        edge_points(front.outline, front.edges[e]) for e in ("centre", "hem", "side", "shoulder", "neck")
    )
    middle = drawn(
        [
            ("centre", centre),
            ("hem", [hem[0], low]),
            ("princess", inner[::-1]),
            ("armhole", scye[k:]),
            ("shoulder", shoulder),
            ("neck", neck),
        ],
        fold="centre",
        levels={"bust": 250.0, "waist": 400.0, "hip": 600.0},
        notches={"princess": (0.35, 0.65)},
        marks={"bust point": (265.0, 90.0)},
    )
    panel = drawn(
        [
            ("princess", outer),
            ("hem", [low, hem[1]]),
            ("side", side),
            ("armhole", scye[: k + 1]),
        ],
        levels={"bust": 250.0, "waist": 400.0, "hip": 600.0},
        notches={"princess": (0.35, 0.65), "side": (0.4,)},
    )
    back = bodice(front=False, long=640.0, darts=(("shoulder", 0.5, 12.0, (115.0, 128.0)),), shoulder=140.0)
    back = _as_long(back, "side", length(panel, "side"))
    arm = sleeve(length(front, "armhole") + 12, length(back, "armhole") + 12)
    pieces = (cut("CF", middle), cut("SF", panel), cut("B", back), cut("S", arm), cut("BF", neck_facing(back)))
    seams = (
        Seam(("CF", "princess"), ("SF", "princess")),
        Seam(("CF", "shoulder"), ("B", "shoulder")),
        Seam(("B", "side"), ("SF", "side")),
        Seam(("S", "cap front"), ("SF", "armhole"), 12.0, more_b=(("CF", "armhole"),)),
        Seam(("B", "armhole"), ("S", "cap back"), -12.0),
        Seam(("S", "front seam"), ("S", "back seam")),
        Seam(("BF", "neck"), ("B", "neck")),
    )
    return _draft("princess", pieces, seams, front="CF", back="B", sleeve="S")


def dress() -> Draft:
    """A dress with a waist seam and darts everywhere; facings without `follows`, their seams declared the other way round."""
    front = bodice(
        front=True, long=405.0, darts=(("side", 0.75, 24.0, (262.0, 125.0)), ("hem", 0.45, 30.0, (290.0, 98.0)))
    )
    back = bodice(
        front=False,
        long=405.0,
        darts=(("hem", 0.45, 26.0, (250.0, 95.0)), ("shoulder", 0.5, 12.0, (110.0, 128.0))),
        shoulder=140.0,
    )
    back = _as_long(back, "side", length(front, "side"))
    skirts = {}
    for name, body in (("front", front), ("back", back)):
        waist = length(body, "hem")
        skirts[name] = _skirt(waist, 20.0 if name == "front" else 24.0)
    skirts["back"] = _as_long(skirts["back"], "side", length(skirts["front"], "side"))
    pieces = (
        cut("bodice front", front, 15.0),
        cut("bodice back", back, 15.0),
        cut("skirt front", skirts["front"], 15.0),
        cut("skirt back", skirts["back"], 15.0),
        cut("neck facing front", neck_facing(front), 15.0),
        cut("neck facing back", neck_facing(back), 15.0),
    )
    seams = (
        Seam(("bodice back", "shoulder"), ("bodice front", "shoulder")),
        Seam(("bodice back", "side"), ("bodice front", "side")),
        Seam(("bodice front", "hem"), ("skirt front", "waist")),
        Seam(("skirt back", "waist"), ("bodice back", "hem")),
        Seam(("skirt back", "side"), ("skirt front", "side")),
        Seam(("bodice front", "neck"), ("neck facing front", "neck")),
        Seam(("neck facing back", "neck"), ("bodice back", "neck")),
        Seam(("neck facing back", "shoulder"), ("neck facing front", "shoulder")),
    )
    return _draft("dress", pieces, seams, front="bodice front", back="bodice back", skirt="skirt front")


def _skirt(waist: float, dart: float, long: float = 620.0, hip: float = 265.0) -> PieceShape:
    """A quarter of a skirt with one dart: the waist is as long as asked once the dart is folded."""
    rise, across = 12.0, waist + dart
    for _ in range(20):
        top_ = curve((rise, 0.0), (rise, across * 0.4), (rise * 0.6, across * 0.7), (0.0, across))
        side = curve(top_[-1], (70.0, hip - 14), (130.0, hip), (200.0, hip), 8)
        side += curve(side[-1], (300.0, hip), (500.0, hip + 10), (long, hip + 12), 8)[1:]
        shape = drawn(
            [
                ("centre", [(rise, 0.0), (long, 0.0)]),
                ("hem", [(long, 0.0), side[-1]]),
                ("side", side[::-1]),
                ("waist", top_[::-1]),
            ],
            fold="centre",
            darts=(("waist", 0.5, dart, (120.0, across * 0.48)),),
            notches={"side": (0.7,)},
            levels={"waist": 0.0, "hip": 200.0},
        )
        across += waist - length(shape, "waist")
    return shape


def skirt() -> Draft:
    """A skirt with a band, its lining pleated where the shell has darts."""
    one, two = _skirt(180.0, 20.0), _skirt(175.0, 26.0)
    two = _as_long(two, "side", length(one, "side"))
    linings = [replace(s, lines=()) for s in (one, two)]
    around = length(one, "waist") + length(two, "waist")
    pieces = (
        cut("F", one, 15.0),
        cut("B", two, 15.0),
        cut("FL", linings[0], 15.0, follows="F"),
        cut("BL", linings[1], 15.0, follows="B"),
        cut("W", band(around, 40.0, ("lower", "end", "upper", "centre")), 15.0),
    )
    seams = (
        Seam(("F", "side"), ("B", "side")),
        Seam(("BL", "side"), ("FL", "side")),
        Seam(("W", "lower"), ("F", "waist"), more_b=(("B", "waist"),)),
    )
    return _draft("skirt", pieces, seams, skirt="F", skirt_back="B")


def trousers(names: tuple[str, str] = ("side", "inseam")) -> Draft:
    """Trousers with darts, a band over both legs and a fly facing."""
    side_name, in_name = names

    def leg(back: bool) -> PieceShape:
        fork = 62.0 if back else 28.0
        top_x = -24.0 if back else 0.0
        wide = 222.0 if back else 205.0
        crotch = curve((240.0, -fork), (238.0, -fork * 0.4), (200.0, 4.0), (150.0, 10.0), 10)
        crotch += [(top_x, 26.0 if back else 14.0)]
        waist = curve(crotch[-1], (top_x, 80.0), (-2.0, 130.0), (0.0, wide - 12), 8)
        side = curve(waist[-1], (70.0, wide + 8), (140.0, wide + 14), (200.0, wide + 14), 8)
        side += curve(side[-1], (400.0, wide + 10), (800.0, wide - 18), (1010.0, wide - 22), 10)[1:]
        foot = (1010.0, 18.0)
        inseam = curve(foot, (800.0, 16.0), (420.0, 14.0), crotch[0], 14)
        return drawn(
            [("crotch", crotch), ("waist", waist), (side_name, side), ("hem", [side[-1], foot]), (in_name, inseam)],
            darts=(("waist", 0.5, 22.0, (115.0, 105.0)),) if back else (),
            notches={side_name: (0.25, 0.6), in_name: (0.5,)},
            levels={"waist": 0.0, "hip": 180.0, "thigh": 300.0},
        )

    front, back = leg(False), leg(True)
    back = _legs_alike(back, in_name, length(front, in_name), side_name, length(front, side_name))
    around = length(front, "waist") + length(back, "waist")
    lining = replace(front, notches=())
    pieces = (
        cut("front", front, 15.0),
        cut("back", back, 15.0),
        cut("band", band(around, 40.0, ("waist", "end", "edge", "centre")), 15.0),
        cut("front lining", lining, 15.0, follows="front"),
    )
    seams = (
        Seam(("front", side_name), ("back", side_name)),
        Seam(("back", in_name), ("front", in_name)),
        Seam(("front", "waist"), ("band", "waist"), more_a=(("back", "waist"),)),
    )
    return _draft("trousers", pieces, seams, leg="front", seat="back")


def _legs_alike(shape: PieceShape, inseam: str, want_in: float, side: str, want_side: float) -> PieceShape:
    """A back leg with its fork and its waist slid along until both long seams are as long as the front's."""
    made = shape
    for _ in range(30):
        by_in, by_side = length(made, inseam) - want_in, length(made, side) - want_side

        def at(p: Point, a: float = by_in, b: float = by_side) -> Point:
            # The fork moves by the inseam's difference, the side's upper end by the side's.
            low = min(1.0, max(0.0, (500.0 - p[0]) / 250.0))
            far = min(1.0, max(0.0, (p[1] - 20.0) / 150.0))
            return (p[0] + low * (a * (1 - far) + b * far), p[1])

        made = replace(
            made,
            outline=tuple(at(p) for p in made.outline),
            notches=tuple(replace(n, at=at(n.at)) for n in made.notches),
            lines=tuple(replace(line, points=tuple(at(p) for p in line.points)) for line in made.lines),
        )
    return made


def jacket() -> Draft:
    """A lined jacket: linings behind front, back and sleeve, the back's with its pleat; front facing, collar in two layers."""
    front = bodice(front=True, fold=False, long=720.0, bust=255.0, waist_in=10.0)
    back = bodice(front=False, long=720.0, bust=255.0, waist_in=10.0)
    arm = sleeve(length(front, "armhole") + 14, length(back, "armhole") + 14)
    back_lining = bodice(front=False, long=705.0, bust=255.0, waist_in=10.0, pleat=20.0, notched=False)
    front_lining = replace(
        bodice(front=True, fold=False, long=705.0, bust=255.0, waist_in=10.0, notched=False), marks=()
    )
    around = length(front, "neck") + length(back, "neck")
    collar = band(around, 70.0, ("neck", "end", "outer", "centre"))
    pieces = (
        cut("front", front),
        cut("back", back),
        cut("sleeve", arm),
        cut("front lining", front_lining, follows="front"),
        cut("back lining", back_lining, follows="back"),
        cut("sleeve lining", replace(arm, notches=()), follows="sleeve"),
        cut("upper collar", collar),
        cut("under collar", collar),
        cut("collar fusible", collar, same_as="upper collar"),
    )
    seams = (
        Seam(("back", "shoulder"), ("front", "shoulder")),
        Seam(("front", "side"), ("back", "side")),
        Seam(("sleeve", "cap front"), ("front", "armhole"), 14.0),
        Seam(("back", "armhole"), ("sleeve", "cap back"), -14.0),
        Seam(("sleeve", "front seam"), ("sleeve", "back seam")),
        Seam(("front lining", "side"), ("back lining", "side")),
        Seam(("front lining", "shoulder"), ("back lining", "shoulder")),
        Seam(("under collar", "neck"), ("front", "neck"), more_b=(("back", "neck"),)),
        Seam(("upper collar", "outer"), ("under collar", "outer")),
    )
    return _draft("jacket", pieces, seams, front="front", back="back", sleeve="sleeve")


def raglan() -> Draft:
    """A raglan: sleeve to the neck, a neck band as a ring."""
    line = 235.0

    def body(front: bool) -> PieceShape:
        depth = 90.0 if front else 20.0
        top_ = (depth - (34.0 if front else 0.0), 52.0)
        under = (line, 250.0)
        seam = curve(under, (line - 10, 190.0), (120.0, 100.0), top_)
        return drawn(
            [
                ("centre", [(depth, 0.0), (640.0, 0.0)]),
                ("hem", [(640.0, 0.0), (640.0, 246.0)]),
                ("side", [(640.0, 246.0), (430.0, 240.0), under]),
                ("raglan", seam),
                ("neck", curve(top_, (top_[0] + 18, 40.0), (depth, 26.0), (depth, 0.0), 8)),
            ],
            fold="centre",
            notches={"raglan": (0.4,), "side": (0.5,)},
            levels={"bust": 260.0, "waist": 400.0, "hip": 600.0},
        )

    front, back = body(True), body(False)
    one, two = length(front, "raglan"), length(back, "raglan")

    def made(x: float, z: float) -> PieceShape:
        a = curve((230.0, 0.0), (215.0, 50.0), (80.0, 105.0), (x, 120.0))
        b = curve((z, 200.0), (80.0, 230.0), (215.0, 300.0), (230.0, 350.0))
        return drawn(
            [
                ("front raglan", a),
                ("neck", curve(a[-1], (x - 4, 150.0), (z + 4, 175.0), b[0], 6)),
                ("back raglan", b),
                ("back seam", [(230.0, 350.0), (640.0, 290.0)]),
                ("hem", [(640.0, 290.0), (640.0, 60.0)]),
                ("front seam", [(640.0, 60.0), (230.0, 0.0)]),
            ],
            notches={"front raglan": (0.6,), "back raglan": (0.4,)},
            levels={"upper_arm": 250.0},
        )

    x = z = 0.0
    for _ in range(40):
        s = made(x, z)
        x += 0.8 * (length(s, "front raglan") - one)
        z += 0.8 * (length(s, "back raglan") - two)
    arm = made(x, z)
    around = length(front, "neck") + length(back, "neck") + length(arm, "neck")
    pieces = (
        cut("a", front),
        cut("b", back),
        cut("c", arm),
        cut("d", band(around, 30.0, ("edge", "end", "other", "mid"), fold=False)),
    )
    seams = (
        Seam(("a", "side"), ("b", "side")),
        Seam(("c", "front raglan"), ("a", "raglan")),
        Seam(("b", "raglan"), ("c", "back raglan")),
        Seam(("c", "front seam"), ("c", "back seam")),
        Seam(("d", "edge"), ("a", "neck"), more_b=(("c", "neck"), ("b", "neck"))),
    )
    return _draft("raglan", pieces, seams, front="a", back="b", sleeve="c")


def foreign() -> Draft:
    """A top whose edges are called otherwise, its back drawn the other way round, its cap's halves declared together."""
    ours, theirs = Names(), Names("Mitte", "Saum", "Seitennaht", "Armloch", "Schulter", "Halsloch")
    front = bodice(front=True, names=ours, fold=False)
    back = bodice(front=False, names=theirs, flip=True)
    arm = sleeve(
        length(front, "armhole") + 10, length(back, "Armloch") + 10, halves=("vorn", "hinten"), seams=("eins", "zwei")
    )
    lining = bodice(front=False, names=theirs, long=600.0, notched=False)
    pieces = (cut("V", front), cut("R", back), cut("A", arm), cut("RF", lining, follows="R"))
    seams = (
        Seam(("R", "Schulter"), ("V", "shoulder")),
        Seam(("R", "Seitennaht"), ("V", "side")),
        Seam(("V", "armhole"), ("A", "vorn"), -20.0, more_a=(("R", "Armloch"),), more_b=(("A", "hinten"),)),
        Seam(("A", "eins"), ("A", "zwei")),
    )
    return _draft("foreign", pieces, seams, front="V", back="R", sleeve="A")


def waistcoat() -> Draft:
    """A waistcoat without sleeves: front with a dart from the hem, back, both lined; armhole facings without `follows`."""
    front = bodice(front=True, fold=False, long=520.0, darts=(("hem", 0.45, 18.0, (290.0, 100.0)),), depth=230.0)
    back = bodice(front=False, fold=False, long=500.0)
    back = _as_long(back, "side", length(front, "side"))
    pieces = (
        cut("1", front),
        cut("2", back),
        cut("1L", replace(front, notches=()), follows="1"),
        cut("2L", replace(back, notches=()), follows="2"),
    )
    seams = (
        Seam(("1", "side"), ("2", "side")),
        Seam(("2", "shoulder"), ("1", "shoulder")),
        Seam(("1L", "armhole"), ("1", "armhole")),
        Seam(("2", "armhole"), ("2L", "armhole")),
        Seam(("1L", "side"), ("2L", "side")),
        Seam(("1L", "shoulder"), ("2L", "shoulder")),
    )
    return _draft("waistcoat", pieces, seams, front="1", back="2")


def plain() -> Draft:
    """A top without allowances or notches, as from a script that gives outlines and seams alone."""
    front, back = bodice(front=True, notched=False), bodice(front=False, notched=False)
    arm = sleeve(length(front, "armhole") + 10, length(back, "armhole") + 10, halves=("cap",))
    pieces = (AlterPiece("f", front), AlterPiece("b", back), AlterPiece("s", replace(arm, notches=())))
    seams = (
        Seam(("b", "shoulder"), ("f", "shoulder")),
        Seam(("b", "side"), ("f", "side")),
        Seam(("f", "armhole"), ("s", "cap"), -20.0, more_a=(("b", "armhole"),)),
    )
    return _draft("plain", pieces, seams, front="f", back="b", sleeve="s")


def pinafore() -> Draft:
    """A pinafore: yoke in front too, a waist seam, gathered skirt, back facing in one with its armhole."""
    front = bodice(front=True, long=405.0)
    back = bodice(front=False, long=405.0, flip=True)
    gathered = []
    for body in (front, back):
        w = length(body, "hem") * 1.6
        gathered.append(
            drawn(
                [
                    ("centre", [(0.0, 0.0), (500.0, 0.0)]),
                    ("hem", [(500.0, 0.0), (500.0, w + 30)]),
                    ("side", [(500.0, w + 30), (0.0, w)]),
                    ("waist", [(0.0, w), (0.0, 0.0)]),
                ],
                fold="centre",
            )
        )
    facing = replace(bodice(front=True, long=405.0, notched=False), marks=())
    pieces = (
        cut("bf", front),
        cut("bb", back),
        cut("sf", gathered[0]),
        cut("sb", gathered[1]),
        cut("lf", facing, follows="bf"),
    )
    seams = (
        Seam(("bf", "shoulder"), ("bb", "shoulder")),
        Seam(("bf", "side"), ("bb", "side")),
        Seam(("sf", "waist"), ("bf", "hem"), length(front, "hem") * 0.6, why="gathers"),
        Seam(("bb", "hem"), ("sb", "waist"), -length(back, "hem") * 0.6, why="gathers"),
        Seam(("sf", "side"), ("sb", "side")),
    )
    return _draft("pinafore", pieces, seams, front="bf", back="bb")


# Each is drawn once: nothing in a draft is ever changed.
DRAFTS: dict[str, Callable[[], Draft]] = {
    f.__name__: cache(f)
    for f in (top, shirt, princess, dress, skirt, trousers, jacket, raglan, foreign, waistcoat, plain, pinafore)
}
