"""A pattern's envelope as a form: sizes with body and finished measurements, views, what it was drawn for."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response
from starlette.datastructures import FormData

from rowanseed.core.errors import LengthError
from rowanseed.core.fit.body_charts import CHARTS, SOURCE
from rowanseed.core.garment_kinds import CUTS, ZONES, GarmentKind, Zone
from rowanseed.core.lengths import Length, Unit, parse_length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Printed, View
from rowanseed.core.pattern.printed_text import read_printed
from rowanseed.core.pattern.size_table import SizeTable, read_size_table
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.figures_form import LABELS, read_figures, typed_figures
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/patterns", include_in_schema=False)
GARMENTS: tuple[GarmentKind, ...] = ("top", "dress", "skirt", "trousers", "jacket", "coat")
CELLS = (*(("body", key) for key in (*ZONES, "height")), *(("finished", zone) for zone in ZONES))
# Which columns of the size table a garment needs; the others are shown by a tick, or where something stands in them.
NEEDS: dict[str, tuple[Zone, ...]] = {
    **dict.fromkeys(("top", "dress", "jacket", "coat"), ZONES), "skirt": ("waist", "hip"), "trousers": ("waist", "hip"),
}  # fmt: skip
LEAPS = 1.6  # from one size to the next no measure grows by more
FOLLOWS = 1.35
RANGE_SIGNS = ("–", "—", " to ", "-")


FOLDED = (
    "label", "views", "notions", "printed", "note", "cup", "drafted_height", "cut", "least_stretch", *(key for key, _ in LABELS),
)  # fmt: skip


@dataclass
class SizeLine:
    """One row of the size table as typed, with its errors by cell."""

    size: str
    cells: dict[str, str]
    errors: dict[str, str]


@router.get("/new", name="pattern_new")
def new(request: Request, home: Home) -> Response:
    """The form for an envelope."""
    lines, note = _begun_with(request)
    empty = [SizeLine("", {}, {}) for _ in range(3)]
    return _envelope_form(request, home, Form({"views": "A", "note": note}), lines or empty, None, 200)


def _begun_with(request: Request) -> tuple[list[SizeLine], str]:
    """The rows of the usual body chart that the address asks for, and the note that says so; none where it asks for none."""
    chart = CHARTS.get(request.query_params.get("chart", ""))
    if chart is None:
        return [], ""
    return [_line(s) for s in chart.sizes()], f"Body chart: {chart.words}, {SOURCE}; not the pattern's own."


@router.post("/new")
async def add(request: Request, home: Home) -> Response:
    """Add a pattern by its envelope."""
    form = await read_form(request, home.unit)
    pattern, lines = _read_envelope(form, await request.form(), home.unit, Pattern(""))
    if pattern is None:
        return _envelope_form(request, home, form, lines, None, 422)
    with db.write(home.conn):
        pattern_id = patterns.add_pattern(home.conn, pattern)
    return see_other(request, f"/patterns/{pattern_id}")


@router.post("/echo", name="cell_echo")
async def echo(request: Request, home: Home) -> Response:
    """What the words of a cell of the size table were understood as."""
    form = await read_form(request, home.unit)
    name = next(iter(form.typed), "")
    text = form.typed.get(name, "").strip()
    line = SizeLine("", {name: text} if text else {}, {})
    size = _read_size(line, home.unit)
    ends = [length for held in (size.body, size.upto, size.finished) for length in held.values()]
    if name in line.errors:
        form.errors[name] = line.errors[name]
    elif ends:
        form.echoes[name] = " to ".join(end.echo() for end in ends)
    return page(request, home, "patterns/_cell.html", {"form": form, "name": name})


@router.post("/echo/table", name="table_echo")
async def echo_table(request: Request, home: Home) -> Response:
    """What a pasted size table was understood as."""
    form = await read_form(request, home.unit)
    _read_table(form)
    return page(request, home, "patterns/_cell.html", {"form": form, "name": "table"})


@router.post("/echo/printed", name="printed_echo")
async def echo_printed(request: Request, home: Home) -> Response:
    """What the lines of printed lengths were understood as, by the views and sizes that stand in the form."""
    form = await read_form(request, home.unit)
    views = [v.name for v in read_views(form, Pattern(""))]
    form.errors.clear()
    _, sizes = _read_sizes(Form({}), await request.form(), home.unit)
    _read_printed(form, views, [s.size for s in sizes])
    return page(request, home, "patterns/_cell.html", {"form": form, "name": "printed"})


@router.get("/{pattern_id}/envelope", name="envelope")
def edit_envelope(request: Request, home: Home, pattern_id: int) -> Response:
    """The envelope's form, filled in."""
    stored = patterns.envelope(home.conn, pattern_id)
    p = stored.pattern
    views = "\n".join(f"{v.name}: {v.description}" if v.description else v.name for v in p.views)
    typed = {
        "name": p.name,
        "label": p.label,
        "garment": p.garment,
        "views": views,
        "notions": p.notions,
        "note": p.note,
        "printed": "\n".join(_printed_line(f) for f in p.printed),
    }
    if p.drafted_height:
        typed["drafted_height"] = p.drafted_height.text
    if p.cup:
        typed["cup"] = p.cup.text
    typed.update(cut=p.cut, least_stretch=f"{p.least_stretch * 100:g}" if p.least_stretch else "")
    typed.update(typed_figures(p.figures))
    lines = [_line(s) for s in p.sizes]
    begun, note = _begun_with(request)
    if begun and not any(s.body for s in p.sizes):
        lines, typed["note"] = begun, " ".join(filter(None, (p.note, note)))
    return _envelope_form(request, home, Form(typed), lines or [SizeLine("", {}, {})], stored, 200)


