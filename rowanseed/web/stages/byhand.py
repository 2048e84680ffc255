"""Lay by hand: pieces moved in the page, judged live there and confirmed here; drafts; tightening round what is held."""

import json
from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from rowanseed.core.errors import LayError
from rowanseed.core.lay.byhand import HandPiece, HandPlace, hand_pieces, lay_by_hand, what_is_wrong
from rowanseed.core.lay.check import usable_band
from rowanseed.core.lay.check_flaws import flaws_on
from rowanseed.core.lay.demand import Pose
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD
from rowanseed.core.lengths import MM_PER
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.formats.svg import LayDrawing
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import db, drafts, makes
from rowanseed.web.deps import Home, Jobs, now, page, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.print_placement import endings, fold_of, garment_print
from rowanseed.web.stages.lay import job_key, keeper, place_of, titles_of

router = APIRouter(prefix="/makes/{make_id}/lay/hand", include_in_schema=False)
MOST_PLACES = 400


class PlaceTyped(BaseModel):
    """Where the page says a piece lies."""

    number: Annotated[int, Field(ge=0, le=MOST_PLACES)]
    pose: Annotated[int, Field(ge=0, le=400)]
    lane: Annotated[int, Field(ge=0, le=4)]
    x: float
    y: float
    held: bool = False


PLACES = TypeAdapter(Annotated[list[PlaceTyped], Field(max_length=MOST_PLACES)])


def _start(home: Home, make_id: int, role: str, fresh: bool = False) -> tuple[WorkedMake, WorkedRole, LayRequest, Lay]:
    """The make, its role, and what the hand starts from: the draft where it still fits, else the lay."""
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = view.role(role) if role else next(iter(view.roles), None)
    if chosen is None or chosen.request is None or chosen.kept is None or not chosen.kept.lay.placements:
        raise db.NotFound("There is no lay to move by hand yet. Lay the pieces first.")
    if not chosen.current:
        raise db.ChangedMeanwhile("Size, cloth or pieces changed since this lay was made. Lay them again first.")
    draft = None if fresh else drafts.draft(home.conn, make_id, chosen.role)
    if draft is not None and draft.asked == fingerprint(chosen.request):
        return view, chosen, chosen.request, draft.lay
    return view, chosen, chosen.request, chosen.kept.lay


@router.get("", name="hand")
def show(request: Request, home: Home, make_id: int, role: str = "") -> Response:
    """The pieces to be moved."""
    view, chosen, asked, lay = _start(home, make_id, role)
    assert chosen.cloth is not None
    titles = titles_of(view, chosen)
    drawing = LayDrawing(
        lay, chosen.cloth.cloth, home.unit, lambda i: titles.get(i, (i, "")), asked.cloth.length_mm, fold_of(chosen)
    )
    data = page_data(asked, lay, hand_pieces(asked, lay), titles, home.unit)
    held = view.make.plan.locked.get(chosen.role, ())
    data["held"] = [k for k, p in enumerate(lay.placements) if place_of(p) in held]
    context = {
        "view": view,
        "role": chosen,
        "svg": drawing.table(room=0.25),
        "data": json.dumps(data),
        **_verdict(view, chosen, asked, lay),
        "is_draft": lay is not chosen.kept.lay if chosen.kept else False,
    }
    return page(request, home, "hand/show.html", context)


def _verdict(view: WorkedMake, role: WorkedRole, asked: LayRequest, made: Lay) -> dict[str, object]:
    """What the verdict says of a lay: its faults, its length against the lay kept and the cloth in hand, the print."""
    kept, have = role.kept, asked.cloth.length_mm
    return {
        "made": made,
        "wrong": _wrong(view, role, asked, made),
        "longer_mm": made.length_mm - kept.lay.length_mm if kept else 0.0,
        "short_mm": made.length_mm - have if have is not None else 0.0,
        "seen": garment_print(view, role, made, endings(role)[0]),
    }


def _wrong(view: WorkedMake, role: WorkedRole, asked: LayRequest, lay: Lay) -> list[str]:
    """What is wrong, with the pieces called as the page calls them."""
    titles = titles_of(view, role)
    said = []
    for finding in what_is_wrong(asked, lay):
        words = finding.text.split(" ")
        bare = [w.rstrip(".:,") for w in words]
        said.append(
            " ".join(titles[b][0] + w[len(b) :] if b in titles else w for w, b in zip(words, bare, strict=True))
        )
    return said


def page_data(
    asked: LayRequest, lay: Lay, pieces: list[HandPiece], titles: dict[str, tuple[str, str]], unit: str
) -> dict[str, Any]:
    """What the page needs to move pieces and to judge them: lanes with what may be used of them, poses, flaws, gap."""
    lanes = []
    for number, lane in enumerate(lay.lanes):
        near, far = usable_band(asked, lay, number)
        lanes.append(
            {
                "from": lane.from_mm,
                "to": lane.to_mm,
                "start": lane.start_mm,
                "layers": lane.layers,
                "near": near,
                "far": far,
                "back": lay.spread == "double-fold" and number == 1,
                "end": lane.end_mm if lay.spread == "fold-then-single" and number == 0 else None,
                "edges": lane.edges,
                "flaws": flaws_on(asked, lay, number),
            }
        )
    return {
        "lanes": lanes,
        "gap": asked.gap_mm,
        "step": MM_PER["in"] / 8 if unit == "in" else 2.0,
        "unit": unit,
        "twice": lay.spread == "crosswise-fold",
        "inHand": asked.cloth.length_mm,
        "pieces": [_piece_data(p, titles, asked) for p in sorted(pieces, key=lambda p: (p.lane, p.x, p.y))],
    }


