"""The stash: lengths of cloth with the facts that decide how they are laid and sewn."""

from dataclasses import replace
from typing import Literal

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import CLOTH_KINDS, PILE_RUNS, WEIGHTS, Cloth
from rowanseed.core.cloth.named import Named, told_by_name
from rowanseed.core.cloth.stash import read_wish, suits
from rowanseed.core.errors import LayError, LengthError, ReckonError
from rowanseed.core.lay.model import Nap
from rowanseed.core.lengths import Length, Unit, format_length, parse_length
from rowanseed.core.prints import PRINT_KINDS
from rowanseed.formats.print_svg import swatch
from rowanseed.services.enough_for import enough_for
from rowanseed.store import cloths, db, makes
from rowanseed.web.bar_list import read_bars, read_print, rows_of, typed_rows
from rowanseed.web.deps import Home, Household, page, page_or_part, see_other
from rowanseed.web.forms import Form, read_form, typed_length, whole_number

router = APIRouter(prefix="/cloths", include_in_schema=False)
LEAST_CLOTH_MM = 100.0  # a shorter or narrower cloth is a scrap
TEXTS = ("name", "kind", "fibre", "weight", "nap", "care", "price", "note", "bought", "pile_runs")
NAPS: tuple[Nap, ...] = ("none", "one-way")
BY_ITS_NAME: Literal["by-name"] = "by-name"
SHELF = 60
MOST_FLAWS = 40
ASKED = ("name", "width", "length", "price", "kind")  # what another page may know of a cloth that is to be added
FLAGS = ("knit", "piled", "slippery", "ravels", "prepared", "stiff", "opaque", "loose", "fur")


@router.get("", name="cloths")
def index(request: Request, home: Home, all: bool = False, wish: str = "") -> Response:
    """The cloths, the first shelf of them unless all are asked for; with a wish, those that suit it first."""
    every = cloths.cloths(home.conn)
    kept_for = makes.cloths_in_use(home.conn)
    form = Form({"wish": wish}, home.unit)
    lacks: dict[int, tuple[str, ...]] = {}
    if wish.strip():
        try:
            asked = read_wish(wish, home.unit, tuple(c.cloth.fibre for c in every))
            lacks = {c.id: suits(c.cloth, asked, ", ".join(kept_for.get(c.id, ())), home.unit).lacks for c in every}
            every = sorted(every, key=lambda c: len(lacks[c.id]))
        except ReckonError as error:
            form.errors["wish"] = error.text
    shown = every if all else every[:SHELF]
    context = {"cloths": shown, "more": len(every) - len(shown), "kept_for": kept_for, "lacks": lacks, "form": form,
               "fits": sum(1 for lack in lacks.values() if not lack)}  # fmt: skip
    return page(request, home, "cloths/index.html", context, 422 if form.errors else 200)


@router.get("/new", name="cloth_new")
def new(request: Request, home: Home) -> Response:
    """The form for a cloth; what the address says of it stands in it."""
    known = {name: request.query_params[name] for name in ASKED if name in request.query_params}
    return _form(request, home, Form({"opaque": "on", "nap": BY_ITS_NAME, **known}), None, 200)


@router.post("/new")
async def add(request: Request, home: Home) -> Response:
    """Add a cloth."""
    form = await read_form(request, home.unit)
    rows = typed_rows(await request.form())
    cloth = _read(form, rows)
    if cloth is None:
        return _form(request, home, form, None, 422, rows)
    with db.write(home.conn):
        cloth_id = cloths.add_cloth(home.conn, cloth)
    return see_other(request, f"/cloths/{cloth_id}")


@router.post("/sett", name="cloth_sett")
async def sett(request: Request, home: Home) -> Response:
    """The print as it is typed, drawn."""
    form = await read_form(request, home.unit)
    rows = typed_rows(await request.form())
    repeats = [length.mm if (length := form.length(f"repeat_{way}")) else 0.0 for way in ("along", "across")]
    bars = read_bars(rows, form, *repeats)
    print_ = read_print(form, bars)
    colours = (_colour(form, "ground", "#E9DFC9"), _colour(form, "figure", "#A9886B"))
    cloth = Cloth(
        "", parse_length("1 m"), parse_length("0 cm"), print=print_, print_colours=colours, piled=form.flag("piled"),
        bars_along=bars["along"], bars_across=bars["across"],
    )  # fmt: skip
    context = {"cloth": cloth, "svg": swatch(cloth), "problem": form.errors.get("bars", "")}
    return page(request, home, "cloths/_sett.html", context)


@router.get("/{cloth_id}", name="cloth")
def show(request: Request, home: Home, cloth_id: int) -> Response:
    """A cloth's facts, ready to be changed."""
    stored = cloths.cloth(home.conn, cloth_id)
    return _form(request, home, Form(_typed(stored.cloth)), stored, 200, rows_of(stored.cloth))


