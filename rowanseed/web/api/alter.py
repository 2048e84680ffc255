"""GET /api/v1/alterations, POST /api/v1/alter, POST /api/v1/seam-walk"""

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema

from rowanseed.core.errors import AlterationError, LengthError
from rowanseed.core.fit.alter import alter, seam_walk
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.geometry.types import Point, Segment
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, WalkedSeam, walk_findings
from rowanseed.web.api.types import LENGTH_SCHEMA, FindingOut, In, Mm, OutlineIn, PointIn, SegmentIn

router = APIRouter(prefix="/api/v1", tags=["fit"])


def _signed(value: Any) -> float:
    """A length that may be negative: `-1 in` takes an inch away."""
    if isinstance(value, (int, float)) and not isinstance(value, bool):
        return float(value)
    text = str(value).strip()
    sign = -1.0 if text[:1] in ("-", "−") else 1.0
    try:
        return sign * parse_length(text.lstrip("-− ")).mm
    except LengthError as error:
        raise ValueError(error.text) from error


SignedMm = Annotated[float, BeforeValidator(_signed), WithJsonSchema(LENGTH_SCHEMA, mode="validation")]


class NotchIn(In):
    """A notch on the cutting line: 1 for front, 2 for back."""

    at: PointIn
    count: Annotated[int, Field(ge=1, le=3)] = 1


class LineIn(In):
    """An internal line; a `dart` runs from one leg's end over its point to the other leg's end, `lengthen` across the piece."""

    kind: Annotated[str, Field(min_length=1, max_length=60)]
    points: Annotated[list[PointIn], Field(min_length=2, max_length=200)]


class EdgedPieceIn(In):
    """A piece with named edges, each from its point i to its point j; `allowance` is inside the outline.

    `marks` may name a “bust point”. A piece cut to another's shape names it in `same_as`, one that lies behind another, as a lining
    does, in `follows`.
    """

    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)
    id: Annotated[str, Field(min_length=1, max_length=60)]
    outline: OutlineIn
    edges: dict[str, tuple[int, int]] = {}
    fold_edge: SegmentIn | None = None
    same_as: str = ""
    follows: str = ""
    allowance: Annotated[Mm, Field(le=200)] = 0.0
    notches: Annotated[list[NotchIn], Field(max_length=200)] = []
    marks: dict[str, PointIn] = {}
    lines: Annotated[list[LineIn], Field(max_length=200)] = []

    def piece(self) -> AlterPiece:
        """The core's piece. Raises OutlineError or AlterationError for one that cannot be used."""
        refuse_bad_outline(tuple(self.outline), f"Piece {self.id}")
        for name, edge in self.edges.items():
            if not all(0 <= i < len(self.outline) for i in edge):
                raise AlterationError(f"Edge “{name}” of piece {self.id} names a point that is not there.", "pieces")
        shape = PieceShape(
            tuple(self.outline),
            self.fold_edge,
            notches=tuple(Notch(n.at, n.count) for n in self.notches),
            marks=tuple(Mark(name, at) for name, at in self.marks.items()),
            lines=tuple(Line(line.kind, tuple(line.points)) for line in self.lines),
            edges=dict(self.edges),
        )
        return AlterPiece(self.id, shape, self.same_as, self.allowance, self.follows)


Side = tuple[str, str]


class SeamIn(In):
    """Two edges that are sewn together; `meant`: how much longer a should be than b, and `why`.

    A side that goes on over several edges, as an armhole over front and back, is a list of them; an edge sewn in twice is named
    twice.
    """

    a: Side | Annotated[list[Side], Field(min_length=1, max_length=20)]
    b: Side | Annotated[list[Side], Field(min_length=1, max_length=20)]
    meant: SignedMm = 0.0
    why: Annotated[str, Field(max_length=200)] = ""

    def seam(self) -> Seam:
        """The core's seam."""
        (a, *more_a), (b, *more_b) = _sides(self.a), _sides(self.b)
        return Seam(a, b, self.meant, tuple(more_a), tuple(more_b), self.why)


def _sides(given: Side | list[Side]) -> list[Side]:
    return given if isinstance(given, list) else [given]


class AlterationIn(In):
    """One alteration; which of the inputs it takes, `GET /api/v1/alterations` says."""

    kind: str
    piece: str
    by: SignedMm
    at: Mm | None = None
    edge: str = ""
    point: Annotated[
        PointIn | None, Field(description="The bust point, for a bust; else the piece's mark of that name.")
    ] = None
    leave: Annotated[list[str], Field(max_length=300, description="Pieces it is not carried to.")] = []
    on: bool = True

    def alteration(self) -> Alteration:
        """The core's alteration."""
        at, across = self.point if self.point is not None else (self.at, None)
        return Alteration(self.kind, self.piece, self.by, at, self.edge, self.on, across, tuple(self.leave))


