"""What the Fit page shows: each garment's advice and ease, its finished measures, the seams walked, proposals, changes."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import get_args

from rowanseed.core.body import BY_KEY, age_on, measure_again
from rowanseed.core.errors import AdviceError, AlterationError, Finding
from rowanseed.core.fit.advice import Advice, size_advice
from rowanseed.core.fit.alter import refuse_unknown
from rowanseed.core.fit.chart_comparison import AdviceRequest, School, other_way
from rowanseed.core.fit.kinds import Alteration, describe
from rowanseed.core.garment_kinds import ZONES, Zone
from rowanseed.core.lengths import Length, Unit
from rowanseed.core.make.advice import Wearer, advice_request
from rowanseed.core.make.pieces import fit_pieces
from rowanseed.core.pattern.model import EnvelopeSize
from rowanseed.core.pattern.seamwalk import TOLERANCE_MM, WalkedSeam, walk_findings
from rowanseed.formats.ease_svg import EaseLine, ease_svg
from rowanseed.formats.piece_svg import before_after_svg
from rowanseed.formats.walk_svg import walk_svg
from rowanseed.services.remembered import Remembered
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store.makes import MakeGarment
from rowanseed.store.people import Person
from rowanseed.web.deps import today

SCHOOLS: tuple[School, ...] = get_args(School)
ENVELOPE_OFF_MM = 8.0  # pieces and envelope may differ by so much before it is said


@dataclass(frozen=True)
class SchoolAdvice:
    """What one school advises, with its reason, and the size it takes the other way between two sizes."""

    size: str
    why: str
    other: str = ""


@dataclass(frozen=True)
class Measure:
    """One finished measure: the body's, the envelope's for the size, the pieces', the ease they leave and the least."""

    name: str
    body: Length | None
    envelope: float | None
    pieces: float | None
    ease: float | None
    least: float | None

    @property
    def differs(self) -> bool:
        """Whether the pieces measure otherwise than the envelope says, beyond what is lost in measuring."""
        return (
            self.envelope is not None and self.pieces is not None and abs(self.pieces - self.envelope) > ENVELOPE_OFF_MM
        )


@dataclass(frozen=True)
class Fitting:
    """One garment's fitting: the person, the advice of each school, the ease of every size, the picture, the measures."""

    garment: MakeGarment
    person: Person | None
    advice: Advice | None
    ways: Mapping[School, SchoolAdvice]
    problem: str
    lines: list[EaseLine]
    picture: str
    measures: list[Measure]
    stale: Finding | None = None


_PICTURES = Remembered(48)  # of eases, by all that they show


def fitting(view: WorkedMake, garment: MakeGarment, unit: Unit) -> Fitting:
    """A garment's fitting."""
    person = view.people.get(garment.person_id) if garment.person_id else None
    label = view.label(garment) if garment.size else ""
    if person is None or person.latest is None:
        text = "No measurements yet: choose the size yourself, or add them under People." if person else ""
        return Fitting(garment, person, None, {}, text, [], "", _measures(view, label, None, None))
    asked = _asked(view, person)
    measures = _measures(view, label, person, asked)
    try:
        advice = size_advice(asked)
    except AdviceError as error:
        return Fitting(garment, person, None, {}, error.text, [], "", measures)
    lines = _ease_lines(view, person, label, asked)
    chosen = garment.size or advice.size
    cut = {zone: view.zones_of(garment).get(zone, chosen) for zone in ZONES}
    advised, key = {z.zone: z.size for z in advice.zones}, str(garment.id)
    told = (repr(lines), repr(advised), repr(cut), unit, key)
    picture = _PICTURES.once(told, lambda: ease_svg(lines, advised, cut, unit, key))
    stale = measure_again(person.latest.taken_on, today(), person.is_child)
    return Fitting(garment, person, advice, _ways(asked), "", lines, picture, measures, stale)


