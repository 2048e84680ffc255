"""POST /api/v1/lay and POST /api/v1/yardage"""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, HTTPException, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.geometry.types import Grain, Point
from rowanseed.core.lay.model import (
    AskedSpread,
    Centre,
    Edge,
    Effort,
    Lay,
    LayCloth,
    LayPiece,
    LayRequest,
    Locked,
    Match,
    Nap,
    Spread,
)
from rowanseed.core.prints import Print, PrintKind
from rowanseed.core.reckon.buying import BuyingStep, Shrinkage, length_to_buy
from rowanseed.jobs.pool import Job, JobPool
from rowanseed.jobs.tasks import Task
from rowanseed.web.api.types import Coordinate, FindingOut, In, Mm, OutlineIn, PointIn, SegmentIn
from rowanseed.web.deps import Jobs

LOOK_S = 0.25  # how often a caller is looked after while a lay is worked out
NOTHING_YET = "This was stopped before anything was laid: start it again."
router = APIRouter(prefix="/api/v1", tags=["lay"])
Wide = Annotated[Mm, Field(gt=0, le=20_000)]


class PrintIn(In):
    """A print and its repeat."""

    kind: PrintKind = "plain"
    even: bool = True
    repeat_along: Mm = 0.0
    repeat_across: Mm = 0.0
    offset_along: Mm = 0.0
    offset_across: Mm = 0.0
    half_drop: bool = False
    axis_across: Mm = 0.0
    axis_along: Mm = 0.0

    def print(self) -> Print:
        """The core's print."""
        return Print(
            self.kind,
            self.even,
            self.repeat_along,
            self.repeat_across,
            self.offset_along,
            self.offset_across,
            self.half_drop,
            self.axis_across,
            self.axis_along,
        )


class ClothIn(In):
    """The cloth: whole width, selvages (one figure for both, or two), length in hand or null."""

    width: Wide
    selvage: Mm | tuple[Mm, Mm] = 0.0
    length: Annotated[Mm, Field(gt=0)] | None = None
    nap: Nap = "none"
    print: PrintIn | None = None
    flaws: list[tuple[Mm, Mm, Mm, Mm]] = []

    def cloth(self) -> LayCloth:
        """The core's cloth."""
        pair = self.selvage if isinstance(self.selvage, tuple) else (self.selvage, self.selvage)
        print_ = self.print.print() if self.print else None
        return LayCloth(self.width, pair, self.length, self.nap, print_, tuple(self.flaws))


class PieceIn(In):
    """A piece: outline along the grain, how many pieces of cloth, how it may lie."""

    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)
    id: Annotated[str, Field(min_length=1, max_length=60)]
    outline: OutlineIn
    fold_edge: SegmentIn | None = None
    cut: Annotated[int, Field(ge=1, le=100)] = 1
    mirrored: bool = False
    grain: Grain = "lengthwise"
    selvage_edge: SegmentIn | None = None
    marks: dict[str, PointIn] = {}
    allowance: Annotated[Mm, Field(le=200)] = 0.0
    off_grain: Annotated[float, Field(ge=0, le=45)] = 0.0

    def piece(self) -> LayPiece:
        """The core's piece."""
        return LayPiece(
            self.id,
            tuple(self.outline),
            self.cut,
            self.mirrored,
            self.fold_edge,
            self.grain,
            self.selvage_edge,
            dict(self.marks),
            self.allowance,
            self.off_grain,
        )


class MatchIn(In):
    """Two marks that should fall on the same phase of the repeat."""

    a: tuple[str, str]
    b: tuple[str, str]
    along: bool = True
    across: bool = False
    onto: bool = False


class CentreIn(In):
    """A mark that should lie at a place of the print, from where its repeat begins."""

    mark: tuple[str, str]
    along: Mm | None = None
    across: Mm | None = None


class LockedIn(In):
    """A placement that is held."""

    piece: str
    lane: int = 0
    x: Coordinate
    y: Coordinate
    turned: float = 0.0
    face_down: bool = False


