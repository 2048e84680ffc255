"""A picture that a form sends, taken in: made anew, so that nothing but its pixels is kept."""

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.formats.photo import remade
from rowanseed.store import photos

MOST_PICTURES = 12


async def picture_sent(request: Request, there: int, of: str) -> str:
    """Keep the picture that a form's `file` holds; its name.

    Args:
        there: how many pictures the thing has.
        of: what it is called, such as `cloth`.

    Raises:
        PhotoError: none was chosen, it is no picture, or there are as many as may be.
    """
    file = (await request.form()).get("file")
    if not isinstance(file, UploadFile) or not file.size:
        raise PhotoError("Choose a picture first.", "photo")
    if there >= MOST_PICTURES:
        raise PhotoError(f"At most {MOST_PICTURES} pictures of one {of}.", "photo")
    return photos.keep(request.app.state.database, await run_in_threadpool(remade, await file.read()), "jpg")
