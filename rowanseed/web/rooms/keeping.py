"""What can be done with any thing: rename, copy, put away, delete; the list of what was put away or deleted, to take it back."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from rowanseed.core.errors import RowanseedError
from rowanseed.store import db, keeping
from rowanseed.store.keeping import CannotComeBack, Kind, StillUsed
from rowanseed.web.deps import Home, Household, now, page, see_other, with_undo
from rowanseed.web.forms import Form, read_form
from rowanseed.web.gate import local

router = APIRouter(include_in_schema=False)
GOES_WITH = {
    "make_garment": "garment", "make_cloth": "choice of cloth", "lay": "lay", "lay_draft": "lay drawn by hand",
    "tick": "tick", "note": "note", "fit_note": "finding of a try-on", "step_log": "note at a step", "piece": "piece",
    "piece_shape": "shape of a piece", "sheet": "sheet of instructions", "measurement_set": "set of measurements",
    "measurement": "measurement", "intake_file": "file",
    "made_piece": "piece as it was cut or printed",
}  # fmt: skip


class NotNow(RowanseedError):
    """Something that cannot be deleted or taken back as things are; its text says why."""

    code = "not-now"


@router.get("/keep/{kind}/{id_}", name="keep")
def show(request: Request, home: Home, kind: str, id_: int, back: Annotated[str, Query()] = "") -> Response:
    """A thing's name, its copy, and what deleting it would take with it."""
    return _page(request, home, keeping.kind_of(kind), id_, Form({"back": back}, home.unit))


@router.post("/keep/{kind}/{id_}/rename", name="keep_rename")
async def rename(request: Request, home: Home, kind: str, id_: int) -> Response:
    """Call a thing otherwise."""
    form, found = await read_form(request, home.unit), keeping.kind_of(kind)
    name = form.text("name", "A name", 2000 if found.column == "text" else 120)
    if not found.renamed or not form.sound:
        return _page(request, home, found, id_, form, 422)
    with db.write(home.conn):
        keeping.rename(home.conn, found, id_, name, seen=form.typed.get("seen"))
    return see_other(request, _back(form, found, id_))


@router.post("/keep/{kind}/{id_}/copy", name="keep_copy")
async def copy(request: Request, home: Home, kind: str, id_: int) -> Response:
    """Copy a thing under a name of its own."""
    form, found = await read_form(request, home.unit), keeping.kind_of(kind)
    if not found.can_copy:
        raise db.NotFound("This kind of thing is not copied.")
    name = form.text("name", "A name", 120)
    if not form.sound:
        return _page(request, home, found, id_, form, 422)
    with db.write(home.conn):
        new = keeping.copy(home.conn, found, id_, name)
    return see_other(request, found.page.format(id=new) if found.page else found.list)


@router.post("/keep/{kind}/{id_}/away", name="keep_away")
async def away(request: Request, home: Home, kind: str, id_: int) -> Response:
    """Put a thing away, out of the lists; `back` takes it out again."""
    form, found = await read_form(request), keeping.kind_of(kind)
    if not found.put_away:
        raise db.NotFound("This kind of thing is not put away.")
    again = form.flag("again")
    with db.write(home.conn):
        keeping.put_away(home.conn, found, id_, None if again else now())
    if again and found.page:
        return see_other(request, found.page.format(id=id_))
    return see_other(request, found.list if again else f"{found.list}?away={found.name}-{id_}")


@router.post("/keep/{kind}/{id_}/delete", name="keep_delete")
async def delete(request: Request, home: Home, kind: str, id_: int) -> Response:
    """Delete a thing; the page that follows takes it back."""
    form, found = await read_form(request, home.unit), keeping.kind_of(kind)
    try:
        with db.write(home.conn):
            bin_id = keeping.delete(home.conn, found, id_, now())
    except StillUsed as error:
        form.errors["delete"] = str(error)
        return _page(request, home, found, id_, form, 422)
    back = local(form.typed.get("back", "")) if form.typed.get("back") else found.list
    return see_other(request, with_undo(back, bin_id))


@router.get("/away", name="away")
def index(request: Request, home: Home) -> Response:
    """What was put away, and what was deleted in the last thirty days."""
    context = {"away": keeping.away(home.conn), "bin": keeping.bin_list(home.conn, now()), "days": keeping.DAYS}
    return page(request, home, "keeping/index.html", context)


@router.post("/away/{bin_id}/back", name="take_back")
async def back(request: Request, home: Home, bin_id: int) -> Response:
    """Take back what was deleted."""
    form = await read_form(request)
    try:
        with db.write(home.conn):
            kind, id_ = keeping.take_back(home.conn, bin_id)
    except CannotComeBack as error:
        raise NotNow(str(error)) from error
    if form.typed.get("back"):
        return see_other(request, local(form.typed["back"]))
    known = keeping.KINDS.get(kind)
    return see_other(request, (known.page or known.list).format(id=id_) if known else "/")


@router.post("/away/{bin_id}/forget", name="forget")
async def forget(request: Request, home: Home, bin_id: int) -> Response:
    """Delete for good."""
    await read_form(request)
    with db.write(home.conn):
        keeping.forget(home.conn, bin_id)
    return see_other(request, "/away")


def _counted(n: int, what: str) -> str:
    first, space, rest = what.partition(" ")
    return f"{n} {what}" if n == 1 else f"{n} {first}s{space}{rest}"


def _back(form: Form, kind: Kind, id_: int) -> str:
    if form.typed.get("back"):
        return local(form.typed["back"])
    return kind.page.format(id=id_) if kind.page else kind.list


def _page(request: Request, home: Household, kind: Kind, id_: int, form: Form, status: int = 200) -> Response:
    goes = keeping.goes_with(home.conn, kind, id_)
    context = {
        "kind": kind,
        "id": id_,
        "name": keeping.title_of(home.conn, kind, id_),
        "form": form,
        "back": local(form.typed.get("back", "")) if form.typed.get("back") else _back(Form({}), kind, id_),
        "users": keeping.used_by(home.conn, kind, id_),
        "goes": [_counted(n, GOES_WITH.get(table, table)) for table, n in goes.items()],
        "days": keeping.DAYS,
    }
    return page(request, home, "keeping/show.html", context, status)
