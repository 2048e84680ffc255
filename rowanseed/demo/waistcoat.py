"""The choir waistcoat: an invented lined pattern, drafted from the chest; one view."""

from functools import cache

from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece, Seam, View
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.demo.drafting import Draft, box, finished_mm, solved

CHEST_CM = {"XS": 82.0, "S": 88.0, "M": 94.0, "L": 101.0, "XL": 109.0, "2XL": 118.0}
EASE_CM = 9.0
SEAMS = (
    Seam(("1", "side"), ("2", "side")),
    Seam(("2", "shoulder"), ("1", "shoulder"), 8.0, why="back shoulder eased"),
    Seam(("4", "side"), ("5", "side")),
    Seam(("1", "armhole"), ("4", "armhole")),
    Seam(("2", "armhole"), ("5", "armhole")),
    Seam(("7", "centre"), ("1", "centre")),
    Seam(("1", "centre"), ("4", "centre")),
    Seam(("2", "neck"), ("5", "neck")),
)
SA = 15.0
EDGE = -18.0 - SA  # the front edge: an overlap of 18 mm beyond the centre, and the seam allowance


def _cm(value: float) -> Length:
    return Length(value * 10, f"{value:g} cm", "cm")


class _Body:
    """Drafting measures of one size, mm, allowances included."""

    def __init__(self, chest_cm: float) -> None:
        step = chest_cm - 94.0
        self.quarter = (chest_cm + EASE_CM) * 2.5 + SA
        self.neck = 76.0 + 0.6 * step
        self.shoulder = 176.0 + 1.1 * step
        self.scye = 268.0 + 1.6 * step
        self.length = 560.0 + 1.2 * step
        self.levels = {"bust": self.scye, "waist": self.scye + 150.0, "hip": self.length}


def _lengthen(b: _Body) -> tuple[Line, ...]:
    """The line to lengthen or shorten at, above the waist."""
    at = b.scye + 80.0
    return (Line("lengthen", ((at, 0), (at, b.quarter))),)


def back(b: _Body) -> PieceShape:
    """The back, a seam at the centre."""
    draft = Draft(18, -SA).quarter("neck", (0, b.neck), flat_first=True).to("shoulder", (42, b.shoulder))
    draft.through("armhole", (0.56 * b.scye, b.shoulder - 14), (0.88 * b.scye, b.quarter - 40), (b.scye, b.quarter))
    draft.through("side", (b.scye + 150, b.quarter - 16), (b.length, b.quarter + 10))
    draft.to("hem", (b.length + 6, -SA))
    notch = Notch((b.scye + 120, b.quarter - 13), 2)
    return draft.done(
        "centre", grain=((b.scye, 60), (b.length - 40, 60)), notches=(notch,), lines=_lengthen(b), levels=b.levels
    )


def front(b: _Body) -> PieceShape:
    """The front, a V neck and a point at the hem; its side as long as the back's on the seam line."""
    wanted = _side_mm(back(b))
    return _front(b, solved(lambda foot: _side_mm(_front(b, foot)), wanted, b.length - 40.0, b.length + 40.0))


def _side_mm(shape: PieceShape) -> float:
    return Walker().edge_mm(AlterPiece("", shape, allowance_mm=SA), "side")


def _front(b: _Body, foot: float) -> PieceShape:
    depth = b.scye + 12.0
    draft = (
        Draft(depth, EDGE)
        .through("neck", (0.5 * depth, 0.44 * b.neck), (0, b.neck))
        .to("shoulder", (40, b.shoulder - 4))
    )
    draft.through("armhole", (0.54 * b.scye, b.shoulder - 40), (0.86 * b.scye, b.quarter - 48), (b.scye, b.quarter))
    draft.through("side", (b.scye + 150, b.quarter - 16), (foot, b.quarter + 10))
    draft.to("hem", (b.length + 70, 44)).to("point", (b.length + 8, EDGE))
    notch = Notch((b.scye + 120, b.quarter - 13), 1)
    return draft.done(
        "centre",
        grain=((b.scye + 20, 70), (b.length - 10, 70)),
        notches=(notch,),
        marks=(Mark("bust point", (b.scye + 18, 0.36 * b.quarter)),),
        lines=(Line("centre front", ((depth, 0), (b.length, 0))), *_lengthen(b)),
        levels=b.levels,
    )


def facing(b: _Body) -> PieceShape:
    """The front facing, from the shoulder down."""
    depth = b.scye + 12.0
    draft = (
        Draft(depth, EDGE).through("neck", (0.5 * depth, 0.44 * b.neck), (0, b.neck)).to("shoulder", (14, b.neck + 52))
    )
    draft.through("inner edge", (0.7 * depth, b.neck + 30), (b.length + 70, 44)).to("point", (b.length + 8, EDGE))
    return draft.done("centre", grain=((depth, 20), (b.length - 20, 20)))


@cache
def pattern() -> Pattern:
    """The waistcoat with all its sizes."""
    bodies = {size: _Body(chest) for size, chest in CHEST_CM.items()}
    fronts = {s: front(b) for s, b in bodies.items()}
    backs = {s: back(b) for s, b in bodies.items()}
    facings = {s: facing(b) for s, b in bodies.items()}
    pieces = (
        Piece("1", "Front", 2, mirrored=True, shapes=fronts),
        Piece("2", "Back", 2, mirrored=True, shapes=backs),
        Piece("3", "Welt", 2, mirrored=True, shapes={s: box(130, 80) for s in bodies}),
        Piece("4", "Front lining", 2, role="lining", mirrored=True, shapes=fronts, same_as="1"),
        Piece("5", "Back lining", 2, role="lining", mirrored=True, shapes=backs, same_as="2"),
        Piece("6", "Pocket bag", 4, role="lining", mirrored=True, shapes={s: box(150, 130) for s in bodies}),
        Piece("7", "Front", 2, role="interfacing", mirrored=True, shapes=facings),
    )
    sizes = tuple(
        EnvelopeSize(
            name,
            {"bust": _cm(chest), "waist": _cm(chest - 16), "hip": _cm(chest + 6)},
            {zone: _cm(round(mm / 5) / 2) for zone, mm in finished_mm(pieces, name).items()},
        )
        for name, chest in CHEST_CM.items()
    )
    features = {
        "pocket": "welt",
        "interfacing": "fusible",
        "lining": "bagged",
        "armhole": "lined",
        "closure": "buttons",
        "hem": "none",
        "seam-finish": "none",
    }
    return Pattern(
        "Choirstall waistcoat",
        "Thistledown 330",
        "jacket",
        Length(1720.0, "172 cm", "cm"),
        sizes,
        (View("A", "lined, four buttons", features),),
        pieces,
        "4 buttons of 18 mm, fusible interfacing, lining",
        seams=SEAMS,
    )
