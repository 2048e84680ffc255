"""The shelf of makes, starting one, and the echo beside every length field."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import parse_length
from rowanseed.services.shelf_order import DOING_WORDS, ORDERS, found_by, on_the_shelf, ordered
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes, patterns, people
from rowanseed.store.makes import Make
from rowanseed.store.search import last_used
from rowanseed.web.deps import Home, Household, Work, page, page_or_part, see_other, today
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.make_picture import make_picture
from rowanseed.web.rooms.first import first_context, first_page

router = APIRouter(include_in_schema=False)
SHELF = 24
MINUTES = {
    "Fit": 5,
    "Cloth": 5,
    "Lay": 1,
    "Cut": 4,
    "Wear": 3,
}  # the next action of a stage, about; a step of Sew has its own


@dataclass(frozen=True)
class Shelved:
    """A make on the shelf: what it is of, for whom, each stage's state, the next stage and how it stands.

    `minutes`: what the next action takes, about; `waits`: what has to happen before it, or goes on by itself.
    """

    make: Make
    pattern: str
    people: str
    states: list[tuple[str, str]]
    next: str
    word: str
    picture: str = ""
    minutes: int = 0
    waits: tuple[str, ...] = ()


def _shelved(home: Household, make: Make, names: dict[int, str], folk: dict[int, str]) -> Shelved:
    worked = WorkedMake(home.conn, make.id, home.settings)
    for_whom = ", ".join(folk[g.person_id] for g in make.garments if g.person_id in folk)
    states = [(stage.name, "done" if make.finished_on else stage.state) for stage in worked.stages]
    stage = worked.next_stage
    return Shelved(
        make,
        names.get(make.pattern_id, ""),
        for_whom,
        states,
        stage.name,
        stage.word,
        make_picture(worked),
        0 if make.finished_on else _minutes(worked, stage.name),
        () if make.finished_on else _waits(worked, stage.name),
    )


def _minutes(worked: WorkedMake, stage: str) -> int:
    """About how long the next action takes."""
    if stage == "Sew":
        return next((s.operation.minutes for s in worked.steps if s.operation.id not in worked.over), 0)
    return MINUTES.get(stage, 0)


def _waits(worked: WorkedMake, stage: str) -> tuple[str, ...]:
    """What a make waits for: cloth that is not prepared, cloth to be bought, a garment that hangs."""
    waits = []
    if stage in ("Fit", "Cloth", "Lay", "Cut"):
        raw = [r.cloth.cloth.name for r in worked.roles if r.cloth and not r.cloth.cloth.prepared]
        waits += [f"{name} is to be prepared" for name in dict.fromkeys(raw)]
    if stage == "Sew":
        step = next((s for s in worked.steps if s.operation.id not in worked.over), None)
        if step is not None and step.operation.verb == "hang":
            waits.append("It hangs until tomorrow")
    return tuple(waits)


@router.get("/", name="makes")
def shelf(
    request: Request, home: Home, work: Work, all: bool = False, words: Annotated[str, Query(max_length=200)] = "",
    doing: str = "", sort: str = "in hand",
) -> Response:  # fmt: skip
    """The makes, what is being sewn first; by words, by what is done with them, in an order."""
    every = makes.makes(home.conn)
    envelopes = [*patterns.patterns(home.conn), *patterns.patterns(home.conn, put_away=True)]
    names = {p.id: p.name for p in envelopes}
    folk = {p.id: p.name for p in people.people(home.conn, everyone=True)}
    more = {
        m.id: " ".join([names.get(m.pattern_id, ""), *(folk.get(g.person_id or 0, "") for g in m.garments)])
        for m in every
    }
    order = next((o for o in ORDERS if o == sort), ORDERS[0])
    wanted = [one for one in found_by(on_the_shelf(home.conn, every), words, more) if doing in ("", one.doing)]
    shown = ordered(wanted, order)[: None if all else SHELF]
    context: dict[str, object] = {
        "shelf": [_shelved(home, one.make, names, folk) for one in shown],
        "more": len(wanted) - len(shown),
        "any": bool(every),
        "words": words,
        "doing": doing,
        "doings": DOING_WORDS,
        "sort": order,
        "orders": ORDERS,
        "patterns": names,
        "people": folk,
    }
    if not every:  # the first question comes first
        first = first_page(request, home, work)
        context.update(first=first, read_in=first.form.unit, **first_context(home))
    return page_or_part(request, home, "makes/shelf.html", "makes/_shelf.html", context)


@router.get("/makes/new", name="make_new")
def new(request: Request, home: Home, pattern: int = 0) -> Response:
    """The form that starts a make."""
    return _form(request, home, Form({"pattern": str(pattern or "")}), 200)


def _form(request: Request, home: Household, form: Form, status: int) -> Response:
    known = [patterns.envelope(home.conn, p.id) for p in patterns.patterns(home.conn)]
    used, seen = last_used(home.conn, "pattern"), last_used(home.conn, "person")
    known.sort(key=lambda p: used.get(p.id, ""), reverse=True)
    folk = sorted(people.people(home.conn), key=lambda p: seen.get(p.id, ""), reverse=True)
    context = {"form": form, "patterns": known, "people": folk}
    return page(request, home, "makes/new.html", context, status)


@router.post("/makes/new")
async def start(request: Request, home: Home) -> Response:
    """Start a make."""
    form = await read_form(request)
    data = await request.form()
    name = form.text("name", "A name", 80)
    chosen = form.typed.get("pattern_view", "")
    folk: list[int | None] = [n for v in data.getlist("people") if (n := whole_number(str(v))) is not None]
    number, _, view = chosen.partition("|")
    pattern_id = whole_number(number)
    if pattern_id is None:
        form.errors["pattern_view"] = "Choose a pattern and a view."
    if not form.sound or pattern_id is None:
        return _form(request, home, form, 422)
    patterns.envelope(home.conn, pattern_id)
    for person_id in folk:
        people.person(home.conn, person_id or 0)
    with db.write(home.conn):
        make_id = makes.add_make(home.conn, name, pattern_id, view, folk or [None], today())
    return see_other(request, f"/makes/{make_id}/fit")


@router.get("/makes/{make_id}", name="make")
def open_make(request: Request, home: Home, make_id: int) -> Response:
    """Go to the stage that is next."""
    stage = WorkedMake(home.conn, make_id, home.settings).next_stage
    return see_other(request, f"/makes/{make_id}/{stage.name.lower()}")


@router.post("/lengths/echo", name="length_echo")
async def echo(request: Request, home: Home) -> Response:
    """What a length field's words were understood as; a problem stands there while typing."""
    form = await read_form(request)
    text = next(iter(form.typed.values()), "").strip()
    said = problem = ""
    try:
        said = parse_length(text, home.unit).echo() if text else ""
    except LengthError as error:
        problem = error.text
    return page(request, home, "_echo.html", {"said": said, "problem": problem})
