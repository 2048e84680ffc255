"""GET /api/v1/alterations, POST /api/v1/alter, POST /api/v1/seam-walk"""

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema

from rowanseed.core.errors import AlterationError, LengthError
from rowanseed.core.fit.alter import alter, seam_walk
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.seamwalk import AlterPiece, walk_findings
from rowanseed.core.lay.model import Point, Segment
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import PieceShape, Seam, refuse_bad_outline
from rowanseed.web.api.types import LENGTH_SCHEMA, FindingOut, In, Mm, OutlineIn, SegmentIn

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


class EdgedPieceIn(In):
    """A piece with named edges, each from its point i to its point j; `allowance` is inside the outline."""

    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)
    id: Annotated[str, Field(min_length=1, max_length=60)]
    outline: OutlineIn
    edges: dict[str, tuple[int, int]] = {}
    fold_edge: SegmentIn | None = None
    same_as: str = ""
    allowance: Annotated[Mm, Field(le=200)] = 0.0

    def piece(self) -> AlterPiece:
        """The core's piece. Raises OutlineError or AlterationError for one that cannot be used."""
        refuse_bad_outline(tuple(self.outline), f"Piece {self.id}")
        for name, edge in self.edges.items():
            if not all(0 <= i < len(self.outline) for i in edge):
                raise AlterationError(f"Edge “{name}” of piece {self.id} names a point that is not there.", "pieces")
        shape = PieceShape(tuple(self.outline), self.fold_edge, edges=dict(self.edges))
        return AlterPiece(self.id, shape, self.same_as, self.allowance)


class SeamIn(In):
    """Two edges that are sewn together; `meant`: how much longer a should be than b."""

    a: tuple[str, str]
    b: tuple[str, str]
    meant: SignedMm = 0.0

    def seam(self) -> Seam:
        """The core's seam."""
        return Seam(self.a, self.b, self.meant)


class AlterationIn(In):
    """One alteration; which of the inputs it takes, `GET /api/v1/alterations` says."""

    kind: str
    piece: str
    by: SignedMm
    at: Mm | None = None
    edge: str = ""


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


class EdgedPieceOut(BaseModel):
    """A piece after the alterations."""

    id: str
    outline: list[Point]
    edges: dict[str, tuple[int, int]]
    fold_edge: Segment | None
    same_as: str
    area_mm2: float


class FollowedOut(BaseModel):
    """A piece an alteration was carried to, and why."""

    piece: str
    because: str


class AlterOut(BaseModel):
    """The altered pieces, what followed, and the seams that no longer meet."""

    pieces: list[EdgedPieceOut]
    followed: list[FollowedOut]
    findings: list[FindingOut]


class WalkedOut(BaseModel):
    """A seam measured on the seam line; difference is a - b."""

    a: tuple[str, str]
    b: tuple[str, str]
    a_mm: float
    b_mm: float
    difference_mm: float
    meant_mm: float


class WalkOut(BaseModel):
    """Every seam, and what does not meet."""

    seams: list[WalkedOut]
    findings: list[FindingOut]


class AlterationInfo(BaseModel):
    """A kind of alteration and its inputs beside `piece` and `by`."""

    kind: str
    title: str
    about: str
    inputs: list[str]


@router.get("/alterations", summary="The kinds of alteration and their inputs")
def kinds() -> list[AlterationInfo]:
    """The kinds of alteration."""
    return [AlterationInfo(kind=k.name, title=k.title, about=k.about, inputs=list(k.inputs)) for k in KINDS.values()]


@router.post("/alter", summary="Alter pieces and every piece that joins them")
def alter_pieces(asked: AlterIn) -> AlterOut:
    """Apply alterations in order; each is carried along the declared seams."""
    wanted = [Alteration(a.kind, a.piece, a.by, a.at, a.edge) for a in asked.alterations]
    done = alter(asked.all_pieces(), [s.seam() for s in asked.seams], wanted)
    pieces = [
        EdgedPieceOut(
            id=p.id,
            outline=list(p.shape.outline),
            edges=dict(p.shape.edges),
            fold_edge=p.shape.fold_edge,
            same_as=p.same_as,
            area_mm2=p.shape.area_mm2(),
        )
        for p in done.pieces
    ]
    followed = [FollowedOut(piece=f.piece, because=f.because) for f in done.followed]
    return AlterOut(pieces=pieces, followed=followed, findings=[FindingOut.of(f) for f in done.findings])


@router.post("/seam-walk", summary="Measure the edges that are sewn together")
def walk_seams(asked: WalkIn) -> WalkOut:
    """Walk every seam on the seam line."""
    walked = seam_walk(asked.all_pieces(), [s.seam() for s in asked.seams])
    seams = [
        WalkedOut(
            a=w.seam.a, b=w.seam.b, a_mm=w.a_mm, b_mm=w.b_mm, difference_mm=w.difference_mm, meant_mm=w.seam.meant_mm
        )
        for w in walked
    ]
    return WalkOut(seams=seams, findings=[FindingOut.of(f) for f in walk_findings(walked)])
