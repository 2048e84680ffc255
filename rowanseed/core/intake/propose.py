"""From the lines of a file to proposed pieces in their sizes; what was guessed is said."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from shapely import Polygon

from rowanseed.core.errors import IntakeError
from rowanseed.core.intake.expanded import with_middle_lines
from rowanseed.core.intake.model import Drawing, Intake, IntakeOptions, Stroke, Words
from rowanseed.core.intake.nesting import nested, valid_polygon
from rowanseed.core.intake.outlines import LEAST_AREA_MM2, Closed, closed_outlines
from rowanseed.core.intake.pages import joined_pages
from rowanseed.core.intake.pieces import Tell, read_pieces, with_sizes
from rowanseed.core.intake.scale import corrected
from rowanseed.core.intake.seam_lines import seams_among_sizes
from rowanseed.core.intake.shared import with_shared_lines
from rowanseed.core.intake.sizing import seams_by_style, sizes_by_style, style_key
from rowanseed.core.intake.witness import believed, of_another_unit

MOST_PIECES = 200
LEAST_PIECE_MM2 = 900.0


def quiet(text: str, share: float) -> None:
    """Tell nobody how far it is."""


def propose(drawing: Drawing, options: IntakeOptions | None = None, tell: Tell = quiet) -> Intake:
    """Return the pieces that a drawing seems to hold.

    Args:
        tell: is told in words what is being done, and the share that is done.
    Raises:
        IntakeError: it holds no closed outline large enough for a piece.
    """
    options = options or IntakeOptions()
    try:
        return _proposed(drawing, options, tell)
    except IntakeError:
        if options.scale is not None or not drawing.strokes or drawing.kind == "pdf":
            raise

        def scaled(factor: float) -> Intake | None:
            try:
                return _proposed(drawing, replace(options, scale=factor), tell)
            except IntakeError:
                return None

        other = of_another_unit(scaled, drawing.unit)
        if other is None:
            raise
        return other


def _proposed(drawing: Drawing, options: IntakeOptions, tell: Tell) -> Intake:
    tell("Putting the pages together", 0.3)
    sheet = joined_pages(drawing, options)
    strokes, words, scale, scale_findings = corrected(sheet.strokes, _joined_words(sheet.words), options.scale)
    strokes = _once(_named(s, options.layers) for s in with_middle_lines(strokes) if s.sense != "ignore")
    tell("Joining lines", 0.45)
    closed, left = closed_outlines(strokes)
    outlines = [c for c in closed if _may_be_piece(c)]
    small = [replace(c.stroke, points=c.outline, closed=True) for c in closed if not _may_be_piece(c)]
    outlines = _without_frames(outlines)
    if not outlines:
        _refuse_empty(drawing, left)
    tell("Sorting sizes", 0.6)
    outlines, left = with_shared_lines(outlines, left)
    outlines, seamed = seams_by_style(outlines)
    if not seamed:
        outlines, seamed = seams_among_sizes(outlines)
    outlines, sized = sizes_by_style(outlines)
    nests = [n for n in nested(outlines) if n.outer.area >= LEAST_PIECE_MM2][:MOST_PIECES]
    if not nests:
        _refuse_empty(drawing, left)
    tell("Reading marks", 0.75)
    findings = [*drawing.findings, *sheet.findings, *scale_findings, *seamed, *sized]
    read = read_pieces(nests, [*small, *left], words, tell)
    sizes, pieces, named = with_sizes(read, words)
    arrangement = tuple((p, x * scale, y * scale, w * scale, h * scale) for p, x, y, w, h in sheet.arrangement)
    intake = Intake(drawing.kind, drawing.unit, scale, sizes, tuple(pieces), (*findings, *named), arrangement)
    if options.scale is not None or (options.unit and drawing.kind != "pdf"):
        return intake
    exact = any(f.code in ("test-square", "scale-corrected") for f in scale_findings)
    verdict = believed(intake, words, exact)
    if exact and not verdict.asks:
        intake = replace(intake, findings=tuple(f for f in intake.findings if f.code != "guess-unit"))
    if verdict.factor != 1.0:
        again = _proposed(drawing, replace(options, scale=scale * verdict.factor), tell)
        return replace(again, findings=(*again.findings, *scale_findings, *verdict.findings))
    return replace(intake, findings=(*intake.findings, *verdict.findings))


def _named(stroke: Stroke, layers: Mapping[str, str]) -> Stroke:
    """Return a stroke with the size that the user says its layer is; "-" for a layer that is left out."""
    for key in (stroke.layer, style_key(stroke)):
        if layers.get(key):
            return replace(stroke, size=layers[key])
    return stroke


def _once(strokes: Iterable[Stroke]) -> tuple[Stroke, ...]:
    """Return strokes without those drawn twice, as what several sizes share often is."""
    kept: dict[object, Stroke] = {}
    for s in strokes:
        ends = tuple((round(x, 1), round(y, 1)) for x, y in (s.points[0], s.points[len(s.points) // 2], s.points[-1]))
        kept.setdefault((s.layer, s.group, s.size, s.sense, s.style, s.closed, len(s.points), ends), s)
    return tuple(kept.values())


def _joined_words(words: Sequence[Words]) -> list[Words]:
    """Return words with the letters and parts of one line put together."""
    done: list[Words] = []
    for w in words:
        last = done[-1] if done else None
        if (
            last
            and last.page == w.page
            and last.layer == w.layer
            and last.group == w.group
            and abs(last.at[1] - w.at[1]) < 0.2 * w.height
        ):
            end = last.at[0] + 0.55 * last.height * len(last.text)
            gap = w.at[0] - end
            short = len(last.text) <= 2 or len(w.text) <= 2
            if (
                -0.8 * w.height * max(1, len(last.text) // 3) < gap < (0.5 if short else 0.9) * w.height
                and w.at[0] > last.at[0]
            ):
                space = " " if gap > 0.12 * w.height and not last.text.endswith(" ") else ""
                done[-1] = replace(last, text=last.text + space + w.text)
                continue
        done.append(w)
    return done


def _may_be_piece(closed: Closed) -> bool:
    fill = closed.stroke.style.colour.startswith("fill")
    return closed.area >= (4 * LEAST_AREA_MM2 if fill else LEAST_AREA_MM2) and closed.stroke.sense not in (
        "notch",
        "drill",
        "grain",
        "fold",
        "internal",
    )


def _without_frames(outlines: list[Closed]) -> list[Closed]:
    """Return outlines without a frame around the whole drawing: a rectangle that holds at least two apart from each other."""
    if len(outlines) < 3:
        return outlines
    order = sorted(outlines, key=lambda c: -c.area)
    while len(order) > 2:
        first = order[0]
        x0, y0, x1, y1 = Polygon(first.outline).bounds
        box = first.area > 0.995 * (x1 - x0) * (y1 - y0) and len(first.outline) <= 8
        others = [valid_polygon(c) for c in order[1:40]]
        apart = any(a.disjoint(b) for k, a in enumerate(others) for b in others[k + 1 :])
        largest = max(p.area for p in others)
        shared = [p for p in others if p.area > 0.5 * largest]
        holds = all(p.within(Polygon(first.outline).buffer(1.0)) for p in others)
        if not (box and holds and apart and largest < 0.7 * first.area and len(shared) >= 1):
            break
        if first.stroke.group or first.stroke.size is not None:
            break
        order = order[1:]
    return order


def _refuse_empty(drawing: Drawing, left: Sequence[Stroke]) -> None:
    if drawing.pictures and len(drawing.strokes) < 20:
        raise IntakeError(
            "This is a PDF whose pages are pictures. Use Photographs: a scan with its dpi is read there.", "file"
        )
    if not drawing.strokes:
        raise IntakeError("This file holds no lines. If its pages are pictures, use Photographs.", "file")
    loose = f" It has {len(left)} open lines whose ends do not meet." if left else ""
    raise IntakeError(f"No closed outline as large as a pattern piece was found in this file.{loose}", "file")
