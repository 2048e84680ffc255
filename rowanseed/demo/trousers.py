"""The pull-on trousers: an invented pattern drafted from the hip; one view, elastic in a casing."""

from functools import cache

from rowanseed.core.geometry.shape import Line, Notch, PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece, Seam, View
from rowanseed.demo.drafting import Draft, box, finished_mm

HIP_CM = {"36": 92.0, "38": 96.0, "40": 100.0, "42": 104.0, "44": 109.0, "46": 114.0}
EASE_CM = 10.0
SA = 10.0


def _cm(value: float) -> Length:
    return Length(value * 10, f"{value:g} cm", "cm")


def _leg(hip_cm: float, back: bool) -> PieceShape:
    """A leg from the casing's top edge down; side seam at small y."""
    step = hip_cm - 100.0
    width = (hip_cm + EASE_CM) * 2.5 + (14.0 if back else -8.0) + 2 * SA
    rise = 300.0 + 1.6 * step + 45.0 + (7.0 if back else 0.0)
    fork = (0.42 if back else 0.22) * width
    length, hem = 1015.0 + 45.0 + 40.0, (250.0 if back else 226.0) + 1.2 * step
    thigh = width + fork
    crease = thigh / 2 - (12 if back else 0)
    lean, lift = (34.0, 26.0) if back else (6.0, 0.0)
    hip_at = 0.66 * rise
    top = 3.0 if back else 0.0
    draft = Draft(top, 8).to("waist", (-lift, width - lean)).to("centre", (hip_at, width))
    draft.quarter("crotch", (rise, thigh), flat_first=False)
    draft.through("inseam", (rise + 190, thigh - 0.44 * fork), (length, crease + hem / 2))
    draft.to("hem", (length, crease - hem / 2))
    draft.through("side", (rise + 60, 6), (hip_at, 0), (top, 8))
    notch = Notch((hip_at, width), 2 if back else 1)
    levels = {"waist": 45.0, "hip": hip_at, "thigh": rise + SA}
    lines = tuple(Line("lengthen", ((at, 0), (at, thigh))) for at in (0.55 * rise, 700.0))
    return draft.done("top", False, ((rise, crease), (length - 120, crease)), (notch,), (), lines, levels)


@cache
def pattern() -> Pattern:
    """The trousers with all their sizes."""
    pieces = (
        Piece("1", "Front", 2, mirrored=True, allowance_mm=SA, shapes={n: _leg(h, False) for n, h in HIP_CM.items()}),
        Piece("2", "Back", 2, mirrored=True, allowance_mm=SA, shapes={n: _leg(h, True) for n, h in HIP_CM.items()}),
        Piece("3", "Back pocket", 2, mirrored=True, allowance_mm=SA, shapes={n: box(190, 165) for n in HIP_CM}),
        Piece("4", "Pocket flap", 4, mirrored=True, allowance_mm=SA, shapes={n: box(70, 165) for n in HIP_CM}),
    )
    sizes = tuple(
        EnvelopeSize(
            name,
            {"waist": _cm(hip - 24), "hip": _cm(hip)},
            {zone: _cm(round(mm / 5) / 2) for zone, mm in finished_mm(pieces, name).items()},
        )
        for name, hip in HIP_CM.items()
    )
    features = {"legs": "trousers", "waist": "casing", "pocket": "patch", "hem": "double"}
    return Pattern(
        "Furrow pull-on trousers",
        "Thistledown 212",
        "trousers",
        Length(1680.0, "168 cm", "cm"),
        sizes,
        (View("A", "back pockets with flaps", features),),
        pieces,
        "elastic 3 cm wide, thread",
        seams=(Seam(("1", "side"), ("2", "side")), Seam(("1", "inseam"), ("2", "inseam"))),
    )
