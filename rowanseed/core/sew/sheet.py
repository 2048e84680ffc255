"""The sheet's own steps: short lines, matched to operations by their words, borrowed from other views, held against a safe order.

Matching offers, it never forces: a line may stay without an operation.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.gravity import gravity
from rowanseed.core.sew.matching import guesses, read_line, verbs_of
from rowanseed.core.sew.model import Library, Need, Operation, OwnStep, Place, SewnGarment
from rowanseed.core.sew.order import OBJECTIVES
from rowanseed.core.sew.planner import in_phases, plan
from rowanseed.core.sew.sheet_steps import PlacedLine, sheet_steps

MOST_LINES = 300
_NUMBERED = re.compile(r"^\s*(?:step\s*)?\d{1,3}\s*[.):-]\s*|^\s*[-*•]\s+", re.IGNORECASE)
_SEE = re.compile(
    r"\b(?:see|as (?:in|for)|repeat|follow)\s+view\s+(?P<view>[\w-]{1,40})\W{0,3}\s*steps?\s+(?P<first>\d{1,3})"
    r"(?:\s*(?:to|-|–|through)\s*(?P<last>\d{1,3}))?",
    re.IGNORECASE,
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
    """A line with the operations its words suggest, likeliest first, how sure each is, and what is chosen for it.

    `chosen`: ids joined by a blank, "" for none; `asked`: whether the sewist said so herself.
    """

    line: SheetLine
    offered: tuple[Operation, ...]
    chosen: str
    sure: tuple[float, ...] = ()
    asked: bool = False

    @property
    def ids(self) -> tuple[str, ...]:
        """The operations that the line stands for."""
        return tuple(self.chosen.split())


def read_sheet(text: str, others: Mapping[str, str], view: str = "") -> list[SheetLine]:
    """A sheet's steps, one a line, numbers taken off; `see view A, steps 5 to 7` becomes those steps.

    Args:
        others: the sheets of the pattern's other views, by view.
    """
    lines: list[SheetLine] = []
    for words in _steps_of(text)[:MOST_LINES]:
        found = _SEE.search(words)
        if found is None:
            lines.append(SheetLine(len(lines) + 1, words))
            continue
        borrowed, problem = _borrowed(found, others, view)
        if problem:
            lines.append(SheetLine(len(lines) + 1, words, problem=problem))
        lines += [SheetLine(len(lines) + 1 + k, step, found["view"]) for k, step in enumerate(borrowed)]
    return lines


def _steps_of(text: str) -> list[str]:
    """The words of a sheet's steps, numbers taken off; in a numbered one, lines that go on are put to their step."""
    return [
        _NUMBERED.sub("", step.text).strip()
        for step in sheet_steps([PlacedLine(line) for line in text.splitlines()]).steps
    ]


def _borrowed(found: re.Match[str], others: Mapping[str, str], view: str) -> tuple[list[str], str]:
    """The steps of another view's sheet; why they are not there."""
    name = next((v for v in others if v.lower() == found["view"].lower()), "")
    if not name or name == view or not others[name].strip():
        return [], f"The steps of view {found['view']} are not written down yet."
    own = _steps_of(others[name])
    first, last = int(found["first"]), int(found["last"] or found["first"])
    if not 1 <= first <= last <= len(own):
        return [], f"View {name} has {len(own)} steps."
    return own[first - 1 : last], ""


def match_line(text: str, operations: Sequence[Operation]) -> list[Operation]:
    """The operations that a line may mean, likeliest first."""
    return [guess.operation for guess in guesses(text, operations)]


def offers(
    library: Library, garment: SewnGarment, lines: Sequence[SheetLine], chosen: Mapping[str, str]
) -> list[Offer]:
    """Every line with what it may mean: what the user chose for it, else what it surely means and no earlier line has taken.

    Args:
        chosen: ids of operations by the line's text, joined by a blank, "" for a line that is none of them.
    """
    known = [op for op, _ in operations_for(library, complete(library, garment))]
    ids = {op.id for op in known}
    taken: set[str] = set()
    out = []
    for line in lines:
        reading = read_line(line.text, known, frozenset(taken))
        likely = reading.offered
        pick = chosen.get(line.text)
        if pick is None or not set(pick.split()) <= ids:
            pick = " ".join(op.id for op in reading.tied)
        taken |= set(pick.split())
        asked = line.text in chosen
        out.append(Offer(line, tuple(g.operation for g in likely), pick, tuple(g.sure for g in likely), asked))
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
    return Compared(tuple(order), added, tuple(_too_early({op.id: op for op, _ in todo}, sheet, needs)), shift)


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
    ops: Mapping[str, Operation], sheet: Sequence[str], needs: Mapping[str, tuple[Need, ...]]
) -> list[OrderFinding]:
    """The sheet's steps that stand before others which they need, directly or by way of steps it leaves unsaid."""
    found = []
    laws = {id_: tuple(need for need in wanted if need.law != "method") for id_, wanted in needs.items()}
    for at, id_ in enumerate(sheet):
        for asked in (laws, needs):  # what a law forbids is said before what a method only wishes
            before = _all_before(id_, asked)
            late = [other for other in sheet[at + 1 :] if other in before]
            if late:
                break
        else:
            continue
        nearest = min(late, key=lambda other: len(before[other]))
        way = before[nearest]
        between = [ops[need.id].title for need in way[:-1]]
        by_way = f" Between them lies: {', '.join(reversed(between))}." if between else ""
        text = f"“{ops[id_].title}” comes before “{ops[nearest].title}”.{by_way} {way[0].why}"
        law = way[0].law if asked is laws else "method"
        level, kind = gravity(ops[nearest], ops[id_], law, "asked" if law != "shape" else "edge")
        found.append(OrderFinding(level, "too-early", text, id_, nearest, law, kind=kind))
    return found


def operations_meant(matched: Sequence[Offer]) -> list[str]:
    """The ids of operations that a sheet's lines stand for, in the sheet's order."""
    return [id_ for offer in matched for id_ in offer.ids]


LINE = "line-"  # how the ids of steps begin that are a sheet's lines
PLACE_OF: Mapping[str, Place] = {
    "press": "iron", "fuse": "iron", "sew": "machine", "stay": "machine", "topstitch": "machine", "gather": "machine",
    "hem": "machine", "finish": "machine", "fell": "hand", "baste": "hand",
}  # fmt: skip


def lines_as_steps(matched: Sequence[Offer]) -> tuple[OwnStep, ...]:
    """The sheet's lines that mean none of the operations, as steps in their own words, each after what stands before it."""
    found: list[OwnStep] = []
    before = ""
    for offer in matched:
        if offer.ids:
            before = offer.ids[-1]
        elif not offer.line.problem:
            verbs = verbs_of(offer.line.text)
            place: Place = next((at for verb, at in PLACE_OF.items() if verb in verbs), "table")
            after = (before,) if before else ()
            found.append(OwnStep(f"{LINE}{offer.line.number}", offer.line.text[:300], place, 10, after))
            before = found[-1].id
    return tuple(found)


def with_lines(order: Sequence[str], lines: Sequence[OwnStep]) -> tuple[str, ...]:
    """An order with steps put in, each just after the step it comes after, at the beginning where it names none."""
    out = list(order)
    for k, line in enumerate(lines):
        at = out.index(line.after[0]) + 1 if line.after and line.after[0] in out else (0 if k == 0 else len(out))
        out.insert(at, line.id)
    return tuple(out)
