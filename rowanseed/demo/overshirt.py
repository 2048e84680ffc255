"""The overshirt: an invented pattern for an adult, drafted from chest and height; two views."""

from functools import cache

from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece, Printed, Seam, View
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.demo.drafting import Draft, box, finished_mm, solved
from rowanseed.demo.shipped import shipped_overshirt

BUST_IN = {"8": 32.0, "10": 33.5, "12": 35.0, "14": 37.0, "16": 39.0, "18": 41.0, "20": 43.0}
EASE_MM = 130.0
SA = 15.0
IN = 25.4
NOTCH_MM = 100.0  # from the underarm, on armhole and cap
SEAMS = (
    Seam(("3", "side"), ("1", "side")),
    Seam(("2", "shoulder"), ("3", "shoulder"), 6.0, why="back shoulder eased"),
    Seam(("2", "foot"), ("1", "yoke")),
    Seam(("4", "front seam"), ("4", "back seam")),
    Seam(("2", "neck"), ("6", "neck"), 0.0, (("3", "neck"),)),
    Seam(("3", "centre"), ("8", "side")),
    Seam(("4", "cap front"), ("3", "armhole"), 10.0, why="cap ease"),
    Seam(("4", "cap back"), ("2", "armhole"), 12.0, (), (("1", "armhole"),), "cap ease"),
)


def _inches(value: float) -> Length:
    whole, rest = divmod(round(value * 8), 8)
    fraction = {0: "", 1: "1/8", 2: "1/4", 3: "3/8", 4: "1/2", 5: "5/8", 6: "3/4", 7: "7/8"}[rest]
    text = f"{whole} {fraction}".strip() + " in"
    return Length(round(value * 8) / 8 * IN, text, "in")


def _size(name: str, bust: float, pieces: tuple[Piece, ...]) -> EnvelopeSize:
    body = {"bust": _inches(bust), "waist": _inches(bust - 8), "hip": _inches(bust + 2.5)}
    finished = {zone: _inches(mm / IN) for zone, mm in finished_mm(pieces, name).items()}
    return EnvelopeSize(name, body, finished)


class _Body:
    """Drafting measures of one size, mm, allowances included."""

    def __init__(self, bust_in: float) -> None:
        chest = bust_in * IN + EASE_MM
        step = bust_in - 37.0
        self.quarter = chest / 4 + SA
        self.neck = 78.0 + 1.1 * step - SA * 0.4
        self.shoulder_y = 195.0 + 3.1 * step + SA * 0.3
        self.scye = 238.0 + 3.4 * step + SA
        self.length = 705.0 + 3.0 * step + SA + 25.0
        self.hem = self.quarter + 6.0
        self.drop = 46.0 + 0.5 * step
        self.side = [
            (self.scye + t * (self.length - self.scye), self.quarter + 6.0 * t) for t in (0.25, 0.5, 0.75, 1.0)
        ]
        self.levels = {"bust": self.scye, "waist": self.scye + 170.0, "hip": self.scye + 380.0}


def _lengthen(b: _Body) -> tuple[Line, ...]:
    """The line to lengthen or shorten at, between waist and hip."""
    at = b.scye + 250.0
    return (Line("lengthen", ((at, 0), (at, b.quarter))),)


def back(b: _Body) -> PieceShape:
    """The back below the yoke, on the fold."""
    top = 96.0
    draft = Draft(top, 0).to("yoke", (top, b.shoulder_y - 2))
    draft.through(
        "armhole", (0.5 * (top + b.scye), b.shoulder_y - 8), (0.86 * b.scye, b.quarter - 30), (b.scye, b.quarter)
    )
    draft.through("side", *b.side).to("hem", (b.length, 0))
    notch = Notch(draft.at("armhole", NOTCH_MM), 2)
    return draft.done("fold", fold=True, notches=(notch,), lines=_lengthen(b), levels=b.levels)


