"""The pattern file: JSON, versioned, with a published schema (docs/pattern-format.md, docs/pattern.schema.json).

Lengths are written as typed (`"38 in"`, `"97 cm"`) or as numbers of millimetres; coordinates are millimetres, x along the
grain with the head of the piece toward smaller x.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import fields
from typing import Any, NoReturn

from pydantic import ValidationError
from shapely import LineString, Point

from rowanseed.core.errors import FeatureError, PatternFileError
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.lengths import Length, parse_length
from rowanseed.core.pattern.fates import EdgeFate, key_of_edge
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece, Printed, Seam, View
from rowanseed.formats.pattern_entries import (
    FORMAT,
    FateEntry,
    FiguresEntry,
    LineEntry,
    MarkEntry,
    NotchEntry,
    PatternFile,
    PieceEntry,
    PrintedEntry,
    SeamEntry,
    ShapeEntry,
    SizeEntry,
    ViewEntry,
)
from rowanseed.formats.sewing import check_features

MOST_BYTES = 6_000_000
MOST_POINTS = 400_000
ON_OUTLINE_MM = 1.0


def schema() -> dict[str, Any]:
    """The published JSON schema of the pattern file."""
    return PatternFile.model_json_schema()


def write_pattern(pattern: Pattern) -> str:
    """A pattern as the text of a pattern file."""
    file = PatternFile(
        format=FORMAT,
        name=pattern.name,
        label=pattern.label,
        garment=pattern.garment,
        drafted_height=pattern.drafted_height.text if pattern.drafted_height else None,
        sizes=[
            SizeEntry(size=s.size, body=_texts(s.body), finished=_texts(s.finished), upto=_texts(s.upto), age=s.age)
            for s in pattern.sizes
        ],
        views=[ViewEntry(name=v.name, description=v.description, features=dict(v.features)) for v in pattern.views],
        pieces=[_piece_entry(p) for p in pattern.pieces],
        seams=[_seam_entry(s) for s in pattern.seams],
        fates=[_fate_entry(key, fate) for key, fate in pattern.fates.items()],
        units=dict(pattern.units),
        notions=pattern.notions,
        note=pattern.note,
        cut=pattern.cut,
        least_stretch=pattern.least_stretch,
        printed=[
            PrintedEntry(view=f.view, sizes=list(f.sizes), width=f.width.text, length=f.length.text, one_way=f.one_way)
            for f in pattern.printed
        ],
        cup=pattern.cup.text if pattern.cup else None,
        figures=_figures_entry(pattern.figures),
    )
    return json.dumps(file.model_dump(mode="json"), ensure_ascii=False, indent=1)


def read_pattern(text: str | bytes) -> Pattern:
    """Read a pattern file.

    Raises:
        PatternFileError: with the field and the reason, such as `pieces.0.cut: Input should be greater than ...`.
    """
    if len(text) > MOST_BYTES:
        raise PatternFileError("This file is larger than a pattern can be.", "file")
    try:
        file = PatternFile.model_validate(json.loads(text))
    except RecursionError as error:
        raise PatternFileError("This is not a pattern file: it is nested too deep.", "file") from error
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise PatternFileError(f"This is not a JSON file: {error}.", "file") from error
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        reason = first["msg"].removeprefix("Value error, ")
        raise PatternFileError(f"{where or 'file'}: {reason}", where or "file") from error
    _refuse_unusable(file)
    _refuse_inconsistent(file)
    return _pattern(file)


def _refuse(where: str, words: str) -> NoReturn:
    raise PatternFileError(f"{where}: {words}", where)


def _refuse_unusable(file: PatternFile) -> None:
    """What could be stored and then not be opened, laid or sewn: names, features, fold edges, numbers of things."""
    names = [
        ("sizes", [s.size for s in file.sizes]),
        ("views", [v.name for v in file.views]),
        ("pieces", [p.number for p in file.pieces]),
    ]
    for what, found in names:
        for at, name in enumerate(found):
            if "/" in name or name != name.strip():
                _refuse(f"{what}.{at}", f"“{name}” cannot be a name here: leave out slashes and spaces around it")
            if name in found[:at] and what != "pieces":
                _refuse(f"{what}.{at}", f"there are two of the name “{name}”")
    for at, view in enumerate(file.views):
        try:
            check_features(view.features)
        except FeatureError as error:
            _refuse(f"views.{at}.features", error.text)
    points = sum(len(shape.outline) for piece in file.pieces for shape in piece.shapes.values())
    if points > MOST_POINTS:
        _refuse(
            "pieces", f"all outlines together have {points} points; {MOST_POINTS} are taken. Trace them more coarsely"
        )
    for at, piece in enumerate(file.pieces):
        for size, shape in piece.shapes.items():
            if shape.fold_edge is not None:
                _refuse_fold(f"pieces.{at}.shapes.{size}.fold_edge", shape.fold_edge, shape.outline)


def _refuse_fold(where: str, fold: Sequence[tuple[float, float]], outline: Sequence[tuple[float, float]]) -> None:
    (x0, y0), (x1, y1) = fold
    if abs(x1 - x0) < 1.0 or abs(y1 - y0) > 0.5:
        _refuse(where, "a fold edge runs along the grain, which lies along x, and is longer than a millimetre")
    ring = LineString([*outline, outline[0]])
    if any(ring.distance(Point(end)) > ON_OUTLINE_MM for end in fold):
        _refuse(where, "the fold edge does not lie on the outline")
    sides = [y - (y0 + y1) / 2 for _, y in outline]
    if min(sides) < -0.5 and max(sides) > 0.5:
        _refuse(where, "the piece lies on both sides of its fold edge; give half of it")


def _refuse_inconsistent(file: PatternFile) -> None:
    sizes = [s.size for s in file.sizes]
    views = {v.name for v in file.views}
    numbers: set[str] = set()
    edges = {p.number: {name for shape in p.shapes.values() for name in shape.edges} for p in file.pieces}
    for at, piece in enumerate(file.pieces):
        if piece.same_as and piece.same_as not in edges:
            raise PatternFileError(f"pieces.{at}.same_as: there is no piece {piece.same_as}", f"pieces.{at}.same_as")
        if piece.number in numbers:
            raise PatternFileError(f"pieces.{at}.number: there are two pieces {piece.number}", f"pieces.{at}.number")
        numbers.add(piece.number)
        for view in piece.views:
            if view not in views:
                raise PatternFileError(f"pieces.{at}.views: there is no view {view}", f"pieces.{at}.views")
        for size, shape in piece.shapes.items():
            if sizes and size not in sizes:
                raise PatternFileError(f"pieces.{at}.shapes: there is no size {size}", f"pieces.{at}.shapes")
            for name, (i, j) in shape.edges.items():
                if not (0 <= i < len(shape.outline) and 0 <= j < len(shape.outline)):
                    where = f"pieces.{at}.shapes.{size}.edges.{name}"
                    raise PatternFileError(f"{where}: the outline has no such point", where)
    for at, seam in enumerate(file.seams):
        for side in (seam.a, seam.b, *seam.more_a, *seam.more_b):
            if side[0] not in edges or (edges[side[0]] and side[1] not in edges[side[0]]):
                raise PatternFileError(f"seams.{at}: piece {side[0]} has no edge {side[1]}", f"seams.{at}")
    for at, fate in enumerate(file.fates):
        if fate.edge[0] not in edges:
            raise PatternFileError(f"fates.{at}: there is no piece {fate.edge[0]}", f"fates.{at}")


def _figures_entry(figures: Figures) -> FiguresEntry | None:
    if figures == Figures():
        return None
    given = {f.name: getattr(figures, f.name) for f in fields(figures)}
    return FiguresEntry.model_validate({k: v.text if isinstance(v, Length) else v for k, v in given.items()})


def _figures(entry: FiguresEntry | None) -> Figures:
    if entry is None:
        return Figures()
    lengths = {k: parse_length(v) for k, v in entry.model_dump().items() if isinstance(v, str)}
    return Figures(entry.buttons, **lengths)


def _texts(lengths: Mapping[str, Length]) -> dict[str, str]:
    return {key: length.text for key, length in lengths.items()}


def _lengths(texts: Mapping[str, str]) -> dict[str, Length]:
    return {key: parse_length(text) for key, text in texts.items()}


def _seam_entry(seam: Seam) -> SeamEntry:
    more_a, more_b = list(seam.more_a), list(seam.more_b)
    return SeamEntry(a=seam.a, b=seam.b, meant=seam.meant_mm, more_a=more_a, more_b=more_b, why=seam.why)


def _piece_entry(piece: Piece) -> PieceEntry:
    return PieceEntry(
        number=piece.number,
        name=piece.name,
        cut=piece.cut,
        role=piece.role,
        mirrored=piece.mirrored,
        grain=piece.grain,
        allowance=f"{piece.allowance_mm:g} mm",
        allowance_included=piece.allowance_included,
        edge_allowances={edge: f"{mm:g} mm" for edge, mm in piece.edge_allowances.items()},
        views=list(piece.views),
        note=piece.note,
        shapes={size: _shape_entry(shape) for size, shape in piece.shapes.items()},
        same_as=piece.same_as,
        selvage_edge=piece.selvage_edge,
        off_grain=piece.off_grain,
        follows=piece.follows,
        figures={size: dict(typed) for size, typed in piece.figures.items()},
    )


def _shape_entry(shape: PieceShape) -> ShapeEntry:
    return ShapeEntry(
        outline=list(shape.outline),
        fold_edge=shape.fold_edge,
        grainline=shape.grainline,
        notches=[NotchEntry(at=n.at, count=n.count) for n in shape.notches],
        marks=[MarkEntry(name=m.name, at=m.at) for m in shape.marks],
        lines=[LineEntry(kind=line.kind, points=list(line.points)) for line in shape.lines],
        edges=dict(shape.edges),
        levels=dict(shape.levels),
        allowance=None if shape.allowance_mm is None else f"{shape.allowance_mm:g} mm",
        allowances={edge: f"{mm:g} mm" for edge, mm in shape.allowances.items()},
    )


def _pattern(file: PatternFile) -> Pattern:
    return Pattern(
        file.name,
        file.label,
        file.garment,
        parse_length(file.drafted_height) if file.drafted_height else None,
        tuple(
            EnvelopeSize(s.size, _lengths(s.body), _lengths(s.finished), _lengths(s.upto), s.age) for s in file.sizes
        ),
        tuple(View(v.name, v.description, v.features) for v in file.views),
        tuple(_piece(p) for p in file.pieces),
        file.notions,
        file.note,
        tuple(Seam(s.a, s.b, s.meant, tuple(s.more_a), tuple(s.more_b), s.why) for s in file.seams),
        file.cut,
        file.least_stretch,
        tuple(
            Printed(f.view, tuple(f.sizes), parse_length(f.width), parse_length(f.length), f.one_way)
            for f in file.printed
        ),
        parse_length(file.cup) if file.cup else None,
        _figures(file.figures),
        {
            key_of_edge(*f.edge): EdgeFate(f.fate, f.way, f.first, f.second, f.width, tuple(f.shaping), f.side)
            for f in file.fates
        },
        file.units,
    )


def _fate_entry(key: str, fate: EdgeFate) -> FateEntry:
    number, _, name = key.partition("|")
    return FateEntry(
        edge=(number, name),
        fate=fate.ending,
        way=fate.way,
        first=fate.first_mm,
        second=fate.second_mm,
        width=fate.width_mm,
        shaping=list(fate.shaping),
        side=fate.side if fate.side in ("left", "right") else "",  # type: ignore[arg-type]
    )


def _piece(entry: PieceEntry) -> Piece:
    shapes = {size: _shape(s) for size, s in entry.shapes.items()}
    return Piece(
        entry.number,
        entry.name,
        entry.cut,
        entry.role,
        entry.mirrored,
        entry.grain,
        parse_length(entry.allowance).mm,
        entry.allowance_included,
        tuple(entry.views),
        shapes,
        entry.note,
        entry.same_as,
        entry.selvage_edge,
        entry.off_grain,
        {edge: parse_length(text).mm for edge, text in entry.edge_allowances.items()},
        entry.follows,
        entry.figures,
    )


def _shape(entry: ShapeEntry) -> PieceShape:
    return PieceShape(
        tuple(entry.outline),
        entry.fold_edge,
        entry.grainline,
        tuple(Notch(n.at, n.count) for n in entry.notches),
        tuple(Mark(m.name, m.at) for m in entry.marks),
        tuple(Line(line.kind, tuple(line.points)) for line in entry.lines),
        dict(entry.edges),
        dict(entry.levels),
        None if entry.allowance is None else parse_length(entry.allowance).mm,
        {edge: parse_length(text).mm for edge, text in entry.allowances.items()},
    )
