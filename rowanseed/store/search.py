"""Finding things by any words in them (SQLite's FTS5), by kind, the best, the last used or by name first."""

import re
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

KIND_WORDS: Mapping[str, str] = {
    "make": "Makes", "pattern": "Patterns", "cloth": "Cloths", "person": "People", "supply": "Supplies", "shop": "Shops",
    "note": "Notes",
}  # fmt: skip
Sort = Literal["best", "used", "name"]
SORTS: tuple[tuple[Sort, str], ...] = (("best", "best first"), ("used", "last used first"), ("name", "by name"))
MOST = 60
TERM = re.compile(
    r'(?P<minus>-?)(?:(?P<key>[a-z]+):(?P<value>[^\s"]+)|"(?P<phrase>[^"]*)"?|(?P<word>[^\s"]+))', re.IGNORECASE
)
ORDER = {
    "best": "bm25(found, 8.0, 1.0), t.used_at desc, t.title",
    "used": "t.used_at desc, t.title",
    "name": "t.title collate nocase, t.id",
}
FIND = """
select t.kind, t.ref, t.title, t.away, snippet(found, 1, '', '', ' … ', 12) as part, n.make_id
from found join thing t on t.id = found.rowid left join note n on t.kind = 'note' and n.id = t.ref
where found match :query and (:kind = '' or t.kind = :kind) order by {order} limit :most
"""
ALL = """
select t.kind, t.ref, t.title, t.away, '' as part, n.make_id
from thing t left join note n on t.kind = 'note' and n.id = t.ref
where t.kind = :kind order by {order} limit :most
"""
TITLES = """
select t.kind, t.ref, t.title, t.away, '' as part, n.make_id
from thing t left join note n on t.kind = 'note' and n.id = t.ref
where t.away is null and t.kind <> 'note' order by t.used_at desc limit :most
"""
MOST_TITLES = 3000
USED = "select ref, used_at from thing where kind = :kind"


@dataclass(frozen=True)
class Hit:
    """Something that was found; `part`: the words around what was looked for; `url`: its page."""

    kind: str
    ref: int
    title: str
    part: str
    url: str
    away: bool


@dataclass(frozen=True)
class Found:
    """What was found, and what of the search was not understood, in words."""

    hits: tuple[Hit, ...]
    more: bool
    not_understood: tuple[str, ...]


PAGES = {"make": "/makes/{}", "pattern": "/patterns/{}", "cloth": "/cloths/{}", "person": "/people/{}"}


def search(conn: sqlite3.Connection, typed: str, kind: str = "", sort: Sort = "best") -> Found:
    """What has all these words in it, each as the beginning of a word.

    Args:
        typed: words; `"several words"` that stand together; `-word` that must not be there; `kind:cloth`.
    """
    wanted, unwanted, said, kind = _terms(typed, kind)
    values = {"kind": kind, "most": MOST + 1}
    if wanted:
        query = " ".join(wanted) + "".join(f" NOT {term}" for term in unwanted)
        rows = conn.execute(FIND.format(order=ORDER[sort]), {**values, "query": query}).fetchall()
    elif kind and not unwanted:
        rows = conn.execute(ALL.format(order=ORDER["used" if sort == "best" else sort]), values).fetchall()
    else:
        rows = []
        if unwanted:
            said.append("Only words that must not be there: say also what must.")
    return Found(tuple(_hit(row) for row in rows[:MOST]), len(rows) > MOST, tuple(said))


def _terms(typed: str, kind: str) -> tuple[list[str], list[str], list[str], str]:
    """The FTS5 terms that must and must not be there, what was not understood, and the kind."""
    wanted, unwanted, said = list[str](), list[str](), list[str]()
    known = {**{k: k for k in KIND_WORDS}, **{w.lower(): k for k, w in KIND_WORDS.items()}}
    for term in TERM.finditer(typed[:300]):
        key = (term["key"] or "").lower()
        if key == "kind" and term["value"].lower() in known:
            kind = known[term["value"].lower()]
            continue
        if key:
            said.append(
                f"“{key}:{term['value']}” is not understood. Known: {', '.join(f'kind:{k}' for k in KIND_WORDS)}."
            )
            continue
        text = term["phrase"] if term["phrase"] is not None else term["word"]
        if not any(c.isalnum() for c in text):
            said.append(f"“{text}” has no letter or figure to look for.")
            continue
        quoted = '"' + text.replace('"', " ").replace("\x00", " ") + '"'
        (unwanted if term["minus"] else wanted).append(quoted if term["phrase"] is not None else quoted + " *")
    return wanted, unwanted, said, kind


def _hit(row: sqlite3.Row) -> Hit:
    kind, ref = row["kind"], row["ref"]
    url = PAGES.get(kind, "/supplies" if kind == "supply" else "/shops").format(ref)
    if kind == "note":
        url = f"/makes/{row['make_id']}/wear"
    return Hit(kind, ref, row["title"], row["part"], url, row["away"] is not None)


def titles(conn: sqlite3.Connection) -> list[Hit]:
    """Return everything that is not put away by its title, the last used first; as many as one may hold against a word."""
    return [_hit(row) for row in conn.execute(TITLES, {"most": MOST_TITLES})]


def last_used(conn: sqlite3.Connection, kind: str) -> dict[int, str]:
    """When each thing of a kind was last changed or taken for a make, so that the last used may stand first."""
    return {row["ref"]: row["used_at"] for row in conn.execute(USED, {"kind": kind})}
