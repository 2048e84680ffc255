"""The readings that are done in a process of their own: pattern files, photographs made flat, lines followed in them.

Each reading takes a head (JSON) and files, and answers bytes; beside it stands the function that asks for it.
"""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.model import Intake, IntakeOptions
from rowanseed.core.sew.sheet_steps import PlacedLine
from rowanseed.core.trace.sureness import Sureness
from rowanseed.formats.apart import Reading, Tell, run_apart

_INTAKE = TypeAdapter(Intake)
_OPTIONS = TypeAdapter(IntakeOptions)


def take_in(
    data: bytes,
    options: IntakeOptions,
    tell: Tell = lambda text, share: None,
    stop: Callable[[], bool] = lambda: False,
    grading: bytes | None = None,
) -> Intake:
    """Return the pieces that a pattern file, with a grading table beside it, seems to hold. Raises IntakeError."""
    files = [data, grading] if grading else [data]
    return _INTAKE.validate_json(run_apart("intake", _OPTIONS.dump_python(options, mode="json"), files, tell, stop))


def _intake(head: dict[str, Any], files: list[bytes], tell: Tell) -> bytes:
    from rowanseed.formats.intake.read import read_intake

    grading = files[1] if len(files) > 1 else None
    return _INTAKE.dump_json(read_intake(files[0], _OPTIONS.validate_python(head), tell, grading))


def _picture(data: bytes) -> Any:
    import numpy as np

    from rowanseed.core.cloth.repeat import PhotoError
    from rowanseed.formats.photo import read_whole

    try:
        return np.asarray(read_whole(data))[:, :, ::-1].copy()
    except PhotoError as error:
        raise IntakeError(error.text, "photo") from error


