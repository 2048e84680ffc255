"""The fit record: what a try-on showed, place by place, and the alterations it asks for.

A finding such as "2 cm too wide at the hip" is shared out over the edges that an alteration moves, so that the garment changes by
what was pinned.
"""

from dataclasses import dataclass

from rowanseed.core.errors import Finding
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import Pattern, Piece


@dataclass(frozen=True)
class Fault:
    """What can be wrong at a place: its words, which way the piece must change, and the alteration that does it."""

    name: str
    words: str
    sign: float
    kind: str

    @property
    def seen(self) -> bool:
        """Whether the words say what is seen, as drag lines and folds, and not too much or too little of a measure."""
        return not self.words.startswith(("too ", "loose"))


@dataclass(frozen=True)
class Place:
    """Where a garment is judged. `level`: the girth it is, empty for a length."""

    name: str
    words: str
    faults: tuple[Fault, ...]
    level: str = ""
    edge: str = ""
    half: str = ""  # front or back, where only that piece is altered


def _girth(kind: str = "taper", tight: str = "") -> tuple[Fault, ...]:
    return (Fault("wide", "too wide", -1.0, kind), Fault("tight", "too tight", 1.0, tight or kind))


def _length(kind: str = "length") -> tuple[Fault, ...]:
    return (Fault("long", "too long", -1.0, kind), Fault("short", "too short", 1.0, kind))


PLACES: dict[str, Place] = {
    p.name: p
    for p in (
        Place("bust", "the bust", _girth("side", "bust"), "bust", "side"),
        Place("waist", "the waist", _girth(), "waist", "side"),
        Place("hip", "the hip", _girth(), "hip", "side"),
        Place("upper-arm", "the upper arm", (Fault("tight", "too tight", 1.0, "upper-arm"),), "upper_arm"),
        Place("thigh", "the thigh", _girth(), "thigh", "side"),
        Place("body-length", "the body's length", _length(), "waist"),
        Place("sleeve-length", "the sleeve's length", _length(), "upper_arm"),
        Place("leg-length", "the leg's length", _length(), "thigh"),
        Place("hem", "the hem", _length("hem"), "", "hem"),
        Place("strap", "the strap", _length("strap")),
        Place("shoulder", "the shoulder", (Fault("loose", "loose at its outer end", 1.0, "shoulder"),), "", "shoulder"),
        Place(
            "crotch",
            "the crotch",
            (Fault("tight", "too tight or shallow", 1.0, "crotch"), Fault("low", "too low", -1.0, "crotch")),
            "",
            "crotch",
        ),
        Place(
            "lower-back",
            "the back at the waist",
            (Fault("pools", "folds lie across above the seat", 1.0, "sway-back"),),
            "waist",
            "side",
            "back",
        ),
        Place(
            "upper-back",
            "the upper back",
            (
                Fault(
                    "pulls", "the hem rides up behind, lines run from the blades to the underarm", 1.0, "rounded-back"
                ),
                Fault("folds", "folds lie across below the neck", -1.0, "rounded-back"),
                Fault("tight", "it pulls from armhole to armhole", 1.0, "across"),
                Fault("wide", "upright folds stand beside the armholes", -1.0, "across"),
            ),
            "",
            "armhole",
            "back",
        ),
        Place(
            "chest",
            "the chest",
            (
                Fault("hollow", "folds lie across between neck and bust", -1.0, "chest"),
                Fault("full", "lines pull across above the bust", 1.0, "chest"),
            ),
            "",
            "armhole",
            "front",
        ),
        Place(
            "neck",
            "the neck",
            (
                Fault("gapes", "it gapes", 1.0, "gaping-neck"),
                Fault("tight", "it is tight at the sides", 1.0, "neck-width"),
                Fault("high", "it cuts in at the centre", 1.0, "neck-depth"),
                Fault("low", "it lies too low at the centre", -1.0, "neck-depth"),
            ),
            "bust",
            "neck",
            "front",
        ),
        Place(
            "shoulder-line",
            "the shoulder line",
            (
                Fault("back", "its seam lies too far back at the arm", 1.0, "forward-shoulder"),
                Fault("short", "the sleeve's seam lies on the shoulder", 1.0, "shoulder-length"),
                Fault("long", "the sleeve's seam hangs off the shoulder", -1.0, "shoulder-length"),
            ),
            "",
            "shoulder",
            "front",
        ),
        Place(
            "seat",
            "the seat",
            (
                Fault("tight", "lines run from the seat to the side, the waist is drawn down", 1.0, "seat"),
                Fault("flat", "folds lie across below the seat", -1.0, "seat"),
            ),
            "hip",
            "side",
            "back",
        ),
        Place(
            "front-hip",
            "the front above the hip",
            (Fault("tight", "lines run out from the tummy, the waist is drawn down", 1.0, "tummy"),),
            "hip",
            "side",
            "front",
        ),
        Place("rise", "the body rise", _length("rise"), "", "crotch"),
        Place(
            "inner-leg",
            "the inner leg",
            (
                Fault("pulls", "lines run up from the crotch", 1.0, "crotch-length"),
                Fault("folds", "folds hang below the crotch", -1.0, "crotch-length"),
                Fault("thigh", "it is tight at the thigh", 1.0, "thigh"),
            ),
            "",
            "inseam",
        ),
        Place("knee", "the knee", (Fault("bowed", "the leg swings in below it", 1.0, "bowed-leg"),), "", "inseam"),
        Place("elbow", "the elbow", (Fault("tight", "it pulls when the arm is bent", 1.0, "elbow"),), "", "back seam"),
        Place(
            "wrist",
            "the wrist",
            (Fault("tight", "too tight", 1.0, "wrist"), Fault("wide", "too wide", -1.0, "wrist")),
            "",
            "back seam",
        ),
    )
}
TRIALS: dict[str, str] = {
    "tissue": "tissue held to the body",
    "toile": "toile",
    "try-on": "try-on while sewing",
    "worn": "worn",
}