@router.post("/{pattern_id}/envelope")
async def change_envelope(request: Request, home: Home, pattern_id: int) -> Response:
    """Change the envelope."""
    form = await read_form(request, home.unit)
    stored = patterns.envelope(home.conn, pattern_id)
    pattern, lines = _read_envelope(form, await request.form(), home.unit, stored.pattern)
    if pattern is None:
        return _envelope_form(request, home, form, lines, stored, 422)
    with db.write(home.conn):
        patterns.update_envelope(home.conn, pattern_id, form.version(), pattern)
    return see_other(request, f"/patterns/{pattern_id}")


def _envelope_form(
    request: Request,
    home: Household,
    form: Form,
    lines: list[SizeLine],
    stored: patterns.StoredPattern | None,
    status: int,
) -> Response:
    needs = {g: [f"{kind}_{z}" for kind in ("body", "finished") for z in zones] for g, zones in NEEDS.items()}
    context = {
        "form": form,
        "lines": lines,
        "stored": stored,
        "garments": GARMENTS,
        "cells": CELLS,
        "needs": needs,
        "now_needed": needs.get(form.typed.get("garment", ""), needs["top"]),
        "every": any(_beyond(form.typed.get("garment", "top"), line) for line in lines),
        "figure_labels": LABELS,
        "more_open": bool(form.errors)
        or any(form.typed.get(name) for name in FOLDED if name != "views")
        or form.typed.get("views", "A").strip() != "A",
        "charts": {} if any(line.cells for line in lines) else CHARTS,
    }
    return page(request, home, "patterns/envelope.html", context, status)


def _beyond(garment: str, line: SizeLine) -> bool:
    """Whether a row holds what its garment does not need."""
    own = {f"{kind}_{zone}" for kind in ("body", "finished") for zone in NEEDS.get(garment, ZONES)}
    return any(key not in own for key in line.cells)


def _read_envelope(form: Form, data: FormData, unit: Unit, before: Pattern) -> tuple[Pattern | None, list[SizeLine]]:
    """The pattern an envelope form describes (None when something is wrong), and its size rows as typed."""
    name = form.text("name", "A name", 120)
    height = form.length("drafted_height", most_mm=2500)
    views = read_views(form, before)
    lines, sizes = _with_pasted(form, *_read_sizes(form, data, unit))
    printed = _read_printed(form, [v.name for v in views], [s.size for s in sizes])
    pattern = replace(
        before,
        name=name,
        label=form.text("label"),
        garment=form.choice("garment", GARMENTS),
        drafted_height=height,
        sizes=sizes,
        views=views,
        notions=form.text("notions"),
        note=form.text("note"),
        cut=form.choice("cut", CUTS),
        least_stretch=form.percent("least_stretch", 3.0),
        printed=printed,
        cup=form.length("cup", most_mm=200),
        figures=read_figures(form),
    )
    return (pattern if form.sound else None), lines


