"""The sheet's own steps: short lines, matched to operations by their words, borrowed from other views, held against a safe order.

Matching offers, it never forces: a line may stay without an operation.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.model import Library, Need, Operation, SewnGarment
from rowanseed.core.sew.order import OBJECTIVES
from rowanseed.core.sew.planner import in_phases, plan

MOST_LINES = 300
OFFERED = 3
LEAST = 0.3  # of a line's words that an operation must share to be offered
_NUMBERED = re.compile(r"^\s*(?:step\s*)?\d{1,3}\s*[.):-]\s*|^\s*[-*•]\s+", re.IGNORECASE)
_SEE = re.compile(
    r"\b(?:see|as (?:in|for)|repeat|follow)\s+view\s+(?P<view>[\w-]{1,40})\W{0,3}\s*steps?\s+(?P<first>\d{1,3})"
    r"(?:\s*(?:to|-|–|through)\s*(?P<last>\d{1,3}))?",
    re.IGNORECASE,
)
_SAME: Mapping[str, str] = {
    "stay": "staystitch",
    "stay-stitch": "staystitch", "stay-stitching": "staystitch",
    "staystitching": "staystitch", "zipper": "zip", "zippers": "zip", "attach": "sew", "join": "sew",
    "stitch": "sew", "stitching": "sew", "insert": "sew", "set": "sew", "apply": "sew", "machine": "sew", "close": "sew",
    "iron": "press", "pressing": "press", "steam": "press", "fuse": "fuse", "fusible": "fuse", "iron-on": "fuse", "hemming": "hem",
    "gathering": "gather", "gathers": "gather", "overlock": "overlock", "serge": "overlock", "serging": "overlock",
    "neckline": "neck", "armhole": "armhole", "armscye": "armhole", "waistline": "waist", "waistband": "waistband",
    "crotch": "crotch", "rise": "crotch", "inside": "inseam", "inseam": "inseam", "inner": "inseam",
    "pants": "leg", "trousers": "leg",
    "buttonhole": "buttonhole", "button": "button", "make": "make", "construct": "make", "prepare": "make", "baste": "baste",
    "tack": "baste", "understitch": "understitch", "topstitch": "topstitch", "edgestitch": "topstitch",
}  # fmt: skip
_EMPTY = frozenset(
    re.split(
        " ",
        "the a an and or of to at on in with from for its it is be as both all each into along over your this that then by "
        "together right wrong",
    )
)


@dataclass(frozen=True)
class SheetLine:
    """One step of a sheet as it was written; `view` where it is borrowed from another view's sheet."""

    number: int
    text: str
    view: str = ""
    problem: str = ""


@dataclass(frozen=True)
class Offer:
    """A line with the operations its words suggest, likeliest first, and the one chosen for it."""

    line: SheetLine
    offered: tuple[Operation, ...]
    chosen: str


def read_sheet(text: str, others: Mapping[str, str], view: str = "") -> list[SheetLine]:
    """A sheet's steps, one a line, numbers taken off; `see view A, steps 5 to 7` becomes those steps.

    Args:
        others: the sheets of the pattern's other views, by view.
    """
    lines: list[SheetLine] = []
    for raw in [line for line in text.splitlines() if line.strip()][:MOST_LINES]:
        words = _NUMBERED.sub("", raw).strip()
        found = _SEE.search(words)
        if found is None:
            lines.append(SheetLine(len(lines) + 1, words))
            continue
        borrowed, problem = _borrowed(found, others, view)
        if problem:
            lines.append(SheetLine(len(lines) + 1, words, problem=problem))
        lines += [SheetLine(len(lines) + 1 + k, step, found["view"]) for k, step in enumerate(borrowed)]
    return lines


def _borrowed(found: re.Match[str], others: Mapping[str, str], view: str) -> tuple[list[str], str]:
    """The steps of another view's sheet; why they are not there."""
    name = next((v for v in others if v.lower() == found["view"].lower()), "")
    if not name or name == view or not others[name].strip():
        return [], f"The steps of view {found['view']} are not written down yet."
    own = [_NUMBERED.sub("", line).strip() for line in others[name].splitlines() if line.strip()]
    first, last = int(found["first"]), int(found["last"] or found["first"])
    if not 1 <= first <= last <= len(own):
        return [], f"View {name} has {len(own)} steps."
    return own[first - 1 : last], ""


def words_of(text: str) -> frozenset[str]:
    """The words of a step that tell it from others, in their plain form.

    >>> sorted(words_of("Stitch the side seams together."))
    ['seam', 'sew', 'side']
    """
    found = set()
    for word in re.findall(r"[a-z][a-z-]+", text.lower()):
        plain = (
            _SAME.get(word)
            or _SAME.get(word.rstrip("s"))
            or (word[:-1] if word.endswith("s") and not word.endswith("ss") and len(word) > 3 else word)
        )
        if word not in _EMPTY and plain not in _EMPTY:
            found.add(plain)
    return frozenset(found)


