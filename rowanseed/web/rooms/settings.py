"""How the household measures, buys and sews; clearing the demo."""

import os
from pathlib import Path
from typing import Literal

from fastapi import APIRouter, Request, Response

from rowanseed.core.fit.ease_table import Look
from rowanseed.core.reckon.buying import STEP_MM, BuyingStep
from rowanseed.core.sew.model import TOOLS
from rowanseed.formats.sewing import library
from rowanseed.store import db, keeping
from rowanseed.store.settings import Settings, put_settings, settings
from rowanseed.web.deps import Home, Household, now, page, see_other, with_undo
from rowanseed.web.forms import Form, read_form, stamp

router = APIRouter(prefix="/settings", include_in_schema=False)
UNITS: tuple[Literal["cm", "in"], ...] = ("cm", "in")
DECIMALS: tuple[Literal[".", ","], ...] = (".", ",")
STEPS: tuple[BuyingStep, ...] = tuple(STEP_MM)


@router.get("", name="settings")
def show(request: Request, home: Home) -> Response:
    """The settings."""
    return _page(request, home, None, 200)


@router.post("")
async def change(request: Request, home: Home) -> Response:
    """Keep the settings."""
    form = await read_form(request, home.unit)
    straighten = form.length("straighten", "The loss", 500)
    schools = {s.name: form.choice(f"school-{s.name}", tuple(v for v, _ in s.choices)) for s in library().schools}
    kept = Settings(
        form.choice("unit", UNITS),
        form.choice("step", STEPS),
        straighten.mm if straighten else 0.0,
        tuple(t for t in TOOLS if form.flag(f"tool-{t}")),
        schools,
        form.number("sitting_minutes", "Minutes", 10, 600),
        _read_looks(form, home.settings.looks),
        _read_folder(form),
        home.settings.eases,
        form.flag("own_pace"),
        form.choice("decimal", DECIMALS),
    )
    if not form.sound:
        return _page(request, home, form, 422)
    with db.write(home.conn):
        if "seen" in form.typed and form.typed["seen"] != stamp(repr(settings(home.conn))):
            raise db.ChangedMeanwhile("The settings were changed in another window since you opened them.")
        put_settings(home.conn, kept)
    return see_other(request, "/settings")


def _read_folder(form: Form) -> str:
    """Where daily backups are written too: a folder that is there and may be written to, or nowhere."""
    typed = form.typed.get("backup_folder", "").strip()
    if typed and not _is_folder(typed):
        form.errors["backup_folder"] = (
            "Name a folder that is there and may be written to, from its beginning: /media/stick."
        )
    return typed


def _is_folder(typed: str) -> bool:
    try:
        return Path(typed).is_absolute() and Path(typed).is_dir() and os.access(typed, os.W_OK)
    except (OSError, ValueError):  # too long a name, or one that no file can have
        return False


def _read_looks(form: Form, before: tuple[Look, ...]) -> tuple[Look, ...]:
    """The table from looks to bust ease: where each begins; it ends where the next begins."""
    if f"look-{len(before) - 1}" not in form.typed:
        return before
    starts = [form.length(f"look-{n}", "An ease", 1000) for n in range(len(before))]
    for n, (a, b) in enumerate(zip(starts, starts[1:]), start=1):
        if a and b and b.mm <= a.mm:
            form.errors[f"look-{n}"] = f"More than for “{before[n - 1].name}”, which stands before it."
    ends = [*(s.mm if s else 0.0 for s in starts[1:]), before[-1].high_mm]
    return tuple(
        Look(look.name, start.mm if start else 0.0, end) for look, start, end in zip(before, starts, ends, strict=True)
    )


@router.post("/clear-demo", name="clear_demo")
def clear(request: Request, home: Home) -> Response:
    """Take the demo data away."""
    with db.write(home.conn):
        gone = keeping.clear_demo(home.conn, now())
    return see_other(request, with_undo("/settings", gone))


def _page(request: Request, home: Household, form: Form | None, status: int) -> Response:
    seen = form.typed.get("seen", "") if form else stamp(repr(home.settings))
    context = {
        "form": form,
        "seen": seen,
        "settings": home.settings,
        "tools": TOOLS,
        "schools": library().schools,
        "steps": STEPS,
    }
    return page(request, home, "settings/show.html", context, status)
