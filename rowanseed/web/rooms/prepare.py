"""Preparing a cloth: the dated checklist, the measured square, and pictures of it."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.prepare import Task, preparation
from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.shrinkage import MarkedSquare, shrinkage
from rowanseed.store import cloths, db, keeping
from rowanseed.store.cloths import StoredCloth
from rowanseed.web.deps import Home, Household, now, page, see_other, today, with_undo
from rowanseed.web.forms import Form, read_form
from rowanseed.web.pictures import picture_sent

router = APIRouter(prefix="/cloths/{cloth_id}", include_in_schema=False)
SIDES = ("before_along", "before_across", "after_along", "after_across")


def _page(request: Request, home: Household, stored: StoredCloth, form: Form, status: int) -> Response:
    tasks = preparation(stored.cloth)
    context = {"stored": stored, "tasks": tasks, "form": form, "left": _left(stored.cloth, tasks)}
    return page(request, home, "cloths/prepare.html", context, status)


def _left(cloth: Cloth, tasks: tuple[Task, ...]) -> list[Task]:
    """What still has to be done before it is cut."""
    return [task for task in tasks if not task.optional and task.key not in cloth.done]


@router.get("/prepare", name="cloth_prepare")
def show(request: Request, home: Home, cloth_id: int) -> Response:
    """The checklist of a cloth."""
    return _page(request, home, cloths.cloth(home.conn, cloth_id), Form({}, home.unit), 200)


@router.post("/prepare", name="cloth_prepare_tick")
async def tick(request: Request, home: Home, cloth_id: int) -> Response:
    """Tick a task with today's date, or take the tick back; with the last one the cloth is prepared."""
    form = await read_form(request, home.unit)
    stored = cloths.cloth(home.conn, cloth_id)
    tasks = preparation(stored.cloth)
    key = form.typed.get("task", "")
    if key not in {task.key for task in tasks}:
        raise db.NotFound("There is no such task for this cloth.")
    done = {k: day for k, day in stored.cloth.done.items() if k != key}
    if form.flag("done"):
        done[key] = today().isoformat()
    changed = replace(stored.cloth, done=done)
    changed = replace(changed, prepared=not _left(changed, tasks))
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), changed)
    return see_other(request, f"/cloths/{cloth_id}/prepare#task-{key}")


@router.post("/square", name="cloth_square")
async def square(request: Request, home: Home, cloth_id: int) -> Response:
    """Work out shrinkage from the measured square; width and length as they are now, where they were measured anew."""
    form = await read_form(request, home.unit)
    stored = cloths.cloth(home.conn, cloth_id)
    sides = [form.length(name, "This side", 2000) for name in SIDES]
    width, length = form.length("width_now", most_mm=5000), form.length("length_now", most_mm=200_000)
    shares = (0.0, 0.0)
    if form.sound:
        try:
            shares = shrinkage(MarkedSquare(*(side.mm if side else 0.0 for side in sides)))
        except ReckonError as error:
            form.errors[error.field] = error.text
    if not form.sound:
        return _page(request, home, stored, form, 422)
    cloth = replace(stored.cloth, shrink_along=shares[0], shrink_across=shares[1])
    cloth = replace(cloth, width=width or cloth.width, length=length or cloth.length)
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), cloth)
    return see_other(request, f"/cloths/{cloth_id}/prepare#square")


@router.post("/picture", name="cloth_picture")
async def add_picture(request: Request, home: Home, cloth_id: int) -> Response:
    """Add a picture of the cloth, made anew."""
    form = await read_form(request, home.unit)
    stored = cloths.cloth(home.conn, cloth_id)
    try:
        name = await picture_sent(request, len(stored.cloth.pictures), "cloth")
    except PhotoError as error:
        form.errors["file"] = error.text
        return _page(request, home, stored, form, 422)
    pictures = (*(p for p in stored.cloth.pictures if p != name), name)
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), replace(stored.cloth, pictures=pictures))
    return see_other(request, f"/cloths/{cloth_id}/prepare#pictures")


@router.post("/picture/drop", name="cloth_picture_drop")
async def drop_picture(request: Request, home: Home, cloth_id: int) -> Response:
    """Take a picture away."""
    form = await read_form(request, home.unit)
    with db.write(home.conn):
        gone = keeping.drop_picture(home.conn, keeping.KINDS["cloth"], cloth_id, form.typed.get("picture", ""), now())
    return see_other(request, with_undo(f"/cloths/{cloth_id}/prepare#pictures", gone))
