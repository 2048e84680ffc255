"""What each kind of alteration does to the one piece it is made on."""

import math
from collections.abc import Callable
from dataclasses import replace

from shapely import LineString, Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit import darts, edge_shapes
from rowanseed.core.fit.bust import slash_bust
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.reshape import change_length, move_edge, own_edges, rebuilt, subdivided
from rowanseed.core.fit.wedge import WEDGES, centre_is_low, wedge_of, wedged
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

LEAST_LOST_MM = 0.2  # of a cap's height
STRAP_WIDER = 1.6  # where a piece is so many times wider than its strap's end, the strap is over
REACH_MM = 160.0  # how far a taper runs above and below its fullest place
EDGE_MARGIN_MM = 3.0
LEAST_STRAP_MM = 40.0  # a shorter one is a shoulder
FAR_MM = 1e5
HIP_REACH_MM = 100.0
HAND_MM = 50.0
TAKEN_OUT = ("sway-back", "gaping-neck")  # their amount says what is folded out
CAPS = ("cap", "cap back", "cap front")
SLEEVE_SEAMS = ("front seam", "back seam")


def edge_of(piece: AlterPiece, name: str) -> list[Point]:
    """The points of a named edge on the cutting line. Raises AlterationError when the piece has none of that name."""
    if name not in piece.shape.edges:
        known = ", ".join(own_edges(piece.shape)) or "none"
        raise AlterationError(f"Piece {piece.id} has no edge “{name}”; it has: {known}.", "edge")
    return edge_points(piece.shape.outline, piece.shape.edges[name])


def line_across(alteration: Alteration, piece: AlterPiece) -> float:
    """The x of the line at which a piece is made longer or shorter."""
    xs = [x for x, _ in piece.shape.outline]
    if alteration.kind == "hem":
        # A strip that is folded out must end above the hem.
        return min(x for x, _ in edge_of(piece, alteration.at_edge)) - EDGE_MARGIN_MM + min(0.0, alteration.by_mm)
    if alteration.at_mm is not None:
        return alteration.at_mm
    if alteration.kind == "strap":
        return _in_the_strap(piece)
    if alteration.kind == "rise":
        low, high = min(x for x, _ in edge_of(piece, "crotch")), max(x for x, _ in edge_of(piece, "crotch"))
        return (low + high) / 2
    lines = [line for line in piece.shape.lines if line.kind == "lengthen"]
    return lines[0].points[0][0] if lines else (min(xs) + max(xs)) / 2