def _piece_data(piece: HandPiece, titles: dict[str, tuple[str, str]], asked: LayRequest) -> dict[str, Any]:
    number, name = titles.get(piece.item.piece, (piece.item.piece, ""))
    drawn = next(p for p in asked.pieces if p.id == piece.item.piece)
    return {
        "number": piece.number,
        "title": number,
        "name": name,
        "layers": piece.item.layers,
        "fold": piece.item.at_fold,
        "onSelvage": drawn.selvage_edge is not None,
        "poses": [_pose_data(p) for p in piece.item.poses],
        "pose": piece.pose,
        "lane": piece.lane,
        "x": round(piece.x, 3),
        "y": round(piece.y, 3),
    }


def _pose_data(pose: Pose) -> dict[str, Any]:
    def rounded(points: tuple[tuple[float, float], ...]) -> list[list[float]]:
        return [[round(x, 3), round(y, 3)] for x, y in points]

    head, foot = pose.marks.get(GRAIN_HEAD), pose.marks.get(GRAIN_FOOT)
    data: dict[str, Any] = {"turned": pose.turned, "down": pose.face_down, "outline": rounded(pose.outline)}
    if pose.cut != pose.outline:
        data["cut"] = rounded(pose.cut)
    if head and foot:
        data["grain"] = rounded((head, foot))
    return data


def _places(form: Form) -> list[PlaceTyped]:
    try:
        return PLACES.validate_json(form.typed.get("places", "[]"))
    except ValidationError as error:
        raise db.NotFound("The page sent places that cannot be read. Load it again.") from error


def _made(asked: LayRequest, base: Lay, typed: list[PlaceTyped]) -> Lay:
    try:
        return lay_by_hand(asked, base, [HandPlace(t.number, t.pose, t.lane, t.x, t.y) for t in typed])
    except LayError as error:
        raise db.ChangedMeanwhile(error.text) from error


@router.post("/check", name="hand_check")
async def check(request: Request, home: Home, make_id: int) -> Response:
    """The checker's verdict on what the page shows."""
    form = await read_form(request)
    view, role, asked, base = _start(home, make_id, form.typed.get("role", ""))
    made = _made(asked, base, _places(form))
    return page(request, home, "hand/_verdict.html", _verdict(view, role, asked, made))


@router.post("/keep", name="hand_keep")
async def keep(request: Request, home: Home, make_id: int) -> Response:
    """Keep what the hand has made: a sound one becomes the lay, any other a draft; what is held is held from now on."""
    form = await read_form(request)
    view, role, asked, base = _start(home, make_id, form.typed.get("role", ""))
    typed = _places(form)
    made = _made(asked, base, typed)
    sound = not what_is_wrong(asked, made)
    with db.write(home.conn):
        _hold(home, view, role, made, typed, form)
        if sound:
            makes.put_lay(home.conn, make_id, role.role, fingerprint(asked), made, now())
            drafts.drop_draft(home.conn, make_id, role.role)
        else:
            drafts.put_draft(home.conn, make_id, role.role, fingerprint(asked), made, now())
    where = "lay" if sound else "lay/hand"
    return see_other(request, f"/makes/{make_id}/{where}?role={role.role}")


def _hold(home: Home, view: WorkedMake, role: WorkedRole, made: Lay, typed: list[PlaceTyped], form: Form) -> None:
    """Hold what the page says is held; it lies on lanes of this spread, so the spread is held with it."""
    held = tuple(place_of(made.placements[t.number]) for t in typed if t.held)
    if held == view.make.plan.locked.get(role.role, ()):
        return
    spread = made.spread if held else view.make.plan.spread
    plan = replace(view.make.plan, locked={**view.make.plan.locked, role.role: held}, spread=spread)
    makes.put_plan(home.conn, view.make.id, form.opened(view.make.version), plan)


@router.post("/tighten", name="hand_tighten")
async def tighten(request: Request, home: Home, jobs: Jobs, make_id: int) -> Response:
    """Lay everything that is not held as close as it will go around what is."""
    form = await read_form(request)
    view, role, asked, base = _start(home, make_id, form.typed.get("role", ""))
    typed = _places(form)
    made = _made(asked, base, typed)
    with db.write(home.conn):
        _hold(home, view, role, made, typed, form)
        drafts.drop_draft(home.conn, make_id, role.role)
    again = WorkedMake(home.conn, make_id, home.settings).role(role.role)
    assert again is not None and again.request is not None  # the same role as before
    database = request.app.state.database
    jobs.submit(
        job_key(database, make_id, role.role), again.request, keeper(database, make_id, role.role, again.request)
    )
    return see_other(request, f"/makes/{make_id}/lay?role={role.role}")


@router.post("/drop", name="hand_drop")
async def drop(request: Request, home: Home, make_id: int) -> Response:
    """Throw the draft away."""
    form = await read_form(request)
    role = form.typed.get("role", "")
    with db.write(home.conn):
        drafts.drop_draft(home.conn, make_id, role)
    return see_other(request, f"/makes/{make_id}/lay?role={role}")