def _asked(view: WorkedMake, person: Person) -> AdviceRequest:
    assert person.latest is not None
    shell = view.role("self")
    cloth = shell.cloth.cloth if shell and shell.cloth else None
    age = age_on(person.born_on, today()) if person.born_on and person.is_child else None
    underlined = any(p.role == "underlining" for p in view.drawn.pieces_of(view.make.view))
    wearer = Wearer(person.latest.values, person.is_child, age)
    return advice_request(view.drawn, wearer, view.make.plan, cloth, underlined, view.settings.ease_table)


class _Asked:
    """What advice is asked of, as a key: what is said alike is answered alike."""

    def __init__(self, request: AdviceRequest) -> None:
        self.request, self.said = request, repr(request)

    def __hash__(self) -> int:
        return hash(self.said)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self.said == other.said


def _ways(asked: AdviceRequest) -> Mapping[School, SchoolAdvice]:
    """What every school would say, both ways between two sizes."""
    return _every_way(_Asked(asked))


@lru_cache(maxsize=128)
def _every_way(key: _Asked) -> Mapping[School, SchoolAdvice]:
    asked = key.request
    ways: dict[School, SchoolAdvice] = {}
    for school in SCHOOLS:
        try:
            own = replace(asked, school=school)
            advice, other = size_advice(own), size_advice(other_way(own))
            reason = next(f.text for f in advice.findings if f.code == "reason")
            ways[school] = SchoolAdvice(
                advice.size, reason.partition(": ")[2], other.size if other.size != advice.size else ""
            )
        except AdviceError as error:
            ways[school] = SchoolAdvice("–", error.text)
    return ways


def _ease_lines(view: WorkedMake, person: Person, label: str, asked: AdviceRequest) -> list[EaseLine]:
    """For each level that both body and pattern have, what every size leaves, and what the pieces leave as they will be cut."""
    assert person.latest is not None
    girths = view.girths(label) if label else {}
    lines = []
    for key, body in person.latest.values.items():
        zone = next((z for z in ZONES if z == key), None)
        now = girths[key].mm - body.mm if key in girths else None
        finished = all(key in s.finished for s in view.drawn.sizes)
        rows = [(s.size, s.finished.get(key) if finished else _middle(s, key)) for s in view.drawn.sizes]
        eases = {size: length.mm - body.mm for size, length in rows if length is not None} if zone else {}
        if eases or now is not None:
            lines.append(
                EaseLine(
                    BY_KEY[key].label.lower() if zone is None else zone,
                    body,
                    finished,
                    eases,
                    zone,
                    now,
                    asked.least_ease(zone) if zone else 0.0,
                )
            )
    return sorted(lines, key=lambda line: (line.zone is None, ZONES.index(line.zone) if line.zone else 0))


def _middle(size: EnvelopeSize, key: str) -> Length | None:
    """A size's body measure, the middle where it covers a range."""
    low, high = size.body.get(key), size.upto.get(key)
    return Length((low.mm + high.mm) / 2, f"{low.text} to {high.text}", low.unit) if low and high else low


def _measures(view: WorkedMake, label: str, person: Person | None, asked: AdviceRequest | None) -> list[Measure]:
    """The finished measures of a garment, from the envelope and from the pieces as they will be cut."""
    if not label:
        return []
    size = view.blends[label][0] if label in view.blends else label
    printed = next((s.finished for s in view.drawn.sizes if s.size == size), {})
    body = person.latest.values if person and person.latest else {}
    girths = view.girths(label)
    out = []
    for key in (k for k in BY_KEY if k in printed or k in girths):
        envelope, pieces = printed.get(key), girths.get(key)
        best = pieces.mm if pieces else envelope.mm if envelope else None
        own = body.get(key)
        zone: Zone | None = next((z for z in ZONES if z == key), None)
        ease = best - own.mm if best is not None and own else None
        least = asked.least_ease(zone) if zone and asked else None
        name = BY_KEY[key].label
        out.append(Measure(name, own, envelope.mm if envelope else None, pieces.mm if pieces else None, ease, least))
    return out


@dataclass(frozen=True)
class Change:
    """A piece that the alterations changed: its picture, and why it followed (empty when it was altered itself)."""

    number: str
    name: str
    picture: str
    because: str


