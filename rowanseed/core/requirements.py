"""What one garment requires: its buttons and their places, hem folds, band, zip, elastic; worked out here and nowhere else.

A figure comes, in this order, from what was typed in the make, with the pattern, from the envelope's notions, from the pieces'
marks, from the pieces, from common practice (no published source); where from is said with it. Cloth, Cut, Sew, Bench and Shopping
read it from here, so they cannot differ.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import MM_PER, Unit, both
from rowanseed.core.pattern.figures import Figures, read_notions
from rowanseed.core.pattern.model import Piece
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.core.reckon.buttons import buttonhole_length
from rowanseed.core.reckon.fullness import elastic_length

IN = MM_PER["in"]
BUTTONS = 7
BUTTON_MM = {"light": 11.0, "medium": 15.0, "heavy": 20.0}  # across, where nothing says it; common practice
JACKET_BUTTON_MM = 20.0  # common practice, no source
BUTTON_THICK_MM = 3.0
BUTTON_EVERY_MM = 90.0  # about 3 1/2 in
FIRST_BUTTON_MM, LAST_BUTTON_MM = 15.0, 80.0  # below the neck edge, above the hem
OVERLAP_MM = 30.0
ELASTIC_MM = 20.0  # wide, where nothing says it; common practice
CASING_MORE_MM, THICK_MORE_MM = (
    3.0,
    6.0,
)  # a casing is so much wider than its elastic, than a thick one; common practice, no source
ELASTIC_SHARE, ELASTIC_JOIN_MM = 0.9, 25.0  # of the waist, and the join; common practice, no source
THICK_WORDS = ("thick", "plush", "padded", "soft waistband")
FLY_MM, HIP_DOWN_MM, DRESS_ZIP_MM, SIDE_ZIP_MM, CHEST_ZIP_MM = 180.0, 200.0, 550.0, 350.0, 250.0
LEAST_OPENING_MM = 150.0
PLACKET_BUTTONS = 3  # common practice
FRONT_ZIP_MM = 600.0  # an adult's jacket from neck to hip, common practice
INVISIBLE_LONGER_MM = 25.0  # an invisible zip is sewn in from above its stop, which lies so far below the opening
HEMS_MM: dict[str, tuple[float, float]] = {
    "double": (0.25 * IN, 1.0 * IN),
    "circular": (0.25 * IN, 0.375 * IN),
    "narrow": (0.25 * IN, 0.25 * IN),
    "rolled": (0.0, 0.125 * IN),
    "single": (0.0, 1.0 * IN),
    "blind": (0.0, 1.5 * IN),
    "hand": (0.0, 1.5 * IN),
    "twin-needle": (0.0, 1.0 * IN),
}
FOLDED_HEMS = frozenset({"double", "narrow", "single", "blind", "hand", "twin-needle"})
HIDING = ("sewn-in", "bagged")  # linings that hide the sleeve's hem
BOUND_EDGES = ("bound", "hong-kong")  # an edge that is bound already is turned up once
OPENED = {  # edges along which a garment opens, at the front and at the back
    "front": ("centre", "front edge", "front-edge", "centre front"),
    "back": ("centre", "back edge", "back-edge", "centre back", "front-edge"),
}
BANDED_CUFFS = ("band", "gathered-band")


@dataclass(frozen=True)
class Figure:
    """One figure with where it comes from."""

    mm: float
    source: str


@dataclass(frozen=True)
class Bears:
    """A piece that bears buttons: which part of the length that closes lies on it, mm from the neck edge."""

    piece: str
    from_mm: float
    to_mm: float


@dataclass(frozen=True)
class Buttons:
    """Buttons of one garment: on the front, each cuff, a placket, a waistband; their size; the front's places from its neck edge.

    `front_mm`: the length that closes, from the neck edge to the hem's fold, over bodice and skirt where both open; None where the
    pieces do not say. `bear`: the pieces that bear the buttons. `side`: the back, where the garment opens there.
    """

    front: int
    cuffs: int
    elsewhere: int
    source: str
    across: Figure
    thick: Figure
    front_mm: float | None = None
    places_mm: tuple[float, ...] = ()
    bear: tuple["Bears", ...] = ()
    side: str = "front"

    def places_on(self, piece: str) -> tuple[float, ...]:
        """The places on one of the pieces, from its own upper seam line, mm."""
        own = next((b for b in self.bear if b.piece == piece), None)
        if own is None:
            return ()
        return tuple(at - own.from_mm for at in self.places_mm if own.from_mm <= at < own.to_mm)

    @property
    def total(self) -> int:
        """All of them."""
        return self.front + self.cuffs + self.elsewhere

    @property
    def hole_mm(self) -> float:
        """The buttonhole, mm."""
        return buttonhole_length(self.across.mm, self.thick.mm)

    @property
    def spacing_mm(self) -> float:
        """From one to the next on the front, mm; 0 for fewer than two."""
        return (self.places_mm[-1] - self.places_mm[0]) / (len(self.places_mm) - 1) if len(self.places_mm) > 1 else 0.0

    def words(self) -> str:
        """How many, where, and where that comes from."""
        parts = [f"{self.front} on the {self.side}"] if self.front else []
        parts += [f"{self.cuffs} on the cuffs"] if self.cuffs else []
        parts += [f"{self.elsewhere} elsewhere"] if self.elsewhere else []
        return f"{', '.join(parts)}: {self.source}"


@dataclass(frozen=True)
class Band:
    """A waistband as it is drawn: its piece, its length round the body and its finished width, mm."""

    piece: str
    length_mm: float
    finished_mm: float


@dataclass(frozen=True)
class Elastic:
    """The elastic of a casing: how wide it is, whether it is thick, and how long it is cut for the waist, None unmeasured."""

    width: Figure
    thick: bool = False
    length_mm: float | None = None

    @property
    def more_mm(self) -> float:
        """How much wider than the elastic its casing is."""
        return THICK_MORE_MM if self.thick else CASING_MORE_MM

    @property
    def casing_mm(self) -> float:
        """How wide a casing is between its stitched edges, mm."""
        return self.width.mm + self.more_mm


@dataclass(frozen=True)
class Ask:
    """What requirements are worked out from: a garment's pieces in their size, features, what was typed, the body, the cloth."""

    pieces: tuple[tuple[Piece, PieceShape], ...] = ()
    features: Mapping[str, str] = field(default_factory=dict)
    in_make: Figures = Figures()
    with_pattern: Figures = Figures()
    envelope: str = ""
    garment: str = ""
    weight: str = "medium"
    waist_mm: float | None = None
    unit: Unit = "cm"


