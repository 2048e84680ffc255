"""Which size, and is it enough: the first question, answered on one page from an envelope, a tape measure and a piece of cloth."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Request, Response

from rowanseed.core.body import BY_KEY
from rowanseed.core.fit.body_charts import CHARTS, SOURCE
from rowanseed.core.fit.chart_comparison import AdviceRequest
from rowanseed.core.garment_kinds import ZONES, Zone
from rowanseed.core.lengths import Unit
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.notions import KIND_WORDS
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Printed
from rowanseed.core.pattern.printed_text import read_printed
from rowanseed.core.pattern.size_table import read_size_table
from rowanseed.core.pattern.usual import USUAL_GARMENTS
from rowanseed.formats.ease_svg import EaseLine, ease_svg
from rowanseed.formats.garment_svg import garment_svg
from rowanseed.services.first_answer import VIEW, FirstAnswer, FirstAsk, first_answer, usual_length
from rowanseed.store import cloths, db, makes, patterns, people
from rowanseed.store.settings import Settings, put_settings
from rowanseed.web.deps import Home, Household, Work, page_or_part, see_other, today
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(include_in_schema=False)
BODY = ("bust", "waist", "hip", "height")
# Every field of the page, in its order: a question is its address, so that it survives leaving the page.
FIELDS = (
    "garment", "unit", *BODY, "chart", "width", "length", "washed", "nap", "table", "printed", "notions", "person",
)  # fmt: skip
WASHED = (("", "not yet"), ("yes", "yes"))
NAP = (("", "no"), ("one-way", "yes, all pieces one way"))
NEIGHBOURS = 1  # sizes drawn on each side of the one advised


@dataclass(frozen=True)
class FirstPage:
    """What the page shows: the form as typed, what is asked, the answer, the picture of the ease, the sizes beside it."""

    form: Form
    ask: FirstAsk | None
    answer: FirstAnswer | None
    picture: str = ""
    near: tuple[EnvelopeSize, ...] = ()
    query: str = ""
    near_finished: bool = False
    long_mm: float = 0.0


@router.get("/which-size", name="which_size")
def show(request: Request, home: Home, work: Work) -> Response:
    """The question with its answer beside it; for htmx the answer alone, with what was understood of each field."""
    partial = "HX-Request" in request.headers
    first = first_page(request, home, work)
    context = {"first": first, "partial": partial, "read_in": first.form.unit, **first_context(home)}
    return page_or_part(request, home, "first/show.html", "first/_answer.html", context)


def first_context(home: Household) -> dict[str, object]:
    """What the form offers."""
    return {
        "garments": [(g, garment_svg(g.key)) for g in USUAL_GARMENTS.values()],
        "charts": [(key, chart.words) for key, chart in CHARTS.items()],
        "washed": WASHED,
        "nap_choices": NAP,
        "tapes": BY_KEY,
        "folk": people.people(home.conn),
        "chart_source": SOURCE,
        "kind_words": KIND_WORDS,
    }


def first_page(request: Request, home: Household, work: Work) -> FirstPage:
    """Read the question out of the address and answer it as far as it goes."""
    typed = {key: request.query_params[key] for key in FIELDS if key in request.query_params}
    form = _form(typed, home)
    ask = _ask(form)
    if ask is None:
        return FirstPage(form, None, None)
    store = request.app.state.database
    who = request.client.host if request.client else ""
    answer = first_answer(ask, _in_unit(home.settings, form), work, f"{store}:first:{who}")
    near = _near(ask, answer)
    finished = bool(near) and all(zone in size.finished for size in near for zone in ask.usual.measures)
    picture, long_mm = _picture(ask, answer, form.unit), usual_length(ask, answer)
    return FirstPage(form, ask, answer, picture, near, urlencode(typed), finished, long_mm)


def _form(typed: Mapping[str, str], home: Household) -> Form:
    """The form as typed; a person's own measures where one is named and nothing else was typed."""
    own = dict(typed)
    unit: Unit = "in" if own.get("unit", home.unit) == "in" else "cm"
    who = whole_number(own.get("person", ""))
    if who is not None:
        person = people.person(home.conn, who)
        for key in BODY:
            if person.latest is not None and key in person.latest.values:
                own[key] = own.get(key) or person.latest.values[key].text
    return Form({"unit": unit, **own}, unit)


def _unit(form: Form) -> Literal["cm", "in"]:
    return "in" if form.unit == "in" else "cm"


def _in_unit(settings: Settings, form: Form) -> Settings:
    """The household's settings in the page's unit, with its shops' step."""
    unit = _unit(form)
    if unit == settings.unit:
        return settings
    return replace(settings, unit=unit, step="1/8 yd" if unit == "in" else "10 cm")


def _ask(form: Form) -> FirstAsk | None:
    """What is asked, with the problems in the form; None while no garment is chosen or nothing of the body is known."""
    usual = USUAL_GARMENTS.get(form.typed.get("garment", ""))
    if usual is None:
        if form.typed.get("garment"):
            form.errors["garment"] = "Choose a garment."
        return None
    body = {}
    for key in (*usual.measures, "height"):
        found = form.length(key, most_mm=2500)
        if found is not None and found.mm < 300:
            form.errors[key] = f"{found.echo()} is no body's. Check the unit."
        elif found is not None:
            body[key] = found
    chart = form.choice("chart", tuple(CHARTS))
    sizes, own = _sizes(form, chart)
    width, length = form.length("width", most_mm=4000), form.length("length", most_mm=60_000)
    if width is not None and width.mm < 200:
        form.errors["width"] = f"{width.echo()} wide is a ribbon. Check the unit."
        width = None
    printed = _printed(form, sizes)
    if not any(key in body for key in usual.measures) and not (chart == "children" and "height" in body):
        return None
    return FirstAsk(
        usual, body, sizes, "" if own else chart, width, length, form.typed.get("washed") == "yes",
        form.typed.get("nap") == "one-way", printed, form.text("notions"),
    )  # fmt: skip


