"""Backups on the pages: those that lie beside the data, a new one, one from elsewhere, and putting one in place with a way back."""

import tempfile
from datetime import datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask
from starlette.datastructures import UploadFile

from rowanseed.services import restoring, worked_pieces
from rowanseed.services.daily_backup import keep_today
from rowanseed.services.exchange import taking_in
from rowanseed.services.exchange.give_out import give_out
from rowanseed.services.exchange.taking_in import Brought, ExchangeError, TakenIn
from rowanseed.store import backups, db
from rowanseed.store.backups import BackupError, Contents
from rowanseed.store.encrypted import ENDING, is_encrypted
from rowanseed.store.household_file.counts import COUNTED, count_of
from rowanseed.web.deps import Home, Household, page, see_other, today
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/settings/backups", include_in_schema=False)
MOST_SHOWN = 40


@router.get("", name="backups")
def show(
    request: Request, home: Home, restored: Annotated[str, Query()] = "", kept: Annotated[str, Query()] = ""
) -> Response:
    """The backups beside the data; after one was restored, what was kept aside."""
    return _page(request, home, Form({}, home.unit), restored=restored, kept=kept)


@router.post("/now", name="backup_now")
async def write_now(request: Request, home: Home) -> Response:
    """Write a backup beside the data, or (`do` is `send`) answer with one; with a passphrase it is encrypted."""
    form, database = await read_form(request, home.unit), _database(request)
    passphrase, elsewhere = form.typed.get("passphrase", ""), form.typed.get("do") == "send"
    if passphrase != form.typed.get("again", ""):
        form.errors["again"] = "The two are not the same."
        return _page(request, home, Form({}, home.unit, form.errors), 422)
    room = tempfile.TemporaryDirectory(dir=database.parent) if elsewhere else None
    target = Path(room.name) / f"rowanseed-{today().isoformat()}.zip" if room else backups.new_name(database, "kept")
    try:
        target = await run_in_threadpool(_write, database, target, passphrase)
    except BackupError as error:
        field = "passphrase" if passphrase else "now"
        return _page(request, home, Form({}, home.unit, {field: str(error)}), 422)
    if room is not None:
        return FileResponse(target, filename=target.name, background=BackgroundTask(room.cleanup))
    problem = keep_today(database, today())
    if problem:
        return _page(request, home, Form({}, home.unit, {"now": problem}), 422)
    return see_other(request, "/settings/backups")


def _write(database: Path, target: Path, passphrase: str) -> Path:
    if not passphrase:
        backups.backup_to(database, target)
        return target
    target = target.with_name(target.name + ENDING)
    backups.encrypted_backup_to(database, target, passphrase)
    return target


@router.get("/new.zip", name="backup_download")
def download_new(request: Request) -> Response:
    """A backup made now, to keep elsewhere."""
    database = _database(request)
    room = tempfile.TemporaryDirectory(dir=database.parent)
    name = f"rowanseed-{today().isoformat()}.zip"
    backups.backup_to(database, Path(room.name) / name)
    return FileResponse(Path(room.name) / name, filename=name, background=BackgroundTask(room.cleanup))


@router.post("/{name}/open", name="backup_open")
async def open_encrypted(request: Request, home: Home, name: str) -> Response:
    """Open an encrypted backup by its passphrase, into one beside it that can be looked into."""
    form, chosen, database = await read_form(request), _known(request, name), _database(request)
    target = backups.new_name(database, "opened")
    try:
        await run_in_threadpool(backups.opened_backup, chosen, target, form.typed.get("passphrase", ""))
    except BackupError as error:
        return _page(request, home, Form({}, home.unit, {"opened": str(error)}), 422, chosen=chosen)
    return see_other(request, f"/settings/backups/{target.name}/restore")


