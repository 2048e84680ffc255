"""Alterations that move an edge, or two, of a piece by a profile: shoulders, necks, armholes, sleeves, legs. Common practice."""

import math
from collections.abc import Callable

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.reshape import displaced, move_edge, own_edges, subdivided
from rowanseed.core.fit.solving import amount_that_leaves_nothing
from rowanseed.core.fit.wedge import centre_is_low
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

CROTCH_MM = 1.0  # a crotch that is so near to what was asked is as asked
FORK_SHARE = 0.5  # of the crotch curve goes with the fork, less and less
INSEAM_FADE_MM = 250.0  # how far down the inseam a longer crotch fork fades out
ELBOW_SHARE = 0.42  # from the underarm to the wrist; common practice, no source
CALF_SHARE = 0.68  # from the crotch to the hem
KNEE_SHARE = 0.5
MOST_SLID_MM = 120.0
LEAST_REACH_MM = 60.0
REACH_MM = 160.0  # how far a bump runs above and below its fullest place


def points_of(shape: PieceShape, edge: str) -> list[Point]:
    """The points of a named edge. Raises AlterationError when the piece has none of that name."""
    if edge not in shape.edges:
        known = ", ".join(own_edges(shape)) or "none"
        raise AlterationError(f"There is no edge “{edge}” on this piece; it has: {known}.", "edge")
    return edge_points(shape.outline, shape.edges[edge])


def _outer_last(points: list[Point], low_centre: bool) -> bool:
    """Whether an edge's last point lies farther from the piece's centre than its first."""
    return (points[-1][1] >= points[0][1]) == low_centre


def forward_shoulder(shape: PieceShape, edge: str, by: float) -> PieceShape:
    """The shoulder's outer end lowered, nothing at the neck; with a negative figure raised, as on the piece it is sewn to."""
    last = _outer_last(points_of(shape, edge), centre_is_low(shape))
    moved = move_edge(shape, edge, lambda t: by * (t if last else 1 - t), 1.0, 0.0)
    return shoulder_held(moved, seam_mm(shape, edge), edge)


def shoulder_held(shape: PieceShape, wanted: float, edge: str = "shoulder") -> PieceShape:
    """The shape with its shoulder's outer end slid along it until its seam line is so long, mm."""

    def slid(by: float) -> PieceShape:
        return shoulder_length(shape, by, edge) if abs(by) > 1e-9 else shape

    return slid(amount_that_leaves_nothing(lambda by: seam_mm(slid(by), edge) - wanted, MOST_SLID_MM))


def seam_mm(shape: PieceShape, edge: str) -> float:
    """An edge's length on the seam line, mm. Raises AlterationError when the piece has none of that name."""
    points_of(shape, edge)
    return Walker().edge_mm(AlterPiece("", shape), edge)


def shoulder_length(shape: PieceShape, by: float, edge: str = "shoulder") -> PieceShape:
    """The shoulder made longer at its outer end along its own line; the armhole follows to half way down."""
    points = points_of(shape, edge)
    last = _outer_last(points, centre_is_low(shape))
    inner, outer = (points[0], points[-1]) if last else (points[-1], points[0])
    long = math.dist(inner, outer) or 1.0
    dx, dy = (outer[0] - inner[0]) / long, (outer[1] - inner[1]) / long
    armhole = points_of(shape, "armhole")
    upper_first = math.dist(armhole[0], outer) <= math.dist(armhole[-1], outer)

    def fading(t: float) -> float:
        far = t if upper_first else 1 - t
        return by * 0.5 * (1 + math.cos(math.pi * min(1.0, 2 * far)))

    wider = move_edge(shape, "armhole", fading, 0.0, dy)
    return move_edge(wider, "armhole", fading, dx, 0.0) if abs(dx) > 1e-6 else wider


def neck_width(shape: PieceShape, by: float) -> PieceShape:
    """The neck's end at the shoulder moved out along it, which is as much shorter; the neck follows, its other end stays."""
    shoulder, neck = points_of(shape, "shoulder"), points_of(shape, "neck")
    last = _outer_last(shoulder, centre_is_low(shape))
    inner, outer = (shoulder[0], shoulder[-1]) if last else (shoulder[-1], shoulder[0])
    long = math.dist(inner, outer) or 1.0
    if not -long < by < 0.8 * long:
        raise AlterationError("That leaves no shoulder.", "by")
    dx, dy = (outer[0] - inner[0]) / long, (outer[1] - inner[1]) / long
    at_first = math.dist(neck[0], inner) <= math.dist(neck[-1], inner)

    # Both level at the shoulder, so that the neck meets it as it did; along the grain level at the centre too, square to the fold.
    def drawn_out(t: float) -> float:
        return by * math.sin(math.pi / 2 * (1 - t if at_first else t))

    def risen(t: float) -> float:
        return by * _bell(t if at_first else 1 - t)

    moved = move_edge(shape, "neck", drawn_out, 0.0, dy, along_it=True)
    return move_edge(moved, "neck", risen, dx, 0.0, along_it=True) if abs(dx) > 1e-6 else moved


