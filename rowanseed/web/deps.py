"""What every route uses: a connection for the request, templates with their filters, page or fragment."""

import re
import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Annotated, Any

from fastapi import Depends, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.templating import Jinja2Templates

from rowanseed import __version__
from rowanseed.core.lengths import METRIC, Unit, both, format_length
from rowanseed.core.notions import KIND_WORDS
from rowanseed.core.pattern.model import ROLE_WORDS
from rowanseed.formats.print_svg import patch
from rowanseed.formats.words import word_of
from rowanseed.jobs.pool import JobPool
from rowanseed.services.long_work import LongWork
from rowanseed.store import db, keeping
from rowanseed.store.settings import Settings, has_demo, settings
from rowanseed.web.decimals import with_commas, with_inches_first
from rowanseed.web.shown import HEADER, Carried, Showing, showing

HERE = Path(__file__).parent
templates = Jinja2Templates(directory=str(HERE / "templates"))
templates.env.add_extension(Carried)

ROOMS = (
    ("Makes", "/", "m"),
    ("Which size?", "/which-size", "w"),
    ("People", "/people", "p"),
    ("Patterns", "/patterns", "t"),
    ("Cloth", "/cloths", "c"),
    ("Bench", "/bench", "b"),
    ("Settings", "/settings", "s"),
)


STARTS = (
    *((url, name) for name, url, _ in ROOMS[1:]),
    ("/supplies", "Cloth"),
    ("/shops", "Cloth"),
    ("/shopping", "Cloth"),
    ("/could", "Cloth"),
    ("/away", "Settings"),
)
KEPT_IN = {"People": "/person", "Patterns": "/pattern", "Cloth": "/cloth"}


@dataclass(frozen=True)
class Household:
    """The request's connection and the household's settings."""

    conn: sqlite3.Connection
    settings: Settings

    @property
    def unit(self) -> Unit:
        """The unit lengths are shown in first."""
        return self.settings.unit


def household(request: Request) -> Iterator[Household]:
    """A connection for this request, given back when it is answered."""
    with request.app.state.connections.lent() as conn:
        yield Household(conn, settings(conn))


def pool(request: Request) -> JobPool:
    """The application's worker processes."""
    found: JobPool = request.app.state.jobs
    return found


def long_work(request: Request) -> LongWork:
    """Work on the workers whose results are remembered."""
    return LongWork(request.app.state.jobs, request.app.state.results)


Home = Annotated[Household, Depends(household)]
Jobs = Annotated[JobPool, Depends(pool)]
Work = Annotated[LongWork, Depends(long_work)]


def today() -> date:
    """The day by this machine's clock."""
    return date.today()


def now() -> datetime:
    """The time by this machine's clock."""
    return datetime.now()


def page(request: Request, home: Household, name: str, context: Mapping[str, Any], status: int = 200) -> Response:
    """Render a template with what every page needs."""
    path = request.url.path
    room = next(
        (name for start, name in STARTS if path.startswith((start, f"/keep{KEPT_IN.get(name, '/-')}"))), "Makes"
    )
    shared = {
        "rooms": ROOMS,
        "room": room,
        "unit": home.unit,
        "app_version": __version__,
        "demo_here": _has_demo(home.conn),
        "visit": _visit(request),
        **_gone(request, home),
    }
    shown = Showing(home.conn, path)
    held = showing.set(shown)
    try:
        answer = templates.TemplateResponse(
            request, name, {**shared, **context}, status_code=status, headers={"Vary": "HX-Request"}
        )
    finally:
        showing.reset(held)
    if request.method == "POST" and "HX-Request" in request.headers and (mark := shown.mark(path)):
        answer.headers[HEADER] = mark  # the rest of the page that stays shows the thing as it stands now
    return _as_written(home, answer, context.get("read_in", home.unit))