def _with_pasted(
    form: Form, lines: list[SizeLine], sizes: tuple[EnvelopeSize, ...]
) -> tuple[list[SizeLine], tuple[EnvelopeSize, ...]]:
    """The rows with those of a table that was pasted in one go: a size that stands in both is as it was pasted."""
    read = _read_table(form)
    if not read.sizes:
        return lines, sizes
    pasted = {s.size: s for s in read.sizes}
    kept = [(line, size) for line, size in zip(lines, sizes, strict=False) if size.size not in pasted]
    return [*(line for line, _ in kept), *map(_line, read.sizes)], (*(size for _, size in kept), *read.sizes)


def _read_table(form: Form) -> SizeTable:
    """A pasted size table; what was understood, or what is asked, stands beside its field."""
    read = read_size_table(form.text("table", most=8000), form.unit)
    if read.problems:
        form.errors["table"] = " ".join(read.problems[:3])
        return SizeTable()
    if read.sizes:
        form.echoes["table"] = f"Understood: {read.echo()}."
    return read


def read_views(form: Form, before: Pattern) -> tuple[View, ...]:
    """Views, one a line: `A: with a collar`. Their features are kept by name."""
    kept = {v.name: v.features for v in before.views}
    views: dict[str, View] = {}
    for line in form.typed.get("views", "").splitlines():
        name, _, words = line.partition(":")
        if name.strip():
            views[name.strip()[:40]] = View(name.strip()[:40], words.strip(), kept.get(name.strip(), {}))
    if not views:
        form.errors["views"] = "Name at least one view, such as A."
    if any(v.description for v in views.values()) or len(views) > 1:
        said = "; ".join(f"{v.name}, {v.description}" if v.description else v.name for v in views.values())
        form.echoes["views"] = f"Understood: {said}."
    return tuple(views.values()) or (View("A"),)


def _printed_line(printed: Printed) -> str:
    nap = "; with nap" if printed.one_way else ""
    return f"{printed.view}; {', '.join(printed.sizes)}; {printed.width.text}; {printed.length.text}{nap}"


def _read_printed(form: Form, views: Sequence[str], sizes: Sequence[str]) -> tuple[Printed, ...]:
    """The lengths that the envelope prints; what is understood is told beside the field, what is not is asked about there."""
    read = read_printed(form.text("printed", most=8000), views, sizes, form.unit)
    if read.problems:
        form.errors["printed"] = " ".join(problem[0].upper() + problem[1:] for problem in read.problems[:3])
        return ()
    if read.printed:
        form.echoes["printed"] = f"Understood: {read.echo(form.unit)}."
    return tuple(read.printed)


def _line(size: EnvelopeSize) -> SizeLine:
    """A size as its row of the form."""
    cells = {}
    for kind, key in CELLS:
        held: Length | None = getattr(size, kind).get(key)
        if held is not None:
            end = size.upto.get(key) if kind == "body" else None
            cells[f"{kind}_{key}"] = f"{held.text} – {end.text}" if end else held.text
    if size.age:
        first, last = size.age
        cells["age"] = f"{first:g}" if first == last else f"{first:g} – {last:g}"
    return SizeLine(size.size, cells, {})


def _read_sizes(form: Form, data: FormData, unit: Unit) -> tuple[list[SizeLine], tuple[EnvelopeSize, ...]]:
    names = [f"{kind}_{key}" for kind, key in CELLS] + ["age"]
    columns = {name: [str(v) for v in data.getlist(name)] for name in names}
    lines: list[SizeLine] = []
    sizes: list[EnvelopeSize] = []
    for at, raw in enumerate(str(v).strip() for v in data.getlist("size")):
        cells = {key: values[at].strip() for key, values in columns.items() if at < len(values) and values[at].strip()}
        if not raw and not cells:
            continue
        line = SizeLine(raw, cells, {})
        size = _read_size(line, unit)
        if not raw:
            line.errors["size"] = "Which size?"
        if raw in [s.size for s in sizes]:
            line.errors["size"] = "This size stands here twice."
        form.errors.update({f"size {raw or at + 1}": text for text in line.errors.values()})
        lines.append(line)
        sizes.append(size)
    _refuse_falling(form, lines, sizes)
    return lines or [SizeLine("", {}, {})], tuple(sizes)


