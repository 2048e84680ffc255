"""What a page showed, carried by every form and button that changes it, so that two windows never overwrite each other unseen.

When templates are compiled, each `<form method="post">` is given a hidden field and each `hx-post` a header: the state of the thing
that its address is about, as it stood when the page was drawn. No template can leave it out. Before a route runs, `as_shown`
holds that against the present state, one request at a time for a thing, and answers that it was changed meanwhile.

What only adds (a note, a picture) or sets what may be set twice (a tick, a timer) is `FREE`: nothing is lost by it.
"""

import asyncio
import html
import re
import sqlite3
from collections.abc import AsyncIterator
from contextvars import ContextVar
from dataclasses import dataclass, field
from hashlib import sha256
from urllib.parse import unquote, urlsplit
from weakref import WeakValueDictionary

from fastapi import Request
from jinja2 import Environment
from jinja2.ext import Extension
from markupsafe import Markup

from rowanseed.formats.drawing import markup, tag
from rowanseed.store.db import ChangedMeanwhile
from rowanseed.store.keeping import KINDS

FIELD, HEADER = "shown", "X-Shown"
# The thing that an address is about, by the table and the part of the path that is its number.
ABOUT: tuple[tuple[re.Pattern[str], str], ...] = tuple(
    (re.compile(pattern), table)
    for pattern, table in (
        (r"^/makes/(\d+)(?:/|$)", "make"),
        (r"^/patterns/(?:intake|trace)/(\d+)(?:/|$)", "intake"),
        (r"^/patterns/(\d+)(?:/|$)", "pattern"),
        (r"^/cloths/(\d+)(?:/|$)", "cloth"),
        (r"^/people/(\d+)(?:/|$)", "person"),
        (r"^/supplies/(\d+)(?:/|$)", "supply"),
        (r"^/shops/(\d+)(?:/|$)", "shop"),
        (r"^/away/(\d+)(?:/|$)", "bin"),
        (r"^/settings/access/guests/(\d+)(?:/|$)", "guest"),
    )
)
KEPT = re.compile(r"^/keep/([a-z-]+)/(\d+)(?:/|$)")
HOUSEHOLD = re.compile(r"^/settings(?:$|/eases$|/clear-demo$)")
# What may be sent from a page that is no longer the newest: each with why nothing is lost by it.
FREE = re.compile(
    r"/(?:"
    r"(?:sew|cut)/tick|sew/machine|sew/trouble|"  # set, not turned over; kept without a connection and sent later
    r"(?:wear|fit)/note|wear/picture|cloths/\d+/picture|lay/offcuts|"  # added to what is there
    r"could/(?:work|stop)|"
    r"shopping/(?:tick|bought|piece|ahead)|"  # set or added; kept without a connection and sent later
    r"lay/start|lay/short/start|lay/stop/\d+|lay/short/stop/\d+|cloth/needs(?:/stop)?|intake/\d+/stop|trace/\d+/stop|"  # long work
    r"paper/printed|sew/sheet/file|pieces/draw|lay/hand/check|take-back|copy"  # looks; what is the same however often it is asked
    r")$"
)
# What belongs to a thing and is no part of its version: the rows whose change another window has to know of.
BESIDE = {
    "make": (
        "select id, person_id, size from make_garment where make_id = :id order by id",
        "select role, cloth_id from make_cloth where make_id = :id order by role",
        "select what, estimate, paid from make_cost where make_id = :id order by what",
        "select id from fit_note where make_id = :id order by id",
        "select person_id, garment, zone, mm from liked_ease where make_id = :id order by 1, 2, 3",
        "select view, text from sheet where pattern_id = (select pattern_id from make where id = :id) order by view",
    ),
    "pattern": ("select view, text from sheet where pattern_id = :id order by view",),
}
HOUSEHOLD_STATE = "select value from setting where key = 'household'"
THERE = {"bin": "select 1 from bin where id = :id", "guest": "select 1 from guest where id = :id"}


@dataclass(frozen=True)
class Subject:
    """A thing that can be changed: its table and number, 0 for the household's settings."""

    table: str
    id: int


@dataclass
class Showing:
    """What a page that is being drawn shows: the connection it is drawn from, its path, the states told already."""

    conn: sqlite3.Connection
    path: str
    told: dict[Subject, str] = field(default_factory=dict)

    def mark(self, action: str) -> str:
        """The state of what an address is about, empty where it changes nothing that is there."""
        about = subject_of(action or self.path)
        if about is None:
            return ""
        if about not in self.told:
            self.told[about] = state_of(self.conn, about)
        return self.told[about]


showing: ContextVar[Showing | None] = ContextVar("showing", default=None)
# One request at a time changes a thing: what a page showed is compared and changed in one act.
_locks: "WeakValueDictionary[tuple[int, str, Subject], asyncio.Lock]" = WeakValueDictionary()


def subject_of(action: str) -> Subject | None:
    """Return the thing that a form sent to an address changes; None where it makes a new one, or is free."""
    path = unquote(urlsplit(html.unescape(action)).path)
    if FREE.search(path):
        return None
    kept = KEPT.match(path)
    if kept and kept[1] in KINDS:
        return Subject(KINDS[kept[1]].table, _number(kept[2]))
    if HOUSEHOLD.match(path):
        return Subject("setting", 0)
    for pattern, table in ABOUT:
        found = pattern.match(path)
        if found:
            return Subject(table, _number(found[1]))
    return None