def top_of(view: WorkedMake, number: str) -> float:
    """The x of a piece's top in the first garment's size, from which a tape measures; 0 while it has no outline."""
    shapes = (p.shapes.get(view.sizes[0]) for p in view.drawn.pieces if p.number == number and view.sizes)
    return next((min(x for x, _ in shape.outline) for shape in shapes if shape), 0.0)


def changes(view: WorkedMake, label: str) -> list[Change]:
    """Every piece changed in a size, before and after over each other."""
    if label not in view.altered:
        return []
    because = {f.piece: f.because for f in reversed(view.altered[label].followed)}
    out = []
    for old, new in zip(view.drawn.pieces, view.fitted.pieces, strict=True):
        if label in old.shapes and old.shapes[label] != new.shapes[label]:
            title = f"{old.number} {old.name}, before and after"
            picture = before_after_svg(old.shapes[label], new.shapes[label], title)
            out.append(Change(old.number, old.name, picture, because.get(old.number, "")))
    return out


@dataclass(frozen=True)
class Row:
    """One alteration of the stack: its words, what followed it, and what was left though it joins, as (number, name, why)."""

    number: int
    alteration: Alteration
    words: str
    followed: list[tuple[str, str, str]]
    left: list[tuple[str, str, str]]


def stack(view: WorkedMake, label: str) -> list[Row]:
    """The alterations with what each one carried, in a size."""
    done = view.altered.get(label)
    names = {p.number: p.name for p in view.drawn.pieces}
    rows = []
    for n, alteration in enumerate(view.make.plan.alterations):
        followed = done.followed_by[n] if done else ()
        left = done.left_by[n] if done else ()
        rows.append(
            Row(
                n,
                alteration,
                describe(alteration, top_of(view, alteration.piece)),
                [(f.piece, names.get(f.piece, ""), f.because) for f in followed],
                [(f.piece, names.get(f.piece, ""), f.because) for f in left],
            )
        )
    return rows


@dataclass(frozen=True)
class SeamRow:
    """One seam walked: the words for both sides, its picture and what is wrong with it."""

    a: str
    b: str
    walked: WalkedSeam
    picture: str
    findings: list[Finding]

    @property
    def sound(self) -> bool:
        """Whether its sides meet as meant."""
        return not self.findings and abs(self.walked.off_mm) <= TOLERANCE_MM


def seam_rows(view: WorkedMake, label: str, unit: Unit) -> list[SeamRow]:
    """Every seam of the view in a size, walked; those that do not meet first."""
    if not label:
        return []
    names = {p.number: p.name for p in view.drawn.pieces}
    shown = {p.number for p in view.drawn.pieces_of(view.make.view)}
    rows = [
        seam_row(walked, names, walk_svg(walked, names, unit))
        for walked in view.walked(label)
        if all(number in shown for number, _ in walked.seam.edges)
    ]
    return sorted(rows, key=lambda row: row.sound)


def seam_row(walked: WalkedSeam, names: Mapping[str, str], picture: str) -> SeamRow:
    """A walked seam with the words for its sides and what is wrong with it."""

    def words(edges: tuple[tuple[str, str], ...]) -> str:
        counted = [(e, edges.count(e)) for e in dict.fromkeys(edges)]
        times = {e: f", {c} times" if c > 1 else "" for e, c in counted}
        return " + ".join(f"{e[0]} {names.get(e[0], '')}, {e[1]}{times[e]}" for e, _ in counted)

    a, b = (words(side) for side in walked.seam.sides)
    return SeamRow(a, b, walked, picture, walk_findings([walked]))


def refusal(view: WorkedMake, label: str, wanted: Alteration) -> AlterationError | None:
    """Why an alteration cannot be taken up at all, None where it can."""
    pieces, _ = fit_pieces(view.drawn, label) if label else ([], [])
    try:
        refuse_unknown(wanted, {p.id: p for p in pieces})
    except AlterationError as error:
        return error
    return None
