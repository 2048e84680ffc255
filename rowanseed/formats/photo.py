"""Photographs in and out: read with limits and made anew, so that nothing of a file that was sent is ever served."""

import base64
import io
import subprocess
import sys
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from PIL import Image, ImageOps
else:  # loaded for the first picture
    Image, ImageOps = lazily("PIL.Image"), lazily("PIL.ImageOps")

MOST_PIXELS = 40_000_000
SIDE_PX = 1400
TOO_LARGE = "This photograph is larger than 40 million pixels. Make it smaller first."
MOST_SECONDS = 20  # of the processor's time
PATIENCE = 5  # times as long by the clock, on a busy machine
MOST_BYTES = 1_500_000_000  # memory one picture may take to decode
KINDS = ("JPEG", "PNG", "WEBP")


def read_photo(data: bytes) -> "Image.Image":
    """A photograph, upright, no longer than 1400 px. Raises PhotoError for anything else, and for pictures that are too large."""
    upright = read_whole(data)
    upright.thumbnail((SIDE_PX, SIDE_PX))
    return upright


def read_whole(data: bytes) -> "Image.Image":
    """A photograph, upright, in all its pixels. Raises PhotoError for anything else, and for pictures that are too large."""
    try:
        picture = Image.open(io.BytesIO(data), formats=KINDS)
        if picture.width * picture.height > MOST_PIXELS:
            raise PhotoError(TOO_LARGE, "photo")
        return ImageOps.exif_transpose(picture).convert("RGB")
    except PhotoError:
        raise
    except Image.DecompressionBombError as error:
        raise PhotoError(TOO_LARGE, "photo") from error
    except Exception as error:  # the library raises many kinds for files that are no pictures
        raise PhotoError("This is not a photograph in JPEG, PNG or WebP.", "photo") from error


def as_jpeg(picture: "Image.Image") -> bytes:
    """A picture made anew as JPEG, without anything else the file carried."""
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=88)
    return out.getvalue()


def pixels(picture: "Image.Image") -> npt.NDArray[np.float64]:
    """A picture as an array, rows x columns x 3, 0 to 255."""
    return np.asarray(picture, dtype=np.float64)


def as_png(values: npt.NDArray[np.float64]) -> bytes:
    """An array, rows x columns x 3, as PNG."""
    out = io.BytesIO()
    Image.fromarray(np.clip(values, 0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def as_data(picture: bytes, kind: str) -> str:
    """A kept picture (`jpg` or `png`) as an address that carries it, for a file that stands alone."""
    return f"data:image/{'jpeg' if kind == 'jpg' else kind};base64,{base64.b64encode(picture).decode()}"


def remade(data: bytes) -> bytes:
    """A photograph that was sent, made anew as JPEG by a process of its own, with limits on its time and memory.

    Raises:
        PhotoError: it is no photograph, too large, or takes too long.
    """
    command = [sys.executable, "-m", "rowanseed.formats.photo"]
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=PATIENCE * MOST_SECONDS, check=False)
    except subprocess.TimeoutExpired as error:
        raise PhotoError("This photograph takes too long to read. Make it smaller first.", "photo") from error
    if done.returncode == 2:
        raise PhotoError(done.stderr.decode("utf-8", "replace").strip(), "photo")
    if done.returncode or not done.stdout:
        raise PhotoError("This photograph cannot be read. Save it anew as JPEG, and send that.", "photo")
    return done.stdout


def _main() -> int:
    """Read a photograph from standard input, write it anew to standard output; 2 with the reason on standard error."""
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_SECONDS, MOST_SECONDS))
    try:
        sys.stdout.buffer.write(as_jpeg(read_photo(sys.stdin.buffer.read())))
    except PhotoError as error:
        sys.stderr.buffer.write(error.text.encode())
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(_main())