def _read_size(line: SizeLine, unit: Unit) -> EnvelopeSize:
    """A row's size; what cannot be read goes into the row's errors."""
    held: dict[str, dict[str, Length]] = {"body": {}, "finished": {}}
    upto: dict[str, Length] = {}
    for kind, key in CELLS:
        text = line.cells.get(f"{kind}_{key}")
        if text is None:
            continue
        try:
            low, high = read_range(text, unit)
        except LengthError as error:
            line.errors[f"{kind}_{key}"] = error.text
            continue
        held[kind][key] = low
        if high is not None and kind == "finished":
            line.errors[f"{kind}_{key}"] = "A finished garment has one measure; write one length."
        elif high is not None:
            upto[key] = high
    return EnvelopeSize(line.size, held["body"], held["finished"], upto, _read_age(line))


def read_range(text: str, unit: Unit) -> tuple[Length, Length | None]:
    """A length, or two of them as a letter size covers: `34–36 in`, `86 cm to 91 cm`; a fraction's dash is not a range.

    Raises:
        LengthError: neither reads as a length.
    """
    for sign in RANGE_SIGNS:
        first, found, second = text.partition(sign)
        if not found or not first.strip() or not second.strip():
            continue
        try:
            high = _with_unit(second.strip(), unit)
            low = _with_unit(first.strip(), high.unit)
        except LengthError:
            continue
        if high.mm > low.mm:
            return low, high
    return _with_unit(text, unit), None


def _with_unit(text: str, unit: Unit) -> Length:
    read = parse_length(text, unit)
    return read if not text[-1].isdecimal() else Length(read.mm, f"{text} {unit}", unit)


def _read_age(line: SizeLine) -> tuple[float, float] | None:
    """The years a child's size is for: `5` or `5-6`."""
    text = line.cells.get("age", "")
    if not text:
        return None
    parts = text.replace("–", "-").replace(" to ", "-").removesuffix("years").split("-")
    try:
        years = [float(part.strip().replace(",", ".")) for part in parts]
    except ValueError:
        years = []
    if len(years) not in (1, 2) or not all(0 <= y <= 120 for y in years) or years[0] > years[-1]:
        line.errors["age"] = "Write years, such as 5 or 5–6."
        return None
    return years[0], years[-1]


def _refuse_falling(form: Form, lines: list[SizeLine], sizes: list[EnvelopeSize]) -> None:
    """Ask about a figure that does not follow the size before it: meant in the other unit, or in the wrong row."""
    for at in range(1, len(sizes)):
        for kind, zone in CELLS:
            small, large = getattr(sizes[at - 1], kind).get(zone), getattr(sizes[at], kind).get(zone)
            if not small or not large or small.mm <= large.mm <= LEAPS * small.mm:
                continue
            other = _in_the_other_unit(lines[at].cells.get(f"{kind}_{zone}", ""), large)
            if other is not None and small.mm * 0.98 <= other.mm <= small.mm * FOLLOWS:
                before = f"{small.echo()} of size {sizes[at - 1].size}"
                text = f"{large.echo()} does not follow {before}. Was {other.text} meant? Write its unit."
            elif large.mm < small.mm:
                text = f"Smaller than size {sizes[at - 1].size}: list the smallest size first."
            else:
                continue
            lines[at].errors[f"{kind}_{zone}"] = text
            form.errors[f"size {sizes[at].size}"] = text


def _in_the_other_unit(typed: str, read: Length) -> Length | None:
    """The same figure in inches for centimetres, or the other way; None where its unit was typed otherwise than usual."""
    figure = typed.strip().rstrip("\"”'").removesuffix("cm").removesuffix("in").strip()
    other: Unit = "cm" if read.unit == "in" else "in"
    try:
        return parse_length(f"{figure} {other}")
    except LengthError:
        return None
