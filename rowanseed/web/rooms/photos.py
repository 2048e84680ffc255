"""A cloth's print from a flat photograph: mark a rectangle of known size, the repeat is found and offered."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.datastructures import UploadFile

from rowanseed.core.cloth.repeat import PhotoError, RepeatFound, find_repeat, grey_of, straightened
from rowanseed.formats.photo import as_png, pixels, read_photo, remade
from rowanseed.store import cloths, db, photos
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form

Pixels = npt.NDArray[np.float64]
router = APIRouter(include_in_schema=False)
CORNERS = (
    "at the cut end, near edge",
    "further along, near edge",
    "further along, far edge",
    "at the cut end, far edge",
)


@dataclass(frozen=True)
class Straight:
    """A straightened photograph: its pixels in colour, how many of them a millimetre takes, and the repeat found in it."""

    scale: float
    found: RepeatFound
    tile: bytes


@router.get("/photos/{name}", name="photo")
def picture(request: Request, name: str) -> Response:
    """A picture that was kept."""
    return FileResponse(photos.path_of(request.app.state.database, name), headers={"Cache-Control": "max-age=86400"})


@router.get("/cloths/{cloth_id}/photo", name="cloth_photo")
def show(request: Request, home: Home, cloth_id: int, photo: str = "") -> Response:
    """Send a photograph; then mark the rectangle."""
    if photo:
        photos.path_of(request.app.state.database, photo)
    return _page(request, home, cloth_id, Form({"photo": photo}, home.unit), None, 200)


def _page(
    request: Request, home: Household, cloth_id: int, form: Form, found: RepeatFound | None, status: int
) -> Response:
    context: dict[str, object] = {
        "stored": cloths.cloth(home.conn, cloth_id),
        "form": form,
        "found": found,
        "photo": form.typed.get("photo", ""),
        "corners": CORNERS,
    }
    if context["photo"]:
        with photos.path_of(request.app.state.database, str(context["photo"])).open("rb") as file:
            shown = read_photo(file.read())
        context["size"] = shown.size
    return page(request, home, "cloths/photo.html", context, status)


@router.post("/cloths/{cloth_id}/photo", name="cloth_photo_send")
async def send(request: Request, home: Home, cloth_id: int) -> Response:
    """Take a photograph in, made anew."""
    sent = (await request.form()).get("file")
    form = Form({}, home.unit)
    try:
        if not isinstance(sent, UploadFile) or not sent.size:
            raise PhotoError("Choose a photograph first.", "photo")
        made = await run_in_threadpool(remade, await sent.read())
        name = photos.keep(request.app.state.database, made, "jpg")
    except PhotoError as error:
        form.errors["file"] = error.text
        return _page(request, home, cloth_id, form, None, 422)
    return see_other(request, f"/cloths/{cloth_id}/photo?photo={name}")


def _corners(form: Form) -> tuple[tuple[float, float], ...]:
    places = []
    for k in range(4):
        try:
            places.append((float(form.typed.get(f"x{k}", "")), float(form.typed.get(f"y{k}", ""))))
        except ValueError:
            form.errors["corners"] = "Mark all four corners: tap the photograph, or write where they lie."
            return ()
    return tuple(places)


def _straight(request: Request, form: Form) -> Straight | None:
    """The photograph straightened and its repeat found; None with the form's errors set."""
    along = form.length("rect_along", "The rectangle's length along the cloth", 5000)
    across = form.length("rect_across", "The rectangle's width across the cloth", 5000)
    corners = _corners(form)
    if along is None or across is None or not corners:
        return None
    with photos.path_of(request.app.state.database, form.typed.get("photo", "")).open("rb") as file:
        colours = pixels(read_photo(file.read()))
    try:
        flat, scale = straightened(colours, corners, along.mm, across.mm)
        found = find_repeat(grey_of(flat), scale)
    except PhotoError as error:
        form.errors["corners" if error.field == "corners" else "found"] = error.text
        return None
    return Straight(scale, found, as_png(_one_repeat(flat, found, scale)))


def _one_repeat(flat: Pixels, found: RepeatFound, scale: float) -> Pixels:
    """One repeat of the straightened picture, from its middle."""
    rows, columns = flat.shape[:2]
    wide = min(columns, round((found.along_mm or 40.0) * scale))
    high = min(rows, round((found.across_mm or 40.0) * scale))
    top, left = (rows - high) // 2, (columns - wide) // 2
    cut: Pixels = flat[top : top + high, left : left + wide]
    return cut


@router.post("/cloths/{cloth_id}/photo/find", name="cloth_photo_find")
async def find(request: Request, home: Home, cloth_id: int) -> Response:
    """Find the repeat and offer it."""
    form = await read_form(request, home.unit)
    straight = _straight(request, form)
    return _page(request, home, cloth_id, form, straight.found if straight else None, 200 if straight else 422)


@router.post("/cloths/{cloth_id}/photo/use", name="cloth_photo_use")
async def use(request: Request, home: Home, cloth_id: int) -> Response:
    """Take the repeat that was found, and the picture of it, for the cloth."""
    form = await read_form(request, home.unit)
    straight = _straight(request, form)
    if straight is None:
        return _page(request, home, cloth_id, form, None, 422)
    stored = cloths.cloth(home.conn, cloth_id)
    found = straight.found
    before = stored.cloth.print
    print_ = replace(
        before,
        kind="two-way" if before.kind == "plain" else before.kind,
        repeat_along_mm=round(found.along_mm, 1),
        repeat_across_mm=round(found.across_mm, 1),
        half_drop=found.half_drop,
    )
    tile = photos.keep(request.app.state.database, straight.tile, "png")
    with db.write(home.conn):
        cloths.update_cloth(home.conn, cloth_id, form.version(), replace(stored.cloth, print=print_, tile=tile))
    return see_other(request, f"/cloths/{cloth_id}")
