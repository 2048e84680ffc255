"""The application factory."""

import gc
import os
import sqlite3
import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, closing, suppress
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import Depends, FastAPI, Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import JSONResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException

from rowanseed import __version__
from rowanseed.core.errors import RowanseedError
from rowanseed.jobs.executor import executor
from rowanseed.services.daily_backup import keep_daily
from rowanseed.services.remembered import Remembered
from rowanseed.store import db
from rowanseed.store.backups import BackupError, before_migration
from rowanseed.store.connections import Connections
from rowanseed.store.opening import open_household
from rowanseed.store.settings import Settings, durations, put_durations, settings
from rowanseed.web import docs
from rowanseed.web.answers import Answers
from rowanseed.web.api import alter as api_alter
from rowanseed.web.api import intake as api_intake
from rowanseed.web.api import lay as api_lay
from rowanseed.web.api import reckon as api_reckon
from rowanseed.web.api import sew as api_sew
from rowanseed.web.api import shapes as api_shapes
from rowanseed.web.api import sheet as api_sheet
from rowanseed.web.api import sheets as api_sheets
from rowanseed.web.api import sizes as api_sizes
from rowanseed.web.api import trace as api_trace
from rowanseed.web.api.rules import tell_rules
from rowanseed.web.deps import HERE, Household, page
from rowanseed.web.gate import local
from rowanseed.web.rooms import (
    access,
    backups,
    bench,
    cloths,
    cupboard,
    derive,
    eases,
    edges,
    envelope,
    figures,
    find,
    first,
    guide,
    intake,
    keeping,
    makes,
    patterns,
    people,
    photos,
    piece,
    prepare,
    seams,
    shop,
    shopping,
    supplies,
    trace,
    understood,
    yardage,
)
from rowanseed.web.rooms import settings as settings_room
from rowanseed.web.security import CountedBody, Guard
from rowanseed.web.shown import as_shown
from rowanseed.web.stages import (
    byhand,
    cloth,
    concede,
    cut,
    fit,
    lay,
    machine,
    own_steps,
    paper,
    prints,
    project,
    sew,
    wear,
)
from rowanseed.web.trouble import disk_trouble

ROUTERS = (
    makes,
    first,
    people,
    intake,
    trace,
    envelope,
    patterns,
    figures,
    piece,
    seams,
    edges,
    yardage,
    derive,
    eases,
    cloths,
    cupboard,
    understood,
    photos,
    prepare,
    supplies,
    shop,
    shopping,
    bench,
    access,
    backups,
    keeping,
    find,
    first,
    guide,
    settings_room,
    eases,
    fit,
    cloth,
    lay,
    byhand,
    concede,
    prints,
    cut,
    machine,
    own_steps,
    sew,
    wear,
    paper,
    project,
)
API_ROUTERS = (
    api_sizes,
    api_alter,
    api_shapes,
    api_intake,
    api_trace,
    api_lay,
    api_sheets,
    api_sheet,
    api_sew,
    api_reckon,
)
WARM_AFTER_S = 1.0


def create_app(
    database: Path | str | None = None,
    workers: int = 1,
    warm: bool = True,
    daily: bool = False,
    answers: Answers | None = None,
) -> FastAPI:
    """The application on a database file, created and migrated when needed.

    Args:
        database: the file; without it `ROWANSEED_DB`, or `data/rowanseed.db`.
        workers: worker processes for long work.
        warm: load the compiled kernels and start the workers at once, in the background.
        daily: write a backup each day while it runs.
        answers: the addresses it answers to, and whether the passphrase is asked for; this machine's own without.
    Raises:
        HouseholdFileError: the file is no household, damaged, newer, or gone.
        BackupError: an older file could not be backed up before it is changed.
    """
    path = Path(database or os.environ.get("ROWANSEED_DB") or "data/rowanseed.db")
    open_household(path, before_migration)

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        over = threading.Event()
        if warm:
            threading.Thread(target=_warm, args=(app, over), daemon=True).start()
        if daily:
            threading.Thread(target=keep_daily, args=(path, over), daemon=True).start()
        if not gc.isenabled():  # the command switched it off while it imported: what is there now stays
            # Without this each full collection walks it and stalls a page by 0.1 s. Only then: an application that is frozen
            # with all that went before it, as in tests, is never given back.
            gc.freeze()
            gc.enable()
        _remember_durations(app)
        yield
        over.set()
        app.state.jobs.close()
        _keep_durations(app)
        app.state.connections.close()

    app = FastAPI(title="Rowanseed", version=__version__, docs_url=None, redoc_url=None, lifespan=lifespan, debug=False)
    app.state.database = path
    app.state.connections = Connections(path)
    app.state.answers = answers or Answers()
    app.state.authority = None  # the household's own certificate authority, where it is served with one
    app.state.jobs = executor(workers, kept=int(warm))
    app.state.results = Remembered(1024)
    app.add_middleware(Guard)
    app.add_middleware(CountedBody)
    app.add_middleware(
        GZipMiddleware, minimum_size=1000, compresslevel=6
    )  # outermost; it passes on that a caller went away
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    for module in ROUTERS:
        app.include_router(module.router, dependencies=[Depends(as_shown)])
    for module in (*API_ROUTERS, docs):
        app.include_router(module.router)
    tell_rules(app)
    _handle_errors(app)
    return app


