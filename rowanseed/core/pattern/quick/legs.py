"""Quick shapes of the lower body: trouser front and back."""

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.quick.build import Measure, Measures, QuickShape, Walk, need


def _leg(m: Measures, lean: float, rise: float) -> PieceShape:
    """A leg: x = 0 at the waist's side, the side seam's fullest part at y = 0, the crease in the middle of the thigh.

    Args:
        lean: how far the centre seam's top leans toward the side; rise: how far it rises above the side.
    """
    waist, hip, thigh, hem = m["waist_width"], m["hip_width"], m["thigh_width"], m["hem_width"]
    crotch, length = m["crotch_depth"], m["length"]
    need(crotch < length, "The crotch cannot be lower than the hem.", "crotch_depth")
    need(thigh > hip, "The thigh is measured to the crotch point, so it is wider than the hip.", "thigh_width")
    hip_at, crease, fork = 0.68 * crotch, thigh / 2, thigh - hip
    centre_top: Point = (-rise, hip - lean)
    side_top: Point = (0.0, max(0.0, centre_top[1] - waist))
    walk = Walk(side_top)
    walk.curve("side hip", (0.3 * hip_at, 0.45 * side_top[1]), (0.7 * hip_at, 0.0), (hip_at, 0.0))
    walk.line("side", (crotch, 0.01 * thigh), (length, crease - hem / 2)).line("hem", (length, crease + hem / 2))
    inner: Point = (crotch, thigh)
    walk.curve(
        "inseam",
        (length - 0.4 * (length - crotch), crease + hem / 2 + 0.02 * thigh),
        (crotch + 0.25 * (length - crotch), thigh - 0.45 * fork),
        inner,
    )
    walk.curve(
        "crotch",
        (crotch - 0.04 * crotch, thigh - 0.55 * fork),
        (crotch - 0.1 * crotch, hip + 0.02 * fork),
        (hip_at, hip),
    )
    walk.line("centre", centre_top)
    levels = {"waist": 0.0, "hip": hip_at, "thigh": crotch}
    return walk.close("waist").shape(grain=((crotch, crease), (0.9 * length, crease)), levels=levels)


def trouser_front(m: Measures) -> PieceShape:
    """A trouser front: centre seam upright."""
    return _leg(m, 0.0, 0.0)


def trouser_back(m: Measures) -> PieceShape:
    """A trouser back: centre seam leaning and rising by the figures given."""
    return _leg(m, m["seat_lean"], m["seat_rise"])


_LEG = (
    Measure("length", "From the waist's side to the hem edge", "104 cm"),
    Measure("waist_width", "Along the waist edge", "28 cm"),
    Measure("hip_width", "Across at the fullest hip", "29 cm"),
    Measure("crotch_depth", "From the waist's side down to the crotch line", "28 cm"),
    Measure("thigh_width", "Across at the crotch line, to the crotch point", "34 cm"),
    Measure("hem_width", "Across at the hem", "22 cm"),
)

SHAPES = (
    QuickShape("trouser-front", "Trouser front", "One front leg, no seam at the crease.", _LEG, trouser_front),
    QuickShape(
        "trouser-back",
        "Trouser back",
        "One back leg; the seat seam leans and rises.",
        (
            *_LEG,
            Measure("seat_lean", "How far the seat seam's top leans to the side", "4 cm", 0.0),
            Measure("seat_rise", "How far it rises above the side", "3 cm", 0.0),
        ),
        trouser_back,
    ),
)
