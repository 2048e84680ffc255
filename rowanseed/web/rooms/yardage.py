"""The yardage table of a pattern: every size at the usual widths, filling cell by cell, kept, printed, as CSV."""

from dataclasses import dataclass
from pathlib import Path

from fastapi import APIRouter, Request, Response

from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.core.lengths import format_length
from rowanseed.core.reckon.buying import length_to_buy
from rowanseed.core.yardage_table import (
    CLASS_WORDS,
    CLASSES,
    Cell,
    CellKey,
    ClothClass,
    against_printed,
    printed_for,
)
from rowanseed.formats import csv_table
from rowanseed.jobs.pool import JobPool
from rowanseed.services.yardage_tables import YardageTable, keeper
from rowanseed.web.deps import Home, Jobs, page, see_other
from rowanseed.web.forms import read_form

router = APIRouter(prefix="/patterns/{pattern_id}/yardage", include_in_schema=False)


@dataclass(frozen=True)
class Shown:
    """A cell as the page shows it: what to buy, its lay, and how it stands to the envelope's figure."""

    key: CellKey
    buy: str
    lay_mm: float
    spread: str
    used: float
    problem: str
    printed: str
    why: str
    hard: str = ""


class Table(YardageTable):
    """The table as its page shows it."""

    def shown(self, key: CellKey) -> Shown | None:
        """A cell as the page shows it; None while it is not worked out."""
        cell = self.cells.get(key)
        if cell is None:
            return None
        s = self.settings
        if cell.problem:
            return Shown(key, "–", 0.0, "", 0.0, cell.problem, "", "")
        buy = length_to_buy(cell.lay_mm, 0.0, s.straighten_mm, s.step)
        printed = printed_for(self.pattern, self.view, key)
        why = ""
        if printed is not None:
            same_size = [(k, c) for k, c in self.cells.items() if k.size == key.size]
            why = against_printed(printed, same_size, buy.mm, self.settings.unit)
        spread = SPREAD_WORDS.get(cell.spread, cell.spread)  # type: ignore[call-overload]
        return Shown(
            key,
            buy.text,
            cell.lay_mm,
            spread,
            cell.used,
            "",
            printed.length.told(s.unit) if printed else "",
            why,
            _hard(cell),
        )

    @property
    def rows(self) -> list[tuple[str, ClothClass, list[tuple[CellKey, Shown | None]]]]:
        """Size, class, and a cell for each width."""
        return [
            (size, cloth, [(k, self.shown(k)) for k in (CellKey(size, w, cloth) for w in self.widths)])
            for size in self.pattern.size_names()
            if size not in self.unmeasured
            for cloth in self.classes
        ]


def _hard(cell: Cell) -> str:
    """How hard a cell's lay is to cut, in words."""
    opened = f", {cell.opened} of them {'half' if cell.opened == 1 else 'halves'} opened out" if cell.opened else ""
    return f"{cell.cuts} cuts{opened}" if cell.cuts else ""


def _classes(check: bool) -> tuple[ClothClass, ...]:
    return CLASSES if check else CLASSES[:2]


def _job_key(database: Path, table: Table) -> str:
    return f"{database}:yardage:{table.stored.id}:{table.view}:{table.role}:"


def _context(request: Request, table: Table, jobs: JobPool, check: bool) -> dict[str, object]:
    return {
        "t": table,
        "check": check,
        "p": table.pattern,
        "class_words": CLASS_WORDS,
        "width_words": {w: format_length(w, table.settings.unit) for w in table.widths},
        "running": len(jobs.waiting_for(_job_key(request.app.state.database, table))),
        "straighten": table.settings.straighten_mm,
    }


@router.get("", name="yardage")
def show(
    request: Request, home: Home, jobs: Jobs, pattern_id: int, view: str = "", role: str = "", check: bool = False
) -> Response:
    """The table as far as it is filled."""
    table = Table(home.conn, home.settings, pattern_id, view, role, _classes(check))
    return page(request, home, "yardage/show.html", _context(request, table, jobs, check))


@router.get("/cells", name="yardage_cells")
def cells(
    request: Request, home: Home, jobs: Jobs, pattern_id: int, view: str = "", role: str = "", check: bool = False
) -> Response:
    """The table's own part, while it fills."""
    table = Table(home.conn, home.settings, pattern_id, view, role, _classes(check))
    return page(request, home, "yardage/_cells.html", _context(request, table, jobs, check))


@router.post("/fill", name="yardage_fill")
async def fill(request: Request, home: Home, jobs: Jobs, pattern_id: int) -> Response:
    """Work out every cell that is open, on all cores, in the background."""
    form = await read_form(request)
    check = form.flag("check")
    table = Table(
        home.conn, home.settings, pattern_id, form.typed.get("view", ""), form.typed.get("role", ""), _classes(check)
    )
    database, prefix = request.app.state.database, _job_key(request.app.state.database, table)
    for key in table.open:
        asked = table.requests[key]
        assert asked is not None  # an open cell has what to ask
        name = f"{prefix}{key.size}:{key.width_mm}:{key.cloth}"
        jobs.submit(name, asked, keeper(database, pattern_id, table.view, table.role, key, asked), patient=True)
    return see_other(request, _address(pattern_id, table, check))


@router.post("/stop", name="yardage_stop")
async def stop(request: Request, home: Home, jobs: Jobs, pattern_id: int) -> Response:
    """Stop filling; what is filled stays."""
    form = await read_form(request)
    check = form.flag("check")
    table = Table(
        home.conn, home.settings, pattern_id, form.typed.get("view", ""), form.typed.get("role", ""), _classes(check)
    )
    for job in reversed(jobs.waiting_for(_job_key(request.app.state.database, table))):
        jobs.stop(job.id)
    return see_other(request, _address(pattern_id, table, check))


def _address(pattern_id: int, table: Table, check: bool) -> str:
    return f"/patterns/{pattern_id}/yardage?view={table.view}&role={table.role}" + ("&check=true" if check else "")


@router.get("/table.csv", name="yardage_csv")
def as_csv(home: Home, pattern_id: int, view: str = "", role: str = "", check: bool = False) -> Response:
    """The table as CSV: a line for each cell that is worked out."""
    table = Table(home.conn, home.settings, pattern_id, view, role, _classes(check))
    rows = [
        (table.view, table.role, key.size, CLASS_WORDS[key.cloth], round(key.width_mm, 1), round(s.lay_mm), s.buy, s.spread, s.hard,
         f"{s.used:.3f}", s.printed, s.problem)
        for key in table.keys
        if (s := table.shown(key)) is not None
    ]  # fmt: skip
    head = (
        "view",
        "cloth",
        "size",
        "class",
        "width_mm",
        "lay_mm",
        "to_buy",
        "spread",
        "cutting",
        "used",
        "printed",
        "problem",
    )
    headers = {"Content-Disposition": f'attachment; filename="yardage-{pattern_id}-{table.role}.csv"'}
    return Response(csv_table.as_csv(head, rows), media_type="text/csv; charset=utf-8", headers=headers)