def _as_written(home: Household, answer: Response, unit: Unit) -> Response:
    """A page with its numbers as this household writes them; `unit`: the one that is read on this page."""
    ways = [with_inches_first] if unit not in METRIC else []
    ways += [with_commas] if home.settings.decimal == "," else []
    if ways:
        text = bytes(answer.body).decode()
        for way in ways:
            text = way(text)
        answer.body = text.encode()
        answer.headers["content-length"] = str(len(answer.body))
    return answer


def _has_demo(conn: sqlite3.Connection) -> bool:
    with suppress(sqlite3.Error):  # a page that tells of trouble with the disk is shown whatever the disk does
        return has_demo(conn)
    return False


def _visit(request: Request) -> str:
    """Who looks: `in` the household, a `guest`, or one who is still `out` where the passphrase is asked for."""
    if not request.app.state.answers.locked:
        return "in"
    found = getattr(request.state, "session", None)
    return "out" if found is None else "in" if found.guest is None else "guest"


def page_or_part(
    request: Request, home: Household, whole: str, part: str, context: Mapping[str, Any], status: int = 200
) -> Response:
    """Render the fragment for htmx, the whole page for everyone else."""
    return page(request, home, part if "HX-Request" in request.headers else whole, context, status)


def see_other(request: Request, url: str) -> Response:
    """Go on to another page after a change, for htmx and for plain forms."""
    if "HX-Request" in request.headers:
        return Response(status_code=204, headers={"HX-Redirect": url})
    return RedirectResponse(url, 303)


def with_undo(url: str, bin_id: int | None) -> str:
    """The page to go on to, with the number of what was deleted, so that it can be taken back there."""
    if bin_id is None:
        return url
    path, mark, anchor = url.partition("#")
    return f"{path}{'&' if '?' in path else '?'}gone={bin_id}{mark}{anchor}"


def _gone(request: Request, home: Household) -> dict[str, object]:
    """What was just deleted or put away, by the number in the address, and the page without it."""
    asked = request.query_params
    here = request.url.path + "".join(f"?{k}={v}" for k, v in list(asked.items())[:1] if k not in ("gone", "away"))
    number, put = asked.get("gone", ""), asked.get("away", "")
    if number.isdecimal() and len(number) < 18:
        return {"gone": keeping.binned(home.conn, int(number)), "here": here}
    kind, _, id_ = put.rpartition("-")
    if kind in keeping.KINDS and id_.isdecimal() and len(id_) < 18:
        with suppress(db.NotFound):
            return {
                "put_away_now": (kind, int(id_), keeping.title_of(home.conn, keeping.KINDS[kind], int(id_))),
                "here": here,
            }
    return {}


_OF_ONE_FIGURE = re.compile(
    r"(?<=\d) (?=\d+/\d|(?:cm|mm|m|in|ft|yd|%)(?!\w))"
)  # a figure and its unit stay on one line


def _signed(mm: float | None, unit: Unit = "cm") -> str:
    if mm is None:
        return "–"
    return ("+" if mm >= 0 else "−") + format_length(abs(mm), unit)


templates.env.filters["say"] = lambda mm, unit="cm": "–" if mm is None else format_length(mm, unit)
templates.env.filters["both"] = both
templates.env.filters["signed"] = _signed
templates.env.filters["sentence"] = lambda words: (
    words[:1].upper() + words[1:]
)  # names and standards keep their capitals
templates.env.filters["day"] = lambda moment: f"{date.fromisoformat(moment[:10]):%-d %b %Y}"
templates.env.filters["unbroken"] = lambda words: _OF_ONE_FIGURE.sub("\N{NO-BREAK SPACE}", words)
templates.env.globals["role_words"] = ROLE_WORDS
templates.env.globals["word_of"] = word_of
templates.env.globals["patch"] = patch
templates.env.globals["notion_words"] = KIND_WORDS
templates.env.globals["static"] = lambda path: f"/static/{path}?v={__version__}"