def yoke(b: _Body) -> PieceShape:
    """The back yoke, on the fold."""
    draft = Draft(16.0, 0).quarter("neck", (0, b.neck), flat_first=True).to("shoulder", (b.drop, b.shoulder_y))
    draft.to("armhole", (126.0, b.shoulder_y - 4)).to("foot", (126.0, 0))
    return draft.done("fold", fold=True)


def front(b: _Body) -> PieceShape:
    """A front with a band's width beyond the centre."""
    edge, depth = -18.0, 92.0
    draft = Draft(depth, edge).to("neck step", (depth, 0)).quarter("neck", (0, b.neck), flat_first=True)
    draft.to("shoulder", (b.drop, b.shoulder_y))
    draft.through(
        "armhole", (0.5 * (b.drop + b.scye), b.shoulder_y - 26), (0.84 * b.scye, b.quarter - 36), (b.scye, b.quarter)
    )
    draft.through("side", *b.side).to("hem", (b.length, edge))
    notch = Notch(draft.at("armhole", NOTCH_MM), 1)
    pocket = Mark("pocket corner", (b.scye - 8, 66.0))
    middle = 0.42 * b.quarter
    return draft.done(
        "centre",
        grain=((b.scye, middle), (0.92 * b.length, middle)),
        notches=(notch,),
        marks=(pocket, Mark("bust point", (b.scye + 22, 0.36 * b.quarter))),
        lines=(Line("centre front", ((depth, 0), (b.length, 0))), *_lengthen(b)),
        levels=b.levels,
    )


def sleeve(b: _Body) -> PieceShape:
    """The sleeve, set in: cap height and back width drawn so that each half of the cap is eased into its armhole."""
    back_armhole = _seam_mm(back(b), "armhole") + _seam_mm(yoke(b), "armhole")
    half = 0.83 * b.quarter
    cap = solved(
        lambda c: _seam_mm(_sleeve(b, c, half, half), "cap front"), _seam_mm(front(b), "armhole") + 10.0, 90.0, 220.0
    )
    wide = solved(lambda w: _seam_mm(_sleeve(b, cap, w, half), "cap back"), back_armhole + 12.0, 0.6 * half, 1.5 * half)
    cut = _sleeve(b, cap, wide, half)
    body, eased = front(b), _seam_mm(cut, "cap front") - _seam_mm(front(b), "armhole")
    wanted = _notch_mm(body, "armhole") + eased  # all of the ease lies above the notch
    place = solved(lambda d: -_notch_mm(_sleeve(b, cap, wide, half, d), "cap front"), -wanted, 40.0, 200.0)
    return _sleeve(b, cap, wide, half, place)


def _notch_mm(shape: PieceShape, edge: str) -> float:
    return Walker().side({"": AlterPiece("", shape, allowance_mm=SA)}, [("", edge)]).notches[0]


def _seam_mm(shape: PieceShape, edge: str) -> float:
    return Walker().edge_mm(AlterPiece("", shape, allowance_mm=SA), edge)


def _sleeve(b: _Body, cap: float, back_half: float, half: float, front_notch: float = NOTCH_MM) -> PieceShape:
    length, wrist = 612.0 + SA * 2, 128.0 + 0.12 * (b.quarter - 290)
    draft = Draft(cap, -back_half)
    draft.through("cap back", (0.58 * cap, -0.68 * back_half), (0.14 * cap, -0.36 * back_half), (0.0, 0.0))
    draft.through("cap front", (0.16 * cap, 0.36 * half), (0.62 * cap, 0.68 * half), (cap, half))
    crease = (half - back_half) / 2
    draft.to("front seam", (length, crease + wrist)).to("hem", (length, crease - wrist))
    cap_back = path_length(edge_points(tuple(draft.points), draft.edges["cap back"]))
    notches = (Notch(draft.at("cap back", cap_back - NOTCH_MM), 2), Notch(draft.at("cap front", front_notch), 1))
    lines = (Line("lengthen", ((cap + 200, -half), (cap + 200, half))),)
    levels = {"upper_arm": cap + 20.0, "wrist": length - 40.0}
    return draft.done("back seam", False, ((cap + 30, 0), (length - 60, 0)), notches, (), lines, levels)