@dataclass(frozen=True)
class FitNote:
    """One finding of a trial: where, what, by how much round the whole body or along it, and in the sewist's words."""

    place: str
    fault: str
    by: Length
    trial: str = "try-on"
    words: str = ""

    def sentence(self) -> str:
        """The finding as one would say it.

        >>> FitNote("hip", "wide", Length(20.0, "2 cm", "cm")).sentence()
        '2 cm too wide at the hip'
        """
        place, fault = PLACES[self.place], fault_of(self.place, self.fault)
        if fault is not None and fault.seen:
            said = f"{fault.words}, at {place.words}; {self.by.text} pinned"
            return f"{said}: {self.words}" if self.words else said
        join = "at" if place.level or place.edge else "in"
        said = f"{self.by.text} {fault.words if fault else self.fault} {join} {place.words}"
        return f"{said}: {self.words}" if self.words else said


def fault_of(place: str, fault: str) -> Fault | None:
    """The fault of that name at a place."""
    return next((f for f in PLACES[place].faults if f.name == fault), None) if place in PLACES else None


def propose(note: FitNote, pattern: Pattern, view: str, size: str, half: str = "") -> Alteration | Finding:
    """The alteration that mends what a note says on this pattern, or a finding that says why none can be named.

    Args:
        half: front or back, where only that piece is to be altered and the place does not say so.
    """
    place, fault = PLACES[note.place], fault_of(note.place, note.fault)
    if fault is None:
        return _no_way(note, "the note names nothing that an alteration mends")
    for piece in pattern.pieces_of(view, "self"):
        shape = piece.shapes.get(size)
        elsewhere = any(part not in piece.name.lower() for part in (place.half, half))
        if shape is None or piece.same_as or elsewhere or not _fits(place, fault, shape):
            continue
        at, across = _where(place, fault, shape)
        by = fault.sign * note.by.mm / _times(place, fault, piece, pattern, size)
        edge = place.edge if "edge" in KINDS[fault.kind].inputs else ""
        return Alteration(fault.kind, piece.number, by, at, edge, across_mm=across, why=note.sentence())
    return _no_way(note, f"no piece of this pattern shows {_needed(place)}")


def _no_way(note: FitNote, why: str) -> Finding:
    return Finding(
        "note", "no-alteration", f"{note.sentence().capitalize()}: {why}. Alter it by hand, or mark the piece first."
    )


def _needed(place: Place) -> str:
    level = f"where its {place.level.replace('_', ' ')} lies" if place.level else ""
    edge = f"an edge “{place.edge}”" if place.edge else ""
    return " and ".join(part for part in (level, edge) if part) or "it"


def _fits(place: Place, fault: Fault, shape: PieceShape) -> bool:
    """Whether a piece is the one to alter: it has the level and the edge, and what the alteration needs."""
    if place.level and place.level not in shape.levels:
        return False
    if place.edge and place.edge not in shape.edges:
        return False
    if fault.kind == "bust":
        return "armhole" in shape.edges and any(m.name == "bust point" for m in shape.marks)
    if fault.kind == "upper-arm":
        return {"front seam", "back seam"} <= set(shape.edges)
    return True


def _where(place: Place, fault: Fault, shape: PieceShape) -> tuple[float | None, float | None]:
    """The x, and for a bust the y, at which the alteration is made on this piece."""
    if fault.kind == "bust":
        return next(m.at for m in shape.marks if m.name == "bust point")
    if fault.kind == "length":
        line = next((line for line in shape.lines if line.kind == "lengthen"), None)
        xs = [x for x, _ in shape.outline]
        return (line.points[0][0] if line else (shape.levels[place.level] + max(xs)) / 2), None
    return (shape.levels[place.level] if fault.kind == "taper" else None), None


def _times(place: Place, fault: Fault, piece: Piece, pattern: Pattern, size: str) -> float:
    """How many times round the body one piece's change counts: every copy of each edge that moves with it."""
    if fault.kind == "bust":
        return float(piece.cut)
    if fault.kind not in ("taper", "side"):
        return 1.0
    times = _copies(piece, size)
    for seam in pattern.seams:
        for mine, other in ((seam.a, seam.b), (seam.b, seam.a)):
            if mine == (piece.number, place.edge) and other[0] != piece.number:
                partner = next((p for p in pattern.pieces if p.number == other[0]), None)
                times += _copies(partner, size) if partner else 0
    return times / 2 if place.level == "thigh" else float(times)


def _copies(piece: Piece, size: str) -> int:
    shape = piece.shapes.get(size)
    return piece.cut * (2 if shape is not None and shape.fold_edge else 1)
