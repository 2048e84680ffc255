"""What could I sew? Every cloth against every pattern: at once by what is known and by bounds, the rest laid in the background."""

from pathlib import Path

from fastapi import APIRouter, Request, Response

from rowanseed.jobs.pool import JobPool
from rowanseed.services.cupboard import Matrix, matrix, open_lays, used_up
from rowanseed.services.yardage_tables import keeper
from rowanseed.web.deps import Home, Household, Jobs, page, see_other
from rowanseed.web.forms import read_form

router = APIRouter(prefix="/could", include_in_schema=False)


def _key(database: Path) -> str:
    return f"{database}:could:"


def _sizes(request: Request) -> dict[str, str]:
    """The sizes that are asked about, from the address: `size-3:A=12`."""
    return {k.removeprefix("size-"): v for k, v in request.query_params.items() if k.startswith("size-") and v}


def _free_only(found: Matrix, free: bool) -> Matrix:
    """The cupboard without cloths that a make under way is cut from."""
    if not free:
        return found
    at = [k for k, stuff in enumerate(found.stuffs) if not stuff.kept_for]
    lines = tuple((garment, tuple(pairs[k] for k in at)) for garment, pairs in found.lines)
    return Matrix(tuple(found.stuffs[k] for k in at), lines)


def _context(request: Request, home: Household, jobs: JobPool) -> dict[str, object]:
    free = request.query_params.get("free") == "on"
    found = _free_only(matrix(home.conn, home.settings, _sizes(request)), free)
    running = len(jobs.waiting_for(_key(request.app.state.database)))
    wanted = request.query_params.getlist("want")
    used = used_up(found, wanted) if wanted else []
    return {
        "found": found,
        "free": free,
        "running": running,
        "query": request.url.query,
        "wanted": wanted,
        "used": used,
    }


@router.get("", name="could")
def show(request: Request, home: Home, jobs: Jobs) -> Response:
    """Every cloth against every pattern."""
    return page(request, home, "could/show.html", _context(request, home, jobs))


@router.get("/cells", name="could_cells")
def cells(request: Request, home: Home, jobs: Jobs) -> Response:
    """The table's own part, while it fills."""
    return page(request, home, "could/_cells.html", _context(request, home, jobs))


@router.post("/work", name="could_work")
async def work(request: Request, home: Home, jobs: Jobs) -> Response:
    """Lay what is not known, on all cores, in the background; what is asked for twice is laid once."""
    await read_form(request)
    database = request.app.state.database
    found = matrix(home.conn, home.settings, _sizes(request))
    for garment, key, asked in open_lays(found, home.settings):
        name = f"{_key(database)}{garment.pattern_id}:{garment.view}:{key.size}:{key.width_mm}:{key.cloth}"
        keep = keeper(database, garment.pattern_id, garment.view, "self", key, asked)
        jobs.submit(name, asked, keep, patient=True)
    return see_other(request, _back(request))


@router.post("/stop", name="could_stop")
async def stop(request: Request, jobs: Jobs) -> Response:
    """Stop laying; what is laid stays."""
    await read_form(request)
    for job in reversed(jobs.waiting_for(_key(request.app.state.database))):
        jobs.stop(job.id)
    return see_other(request, _back(request))


def _back(request: Request) -> str:
    return f"/could?{request.url.query}" if request.url.query else "/could"