def collar(b: _Body) -> PieceShape:
    """The fall of the collar, half, on the fold."""
    half = _neck_half(b)
    draft = Draft(0, 0).to("neck", (3, half)).to("front edge", (84, half + 24)).to("outer edge", (78, 0))
    return draft.done("fold", fold=True)


def stand(b: _Body) -> PieceShape:
    """The collar stand, half, on the fold, as long as the neck it is sewn to."""
    return _stand(_neck_half(b))


def _neck_half(b: _Body) -> float:
    neck = _seam_mm(yoke(b), "neck") + _seam_mm(front(b), "neck")
    return solved(lambda half: _seam_mm(_stand(half), "neck"), neck, 100.0, 400.0)


def _stand(half: float) -> PieceShape:
    draft = Draft(12, 0).through("upper edge", (10, half * 0.6), (0, half), (14, half + 30))
    draft.through("neck", (36, half + 26), (56, half * 0.62), (62, 0))
    return draft.done("fold", fold=True)


def pocket() -> PieceShape:
    """The chest pocket, pointed at the foot."""
    draft = Draft(0, 0).to("top", (0, 150)).to("side", (162, 150)).to("foot", (182, 75), (162, 0))
    return draft.done("other side")


@cache
def pattern() -> Pattern:
    """The overshirt with all its sizes, as it was drafted beforehand."""
    return shipped_overshirt()


def drafted() -> Pattern:
    """The overshirt drafted anew, every size by its own figures: some seconds."""
    bodies = {size: _Body(bust) for size, bust in BUST_IN.items()}

    def every(draw: object) -> dict[str, PieceShape]:
        assert callable(draw)
        return {size: draw(b) for size, b in bodies.items()}

    band = {size: box(b.length - 92.0, 76.0) for size, b in bodies.items()}
    pieces = (
        Piece("1", "Back", 1, shapes=every(back)),
        Piece("2", "Back yoke", 2, shapes=every(yoke), note="One of the two is the inner yoke."),
        Piece("3", "Front", 2, mirrored=True, shapes=every(front)),
        Piece("4", "Sleeve", 2, mirrored=True, shapes=every(sleeve)),
        Piece("5", "Collar", 2, views=("A",), shapes=every(collar)),
        Piece("6", "Collar stand", 2, shapes=every(stand)),
        Piece("7", "Chest pocket", 2, mirrored=True, views=("A",), shapes={s: pocket() for s in bodies}),
        Piece("8", "Button band", 2, mirrored=True, shapes=band),
        Piece("9", "Collar", 1, role="interfacing", views=("A",), shapes=every(collar), same_as="5"),
        Piece("10", "Collar stand", 1, role="interfacing", shapes=every(stand), same_as="6"),
        Piece("11", "Button band", 2, role="interfacing", mirrored=True, shapes=band, same_as="8"),
    )
    common = {
        "yoke": "double",
        "front": "band",
        "closure": "buttons",
        "sleeve": "set-in",
        "cuff": "hem",
        "interfacing": "fusible",
    }
    views = (
        View(
            "A",
            "with a collar and chest pockets",
            {**common, "collar": "two-piece", "pocket": "patch", "topstitching": "edges"},
        ),
        View("B", "with the stand alone, no pockets", {**common, "collar": "one-piece"}),
    )
    return Pattern(
        "Hedgerow overshirt",
        "Thistledown 104",
        "jacket",
        Length(1680.0, "168 cm", "cm"),
        tuple(_size(name, bust, pieces) for name, bust in BUST_IN.items()),
        views,
        pieces,
        "7 buttons of 15 mm, thread, light fusible interfacing",
        seams=SEAMS,
        printed=tuple(
            Printed(
                "A", ("12", "14", "16"), Length(w, f"{w / 10:g} cm", "cm"), Length(mm, f"{mm / 1000:.2f} m", "m"), nap
            )
            for w, mm, nap in ((1120.0, 2200.0, False), (1500.0, 1700.0, False), (1500.0, 1700.0, True))
        ),
    )
