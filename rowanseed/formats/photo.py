"""Photographs in and out: read with limits and made anew, so that nothing of a file that was sent is ever served."""

import io

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageOps

from rowanseed.core.cloth.repeat import PhotoError

MOST_PIXELS = 40_000_000
SIDE_PX = 1400
KINDS = ("JPEG", "PNG", "WEBP")


def read_photo(data: bytes) -> Image.Image:
    """A photograph, upright, no longer than 1400 px. Raises PhotoError for anything else, and for pictures that are too large."""
    try:
        picture = Image.open(io.BytesIO(data), formats=KINDS)
        if picture.width * picture.height > MOST_PIXELS:
            raise PhotoError("This photograph is larger than 40 million pixels. Make it smaller first.", "photo")
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    except PhotoError:
        raise
    except Exception as error:  # the library raises many kinds for files that are no pictures
        raise PhotoError("This is not a photograph in JPEG, PNG or WebP.", "photo") from error
    upright.thumbnail((SIDE_PX, SIDE_PX))
    return upright


def as_jpeg(picture: Image.Image) -> bytes:
    """A picture made anew as JPEG, without anything else the file carried."""
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=88)
    return out.getvalue()


def pixels(picture: Image.Image) -> npt.NDArray[np.float64]:
    """A picture as an array, rows x columns x 3, 0 to 255."""
    return np.asarray(picture, dtype=np.float64)


def as_png(values: npt.NDArray[np.float64]) -> bytes:
    """An array, rows x columns x 3, as PNG."""
    out = io.BytesIO()
    Image.fromarray(np.clip(values, 0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()