class WalkIn(In):
    """Pieces and their seams."""

    pieces: Annotated[list[EdgedPieceIn], Field(min_length=1, max_length=300)]
    seams: Annotated[list[SeamIn], Field(max_length=600)] = []

    def all_pieces(self) -> list[AlterPiece]:
        """The core's pieces. Raises AlterationError when two share an id."""
        if len({p.id for p in self.pieces}) != len(self.pieces):
            raise AlterationError("Two pieces have the same id.", "pieces")
        return [p.piece() for p in self.pieces]


class AlterIn(WalkIn):
    """Pieces, seams, and the alterations in order."""

    alterations: Annotated[list[AlterationIn], Field(max_length=100)] = []


class NotchOut(BaseModel):
    """A notch after the alterations."""

    at: Point
    count: int


class LineOut(BaseModel):
    """An internal line after the alterations."""

    kind: str
    points: list[Point]


class EdgedPieceOut(BaseModel):
    """A piece after the alterations."""

    id: str
    outline: list[Point]
    edges: dict[str, tuple[int, int]]
    fold_edge: Segment | None
    same_as: str
    area_mm2: float
    notches: list[NotchOut]
    marks: dict[str, Point]
    lines: list[LineOut]


class FollowedOut(BaseModel):
    """A piece an alteration was carried to, and why."""

    piece: str
    because: str


class AlterOut(BaseModel):
    """The altered pieces, what followed, what was left though it joins, every seam as it is now, and what does not meet."""

    pieces: list[EdgedPieceOut]
    followed: list[FollowedOut]
    left: list[FollowedOut]
    seams: list["WalkedOut"]
    findings: list[FindingOut]


class WalkedOut(BaseModel):
    """A seam measured on the seam line; difference is a - b."""

    a: tuple[str, str]
    b: tuple[str, str]
    a_mm: float
    b_mm: float
    difference_mm: float
    meant_mm: float
    more_a: list[Side]
    more_b: list[Side]
    why: str
    notches: list["NotchPairOut"]

    @classmethod
    def of(cls, w: WalkedSeam) -> "WalkedOut":
        """A walked seam as it is answered."""
        return cls(
            a=w.seam.a,
            b=w.seam.b,
            a_mm=w.a_mm,
            b_mm=w.b_mm,
            difference_mm=w.difference_mm,
            meant_mm=w.seam.meant_mm,
            more_a=list(w.seam.more_a),
            more_b=list(w.seam.more_b),
            why=w.seam.why,
            notches=[NotchPairOut(a_mm=p, b_mm=q, off_mm=p - q) for p, q in w.notch_pairs],
        )


class NotchPairOut(BaseModel):
    """Two notches that meet: how far each lies along its side, and how far apart they are."""

    a_mm: float
    b_mm: float
    off_mm: float


class WalkOut(BaseModel):
    """Every seam, and what does not meet."""

    seams: list[WalkedOut]
    findings: list[FindingOut]


class AlterationInfo(BaseModel):
    """A kind of alteration, its inputs beside `piece`, `by` and `leave`, and the edge it works at unless another is named."""

    kind: str
    title: str
    about: str
    inputs: list[str]
    edge: str


@router.get("/alterations", summary="The kinds of alteration and their inputs")
def kinds() -> list[AlterationInfo]:
    """The kinds of alteration."""
    return [
        AlterationInfo(kind=k.name, title=k.title, about=k.about, inputs=list(k.inputs), edge=k.edge)
        for k in KINDS.values()
    ]


@router.post("/alter", summary="Alter pieces and every piece that joins them")
def alter_pieces(asked: AlterIn) -> AlterOut:
    """Apply alterations in order; each is carried along the declared seams."""
    wanted = [a.alteration() for a in asked.alterations]
    done = alter(asked.all_pieces(), [s.seam() for s in asked.seams], wanted)
    pieces = [
        EdgedPieceOut(
            id=p.id,
            outline=list(p.shape.outline),
            edges=dict(p.shape.edges),
            fold_edge=p.shape.fold_edge,
            same_as=p.same_as,
            area_mm2=p.shape.area_mm2(),
            notches=[NotchOut(at=n.at, count=n.count) for n in p.shape.notches],
            marks={m.name: m.at for m in p.shape.marks},
            lines=[LineOut(kind=line.kind, points=list(line.points)) for line in p.shape.lines],
        )
        for p in done.pieces
    ]
    return AlterOut(
        pieces=pieces,
        followed=[FollowedOut(piece=f.piece, because=f.because) for f in done.followed],
        left=[FollowedOut(piece=f.piece, because=f.because) for each in done.left_by for f in each],
        seams=[WalkedOut.of(w) for w in done.walked],
        findings=[FindingOut.of(f) for f in done.findings],
    )


@router.post("/seam-walk", summary="Measure the edges that are sewn together")
def walk_seams(asked: WalkIn) -> WalkOut:
    """Walk every seam on the seam line."""
    walked = seam_walk(asked.all_pieces(), [s.seam() for s in asked.seams])
    return WalkOut(seams=[WalkedOut.of(w) for w in walked], findings=[FindingOut.of(f) for f in walk_findings(walked)])