def match_line(text: str, operations: Sequence[Operation]) -> list[Operation]:
    """The operations that a line may mean, likeliest first."""
    said = words_of(text)
    if not said:
        return []
    scored = []
    for index, op in enumerate(operations):
        own = words_of(op.title) | words_of(op.id.replace("-", " "))
        shared = said & own
        # A verb alone says little: what is sewn or pressed has to be shared too.
        weight = sum(0.4 if word in ("sew", "press", "make", "seam") else 1.0 for word in shared)
        whole = sum(0.4 if word in ("sew", "press", "make", "seam") else 1.0 for word in said)
        if whole and weight / whole >= LEAST and weight >= 0.8:
            scored.append((weight / whole + 0.2 * weight / max(len(own), 1), -index, op))
    return [op for _, _, op in sorted(scored, key=lambda s: s[:2], reverse=True)[:OFFERED]]


def offers(
    library: Library, garment: SewnGarment, lines: Sequence[SheetLine], chosen: Mapping[str, str]
) -> list[Offer]:
    """Every line with what it may mean: what the user chose for it, else the likeliest that no earlier line has taken.

    Args:
        chosen: the operation's id by the line's text, "" for a line that is none.
    """
    known = [op for op, _ in operations_for(library, complete(library, garment))]
    ids = {op.id for op in known}
    taken: set[str] = set()
    out = []
    for line in lines:
        likely = match_line(line.text, known)
        pick = chosen.get(line.text)
        if pick is None or (pick and pick not in ids):
            pick = next((op.id for op in likely if op.id not in taken), "")
        if pick:
            taken.add(pick)
        out.append(Offer(line, tuple(likely), pick))
    return out


@dataclass(frozen=True)
class Compared:
    """Both orders: the sheet's with what it leaves out put in, what it risks, and how far each step is from the safe order."""

    order: tuple[str, ...]
    added: tuple[str, ...]
    findings: tuple[OrderFinding, ...]
    shift: Mapping[str, int]


def compare(library: Library, garment: SewnGarment, matched: Sequence[str]) -> Compared:
    """Hold a sheet's order, as operation ids, against the safe one.

    What the sheet does not name (pressing, samples, marking) is put in just before the first step that needs it, once what it
    needs itself is done. `shift`: by how many places the sheet does a step later (above 0) or earlier than the safe order.
    """
    todo = operations_for(library, complete(library, garment))
    needs = {op.id: wanted for op, wanted in todo}
    sheet = [id_ for id_ in dict.fromkeys(matched) if id_ in needs]
    named = set(sheet)
    objective = OBJECTIVES[garment.schools.get("order", "least-walking")]
    safe = [op.id for op, _ in plan(in_phases(todo), objective).items]
    order: list[str] = []
    for id_ in sheet:
        wanted = _all_before(id_, needs)
        for own in safe:
            if own in wanted and own not in named and own not in order and all(n.id in order for n in needs[own]):
                order.append(own)
        order.append(id_)
    for id_ in safe:  # what is left has to follow, each as soon as it can
        if id_ not in order:
            order.append(id_)
    place = {id_: k for k, id_ in enumerate(safe)}
    shift = {id_: k - place[id_] for k, id_ in enumerate(order) if id_ in named}
    added = tuple(id_ for id_ in order if id_ not in named)
    return Compared(tuple(order), added, tuple(_too_early({op.id: op.title for op, _ in todo}, sheet, needs)), shift)


def _all_before(id_: str, needs: Mapping[str, tuple[Need, ...]]) -> dict[str, tuple[Need, ...]]:
    """Everything that has to be done before an operation, each with the links that lead to it, the shortest way."""
    found: dict[str, tuple[Need, ...]] = {}
    layer: list[tuple[str, tuple[Need, ...]]] = [(id_, ())]
    while layer:
        following = []
        for at, way in layer:
            for need in needs[at]:
                if need.id not in found:
                    found[need.id] = (*way, need)
                    following.append((need.id, found[need.id]))
        layer = following
    return found


def _too_early(
    titles: Mapping[str, str], sheet: Sequence[str], needs: Mapping[str, tuple[Need, ...]]
) -> list[OrderFinding]:
    """The sheet's steps that stand before others which they need, directly or by way of steps it leaves unsaid."""
    found = []
    for at, id_ in enumerate(sheet):
        before = _all_before(id_, needs)
        late = [other for other in sheet[at + 1 :] if other in before]
        if not late:
            continue
        nearest = min(late, key=lambda other: len(before[other]))
        way = before[nearest]
        between = [titles[need.id] for need in way[:-1]]
        by_way = f" Between them lies: {', '.join(reversed(between))}." if between else ""
        text = f"“{titles[id_]}” comes before “{titles[nearest]}”.{by_way} {way[0].why}"
        wish = next((need for need in way if need.law == "method"), None)
        level, law = ("note", "method") if wish else ("stop", way[0].law)
        found.append(OrderFinding(level, "too-early", text, id_, nearest, law))
    return found