@router.get("/{cloth_id}/enough", name="cloth_enough")
def enough(request: Request, home: Home, cloth_id: int) -> Response:
    """Which patterns a cloth is enough for, and what is left."""
    stored = cloths.cloth(home.conn, cloth_id)
    context = {"stored": stored, "serves": enough_for(home.conn, stored.cloth, home.settings)}
    return page_or_part(request, home, "cloths/enough.html", "cloths/_enough.html", context)


@router.post("/{cloth_id}/asked", name="cloth_asked")
async def asked(request: Request, home: Home, cloth_id: int) -> Response:
    """Answer what a make asks of a cloth that was added by its name, width and length alone."""
    form = await read_form(request, home.unit)
    stored = cloths.cloth(home.conn, cloth_id)
    make_id = whole_number(form.typed.get("make", ""))
    fibre, nap = form.text("fibre", "The fibre, or “unknown”,", 200), form.choice("nap", NAPS)
    if not form.sound:
        return _form(request, home, Form({**_typed(stored.cloth), **form.typed}, form.unit, form.errors), stored, 422)
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), replace(stored.cloth, fibre=fibre, nap=nap))
    return see_other(request, f"/makes/{make_id}/cloth" if make_id else f"/cloths/{cloth_id}")


@router.post("/{cloth_id}")
async def change(request: Request, home: Home, cloth_id: int) -> Response:
    """Change a cloth."""
    form = await read_form(request, home.unit)
    stored = cloths.cloth(home.conn, cloth_id)
    rows = typed_rows(await request.form())
    cloth = _read(form, rows, stored.cloth)
    if cloth is None:
        return _form(request, home, form, stored, 422, rows)
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), cloth)
    return see_other(request, f"/cloths/{cloth_id}")


def _form(
    request: Request,
    home: Household,
    form: Form,
    stored: cloths.StoredCloth | None,
    status: int,
    rows: list[dict[str, str]] | None = None,
) -> Response:
    context = {
        "form": form,
        "stored": stored,
        "kinds": CLOTH_KINDS,
        "prints": PRINT_KINDS,
        "weights": WEIGHTS,
        "rows": rows or [],
    }
    return page(request, home, "cloths/form.html", context, status)


def _typed(cloth: Cloth) -> dict[str, str]:
    """A cloth as its form's fields."""
    texts = {
        k: str(getattr(cloth, k))
        for k in ("name", "kind", "fibre", "weight", "nap", "care", "price", "note", "bought", "pile_runs")
    }
    lengths = {
        "width": cloth.width.text,
        "selvage": cloth.selvage.text,
        "length": cloth.length.text if cloth.length else "",
        "others": "\n".join(other.text for other in cloth.others),
    }
    shares = {
        k: f"{getattr(cloth, k) * 100:g}" if getattr(cloth, k) else ""
        for k in ("shrink_along", "shrink_across", "stretch")
    }
    p = cloth.print
    print_ = {
        "print_kind": p.kind,
        "repeat_along": f"{p.repeat_along_mm:g} mm" if p.repeat_along_mm else "",
        "repeat_across": f"{p.repeat_across_mm:g} mm" if p.repeat_across_mm else "",
        "offset_along": f"{p.offset_along_mm:g} mm" if p.offset_along_mm else "",
        "offset_across": f"{p.offset_across_mm:g} mm" if p.offset_across_mm else "",
        "half_drop": "on" if p.half_drop else "",
        "uneven": "" if p.even else "on",
        "flaws": "\n".join(
            ", ".join(f"{mm / 10:g} cm" for mm in (x0, y0, x1 - x0, y1 - y0)) for x0, y0, x1, y1 in cloth.flaws
        ),
        "ground": cloth.print_colours[0],
        "figure": cloth.print_colours[1],
    }
    flags = {k: "on" for k in FLAGS if getattr(cloth, k)}
    return {**texts, **lengths, **shares, **print_, **flags}


def _colour(form: Form, name: str, default: str) -> str:
    value = form.typed.get(name, default) or default
    if len(value) != 7 or value[0] != "#" or any(c not in "0123456789abcdefABCDEF" for c in value[1:]):
        form.errors[name] = "Choose a colour."
        return default
    return value


def read_cloth_name(form: Form) -> str:
    """A cloth's name; what it tells of a cloth that is new stands beside it."""
    name = form.text("name", "A name", 80)
    if said := told_by_name(name).said():
        form.echoes["name"] = said
    return name


def read_others(form: Form) -> tuple[Length, ...]:
    """Further lengths of the same cloth, one a line."""
    found = []
    for line in form.text("others").splitlines():
        if line.strip():
            try:
                found.append(typed_length(line, form.unit))
            except LengthError as error:
                form.errors["others"] = f"“{line.strip()[:40]}”: {error.text}"
    if found:
        form.echoes["others"] = f"Understood: {'; '.join(length.echo() for length in found)}."
    return tuple(found)