def _number(text: str) -> int:
    return int(text) if len(text) < 18 else 0


def state_of(conn: sqlite3.Connection, about: Subject) -> str:
    """Return a short mark of how a thing stands; another one as soon as something of it is changed. Empty where it is not there."""
    values = {"id": about.id}
    if about.table == "setting":
        row = conn.execute(HOUSEHOLD_STATE).fetchone()
        return f"setting-0-{_digest(str(row[0]) if row else '')}"
    if about.table in THERE:
        return f"{about.table}-{about.id}" if conn.execute(THERE[about.table], values).fetchone() else ""
    if about.table not in VERSIONED:
        row = conn.execute(f"select * from {about.table} where id = :id", values).fetchone()
        return f"{about.table}-{about.id}-{_digest(repr(tuple(row)))}" if row else ""
    row = conn.execute(f"select version from {about.table} where id = :id", values).fetchone()
    if row is None:
        return ""
    beside = [tuple(r) for sql in BESIDE.get(about.table, ()) for r in conn.execute(sql, values)]
    return f"{about.table}-{about.id}-{row[0]}" + (f"-{_digest(repr(beside))}" if beside else "")


VERSIONED = frozenset({"make", "pattern", "cloth", "person", "supply", "shop", "intake"})


def _digest(text: str) -> str:
    return sha256(text.encode()).hexdigest()[:12]


async def as_shown(request: Request) -> AsyncIterator[None]:
    """Hold what a request's page showed against how it stands now, and keep others from the same thing until it is answered.

    Raises:
        ChangedMeanwhile: it was changed since; nothing was done then.
    """
    about = subject_of(request.url.path) if request.method == "POST" else None
    if about is None:
        yield
        return
    key = (id(asyncio.get_running_loop()), str(request.app.state.database), about)
    lock = _locks.setdefault(key, asyncio.Lock())
    async with lock:
        seen = request.headers.get(HEADER) or str((await request.form()).get(FIELD) or "")
        if seen:
            with request.app.state.connections.lent() as conn:
                now = state_of(conn, about)
            # a button that sends its form elsewhere carries the mark of the form's own thing, which says nothing of this one
            if now and seen != now and seen.split("-")[:2] == now.split("-")[:2]:
                request.state.typed = {k: v for k, v in (await request.form()).items() if isinstance(v, str)}
                raise ChangedMeanwhile("This was changed in another window since you opened it.")
        yield


def hidden(action: str) -> Markup:
    """The field that a form to an address carries."""
    mark = _marked(action)
    if not mark:
        return Markup("")
    carried = tag("input", type="hidden", value=mark)
    carried.set("name", FIELD)
    return Markup(markup(carried))


def header(action: str) -> Markup:
    """The attribute that a button which is no form carries."""
    mark = _marked(action)
    return Markup(' hx-headers=\'{{"{}": "{}"}}\'').format(HEADER, mark) if mark else Markup("")


def _marked(action: str) -> str:
    found = showing.get()
    return found.mark(action.strip()) if found is not None else ""


class Carried(Extension):
    """Gives every form that posts its field, and every `hx-post` its header, as a template is compiled."""

    def __init__(self, environment: Environment) -> None:
        super().__init__(environment)
        environment.filters["shown_by_form"] = hidden
        environment.filters["shown_by_button"] = header

    def preprocess(self, source: str, name: str | None, filename: str | None = None) -> str:
        """Return a template's source with what its forms and buttons showed."""
        return _with_marks(source)


# A tag as templates write it: what stands in {{ }} and {% %} may hold any sign.
FORM = re.compile(r"\A<form\b")
TAG = re.compile(
    r"<(?:form|button|input|select|textarea|div|fieldset)\b(?:\{\{.*?\}\}|\{%.*?%\}|[^>{]|\{(?![{%]))*>", re.S
)


def _attribute(name: str) -> re.Pattern[str]:
    return re.compile(rf'\s{name}="((?:\{{\{{.*?\}}\}}|\{{%.*?%\}}|[^"{{]|\{{(?![{{%]))*)"', re.S)


ACTION, METHOD, HX_POST = _attribute("action"), _attribute("method"), _attribute("hx-post")


def _with_marks(source: str) -> str:
    return TAG.sub(_marked_tag, source)


def _marked_tag(found: re.Match[str]) -> str:
    written = found[0]
    if FORM.match(written):
        posts = _said(METHOD, written).lower() == "post"
        return written + _filtered(_said(ACTION, written), "shown_by_form") if posts else written
    action = _said(HX_POST, written)
    return written[:-1] + _filtered(action, "shown_by_button") + ">" if action else written


def _said(attribute: re.Pattern[str], written: str) -> str:
    found = attribute.search(written)
    return found[1] if found else ""


def _filtered(action: str, filter_: str) -> str:
    return "{% filter " + filter_ + " %}" + action + "{% endfilter %}"