def _printed(form: Form, sizes: tuple[EnvelopeSize, ...]) -> tuple[Printed, ...]:
    """The lengths that the envelope prints; nothing while its sizes are not understood."""
    if "table" in form.errors:
        return ()
    read = read_printed(form.text("printed", most=8000), [VIEW], [s.size for s in sizes], form.unit)
    if read.problems:
        form.errors["printed"] = " ".join(p[0].upper() + p[1:] for p in read.problems[:3])
        return ()
    if read.printed:
        form.echoes["printed"] = f"Understood: {read.echo(form.unit)}."
    return tuple(read.printed)


def _sizes(form: Form, chart: str) -> tuple[tuple[EnvelopeSize, ...], bool]:
    """The envelope's own table where one was pasted and understood, else the usual chart; whether it is the envelope's."""
    read = read_size_table(form.text("table", most=8000), form.unit)
    if read.problems:
        form.errors["table"] = " ".join(read.problems[:3])
    elif read.sizes:
        form.echoes["table"] = f"Understood: {read.echo()}."
        return read.sizes, True
    return CHARTS[chart].sizes(), False


def _near(ask: FirstAsk, answer: FirstAnswer) -> tuple[EnvelopeSize, ...]:
    """The size advised and those beside it."""
    if answer.advice is None:
        return ()
    names = [s.size for s in ask.sizes]
    taken = [names.index(z.size) for z in answer.advice.zones] + [names.index(answer.advice.size)]
    return ask.sizes[max(0, min(taken) - NEIGHBOURS) : max(taken) + NEIGHBOURS + 1]


def _picture(ask: FirstAsk, answer: FirstAnswer, unit: Unit) -> str:
    """What each of the near sizes leaves at every zone, drawn."""
    if answer.advice is None or answer.asked is None:
        return ""
    lines = [line for zone in ZONES if (line := _ease_line(ask, answer.asked, zone, _near(ask, answer))) is not None]
    advised: dict[Zone, str] = {z.zone: z.size for z in answer.advice.zones}
    cut: dict[Zone, str] = dict.fromkeys(ZONES, answer.advice.size)
    return ease_svg(lines, advised, cut, unit) if lines else ""


def _ease_line(ask: FirstAsk, asked: AdviceRequest, zone: Zone, near: tuple[EnvelopeSize, ...]) -> EaseLine | None:
    body = ask.body.get(zone)
    finished = all(zone in size.finished for size in near)
    rows = [(s.size, (s.finished if finished else s.body).get(zone), s.upto.get(zone)) for s in near]
    eases = {
        size: (low.mm if high is None or finished else (low.mm + high.mm) / 2) - body.mm
        for size, low, high in rows
        if low is not None and body is not None
    }
    return EaseLine(zone, body, finished, eases, zone, None, asked.least_ease(zone)) if body and eases else None


@router.post("/which-size/keep", name="which_size_keep")
async def keep(request: Request, home: Home) -> Response:
    """Keep the question as a make: a person, a pattern as far as its envelope is known, a cloth, and the size."""
    sent = await read_form(request, home.unit)
    form = _form({key: sent.typed[key] for key in FIELDS if key in sent.typed}, home)
    ask = _ask(form)
    name, whom = sent.text("name", "A name", 80), sent.text("whom", most=80)
    size = sent.text("size", "A size", 40)
    if ask is None or not form.sound or not sent.sound or size not in [s.size for s in ask.sizes]:
        typed = {key: value for key, value in sent.typed.items() if key in FIELDS}
        return see_other(request, f"/which-size?{urlencode(typed)}")
    with db.write(home.conn):
        if home.unit != form.unit:
            put_settings(home.conn, _in_unit(home.settings, form))
        make_id = _kept(home, form, ask, name, whom, size)
    return see_other(request, f"/makes/{make_id}/fit")


def _kept(home: Household, form: Form, ask: FirstAsk, name: str, whom: str, size: str) -> int:
    """Store what was asked; the new make's id. Within a write."""
    person_id = whole_number(form.typed.get("person", ""))
    if person_id is None and ask.body:
        person_id = people.add_person(home.conn, whom or "Me", ask.chart == "children")
        people.add_set(home.conn, person_id, today(), ask.body)
    pattern: Pattern = ask.pattern(name)
    pattern_id = patterns.add_pattern(home.conn, pattern)
    make_id = makes.add_make(home.conn, name, pattern_id, VIEW, [person_id], today(), MakePlan())
    (garment,) = makes.make(home.conn, make_id).garments
    makes.put_size(home.conn, make_id, garment.id, size)
    if ask.width is not None:
        cloth = ask.cloth(form.unit, f"Cloth for {name}"[:80])
        note = "" if ask.washed else "Shrinkage of 5 % is a usual guess: wash a square and put yours in."
        cloth_id = cloths.add_cloth(home.conn, replace(cloth, note=note))
        makes.put_cloth(home.conn, make_id, "self", cloth_id)
    return make_id