class LayIn(In):
    """Pieces on a cloth."""

    cloth: ClothIn
    spread: AskedSpread = "best"
    pieces: Annotated[list[PieceIn], Field(min_length=1, max_length=300)]
    matches: list[MatchIn] = []
    gap: Annotated[Mm, Field(le=100)] = 0.0
    effort: Effort = "good"
    seed: int = 1
    locked: list[LockedIn] = []
    centres: list[CentreIn] = []

    def request(self) -> LayRequest:
        """The core's request."""
        return LayRequest(
            self.cloth.cloth(),
            tuple(p.piece() for p in self.pieces),
            self.spread,
            tuple(Match(m.a, m.b, m.along, m.across, m.onto) for m in self.matches),
            self.gap,
            self.effort,
            self.seed,
            tuple(Locked(k.piece, k.lane, k.x, k.y, k.turned, k.face_down) for k in self.locked),
            tuple(Centre(c.mark, c.along, c.across) for c in self.centres),
        )


class LaneOut(BaseModel):
    """A strip of the laid-out cloth."""

    from_mm: float
    to_mm: float
    start_mm: float
    end_mm: float
    layers: int
    edges: tuple[Edge, Edge]


class PlacementOut(BaseModel):
    """One piece laid."""

    piece: str
    lane: int
    outline: list[Point]
    marks: dict[str, Point]
    turned: float
    face_down: bool
    layers: int
    on_fold: bool


class WayOut(BaseModel):
    """One spread that `best` tried: its length, how many cuts it asks for (single layers take more), pieces it cannot take."""

    spread: Spread
    length_mm: float
    cuts: int
    failed: int


class LayOut(BaseModel):
    """The lay: length, bounds, lanes and placements."""

    length_mm: float
    width_mm: float
    bound_mm: float
    fold_bound_mm: float
    utilisation: float
    spread: Spread
    seconds: float
    short_mm: float
    findings: list[FindingOut]
    lanes: list[LaneOut]
    placements: list[PlacementOut]
    ways: list[WayOut]
    unmatched: list[int]


def lay_out(found: Lay, length_in_hand: float | None) -> LayOut:
    """A lay as the interface answers it: on cloth that is too short, only the pieces that lie on it have a place."""
    reach = length_in_hand
    if reach is not None and found.spread == "crosswise-fold":
        reach /= 2  # the cloth lies double
    shown = [p for p in found.placements if reach is None or max(x for x, _ in p.outline) <= reach + 1e-6]
    return LayOut(
        length_mm=found.length_mm,
        width_mm=found.width_mm,
        bound_mm=found.bound_mm,
        fold_bound_mm=found.fold_bound_mm,
        utilisation=found.utilisation,
        spread=found.spread,
        seconds=found.seconds,
        short_mm=found.short_mm,
        findings=[FindingOut.of(f) for f in found.findings],
        lanes=[LaneOut(**vars(lane)) for lane in found.lanes],
        placements=[PlacementOut(**{**vars(p), "outline": list(p.outline)}) for p in shown],
        ways=[WayOut(**vars(way)) for way in found.ways],
        unmatched=list(found.unmatched),
    )


@router.post("/lay", summary="Lay pieces on cloth")
async def make_lay(request: Request, jobs: Jobs, asked: LayIn) -> LayOut:
    """Lay pieces on cloth as short as the effort allows; a caller who goes away stops it."""
    wanted = asked.request()
    (found,) = await laid_by_workers(request, jobs, [wanted])
    return lay_out(found, wanted.cloth.length_mm)


async def laid_by_workers(request: Request, jobs: JobPool, wanted: list[LayRequest]) -> list[Lay]:
    """Lay requests on the workers, all at once, and wait for them.

    Raises:
        LayError: one of them cannot be laid at all.
    """
    return [_with_problem(job) for job in await _done_by_workers(request, jobs, wanted)]


async def worked_by_workers(request: Request, jobs: JobPool, wanted: Sequence[Task]) -> list[Any]:
    """Do tasks on the workers, all at once, and wait for what they come to.

    Raises:
        LayError: one of them cannot be done at all.
    """
    return [_answered(job) for job in await _done_by_workers(request, jobs, wanted)]