def read_flaws(form: Form) -> tuple[tuple[float, float, float, float], ...]:
    """Flaws, one a line: from the cut end, from the first edge, how long, how wide."""
    found = []
    for line in form.text("flaws", most=4000).splitlines():
        parts = [part.strip() for part in line.replace(";", ", ").split(", ") if part.strip()]
        if not parts:
            continue
        try:
            along, across, length, width = (parse_length(part, form.unit).mm for part in parts)
        except (LengthError, ValueError):
            form.errors["flaws"] = (
                f"“{line.strip()[:60]}”: write four lengths parted by commas, such as 120 cm, 30 cm, 5 cm, 4 cm."
            )
            return ()
        found.append((along, across, along + length, across + width))
    if len(found) > MOST_FLAWS:
        form.errors["flaws"] = f"At most {MOST_FLAWS} flaws; buy other cloth."
    if found:
        form.echoes["flaws"] = f"Understood: {'; '.join(_flaw_said(flaw, form.unit) for flaw in found)}."
    return tuple(found)


def _flaw_said(flaw: tuple[float, float, float, float], unit: Unit) -> str:
    along, across, far, wide = (
        format_length(mm, unit) for mm in (flaw[0], flaw[1], flaw[2] - flaw[0], flaw[3] - flaw[1])
    )
    return f"{far} long and {wide} wide, {along} from the cut end and {across} from the first edge"


def _ask_if_meant(form: Form, field: str, length: Length | None) -> None:
    """Ask about a figure without a unit that can hardly be meant, as 2.5 for a length of cloth where centimetres are usual."""
    typed = form.typed.get(field, "").strip()
    if length is None or length.mm >= LEAST_CLOTH_MM or not typed or not typed[-1].isdecimal() or field in form.errors:
        return
    other = "yd" if form.unit in ("in", "ft", "yd") else "m"
    form.errors[field] = f"{typed} is {length.echo()}: is it {typed} {other}? Write the unit with it."


def _read(form: Form, rows: list[dict[str, str]], before: Cloth | None = None) -> Cloth | None:
    """The cloth a form describes, or None with the form's errors set; what it does not show stays as it was."""
    width = form.length("width", "The width", 5000)
    selvage = form.length("selvage", most_mm=200) or Length(0.0, "0 cm", "cm")
    length = form.length("length", most_mm=200_000)
    _ask_if_meant(form, "length", length)
    _ask_if_meant(form, "width", width)
    along, across = form.length("repeat_along"), form.length("repeat_across")
    by_its_name = form.typed.get("nap") == BY_ITS_NAME
    name = read_cloth_name(form) if by_its_name else form.text("name", "A name", 80)
    named = told_by_name(name) if by_its_name else Named()
    nap = form.choice("nap", (*NAPS, BY_ITS_NAME))
    bars = read_bars(rows, form, along.mm if along else 0.0, across.mm if across else 0.0)
    print_ = read_print(form, bars)
    if width is not None and selvage.mm * 2 >= width.mm:
        form.errors["selvage"] = "The two selvages leave no cloth between them."
    cloth = Cloth(
        name,
        width or parse_length("1 m"),
        selvage,
        length,
        form.choice("kind", CLOTH_KINDS),
        form.text("fibre") or named.fibre,
        form.choice("weight", WEIGHTS),
        ("one-way" if named.one_way else "none") if nap == BY_ITS_NAME else nap,
        before.pile_note if before else "",
        print_,
        (_colour(form, "ground", "#E9DFC9"), _colour(form, "figure", "#A9886B")),
        form.flag("knit") or bool(named.knit),
        form.flag("piled") or bool(named.pile),
        form.flag("slippery"),
        form.flag("ravels"),
        form.flag("opaque"),
        form.text("care"),
        form.text("price"),
        form.text("bought"),
        form.percent("shrink_along"),
        form.percent("shrink_across"),
        form.flag("prepared"),
        form.text("note"),
        form.flag("stiff"),
        form.percent("stretch", 3.0) if form.flag("knit") else 0.0,
        read_flaws(form),
        bars["along"],
        bars["across"],
        before.tile if before and not form.flag("drop_tile") else "",
        read_others(form),
        before.done if before else {},
        before.pictures if before else (),
        form.flag("loose"),
        form.flag("fur") or named.fur,
        form.choice("pile_runs", PILE_RUNS),
    )
    if form.sound:
        try:
            cloth.for_lay()
        except LayError as error:  # what no cloth is: beside the field that says so
            form.errors[error.field.rsplit(".", 1)[-1]] = error.text
    return cloth if form.sound else None
