"""What a line of a sheet may mean: its doings held against those of the garment's operations, and how sure that is.

A wrong tie is worse than none. A doing is tied without asking only where the operation does just what its verb says, every thing
that it names belongs to the operation, and no other operation comes near.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from rowanseed.core.sew.anatomy import edges_of, unit_of
from rowanseed.core.sew.line_words import Clause, clauses
from rowanseed.core.sew.model import Operation

OFFERED = 3
SURE = 0.72  # what is likelier is tied without asking
MARGIN = 0.045  # by which the likeliest must stand before the next
LEAST = 0.3  # what is likelier is offered
# The plain verbs that say what an operation does; behind the stroke those that it may be called by too.
MEANS: Mapping[str, str] = {
    "join": "join attach insert",
    "attach": "join attach insert / hand baste",
    "bind": "join attach",
    "insert": "insert / join attach thread",
    "face": "join attach",
    "press": "press",
    "stay": "stay / fuse",
    "fuse": "fuse / attach",
    "baste": "baste / join attach",
    "gather": "gather / draw ease join",
    "ease": "ease / gather draw join",
    "trim": "trim / clip",
    "clip": "clip / trim",
    "grade": "trim",
    "turn": "turn",
    "understitch": "understitch",
    "topstitch": "topstitch / join",
    "hem": "hem / hand up join",
    "cut": "cut",
    "mark": "mark",
    "fold": "fold / turn press up",
    "finish": "finish",
    "close": "close / hand ditch topstitch",
    "try-on": "try-on",
    "make": "make / join fold press",
    "buttonhole": "make / join",
    "button": "join attach",
    "fasten": "hand / join attach baste",
    "dart": "join",
    "tuck": "join",
    "pleat": "fold / baste",
    "shirr": "join / gather",
    "decorate": "join attach",
    "pad": "join attach",
    "hang": "",
    "undo": "cut",
    "sample": "",
    "check": "",
}
# Names of edges that lines call otherwise, or seldom at all.
CALLED: Mapping[str, tuple[str, ...]] = {
    "cap": ("sleeve",), "underarm": ("sleeve", "underarm"), "wrist": ("sleeve", "wrist"), "layer": ("interfacing",),
    "gap": ("slit",),
    "outer": ("outer-edge",), "pocket": ("pocket",), "channel": (), "panel": (), "pocket-mouth": ("pocket",),
}  # fmt: skip
# An operation about one of these is not meant where it is not named.
SPECIAL = frozenset(
    {
        "hook",
        "zip",
        "zip-seam",
        "button",
        "buttonhole",
        "elastic",
        "loops",
        "dart",
        "pleat",
        "tuck",
        "welt",
        "flap",
        "fly",
        "placket",
        "shield",
        "ribbon",
    }
)
QUIET = frozenset(
    {
        "body",
        "leg",
        "bodice",
        "skirt",
        "sleeve",
        "panel",
        "underarm",
        "allowance",
        "raw",
        "thread",
        "outer-edge",
        "tab",
        "band",
        "shell",
        "wrist",
    }
)
HEAD = re.compile(r"^(?:[A-Z][\w-]*: )?")


@dataclass(frozen=True)
class Guess:
    """An operation that a line may mean, and how sure that is, from 0 to 1."""

    operation: Operation
    sure: float


@dataclass(frozen=True)
class Reading:
    """What a line means: the operations it is tied to without asking, and those that it may mean, likeliest first."""

    tied: tuple[Operation, ...]
    offered: tuple[Guess, ...]
    verb: str = ""


def read_line(text: str, operations: Sequence[Operation], taken: frozenset[str] = frozenset()) -> Reading:
    """Return what a line means.

    Args:
        taken: ids of operations that earlier lines are tied to: they are offered, and not tied again.
    """
    same = _plain_title(text)
    own = next((op for op in operations if _plain_title(op.title) == same), None) if same else None
    if own is not None:
        return Reading((own,), (Guess(own, 1.0),), own.verb)
    tied: list[Operation] = []
    best: dict[str, Guess] = {}
    said = clauses(text)
    for clause in said:
        scored = sorted((Guess(op, _score(clause, op)) for op in operations), key=lambda g: -g.sure)
        for guess in scored:
            if guess.sure >= LEAST and guess.sure > best.get(guess.operation.id, Guess(guess.operation, 0.0)).sure:
                best[guess.operation.id] = guess
        sure = _sure(clause, scored, taken)
        if sure is not None and sure not in tied:
            tied.append(sure)
    offered = tuple(sorted(best.values(), key=lambda g: -g.sure))[:OFFERED]
    if any(c.own and not _may_mean(c, operations) for c in said):
        tied = []  # part of the line is something that this garment does not have: all of it is asked
    first = next((v for c in said for v in c.verbs), "")
    return Reading(tuple(tied), offered, first)


def guesses(text: str, operations: Sequence[Operation]) -> list[Guess]:
    """The operations that a line may mean, likeliest first; none where nothing is shared."""
    return list(read_line(text, operations).offered)


def verbs_of(text: str) -> set[str]:
    """The plain verbs of a line, as operations have them."""
    said = {verb for clause in clauses(text) for verb in clause.verbs}
    return {op for op, means in MEANS.items() if said & set(means.partition("/")[0].split())}


def _sure(clause: Clause, scored: Sequence[Guess], taken: frozenset[str]) -> Operation | None:
    if not scored or not clause.things or not clause.verbs:
        return None
    first = scored[0]
    if first.sure < SURE or first.operation.id in taken or not _explains(clause, first.operation):
        return None
    if len(scored) > 1 and first.sure - scored[1].sure < MARGIN:
        return None
    return first.operation


def _explains(clause: Clause, op: Operation) -> bool:
    """Whether the operation does what the verb says and everything that is named belongs to it."""
    means = MEANS.get(op.verb, "").split()
    return clause.things <= _named(op) and any(verb in means for verb in clause.verbs)


def _may_mean(clause: Clause, operations: Sequence[Operation]) -> bool:
    return not clause.things or any(_score(clause, op) >= LEAST for op in operations)


@lru_cache(maxsize=8192)
def _title_verbs(title: str) -> frozenset[str]:
    return frozenset(verb for clause in clauses(HEAD.sub("", title)) for verb in clause.verbs)


@lru_cache(maxsize=8192)
def _title_things(title: str) -> frozenset[str]:
    return frozenset(thing for clause in clauses(HEAD.sub("", title)) for thing in clause.things)


def _main(op: Operation) -> frozenset[str]:
    """What an operation is about, and a line that means it will most likely name."""
    found: set[str] = set()
    for thing in op.on:
        for edge in edges_of(thing):
            unit = unit_of(edge)
            name = edge.removeprefix(unit).removeprefix(".")
            found |= set(CALLED.get(name, (name,))) if name else {unit.removeprefix("lining.")}
            if "+" in thing:
                found.add(unit.removeprefix("lining."))
    found |= _title_things(op.title) | _title_things(op.template.replace("-", " "))
    if op.layer == "lining":
        found.add("lining")
    return frozenset(found - {"", "body"})


def _named(op: Operation) -> frozenset[str]:
    """Everything that a line may name and mean this operation."""
    units = {unit_of(edge).removeprefix("lining.") for thing in op.on for edge in edges_of(thing)}
    edges = {edge.rpartition(".")[2] for thing in op.on for edge in edges_of(thing)}
    more = {"shell"} if op.layer != "lining" else set()
    if "bodice" in units or "body" in units:
        more |= {"bodice"}
    main = _main(op)
    if main & {"neckband", "waistband", "cuff"}:
        more |= {"band"}
    if "zip" in edges or "zip-seam" in main:
        more |= {"centre-back", "centre-front", "side"}
    if op.verb in ("trim", "clip", "grade", "finish", "press"):
        more |= {"allowance"}
    if "wrist" in edges or "sleeve" in units:
        more |= {"sleeve-hem"} if op.verb in ("hem", "fold", "press", "finish") else set()
    return _main(op) | frozenset(units | edges | more) - {"body"}


def _score(clause: Clause, op: Operation) -> float:
    """How well an operation answers a clause: its verb, how much of what is named it explains, how much of it is named."""
    things, main, named = clause.things, _main(op), _named(op)
    if not things or ("lining" in things) != ("lining" in main):
        return 0.0

    def weight(of: frozenset[str]) -> float:
        return sum(0.25 if thing in QUIET else 1.0 for thing in of)

    shared = weight(things & named)
    if not shared:
        return 0.0
    explained = shared / weight(things)
    covered = weight(things & main) / max(weight(main), 0.25) if main else 0.0
    verb = _verb(clause, MEANS.get(op.verb, ""), _title_verbs(op.title))
    if clause.two and not any("+" in thing for thing in op.on) and op.verb not in ("insert", "baste", "fasten", "fuse"):
        verb *= 0.75  # one thing goes to another: it is no work on one edge alone
    if main & SPECIAL and not things & SPECIAL:
        verb *= 0.6
    return float(round(verb * (0.7 * explained**1.5 + 0.3 * min(1.0, covered)), 3))


def _verb(clause: Clause, means: str, title: frozenset[str]) -> float:
    if not clause.verbs:
        return 0.75
    said, plain = set(clause.verbs), set(means.partition("/")[0].split())
    if said & plain:
        return 1.0 if said & title else 0.95
    return 0.78 if said & set(means.split()) else 0.4


def _plain_title(text: str) -> str:
    return " ".join(re.findall(r"[a-z]+", text.lower()))