async def _done_by_workers(request: Request, jobs: JobPool, wanted: Sequence[Task]) -> list[Job]:
    begun = [jobs.submit(f"interface:{uuid4()}", each) for each in wanted]
    try:
        for job in begun:
            while not await run_in_threadpool(job.finished.wait, LOOK_S):
                if await request.is_disconnected():
                    raise LayError("The caller went away.")
    finally:
        for job in begun:
            jobs.stop(job.id)
    return begun


def _answered(job: Job) -> Any:
    """What a job that is over has come to; one that was stopped for others says so."""
    if job.unserved or (job.best is None and job.status == "stopped"):
        raise HTTPException(503, job.problem or NOTHING_YET, {"Retry-After": "5"})
    if job.status == "failed":
        raise LayError(job.problem, job.at_field)
    return job.best


def _with_problem(job: Job) -> Lay:
    """The lay of a job, with what was said of it."""
    found: Lay = _answered(job)
    if job.problem:
        found = replace(found, findings=(*found.findings, Finding("care", "stopped-early", job.problem)))
    return found


class YardageIn(In):
    """Pieces against several cloths."""

    pieces: Annotated[list[PieceIn], Field(min_length=1, max_length=300)]
    cloths: Annotated[list[ClothIn], Field(min_length=1, max_length=40)]
    matches: list[MatchIn] = []
    spread: AskedSpread = "best"
    shrink_along: float = 0.0
    shrink_across: float = 0.0
    straighten: Mm = 0.0
    step: BuyingStep = "10 cm"
    gap: Annotated[Mm, Field(le=100)] = 0.0
    effort: Effort = "quick"
    seed: int = 1


class YardageRow(BaseModel):
    """What one cloth needs."""

    width_mm: float
    nap: Nap
    lay_mm: float | None
    buy_mm: float | None
    buy_text: str
    findings: list[FindingOut]


class YardageOut(BaseModel):
    """A row for each cloth asked about, in its order."""

    rows: list[YardageRow]


@router.post("/yardage", summary="The length each cloth needs, and the length to buy")
async def yardage(request: Request, jobs: Jobs, asked: YardageIn) -> YardageOut:
    """The length each cloth needs and the length to buy, on the width left after shrinkage."""
    shrinkage = Shrinkage(asked.shrink_along, asked.shrink_across)
    wanted = [_yardage_request(asked, cloth, shrinkage) for cloth in asked.cloths]
    found = await laid_by_workers(request, jobs, wanted)
    return YardageOut(rows=[_yardage_row(asked, c, lay, shrinkage) for c, lay in zip(asked.cloths, found, strict=True)])


def _yardage_request(asked: YardageIn, cloth: ClothIn, shrinkage: Shrinkage) -> LayRequest:
    whole = cloth.cloth()
    washed = replace(whole, width_mm=whole.width_mm * (1.0 - shrinkage.across), length_mm=None)
    matches = tuple(Match(m.a, m.b, m.along, m.across, m.onto) for m in asked.matches)
    pieces = tuple(p.piece() for p in asked.pieces)
    return LayRequest(washed, pieces, asked.spread, matches, asked.gap, asked.effort, asked.seed)


def _yardage_row(asked: YardageIn, cloth: ClothIn, found: Lay, shrinkage: Shrinkage) -> YardageRow:
    whole = cloth.cloth()
    findings = [FindingOut.of(f) for f in found.findings]
    if found.failed:
        return YardageRow(
            width_mm=whole.width_mm,
            nap=whole.nap,
            lay_mm=None,
            buy_mm=None,
            buy_text="does not fit this width",
            findings=findings,
        )
    buy = length_to_buy(found.length_mm, shrinkage.along, asked.straighten, asked.step)
    return YardageRow(
        width_mm=whole.width_mm,
        nap=whole.nap,
        lay_mm=found.length_mm,
        buy_mm=buy.mm,
        buy_text=buy.text,
        findings=findings,
    )