def neck_depth(shape: PieceShape, by: float) -> PieceShape:
    """The neck lowered at the centre, nothing at the shoulder; raised with a negative figure."""
    neck = points_of(shape, "neck")
    centre_first = (neck[0][1] <= neck[-1][1]) == centre_is_low(shape)

    def eased(t: float) -> float:
        far = 1 - t if centre_first else t
        return by * far * far * (3 - 2 * far)

    return move_edge(shape, "neck", eased, 1.0, 0.0)


def across(shape: PieceShape, by: float) -> PieceShape:
    """The armhole moved out half way between shoulder and underarm, nothing at its ends: across the back, or the chest."""
    fine = subdivided(shape, "armhole")
    outward = 1.0 if centre_is_low(shape) else -1.0
    moved = move_edge(fine, "armhole", lambda t: by * math.sin(math.pi * t) ** 2, 0.0, outward)
    return shoulder_held(moved, seam_mm(shape, "shoulder")) if "shoulder" in shape.edges else moved


def bump(shape: PieceShape, edge: str, by: float, at: float, reach: float = REACH_MM) -> PieceShape:
    """An edge moved away from the piece's middle, most at one place, fading above and below it."""
    points = points_of(shape, edge)
    ys = [y for _, y in shape.outline]
    outward = 1.0 if sum(y for _, y in points) / len(points) >= (min(ys) + max(ys)) / 2 else -1.0
    fine = subdivided(shape, edge)
    return move_edge(fine, edge, _at_height(points, lambda x: _bell((x - at) / reach) * by), 0.0, outward)


def _bell(far: float) -> float:
    return 0.5 * (1 + math.cos(math.pi * min(1.0, abs(far))))


def _at_height(points: list[Point], profile: Callable[[float], float]) -> Callable[[float], float]:
    """A profile of x as one of the share along an edge that runs from its head to its foot, or back."""
    xs = [p[0] for p in points]
    low, high = min(xs), max(xs)
    down = points[0][0] <= points[-1][0]
    return lambda t: profile(low + (t if down else 1 - t) * (high - low))


def both_seams(shape: PieceShape, edges: tuple[str, str], by: float, at: float | None, share: float) -> PieceShape:
    """Both long seams of a sleeve or a leg out by half, most at one place: typed, else at a share of their length."""
    xs = [x for x, _ in points_of(shape, edges[-1])]
    place = at if at is not None else min(xs) + share * (max(xs) - min(xs))
    # It fades out before the seams' ends, so that what is sewn there keeps its length.
    reach = max(LEAST_REACH_MM, min(REACH_MM, place - min(xs), max(xs) - place))
    for edge in edges:
        shape = bump(shape, edge, by / 2, place, reach)
    return shape


def wrist(shape: PieceShape, edges: tuple[str, str], by: float) -> PieceShape:
    """Both seams of a sleeve out by half at its end, fading to nothing at the underarm."""
    for edge in edges:
        points = points_of(shape, edge)
        ys = [y for _, y in shape.outline]
        outward = 1.0 if sum(y for _, y in points) / len(points) >= (min(ys) + max(ys)) / 2 else -1.0
        down = points[0][0] <= points[-1][0]
        shape = move_edge(shape, edge, lambda t, d=down: by / 2 * (t if d else 1 - t), 0.0, outward)  # type: ignore[misc]
    return shape


def crotch_length(shape: PieceShape, by: float) -> PieceShape:
    """The crotch longer by so much: the inseam's upper end moved out, fading down the inseam; the crotch curve follows.

    How far the end moves is found by trying, since the curve takes up only a part of it.
    """
    points_of(shape, "inseam")
    outward = -1.0 if centre_is_low(shape) else 1.0
    fine = subdivided(subdivided(shape, "inseam"), "crotch")
    shares = _fork_shares(fine)

    def moved(out: float) -> PieceShape:
        return displaced(fine, [(0.0, outward * out * share) for share in shares])

    if "crotch" not in shape.edges:
        return moved(by)
    wanted = seam_mm(shape, "crotch") + by
    made = moved(amount_that_leaves_nothing(lambda out: seam_mm(moved(out), "crotch") - wanted, MOST_SLID_MM, by))
    short = seam_mm(made, "crotch") - wanted
    if abs(short) > CROTCH_MM:
        raise AlterationError(
            f"The fork of this piece can give only {both(max(0.0, abs(by) - abs(short)))} of it. Take the rest on the other leg.",
            "by",
        )
    return made


def _fork_shares(shape: PieceShape) -> list[float]:
    """How far each point goes with the fork: less down the inseam, and less up the curve, which stays where it turns upward."""
    shares = [0.0] * len(shape.outline)
    points = points_of(shape, "inseam")
    fork = min(points)
    reaches = {
        "inseam": INSEAM_FADE_MM,
        "crotch": FORK_SHARE * seam_mm(shape, "crotch") if "crotch" in shape.edges else 0.0,
    }
    for edge, reach in reaches.items():
        if edge not in shape.edges:
            continue
        line, first = points_of(shape, edge), shape.edges[edge][0]
        from_fork = line if math.dist(line[0], fork) <= math.dist(line[-1], fork) else line[::-1]
        far = 0.0
        for k, p in enumerate(from_fork):
            far += math.dist(from_fork[k - 1], p) if k else 0.0
            at = first + (k if from_fork is line else len(line) - 1 - k)
            shares[at % len(shares)] = max(shares[at % len(shares)], _bell(far / reach))
    return shares