@dataclass(frozen=True)
class Requirements:
    """What one garment requires; None where it has no such thing."""

    buttons: Buttons | None
    hem_first: Figure
    hem_second: Figure
    wrist_first: Figure
    wrist_second: Figure
    overlap: Figure
    band: Band | None
    opening: Figure
    zip: Figure
    zip_is_given: bool
    allowance_mm: float = 15.0
    elastic: Elastic = Elastic(Figure(ELASTIC_MM, "common practice"))


def requirements(ask: Ask) -> Requirements:
    """Everything that one garment requires beside its cloth."""
    typed = _Typed(ask)
    hem = _hem(ask, typed)
    opening = _opening(ask)
    given = typed.length("zip")
    longer = INVISIBLE_LONGER_MM if ask.features.get("closure") == "invisible-zip" else 0.0
    return Requirements(
        _buttons(ask, typed),
        *hem,
        *_wrist(ask, typed, hem),
        typed.length("overlap") or Figure(OVERLAP_MM, "common practice"),
        _band(ask),
        opening,
        given or Figure(opening.mm + longer, opening.source),
        given is not None,
        _usual_allowance(ask),
        _elastic(ask, typed),
    )


def _elastic(ask: Ask, typed: "_Typed") -> Elastic:
    """The elastic's width as it was typed or printed, and its length for the waist."""
    thick = any(
        re.search(rf"\b{word}\b[^,;\n]*\belastic\b|\belastic\b[^,;\n]*\b{word}\b", ask.envelope.lower())
        for word in THICK_WORDS
    )
    length = None if ask.waist_mm is None else elastic_length(ask.waist_mm, ELASTIC_SHARE, ELASTIC_JOIN_MM)
    return Elastic(typed.length("elastic") or Figure(ELASTIC_MM, "usual"), thick, length)


class _Typed:
    """What was typed or printed, with where."""

    def __init__(self, ask: Ask) -> None:
        self.sources = (
            (ask.in_make, "typed in this make"),
            (ask.with_pattern, "typed with the pattern"),
            (read_notions(ask.envelope), "from the envelope's notions"),
        )

    def length(self, name: str) -> Figure | None:
        for figures, source in self.sources:
            value = getattr(figures, name)
            if value is not None:
                return Figure(value.mm, source)
        return None

    def count(self) -> tuple[int, str] | None:
        return next(((f.buttons, s) for f, s in self.sources if f.buttons is not None), None)