@router.post("/upload", name="backup_upload")
async def upload(request: Request, home: Home) -> Response:
    """Take a backup from elsewhere in, once it is checked; what is in it is shown before it is put in place."""
    data = await request.form(max_files=1)
    sent = data.get("file")
    if not isinstance(sent, UploadFile) or not sent.filename:
        return _page(request, home, Form({}, home.unit, {"file": "Choose a backup file."}), 422)
    database = _database(request)
    target = backups.new_name(database, "brought")
    try:
        target = await run_in_threadpool(_take_in, sent, target)
    except BackupError as error:
        return _page(request, home, Form({}, home.unit, {"file": str(error)}), 422)
    return see_other(request, f"/settings/backups/{target.name}/restore")


def _take_in(sent: UploadFile, target: Path) -> Path:
    target.parent.mkdir(parents=True, exist_ok=True)
    part = target.with_name(target.name + ".part")
    try:
        with part.open("wb") as out:
            while chunk := sent.file.read(1 << 20):
                out.write(chunk)
        try:
            if is_encrypted(part):
                target = target.with_name(target.name + ENDING)
            else:
                restoring.contents_of(part)
        except BackupError as error:
            raise BackupError(str(error).replace(part.name, sent.filename or "the file")) from error
        part.replace(target)
        return target
    finally:
        part.unlink(missing_ok=True)


@router.get("/everything.zip", name="everything")
def everything(request: Request, home: Home) -> Response:
    """Everything as a folder of open formats."""
    database = _database(request)
    room = tempfile.TemporaryDirectory(dir=database.parent)
    name = f"rowanseed-folder-{today().isoformat()}.zip"
    with (Path(room.name) / name).open("wb") as out:
        give_out(home.conn, database, out)
    return FileResponse(Path(room.name) / name, filename=name, background=BackgroundTask(room.cleanup))


@router.post("/folder", name="folder_in")
async def folder_in(request: Request, home: Home) -> Response:
    """Take a folder of open formats in; what differs from what is here, or is missing in it, is asked about first."""
    data = await request.form(max_files=1)
    sent = data.get("folder")
    if not isinstance(sent, UploadFile) or not sent.filename:
        return _page(request, home, Form({}, home.unit, {"folder": "Choose the folder's zip file."}), 422)
    database = _database(request)
    try:
        brought = await run_in_threadpool(taking_in.brought_folder, database, sent.file)
        if brought.missing or taking_in.comparison(home.conn, brought).differs:
            return see_other(request, f"/settings/backups/brought/{brought.name}")
        taken = await run_in_threadpool(taking_in.take_in, home.conn, database, brought)
        taking_in.throw_away(brought)
    except ExchangeError as error:
        return _page(request, home, Form({}, home.unit, {"folder": error.text}), 422)
    return _page(request, home, Form({}, home.unit), taken=taken)


@router.get("/brought/{room}", name="brought")
def look_at_brought(
    request: Request,
    home: Home,
    room: str,
    make: Annotated[int | None, Query()] = None,
    pick: Annotated[int, Query()] = 0,
) -> Response:
    """What a folder, or one make of a backup, would bring: what is new, what comes back, what differs, side by side."""
    brought = taking_in.brought_before(_database(request), room)
    return _brought_page(request, home, brought, make, bool(pick))


@router.post("/brought/{room}", name="brought_in")
async def take_brought(request: Request, home: Home, room: str) -> Response:
    """Take in what is new and what comes back, and of what differs what was chosen."""
    form, database = await read_form(request, home.unit), _database(request)
    brought = taking_in.brought_before(database, room)
    number = form.typed.get("make", "")
    make = int(number) if number.isdecimal() and len(number) < 18 else None
    if form.typed.get("do") == "leave":
        taking_in.throw_away(brought)
        return see_other(request, "/settings/backups")
    if brought.missing and not form.flag("without"):
        form.errors["without"] = "Say that it is taken in without these, or leave it."
        return _brought_page(request, home, brought, make, False, form, 422)
    chosen = {
        name.removeprefix("at-") for name, value in form.typed.items() if name.startswith("at-") and value == "there"
    }
    try:
        all_there = form.typed.get("do") == "there"
        taken = await run_in_threadpool(
            taking_in.take_in, home.conn, database, brought, None if all_there else chosen, make
        )
    except ExchangeError as error:
        form.errors["do"] = error.text
        return _brought_page(request, home, brought, make, False, form, 422)
    taking_in.throw_away(brought)
    _forget_what_was_worked_out(request)
    return _page(request, home, Form({}, home.unit), taken=taken)


