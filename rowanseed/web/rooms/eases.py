"""The ease table: every figure with its source, and the household's own in its place."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.fit.ease_table import FIGURES, GROUPS, EaseFigure
from rowanseed.core.lengths import Unit, format_length
from rowanseed.store import db
from rowanseed.store.settings import put_settings, settings
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form, stamp

router = APIRouter(prefix="/settings/eases", include_in_schema=False)


@router.get("", name="eases")
def show(request: Request, home: Home) -> Response:
    """The table."""
    return _page(request, home, None, 200)


@router.post("")
async def change(request: Request, home: Home) -> Response:
    """Keep the household's own figures; an empty field is the usual one."""
    form = await read_form(request, home.unit)
    own = {key: mm for key, figure in FIGURES.items() if (mm := _read(form, figure)) is not None}
    if own.get("stretch.swim", FIGURES["stretch.swim"].usual) <= own.get(
        "stretch.moderate", FIGURES["stretch.moderate"].usual
    ):
        form.errors["stretch.swim"] = "More than a stable knit stretches by."
    if not form.sound:
        return _page(request, home, form, 422)
    with db.write(home.conn):
        if form.typed.get("seen", "") != stamp(repr(settings(home.conn).eases)):
            raise db.ChangedMeanwhile("The ease table was changed in another window since you opened it.")
        put_settings(home.conn, replace(settings(home.conn), eases=own))
    return see_other(request, "/settings/eases")


def _read(form: Form, figure: EaseFigure) -> float | None:
    """A figure as typed, in its unit; None where it is left as usual."""
    if figure.unit == "mm":
        length = form.length(figure.key, most_mm=figure.most)
        return length.mm if length else None
    text = form.typed.get(figure.key, "").strip().rstrip("%").strip().replace(",", ".")
    if not text:
        return None
    try:
        share = float(text)
    except ValueError:
        form.errors[figure.key] = "Parts of a hundred, such as 25."
        return None
    if not figure.least <= share <= figure.most:
        form.errors[figure.key] = f"Between {figure.least:g} and {figure.most:g} %."
        return None
    return share


def _shown(figure: EaseFigure, value: float, unit: Unit) -> str:
    return f"{value:g} %" if figure.unit == "%" else format_length(value, unit)


def _page(request: Request, home: Household, form: Form | None, status: int) -> Response:
    own = home.settings.eases
    groups = [
        (
            words,
            [
                (
                    f,
                    form.typed.get(f.key, "") if form else _shown(f, own[f.key], home.unit) if f.key in own else "",
                    _shown(f, f.usual, home.unit),
                )
                for f in FIGURES.values()
                if f.group == group
            ],
        )
        for group, words in GROUPS.items()
    ]
    seen = form.typed.get("seen", "") if form else stamp(repr(own))
    return page(request, home, "settings/eases.html", {"form": form, "groups": groups, "seen": seen}, status)