@dataclass(frozen=True)
class OtherThing:
    """What else lies on the ground: its outline, its corners' numbers, the stretches to be looked at, what is to be said."""

    outline: Outline
    corners: tuple[int, ...]
    unsure: tuple[Outline, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class TracedLine:
    """A traced line as it is answered: mm, its corners' numbers, the error, the scale, what is to be said.

    `unsure`: stretches of it to be looked at; `others`: what else lies on the ground.
    """

    outline: tuple[tuple[float, float], ...]
    error_mm: float
    mm_per_pixel: float
    corners: tuple[int, ...]
    findings: tuple[Finding, ...]
    unsure: tuple[Outline, ...] = ()
    others: tuple[OtherThing, ...] = ()


_TRACED = TypeAdapter(TracedLine)


def trace_photo(
    data: bytes,
    clicks: Sequence[tuple[float, float]] | None,
    closed: bool,
    dpi: float | None,
    square_mm: float | None = None,
    stop: Callable[[], bool] = lambda: False,
) -> TracedLine:
    """Return the line asked for in a photograph or scan. Raises IntakeError."""
    head = {"clicks": clicks, "closed": closed, "dpi": dpi, "square_mm": square_mm}
    return _TRACED.validate_json(run_apart("trace", head, [data], stop=stop))


def _trace(head: dict[str, Any], files: list[bytes], tell: Tell) -> bytes:
    from rowanseed.core.trace.trace import TraceOptions, trace

    clicks = None if head["clicks"] is None else tuple((float(x), float(y)) for x, y in head["clicks"])
    return _TRACED.dump_json(
        _line(trace(_picture(files[0]), TraceOptions(clicks, head["closed"], head["dpi"], head["square_mm"])))
    )


def _line(traced: Any) -> TracedLine:
    return TracedLine(traced.outline, traced.error_mm, traced.mm_per_pixel, traced.corners, traced.findings)


@dataclass(frozen=True)
class FlatFacts:
    """What is known of a photograph made flat: mm per pixel, its corner's place, its size, the sheets' places, the error."""

    mm: float
    left: float
    top: float
    wide: int
    high: int
    poses: tuple[tuple[float, float, float], ...]
    error_mm: float
    findings: tuple[Finding, ...] = ()
    sure: Sureness | None = None


@dataclass(frozen=True)
class FlatPhoto:
    """A photograph made flat, as it is kept: a JPEG and its facts."""

    jpeg: bytes
    facts: FlatFacts


FACTS = TypeAdapter(FlatFacts)


def flatten_photos(
    photos: Sequence[bytes],
    dpi: float | None,
    square_mm: float | None = None,
    tell: Tell = lambda text, share: None,
    stop: Callable[[], bool] = lambda: False,
) -> FlatPhoto:
    """Return photographs made flat and joined, or a scan to its scale. Raises IntakeError."""
    answer = run_apart("flatten", {"dpi": dpi, "square_mm": square_mm}, photos, tell, stop, 120)
    said, jpeg = answer.split(b"\n", 1)
    return FlatPhoto(jpeg, FACTS.validate_json(said))


def flatten_here(head: dict[str, Any], files: list[bytes], tell: Tell) -> bytes:
    """Return facts and picture of photographs made flat, in this process: `flatten_photos` calls it apart. Raises IntakeError."""
    import cv2

    from rowanseed.core.trace.trace import scene_of

    tell("Reading the photographs", 0.1)
    pictures = [_picture(f) for f in files[:12]]
    tell("Finding the sheets, making it flat", 0.4)
    scene = scene_of(pictures, head["dpi"], head["square_mm"])
    tell("Keeping the flat picture", 0.9)
    flat = scene.flat
    done, jpeg = cv2.imencode(".jpg", flat.picture, [cv2.IMWRITE_JPEG_QUALITY, 90])
    if not done:
        raise IntakeError("The flat picture could not be kept.", "photo")
    high, wide = flat.picture.shape[:2]
    poses = tuple(scene.poses.values())
    facts = FlatFacts(flat.mm, flat.left, flat.top, wide, high, poses, scene.error_mm, scene.findings, scene.sure)
    return FACTS.dump_json(facts) + b"\n" + jpeg.tobytes()


def follow_line(flat: FlatPhoto, clicks: Sequence[tuple[float, float]] | None, closed: bool) -> TracedLine:
    """Return the line through clicks (pixels of the flat picture); without clicks the piece on the ground. Raises IntakeError."""
    head = {"clicks": clicks, "closed": closed, "facts": FACTS.dump_python(flat.facts, mode="json")}
    return _TRACED.validate_json(run_apart("follow", head, [flat.jpeg]))


def _follow(head: dict[str, Any], files: list[bytes], tell: Tell) -> bytes:
    import numpy as np

    from rowanseed.core.trace.follow import followed
    from rowanseed.core.trace.plane import Flat
    from rowanseed.core.trace.sureness import said_of
    from rowanseed.core.trace.trace import Scene, found_on_ground

    facts = FACTS.validate_python(head["facts"])
    flat = Flat(_picture(files[0]), facts.mm, facts.left, facts.top)
    if head["clicks"] is None:
        piece, *others = found_on_ground(Scene(flat, dict(enumerate(facts.poses)), (), facts.error_mm))
        said = (*piece.findings, *said_of(facts.sure, piece.outline, flat.mm))
        more = tuple(
            OtherThing(o.outline, o.corners, o.unsure, (*o.findings, *said_of(facts.sure, o.outline, flat.mm)))
            for o in others
        )
        line = TracedLine(piece.outline, facts.error_mm, flat.mm, piece.corners, said, piece.unsure, more)
    else:
        outline, corners = followed(flat, np.asarray(head["clicks"], dtype=np.float64).reshape(-1, 2), head["closed"])
        said = said_of(facts.sure, outline, flat.mm) if head["closed"] else ()
        line = TracedLine(outline, facts.error_mm, flat.mm, tuple(corners), said)
    return _TRACED.dump_json(line)


PAGES = re.compile(r"^\s*(\d{1,4})\s*(?:[-–]\s*(\d{1,4}))?\s*$")
_LINES = TypeAdapter(list[PlacedLine])


def read_sheet_pdf(
    data: bytes, pages: tuple[int, int] | None = None, stop: Callable[[], bool] = lambda: False
) -> list[PlacedLine]:
    """Return the lines of an instruction sheet's PDF in reading order. Raises IntakeError."""
    return _LINES.validate_json(run_apart("sheet", {"pages": pages}, [data], stop=stop))


def pages_of(text: str) -> tuple[int, int] | None:
    """Return the first and last page that are asked for, `2` or `1-3`; None for all. Raises IntakeError."""
    if not text.strip():
        return None
    found = PAGES.match(text)
    first, last = (int(found[1]), int(found[2] or found[1])) if found else (0, 0)
    if not 1 <= first <= last:
        raise IntakeError("Write pages such as 2 or 1-3.", "pages")
    return first, last


def _sheet(head: dict[str, Any], files: list[bytes], tell: Tell) -> bytes:
    from rowanseed.formats.intake.sheet_pdf import sheet_lines

    pages = head["pages"]
    return _LINES.dump_json(sheet_lines(files[0], (pages[0], pages[1]) if pages else None))


READINGS: dict[str, Reading] = {
    "intake": _intake,
    "sheet": _sheet,
    "trace": _trace,
    "flatten": flatten_here,
    "follow": _follow,
}