def _remember_durations(app: FastAPI) -> None:
    with suppress(sqlite3.Error), closing(db.connect(app.state.database)) as conn:
        app.state.jobs.durations.take_over(durations(conn))


def _keep_durations(app: FastAPI) -> None:
    with suppress(sqlite3.Error), closing(db.connect(app.state.database)) as conn, db.write(conn):
        put_durations(conn, app.state.jobs.durations.kept())


def _warm(app: FastAPI, over: threading.Event) -> None:
    """Start the workers once the first page is out: loading the nester takes the processors for a second."""
    if not over.wait(WARM_AFTER_S):
        app.state.jobs.warm()


def _handle_errors(app: FastAPI) -> None:
    """Every problem as JSON under /api, as a page elsewhere; nothing is a bare 500."""

    def is_api(request: Request) -> bool:
        return request.url.path.startswith("/api/")

    def problem(request: Request, status: int, title: str, text: str) -> Response:
        with request.app.state.connections.lent() as conn:
            home = Household(conn, _settings_or_default(conn))
            context = {"title": title, "text": text, **_what_was_typed(request)}
            return page(request, home, "problem.html", context, status)

    @app.exception_handler(RowanseedError)
    async def refused(request: Request, error: RowanseedError) -> Response:
        if is_api(request):
            loc = ["body", *[part for part in error.field.split(".") if part]]
            return JSONResponse({"detail": [{"loc": loc, "msg": error.text, "type": error.code}]}, 422)
        return problem(request, 422, "That cannot be done", error.text)

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> Response:
        if is_api(request):
            detail = [{"loc": list(e["loc"]), "msg": _plain(e["msg"]), "type": e["type"]} for e in error.errors()]
            return JSONResponse({"detail": jsonable_encoder(detail)}, 422)
        return problem(request, 404, "Not found", "There is nothing at this address.")

    @app.exception_handler(db.NotFound)
    async def not_found(request: Request, error: db.NotFound) -> Response:
        if is_api(request):
            return JSONResponse({"detail": [{"loc": ["path"], "msg": str(error), "type": "not-found"}]}, 404)
        return problem(request, 404, "Not found", str(error))

    @app.exception_handler(BackupError)
    async def no_backup(request: Request, error: BackupError) -> Response:
        return problem(request, 503, "No backup was written", str(error))

    @app.exception_handler(OverflowError)
    async def beyond(request: Request, error: OverflowError) -> Response:
        return await not_found(request, db.NotFound("There is nothing at this address."))

    @app.exception_handler(db.ChangedMeanwhile)
    async def changed(request: Request, error: db.ChangedMeanwhile) -> Response:
        text = f"{error} Nothing was overwritten. What you typed stands below beside what is there now."
        return problem(request, 409, "Changed meanwhile", text)

    @app.exception_handler(sqlite3.OperationalError)
    @app.exception_handler(OSError)
    async def disk(request: Request, error: Exception) -> Response:
        title, text = disk_trouble(error)
        if is_api(request):
            return JSONResponse({"detail": [{"loc": [], "msg": text, "type": "disk"}]}, 503)
        return problem(request, 503, title, text)

    @app.exception_handler(HTTPException)
    async def http_error(request: Request, error: HTTPException) -> Response:
        if is_api(request) and error.status_code == 400:
            text = "The request's body is not readable JSON in UTF-8."
            return JSONResponse({"detail": [{"loc": ["body"], "msg": text, "type": "json"}]}, 422)
        if is_api(request):
            kind = {404: "not-found", 405: "method"}.get(error.status_code, "http")
            detail = [{"loc": ["path"], "msg": str(error.detail), "type": kind}]
            return JSONResponse({"detail": detail}, error.status_code, headers=error.headers)
        if error.status_code == 404:
            return problem(request, 404, "Not found", "There is nothing at this address.")
        answer = problem(request, error.status_code, "That cannot be done", str(error.detail))
        answer.headers.update(error.headers or {})
        return answer


NOT_SHOWN = ("version", "seen", "shown", "passphrase", "now", "new", "again", "back")


def _what_was_typed(request: Request) -> dict[str, object]:
    """What a form that could not be saved held, and the page it came from, so that nothing typed is lost."""
    typed = getattr(request.state, "typed", {}) if request.method == "POST" else {}
    came = urlsplit(request.headers.get("referer", ""))
    path = local(came.path + (f"?{came.query}" if came.query else "")) if came.path else ""
    return {
        "typed": [(name, value) for name, value in typed.items() if name not in NOT_SHOWN and value.strip()],
        "came_from": path,
        "sent_to": request.url.path,
    }


def _settings_or_default(conn: sqlite3.Connection) -> Settings:
    try:
        return settings(conn)
    except sqlite3.Error:
        return Settings()


def _plain(message: str) -> str:
    """A validation message in words: Pydantic puts its own kind of error before ours."""
    return message.removeprefix("Value error, ")