def _brought_page(
    request: Request, home: Household, brought: Brought, make: int | None, pick: bool, form: Form | None = None, status: int = 200
) -> Response:  # fmt: skip
    with taking_in.opened(brought) as theirs:
        makes = [
            dict(row)
            for row in theirs.execute("select id, name, started_on from make order by started_on desc, id desc")
        ]
    wanted = next((m for m in makes if m["id"] == make), None)
    context = {
        "form": form or Form({}, home.unit),
        "brought": brought,
        "makes": makes if pick else [],
        "pick": pick,
        "wanted": wanted,
        "found": None if pick else taking_in.comparison(home.conn, brought, make),
    }
    return page(request, home, "settings/brought.html", context, status)


def _forget_what_was_worked_out(request: Request) -> None:
    request.app.state.results.clear()
    worked_pieces.forget()


@router.post("/{name}/makes", name="backup_makes")
async def makes_of(request: Request, home: Home, name: str) -> Response:
    """Read a backup for single makes."""
    await read_form(request)
    chosen = _known(request, name)
    try:
        brought, _ = await run_in_threadpool(taking_in.brought_backup, _database(request), chosen)
    except ExchangeError as error:
        return _page(request, home, Form({}, home.unit, {"restore": error.text}), 422, chosen=chosen)
    return see_other(request, f"/settings/backups/brought/{brought.name}?pick=1")


@router.get("/{name}", name="backup_file")
def download(request: Request, name: str) -> Response:
    """A backup that lies beside the data."""
    return FileResponse(_known(request, name), filename=name)


@router.get("/{name}/restore", name="backup_look")
def look(request: Request, home: Home, name: str) -> Response:
    """What a backup holds, beside what is there now."""
    return _page(request, home, Form({}, home.unit), chosen=_known(request, name))


@router.post("/{name}/restore", name="backup_restore")
async def put_in_place(request: Request, home: Home, name: str) -> Response:
    """Put a backup in the place of what is there, which is kept aside first."""
    form = await read_form(request)
    chosen, database = _known(request, name), _database(request)
    try:
        _, kept = await run_in_threadpool(restoring.restore, chosen, database, form.flag("leaving_out"))
    except BackupError as error:
        return _page(request, home, Form({}, home.unit, {"restore": str(error)}), 422, chosen=chosen)
    _forget_what_was_worked_out(request)
    return see_other(request, f"/settings/backups?restored={name}&kept={kept.name if kept else ''}")


def _database(request: Request) -> Path:
    found: Path = request.app.state.database
    return found


def _known(request: Request, name: str) -> Path:
    """A backup by its name; only those that are listed. Raises NotFound."""
    for path in backups.backups_of(_database(request)):
        if path.name == name:
            return path
    raise db.NotFound("There is no such backup.")


def _page(
    request: Request,
    home: Household,
    form: Form,
    status: int = 200,
    chosen: Path | None = None,
    restored: str = "",
    kept: str = "",
    taken: TakenIn | None = None,
) -> Response:
    inside: Contents | None = None
    locked = chosen is not None and is_encrypted(chosen)
    if chosen is not None and not locked:
        try:
            inside = restoring.contents_of(chosen)
        except BackupError as error:
            form.errors.setdefault("restore", str(error))
    found = backups.backups_of(_database(request))
    context = {
        "form": form,
        "settings": home.settings,
        "files": [
            (p.name, p.stat().st_size / 1e6, datetime.fromtimestamp(p.stat().st_mtime)) for p in found[:MOST_SHOWN]
        ],
        "more": max(0, len(found) - MOST_SHOWN),
        "chosen": chosen.name if chosen else "",
        "locked": locked,
        "ending": ENDING,
        "inside": inside,
        "now": {kind: count_of(home.conn, kind) for kind in COUNTED} if inside else {},
        "restored": restored,
        "taken": taken,
        "kept": kept if any(p.name == kept for p in found) else "",
    }
    return page(request, home, "settings/backups.html", context, status)