def _in_the_strap(piece: AlterPiece) -> float:
    """The x half way along a strap: from the piece's top to where it begins to widen.

    Raises:
        AlterationError: the piece widens at once, or never: it has no strap that can be seen.
    """
    polygon = Polygon(piece.shape.outline)
    low, _, high, _ = polygon.bounds
    step = max(2.0, (high - low) / 200)
    widths: list[tuple[float, float]] = []
    for k in range(1, int((high - low) / step)):
        x = low + k * step
        crossed = polygon.intersection(LineString([(x, -FAR_MM), (x, FAR_MM)]))
        # A front cut whole has two straps: the first of them tells.
        first = crossed.geoms[0] if hasattr(crossed, "geoms") and not crossed.is_empty else crossed
        widths.append((x, float(first.length)))
    at_end = [w for x, w in widths if x - low <= max(25.0, 3 * step)]
    if at_end and len(widths) == sum(1 for _, w in widths if w <= STRAP_WIDER * max(at_end)):
        return float(low + high) / 2  # a strap that is a piece of its own
    usual = sorted(at_end)[len(at_end) // 2] if at_end else 0.0
    end = next((x for x, w in widths if x - low > 25.0 and w > STRAP_WIDER * usual), low)
    if end - low < LEAST_STRAP_MM:
        raise AlterationError(
            "No strap can be seen at the top of this piece. Say where it is to change, from the top.", "at"
        )
    return float(low + end) / 2


def altered_shape(alteration: Alteration, piece: AlterPiece, edge: str, at: float | None) -> PieceShape:
    """The piece with an edge moved, slashed or let out as the alteration asks; `at`: the x of its place on this piece."""
    kind, by, shape = alteration.kind, alteration.by_mm, piece.shape
    if kind in WEDGES:
        wedge = wedge_of(replace(alteration, at_mm=at), shape)
        opened = wedged(shape, wedge, -by if kind in TAKEN_OUT else by)
        # What slides with the shoulder slants it, and it is sewn to one that did not.
        held = (wedge.side < 0 or wedge.axis == 1) and {"shoulder", "armhole"} <= set(shape.edges)
        return edge_shapes.shoulder_held(opened, edge_shapes.seam_mm(shape, "shoulder")) if held else opened
    if kind in BY_KIND:
        return BY_KIND[kind](replace(alteration, at_mm=at), shape, edge)
    if kind == "upper-arm":
        return _upper_arm(piece, by)
    if kind in ("bust", "bust-dartless"):
        return slash_bust(shape, by, alteration.point, edge, kind == "bust")
    if kind == "side":
        return _out(shape, edge, lambda t: by)
    points = edge_of(piece, edge)
    if kind == "shoulder":
        outer_last = (points[-1][1] >= points[0][1]) == centre_is_low(shape)
        return move_edge(shape, edge, lambda t: by * (t if outer_last else 1 - t), 1.0, 0.0)
    if kind == "crotch":
        fork_last = points[-1][0] >= points[0][0]
        return move_edge(shape, edge, lambda t: by * _ease_in(t if fork_last else 1 - t), 1.0, 0.0)
    if kind != "taper":
        raise AlterationError(f"There is no alteration “{kind}”. Known: {', '.join(KINDS)}.", "kind")
    return _taper(shape, edge, points, by, at)


def _of_seams(shape: PieceShape, *names: str) -> tuple[str, str]:
    """The two long seams of a sleeve or a leg. Raises AlterationError where the piece lacks one."""
    for name in names:
        edge_of(AlterPiece("", shape), name)
    return names[0], names[1]


# What each further kind does to its piece: (alteration with its place on this piece, shape, edge).
BY_KIND: dict[str, Callable[[Alteration, PieceShape, str], PieceShape]] = {
    "forward-shoulder": lambda a, s, edge: edge_shapes.forward_shoulder(s, edge, a.by_mm),
    "shoulder-length": lambda a, s, edge: edge_shapes.shoulder_length(s, a.by_mm, edge),
    "neck-width": lambda a, s, edge: edge_shapes.neck_width(s, a.by_mm),
    "neck-depth": lambda a, s, edge: edge_shapes.neck_depth(s, a.by_mm),
    "across": lambda a, s, edge: edge_shapes.across(s, a.by_mm),
    "hip-curve": lambda a, s, edge: edge_shapes.bump(s, edge, a.by_mm, _hip_curve(a, s), HIP_REACH_MM),
    "thigh": lambda a, s, edge: edge_shapes.bump(s, edge, a.by_mm, _level_or(a, s, "thigh", edge)),
    "calf": lambda a, s, edge: edge_shapes.both_seams(
        s, _of_seams(s, "side", "inseam"), a.by_mm, a.at_mm, edge_shapes.CALF_SHARE
    ),
    "elbow": lambda a, s, edge: edge_shapes.both_seams(
        s, _of_seams(s, *SLEEVE_SEAMS), a.by_mm, a.at_mm, edge_shapes.ELBOW_SHARE
    ),
    "wrist": lambda a, s, edge: edge_shapes.wrist(s, _of_seams(s, *SLEEVE_SEAMS), a.by_mm),
    "crotch-length": lambda a, s, edge: edge_shapes.crotch_length(s, a.by_mm),
    "bust-point": lambda a, s, edge: darts.aimed(s, a.by_mm, a.across_mm or 0.0),
    "dart-turned": lambda a, s, edge: darts.turned(s, edge, a.by_mm),
    "dart-deeper": lambda a, s, edge: darts.deeper(s, edge, a.by_mm, kept=False),
    "dart-deeper-kept": lambda a, s, edge: darts.deeper(s, edge, a.by_mm, kept=True),
}


def _hip_curve(alteration: Alteration, shape: PieceShape) -> float:
    """Where a hip curves most: as typed, else half way from the waist to the hip."""
    if alteration.at_mm is not None:
        return alteration.at_mm
    if {"waist", "hip"} <= set(shape.levels):
        return (shape.levels["waist"] + shape.levels["hip"]) / 2
    raise AlterationError("This piece does not show where waist and hip lie. Say where, from its top.", "at")


def usual_place(alteration: Alteration, piece: AlterPiece) -> float | None:
    """The place at which an alteration is made on its piece where none was typed, so that it is the same on what follows."""
    if alteration.at_mm is not None:
        return alteration.at_mm
    if alteration.kind == "hip-curve":
        return _hip_curve(alteration, piece.shape)
    if alteration.kind == "thigh":
        return _level_or(alteration, piece.shape, "thigh", alteration.at_edge)
    return wedge_of(alteration, piece.shape).line if alteration.kind == "bowed-leg" else None


def _level_or(alteration: Alteration, shape: PieceShape, level: str, edge: str) -> float:
    """The place typed, else a level of the piece, else a hand below the edge's upper end."""
    if alteration.at_mm is not None:
        return alteration.at_mm
    return shape.levels.get(level, min(x for x, _ in edge_of(AlterPiece("", shape), edge)) + HAND_MM)


def _ease_in(t: float) -> float:
    """From 0 to 1, level at both ends."""
    return t * t * (3.0 - 2.0 * t)


def _taper(shape: PieceShape, edge: str, points: list[Point], by: float, at: float | None) -> PieceShape:
    down = points[0][0] <= points[-1][0]
    xs = [p[0] for p in points]
    place = at if at is not None else (xs[0] + xs[-1]) / 2
    length = (max(xs) - min(xs)) or 1.0

    def bump(t: float) -> float:
        x = min(xs) + (t if down else 1 - t) * length
        share = min(1.0, abs(x - place) / REACH_MM)
        return by * 0.5 * (1 + math.cos(math.pi * share))

    return _out(subdivided(shape, edge), edge, bump)


def _out(shape: PieceShape, edge: str, profile: Callable[[float], float]) -> PieceShape:
    """An edge moved outward, away from the middle of the piece."""
    ys = [y for _, y in shape.outline]
    points = edge_points(shape.outline, shape.edges[edge]) if edge in shape.edges else []
    middle = (min(ys) + max(ys)) / 2
    outward = 1.0 if not points or sum(y for _, y in points) / len(points) >= middle else -1.0
    return move_edge(shape, edge, profile, 0.0, outward)


def _upper_arm(piece: AlterPiece, by: float) -> PieceShape:
    """Both seams out at the underarm, nothing at the hem; the cap lowered until it is as long as before, its height given back."""
    wide = piece.shape
    for edge in SLEEVE_SEAMS:
        points = edge_of(piece, edge)
        top_first = points[0][0] <= points[-1][0]
        wide = _out(wide, edge, lambda t, f=top_first: by / 2 * (1 - t if f else t))  # type: ignore[misc]
    caps = [edge for edge in CAPS if edge in wide.edges]
    if not caps:
        return wide
    walker = Walker()

    def cap_mm(shape: PieceShape) -> float:
        return sum(walker.edge_mm(replace(piece, shape=shape), edge) for edge in caps)

    lowered = _solved_cap(piece, wide, caps, cap_mm(piece.shape))
    # The cap's lost height is given back below it, or the sleeve would be as much too short.
    lost = min(x for x, _ in lowered.outline) - min(x for x, _ in wide.outline)
    return change_length(lowered, _below_cap(lowered, caps), lost) if lost > LEAST_LOST_MM else lowered


def _solved_cap(piece: AlterPiece, shape: PieceShape, caps: list[str], wanted: float) -> PieceShape:
    """The sleeve with its cap scaled in height until its seam line is as long as wanted, mm; by secants."""
    walker = Walker()

    def cap_mm(shape: PieceShape) -> float:
        return sum(walker.edge_mm(replace(piece, shape=shape), edge) for edge in caps)

    before, share, made = (1.0, cap_mm(shape)), 0.95, shape
    for _ in range(10):  # the length rises with the height
        made = _cap_scaled(shape, caps, min(1.8, max(0.2, share)))
        now = cap_mm(made)
        if abs(now - wanted) < 0.02 or now == before[1]:
            break
        slope = (now - before[1]) / (share - before[0])
        before, share = (share, now), share - (now - wanted) / slope
    return made


def _below_cap(shape: PieceShape, caps: list[str]) -> float:
    """The x at which a sleeve is lengthened: its own line, else half way from the underarm to the hem."""
    lines = [line for line in shape.lines if line.kind == "lengthen"]
    if lines:
        return lines[0].points[0][0]
    underarm = max(x for edge in caps for x, _ in edge_points(shape.outline, shape.edges[edge]))
    return (underarm + max(x for x, _ in shape.outline)) / 2


def has_underarm(shape: PieceShape) -> bool:
    """Whether an armhole and a side meet on a piece."""
    if "armhole" not in shape.edges or "side" not in shape.edges:
        return False
    return bool(set(shape.edges["armhole"]) & set(shape.edges["side"]))


def lower_underarm(shape: PieceShape, by: float) -> PieceShape:
    """The armhole's lower end moved down by so much, nothing at its upper end; the side begins so much lower."""
    underarm_last = shape.edges["armhole"][1] in shape.edges["side"]
    return move_edge(shape, "armhole", lambda t: by * (t if underarm_last else 1 - t), 1.0, 0.0)


def _cap_scaled(shape: PieceShape, caps: list[str], share: float) -> PieceShape:
    """The sleeve with its cap's height above the underarm line scaled."""
    base = max(x for edge in caps for x, _ in edge_points(shape.outline, shape.edges[edge]))

    def move(point: Point) -> Point:
        return (base - (base - point[0]) * share, point[1]) if point[0] < base else point

    return rebuilt(shape, [move(p) for p in shape.outline], list(range(len(shape.outline))), move)