def _usual_allowance(ask: Ask) -> float:
    """The allowance of most of the shell's pieces, mm."""
    own = [shape.allowance_mm for p, shape in ask.pieces if p.role == "self" and shape.allowance_mm is not None]
    return max(set(own), key=own.count) if own else 15.0


def _hem(ask: Ask, typed: _Typed) -> tuple[Figure, Figure]:
    """Both folds of the hem; where the hem edge's own allowance was drawn, the folds together take that."""
    kind = ask.features.get("hem", "double")
    first, second = HEMS_MM.get(kind, (0.25 * IN, IN))
    usual = Figure(first, "common practice"), Figure(second, "common practice")
    drawn = _as_drawn(first, _drawn_allowance(ask, ("hem",), sleeves=False), "the hem as it is drawn") or usual
    return typed.length("hem_first") or drawn[0], typed.length("hem_second") or drawn[1]


def _wrist(ask: Ask, typed: _Typed, hem: tuple[Figure, Figure]) -> tuple[Figure, Figure]:
    """Both folds of a sleeve's hem: as its own edge is drawn, else as the garment's hem where that is folded up too."""
    kind = ask.features.get("hem", "double")
    if ask.features.get("lining") in HIDING and ask.features.get("lining-sleeves") != "none":
        kind = "hand"  # caught inside, below its lining
    elif kind not in FOLDED_HEMS:
        kind = "blind" if ask.features.get("seam-finish") in BOUND_EDGES else "double"
    first, second = HEMS_MM[kind]
    drawn = _as_drawn(first, _drawn_allowance(ask, ("wrist", "hem"), sleeves=True), "the sleeve's hem as it is drawn")
    if drawn is not None:
        return drawn
    if ask.features.get("hem", "double") in FOLDED_HEMS and (typed.length("hem_first") or typed.length("hem_second")):
        return hem
    return Figure(first, "common practice"), Figure(second, "common practice")


def _as_drawn(first: float, drawn: float | None, source: str) -> tuple[Figure, Figure] | None:
    """A hem's folds that together take the allowance drawn for its edge; None where it is not deep enough for them."""
    if drawn is None or drawn <= first + 1.0:
        return None
    return Figure(first, "common practice"), Figure(drawn - first, source)


def _drawn_allowance(ask: Ask, edges: Sequence[str], sleeves: bool) -> float | None:
    """A hem edge's own allowance, where a piece of the shell has one; mm."""
    for piece, shape in ask.pieces:
        if piece.role == "self" and ("sleeve" in piece.name.lower()) == sleeves:
            for edge in edges:
                if edge in shape.edges and edge in shape.allowances:
                    return shape.allowances[edge]
    return None


def closes_slit_alone(features: Mapping[str, str]) -> bool:
    """Whether a button or a hook closes the slit at the neck alone: no front edge is described that they would close."""
    closed = features.get("closure") in ("buttons", "hook") and features.get("neck-shape") == "slit"
    return closed and features.get("front", "none") == "none" and features.get("collar") != "notched"


ABOVE_THE_WAIST = ("neck", "collar", "sleeve", "armhole", "straps", "shirring", "waist-seam")


def placket_in_seam(features: Mapping[str, str]) -> bool:
    """Whether a placket lies in the side seam of a skirt, below its waist: nothing above the waist is described."""
    above = any(features.get(name, "none") != "none" for name in ABOVE_THE_WAIST)
    return features.get("closure") == "placket" and features.get("waist", "none") != "none" and not above


def _buttons(ask: Ask, typed: _Typed) -> Buttons | None:
    placket = ask.features.get("closure") == "placket" and not placket_in_seam(ask.features)
    straps_alone = ask.features.get("straps") == "buttoned" and ask.features.get("front", "none") == "none"
    on_front = placket or (ask.features.get("closure") == "buttons" and not straps_alone)
    cuffs = 2 if ask.features.get("cuff") in BANDED_CUFFS else 0
    banded = ask.features.get("waist") in ("band", "stiff-band") and ask.features.get("band-closure") == "button"
    knees = ask.features.get("legs", "none") != "none" and ask.features.get("hem") == "banded"
    legs = 2 * int(knees and ask.features.get("vent") == "slit")
    elsewhere = int(ask.features.get("straps") == "buttoned") * 2 + int(banded and not on_front) + legs
    if not (on_front or cuffs or elsewhere):
        return None
    side = ask.features.get("opening-at", "front")
    bear, length, marked = _front(ask)
    if closes_slit_alone(ask.features):
        bear, length, marked = (), None, []
    count, source = typed.count() or (None, "")
    if count is not None:
        front = max(0, count - cuffs - elsewhere) if on_front else 0
    elif not on_front:
        front, source = 0, "one on each"
    else:
        front, source = _front_count(ask, length, marked)
    length = None if placket and count is None and not marked else length
    across = typed.length("button") or _across(ask)
    thick = typed.length("button_thick") or Figure(BUTTON_THICK_MM, "common practice")
    places = tuple(marked) if len(marked) == front else _places(length, front)
    return Buttons(front, cuffs, elsewhere, source, across, thick, length, places, bear, side)


