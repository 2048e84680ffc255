"""What a garment is asked for: by its trials and earlier makes, by the measures and the posture of those who wear it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from rowanseed.core.fit.bust_below import BUSTS, taken_out_again
from rowanseed.core.fit.causes import other_ways
from rowanseed.core.fit.chart_comparison import CUP_MM
from rowanseed.core.fit.from_measures import asked_by_measures
from rowanseed.core.fit.kinds import Alteration, describe
from rowanseed.core.fit.posture import asked_by_posture
from rowanseed.core.fit.question import Asked, Question, Sized
from rowanseed.core.fit.record import TRIALS, propose
from rowanseed.core.lengths import format_length
from rowanseed.core.make.pieces import fit_pieces
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_pieces import once
from rowanseed.store.fitnotes import StoredFitNote
from rowanseed.store.people import Person
from rowanseed.web.fitview import top_of

OVER_OTHERS = ("jacket", "coat")  # worn over other clothes: their lengths and shoulders are the design's


@dataclass(frozen=True)
class Proposal:
    """What the fit record asks for: the note and where it comes from, the alteration in words or why there is none.

    `others`: what else it may come from: number, alteration in words, the sign by which that is told.
    """

    stored: StoredFitNote
    origin: str
    alteration: Alteration | None
    words: str
    answer: str
    others: tuple[tuple[int, str, str], ...] = ()


def proposals(view: WorkedMake, label: str) -> list[Proposal]:
    """This make's own findings and those of earlier makes, each with what it would become; open ones first."""
    out = []
    wearers = {g.person_id for g in view.make.garments}
    for stored in (*view.fit_notes, *view.earlier_fit_notes):
        own = stored.make_id == view.make.id
        where = TRIALS.get(stored.note.trial, stored.note.trial)
        day = f"{stored.written_on:%-d %b %Y}"
        origin = f"{where}, {day}" if own else f"{stored.make_name}, {where}, {day}"
        if not own and stored.pattern_id != view.make.pattern_id:
            origin += "; another pattern, so look before you take it over"
        elif not own and stored.person_id is not None and stored.person_id not in wearers:
            origin += f"; on {stored.person_name}, another body, so look before you take it over"
        wanted = propose(stored.note, view.drawn, view.make.view, label) if label else None
        answer = view.make.plan.answered.get(str(stored.id), "")
        if isinstance(wanted, Alteration):
            words = describe(wanted, top_of(view, wanted.piece))
            ways = other_ways(stored.note, view.drawn, view.make.view, label) if not answer else []
            others = tuple(
                (n, describe(w.alteration, top_of(view, w.alteration.piece)), w.told_by) for n, w in enumerate(ways)
            )
            out.append(Proposal(stored, origin, wanted, words, answer, others))
        else:
            text = wanted.text if wanted else "Choose a size first."
            out.append(Proposal(stored, origin, None, text, answer))
    return sorted(out, key=lambda p: bool(p.answer))


@dataclass(frozen=True)
class ByMeasure:
    """An alteration that a body asks for: its words, why, what it does, and the fields of the form that makes it.

    `shown`: its amount as one would type it.
    """

    words: str
    why: str
    effect: str
    fields: Mapping[str, str]
    shown: str = ""


def by_measures(view: WorkedMake, label: str) -> list[ByMeasure]:
    """What a size's pieces, as they would be cut now, are asked by the measures of those who wear that size."""
    if not label:
        return []
    pieces, seams = fit_pieces(view.drawn, label)
    round_the_body = view.drawn.pieces_of(view.make.view, "self")
    again = taken_out_again(round_the_body, pieces, seams, view.make.plan.alterations, view.settings.unit)
    found = [_offered(view, asked) for asked in again]
    wearers = _wearers(view, label)
    for person in wearers:
        asked_of = _asked_of(view, label, person) if person.latest else []
        found += [_offered(view, asked, person.name if len(wearers) > 1 else "") for asked in asked_of]
    return found


def _asked_of(view: WorkedMake, label: str, person: Person) -> list[Asked]:
    question = _question(view, label, person)
    told = repr(replace(question, pieces=()))  # the pieces are told by what they were worked out from
    key = ("asked by measures", *view.altered_from, view.make.view, label, told)
    return once(key, lambda: asked_by_measures(question))


def _question(view: WorkedMake, label: str, person: Person) -> Question:
    shell = view.role("self")
    cloth = shell.cloth.cloth if shell and shell.cloth else None
    return Question(
        _shell_pieces(view, label),
        {key: length.mm for key, length in person.latest.values.items()} if person.latest else {},
        view.settings.unit,
        view.drawn.garment not in OVER_OTHERS,
        view.settings.ease_table,
        cloth.stretch if cloth and cloth.knit else 0.0,
        _cup(view),
        _opens_at_the_neck(view.garment.features),
    )


def _cup(view: WorkedMake) -> float:
    """How much larger than the high bust the fronts are: as drawn, and as this make's bust changes have made them, mm."""
    made = [a.by_mm for a in view.make.plan.alterations if a.kind in BUSTS and a.on]
    return (view.drawn.cup.mm if view.drawn.cup else CUP_MM) + 2 * sum(made)


def _opens_at_the_neck(features: Mapping[str, str]) -> bool:
    """Whether a garment opens so that no head has to go through its neck."""
    opened = any(features.get(name, "none") != "none" for name in ("closure", "front"))
    return opened or features.get("neck-shape", "round") in ("slit", "v-seam")


def by_posture(view: WorkedMake, label: str) -> list[ByMeasure]:
    """What the posture of those who wear a size asks for and was not altered yet."""
    made = {a.kind for a in view.make.plan.alterations}
    wearers = _wearers(view, label) if label else []
    return [
        _offered(view, asked, person.name if len(wearers) > 1 else "")
        for person in wearers
        for asked in asked_by_posture(_shell_pieces(view, label), person.posture)
        if asked.alteration.kind not in made
    ]


def _wearers(view: WorkedMake, label: str) -> list[Person]:
    """Those whose garment is cut in a size, each once."""
    ids = dict.fromkeys(g.person_id for g in view.make.garments if g.person_id and view.label(g) == label)
    return [view.people[id_] for id_ in ids if id_ in view.people]


def _shell_pieces(view: WorkedMake, label: str) -> Sized:
    shown = view.fitted.pieces_of(view.make.view, "self")
    return [(p, p.shapes[label]) for p in shown if label in p.shapes and not p.same_as]


def _offered(view: WorkedMake, asked: Asked, who: str = "") -> ByMeasure:
    a = asked.alteration
    top = top_of(view, a.piece)
    fields = {"kind": a.kind, "piece": a.piece, "by": f"{abs(a.by_mm):.1f} mm", "edge": a.edge}
    fields |= {"less": "on"} if a.by_mm < 0 else {}
    fields |= {"at": f"{a.at_mm - top:.1f} mm"} if a.at_mm is not None else {}
    fields |= {"across": f"{a.across_mm:.1f} mm"} if a.across_mm is not None else {}
    shown = format_length(abs(a.by_mm), view.settings.unit)
    why = f"{who}: {asked.why[0].lower()}{asked.why[1:]}" if who else asked.why
    return ByMeasure(describe(a, top), why, asked.effect, fields, shown)