def _across(ask: Ask) -> Figure:
    """How large a button is where nobody said it: by the cloth, on a front with lapels no smaller than a jacket's."""
    by_cloth = BUTTON_MM.get(ask.weight, 15.0)
    if ask.features.get("collar") == "notched" and by_cloth < JACKET_BUTTON_MM:
        return Figure(JACKET_BUTTON_MM, "usual on a jacket")
    return Figure(by_cloth, "usual on this cloth")


def _front_count(ask: Ask, length: float | None, marked: Sequence[float]) -> tuple[int, str]:
    """How many buttons close the opening where nobody typed it, and where that comes from."""
    side = ask.features.get("opening-at", "front")
    if closes_slit_alone(ask.features):
        return 1, "one at the top of the slit"
    if marked:
        return len(marked), f"marked on the {side}"
    if ask.features.get("closure") == "placket":
        return PLACKET_BUTTONS, "usual on a placket to the chest"
    return (_spaced(length) if length else BUTTONS), f"about every {both(BUTTON_EVERY_MM, ask.unit)} of the {side}"


def _front(ask: Ask) -> tuple[tuple[Bears, ...], float | None, list[float]]:
    """What bears the buttons, the length on the seam line from neck to hem fold, and the button marks from the neck edge, mm.

    Over a waist seam bodice and skirt close as one; a band sewn along the front bears them where there is one.
    """
    side = ask.features.get("opening-at", "front")
    open_ = [
        (piece, shape, edge)
        for piece, shape in ask.pieces
        if piece.role == "self"
        and side in piece.name.lower()
        and not _is_aside(piece)
        and (edge := _opens(shape, side))
    ]
    above = [part for part in open_ if "skirt" not in part[0].name.lower()][:1]
    below = [part for part in open_ if "skirt" in part[0].name.lower()][:1]
    bear: list[Bears] = []
    marks: list[float] = []
    far = 0.0
    for piece, shape, edge in (*above, *below):
        whole = Walker().edge_mm(AlterPiece(piece.number, shape), edge)
        upper = min(shape.seam_line[i][0] for i in shape.edges[edge])
        marks += sorted(far + m.at[0] - upper for m in shape.marks if "button" in m.name.lower())
        bear.append(Bears(piece.number, far, far + whole))
        far += whole
    if not bear:
        return (), None, []
    far -= _taken_by_the_hem(ask, (*above, *below)[-1][1])
    band = _button_band(ask)
    if band and not below:
        bear = [Bears(band, 0.0, far)]
    return tuple(bear), far, marks


def _is_aside(piece: Piece) -> bool:
    """Whether a piece is no part of the outside that closes: a facing, a band, a pocket."""
    return any(
        word in piece.name.lower() for word in ("facing", "band", "pocket", "yoke", "fly", "side front", "side back")
    )


def _button_band(ask: Ask) -> str:
    """The number of a band along the front that bears the buttons; empty where there is none."""
    for piece, _ in ask.pieces:
        name = piece.name.lower()
        if piece.role == "self" and not piece.same_as and any(word in name for word in ("button band", "front band")):
            return piece.number
    return ""


def _opens(shape: PieceShape, side: str) -> str:
    """The edge along which a piece opens: by its name, else the long one along the grain at its centre, off the fold."""
    named = next((e for e in OPENED[side] for own in shape.edges if own.lower() == e), None)
    if named is not None:
        return next(own for own in shape.edges if own.lower() == named)
    if shape.fold_edge is not None or "side" not in shape.edges:
        return ""
    middle = (min(y for _, y in shape.outline) + max(y for _, y in shape.outline)) / 2
    at_side = [y for _, y in edge_points(shape.outline, shape.edges["side"])]
    away = sum(at_side) / len(at_side) < middle
    found = ""
    longest = LEAST_OPENING_MM
    for edge, at in shape.edges.items():
        points = edge_points(shape.outline, at)
        (x0, y0), (x1, y1) = points[0], points[-1]
        centre = (y0 + y1) / 2 > middle if away else (y0 + y1) / 2 < middle
        if centre and abs(x1 - x0) > 3 * abs(y1 - y0) and abs(x1 - x0) > longest:
            found, longest = edge, abs(x1 - x0)
    return found


def _taken_by_the_hem(ask: Ask, shape: PieceShape) -> float:
    """What the hem's folds take of the edge beyond its allowance, mm."""
    kind = ask.features.get("hem", "double")
    if kind not in HEMS_MM or "hem" not in shape.edges or "hem" in shape.allowances:
        return 0.0
    return max(0.0, sum(HEMS_MM[kind]) - shape.allowance_of("hem"))


def _spaced(length: float) -> int:
    return max(2, round((length - FIRST_BUTTON_MM - LAST_BUTTON_MM) / BUTTON_EVERY_MM) + 1)


def _places(length: float | None, count: int) -> tuple[float, ...]:
    if length is None or count < 2 or length <= FIRST_BUTTON_MM + LAST_BUTTON_MM:
        return ()
    step = (length - FIRST_BUTTON_MM - LAST_BUTTON_MM) / (count - 1)
    return tuple(FIRST_BUTTON_MM + step * k for k in range(count))


def _band(ask: Ask) -> Band | None:
    """The waistband as drawn: how long it is between its ends' seams, and half of its width between its long seams."""
    for piece, shape in ask.pieces:
        if piece.role == "self" and "waistband" in piece.name.lower().replace(" ", ""):
            xs, ys = ([p[k] for p in shape.seam_line] for k in (0, 1))
            long, wide = sorted((max(xs) - min(xs), max(ys) - min(ys)), reverse=True)
            halves = 2 if shape.fold_edge is not None else 1
            return Band(piece.name, long * halves * max(1, piece.cut if piece.mirrored else 1), wide / 2)
    return None


def _opening(ask: Ask) -> Figure:
    """How long a zip's opening is: to its mark, else by the kind of garment."""
    for _, shape in ask.pieces:
        for mark in shape.marks:
            if "zip" in mark.name.lower():
                return Figure(mark.at[0] - min(x for x, _ in shape.seam_line), "from the upper seam to the mark")
    _, front, _ = _front(ask) if ask.features.get("closure") == "separating-zip" else ((), None, [])
    if front is not None:
        return Figure(front, "down the whole front")
    if ask.features.get("closure") == "separating-zip":
        return Figure(FRONT_ZIP_MM, "down the whole front, which is not drawn here: measure it before you buy")
    if ask.features.get("closure") == "fly" or ask.garment == "trousers":
        return Figure(FLY_MM, "the usual opening of trousers")
    has_top = any(
        ask.features.get(name, "none") != "none" for name in ("neck", "collar", "sleeve", "armhole", "straps")
    )
    covers_top = (
        has_top or ask.garment in ("dress", "top", "jacket", "coat") or ask.features.get("waist-seam") == "joined"
    )
    if covers_top and ask.features.get("zip-at") == "side":
        return Figure(SIDE_ZIP_MM, "in the side of a dress from below the arm to the hip, unmarked")
    if covers_top and ask.features.get("zip-at") == "front" and ask.features.get("closure") == "exposed-zip":
        return Figure(CHEST_ZIP_MM, "from the neck to the chest, unmarked")
    if covers_top and ask.features.get("zip-at") == "front":
        return Figure(DRESS_ZIP_MM, "down the centre front of a dress to about the hip, unmarked")
    if covers_top and ask.features.get("front", "none") == "none":
        return Figure(DRESS_ZIP_MM, "down the centre back of a dress to about the hip, unmarked")
    for _, shape in ask.pieces:
        if "hip" in shape.levels and "waist" in shape.levels:
            return Figure(shape.levels["hip"] - shape.levels["waist"], "it opens from the waist to the fullest hip")
    return Figure(HIP_DOWN_MM, "it opens from the waist to about the hip")


def allowances_said(pieces: Sequence[tuple[Piece, PieceShape]], unit: Unit) -> str:
    """The seam allowances in words: the usual one, and the edges that have one of their own."""
    usual = [shape.allowance_mm for _, shape in pieces if shape.allowance_mm is not None]
    if not usual:
        return ""
    most = max(set(usual), key=usual.count)
    own = {
        f"{p.name.lower()}, {edge}": mm for p, s in pieces for edge, mm in s.allowances.items() if abs(mm - most) > 0.5
    }
    others = "".join(f"; {where} {both(mm, unit)}" for where, mm in own.items())
    return f"{both(most, unit)}{others}"
