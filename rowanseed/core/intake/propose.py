"""From the lines of a file to proposed pieces in their sizes; what was guessed is said."""

import math
import re
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from shapely import LineString, Polygon, STRtree
from shapely import Point as Place

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline, Point, Segment
from rowanseed.core.intake.carry import carried
from rowanseed.core.intake.marks import Marks, read_marks
from rowanseed.core.intake.model import Drawing, Intake, IntakeOptions, ProposedPiece, SizeLines, Stroke, Words
from rowanseed.core.intake.names import PieceWords, piece_words, size_of, size_rank, tidy_name
from rowanseed.core.intake.nesting import Nest, even_distance, in_order, nested, valid_polygon
from rowanseed.core.intake.outlines import GAP_MM, LEAST_AREA_MM2, Closed, closed_outlines
from rowanseed.core.intake.pages import joined_pages
from rowanseed.core.intake.scale import corrected

T = TypeVar("T")
Tell = Callable[[str, float], None]
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
    tell("Putting the pages together", 0.3)
    sheet = joined_pages(drawing, options)
    strokes, words, scale, scale_findings = corrected(sheet.strokes, _joined_words(sheet.words), options.scale)
    strokes = tuple(_named(s, options.layers) for s in strokes if s.sense != "ignore")
    tell("Joining lines", 0.45)
    closed, left = closed_outlines(strokes)
    outlines = [c for c in closed if _may_be_piece(c)]
    small = [replace(c.stroke, points=c.outline, closed=True) for c in closed if not _may_be_piece(c)]
    outlines = _without_frames(outlines)
    if not outlines:
        _refuse_empty(drawing, left)
    tell("Sorting sizes", 0.6)
    outlines, sized = _sizes_by_style(outlines)
    nests = [n for n in nested(outlines) if n.outer.area >= LEAST_PIECE_MM2][:MOST_PIECES]
    if not nests:
        _refuse_empty(drawing, left)
    tell("Reading marks", 0.75)
    findings = [*drawing.findings, *sheet.findings, *scale_findings, *sized]
    read = _read_pieces(nests, [*small, *left], words, tell)
    sizes, pieces, named = _with_sizes(read, words)
    arrangement = tuple((p, x * scale, y * scale, w * scale, h * scale) for p, x, y, w, h in sheet.arrangement)
    return Intake(drawing.kind, drawing.unit, scale, sizes, tuple(pieces), tuple([*findings, *named]), arrangement)


def _named(stroke: Stroke, layers: Mapping[str, str]) -> Stroke:
    """Return a stroke with the size that the user says its layer is; "-" for a layer that is left out."""
    for key in (stroke.layer, style_key(stroke)):
        if layers.get(key):
            return replace(stroke, size=layers[key])
    return stroke


def style_key(stroke: Stroke) -> str:
    """Return what names a kind of line where a file has no layers: its colour, whether it is dashed, its width."""
    return f"{stroke.style.colour}{' dashed' if stroke.style.dashed else ''} {stroke.style.width_mm:g}"


def _joined_words(words: Sequence[Words]) -> list[Words]:
    """Return words with the letters and parts of one line put together."""
    done: list[Words] = []
    for w in words:
        last = done[-1] if done else None
        if last and last.page == w.page and last.layer == w.layer and last.group == w.group and abs(last.at[1] - w.at[1]) < 0.2 * w.height:
            end = last.at[0] + 0.55 * last.height * len(last.text)
            gap = w.at[0] - end
            short = len(last.text) <= 2 or len(w.text) <= 2
            if -0.8 * w.height * max(1, len(last.text) // 3) < gap < (0.5 if short else 0.9) * w.height and w.at[0] > last.at[0]:
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
        raise IntakeError("This is a PDF whose pages are pictures. Use Photographs: a scan with its dpi is read there.", "file")
    if not drawing.strokes:
        raise IntakeError("This file holds no lines. If its pages are pictures, use Photographs.", "file")
    loose = f" It has {len(left)} open lines whose ends do not meet." if left else ""
    raise IntakeError(f"No closed outline as large as a pattern piece was found in this file.{loose}", "file")


def _sizes_by_style(outlines: list[Closed]) -> tuple[list[Closed], tuple[Finding, ...]]:
    """Return outlines with a size for each kind of line, where kinds of line tell the sizes: nested lines of one sheet differ in it.

    The sizes are numbered by how large their outlines are; the user names them.
    """
    plain = [c for c in outlines if c.stroke.size is None and c.stroke.sense in ("", "cut")]
    if len(plain) < len(outlines):
        return outlines, ()
    layers = {c.stroke.layer for c in plain}
    by_layer = len(layers) > 1 and len({style_key(c.stroke) for c in plain}) <= len(layers)
    key = (lambda c: c.stroke.layer) if by_layer else (lambda c: style_key(c.stroke))
    kinds = {key(c) for c in plain}
    nests = [n for n in nested(plain) if len(n.members) > 1]
    whole = sum(len(n.members) for n in nests)
    distinct = all(len({key(m) for m in n.members}) == len(n.members) for n in nests)
    if len(kinds) < 2 or not nests or not distinct or whole < 0.5 * len(plain):
        return outlines, ()
    rank: dict[str, list[float]] = defaultdict(list)
    for nest in nests:
        for k, member in enumerate(sorted(nest.members, key=lambda m: m.area)):
            rank[key(member)].append(k / (len(nest.members) - 1))
    order = sorted(rank, key=lambda kind: sum(rank[kind]) / len(rank[kind]))
    names = {kind: str(k) for k, kind in enumerate(order, start=1)}
    told = ", ".join(f"{names[kind]}: {kind or 'no name'}" for kind in order[:16])
    what = "layer" if by_layer else "kind of line (colour, dashes, width)"
    text = f"Each {what} was taken as a size, the smallest first ({told}). Name them after the pattern's own sizes."
    sized = [replace(c, stroke=replace(c.stroke, size=names.get(key(c)))) for c in plain]
    return sized, (Finding("note", "guess-sizes-by-style", text),)


@dataclass
class _Read:
    """A piece on the way: its outlines and marks, its words, where it stands."""

    nest: Nest
    marks: Marks
    words: PieceWords
    lines: list[str]
    group: str = ""


def _read_pieces(nests: Sequence[Nest], strokes: Sequence[Stroke], words: Sequence[Words], tell: Tell) -> list[_Read]:
    polygons = [valid_polygon(n.outer) for n in nests]
    around = [p.buffer(2.0) for p in polygons]
    tree = STRtree(around)
    held: dict[int, list[Stroke]] = defaultdict(list)
    for stroke in strokes:
        home = _holder(stroke, tree, around, polygons, nests)
        if home is not None:
            held[home].append(stroke)
    said: dict[int, list[Words]] = defaultdict(list)
    for w in words:
        homes = [int(k) for k in tree.query(Place(w.at), predicate="within") if _same_group(w.group, nests[int(k)])]
        homes += [k for k, n in enumerate(nests) if w.group and n.outer.stroke.group == w.group and k not in homes]
        if homes:
            said[min(homes, key=lambda k: polygons[k].area)].append(w)
    read = []
    for k, nest in enumerate(nests):
        tell("Reading marks", 0.75 + 0.2 * k / len(nests))
        inside = [replace(c.stroke, points=c.outline, closed=True) for c in nest.inside]
        outlines = [c.outline for c in nest.members]
        marks = read_marks([*held[k], *inside], outlines, said[k])
        lines = [w.text for w in sorted(said[k], key=lambda w: (round(w.at[1] / 2), w.at[0]))]
        read.append(_Read(nest, marks, piece_words(lines), lines, nest.outer.stroke.group))
    return _without_legends(read)


def _same_group(group: str, nest: Nest) -> bool:
    return not group or not nest.outer.stroke.group or group == nest.outer.stroke.group


def _holder(
    stroke: Stroke, tree: STRtree, around: Sequence[Polygon], polygons: Sequence[Polygon], nests: Sequence[Nest]
) -> int | None:
    """Return the number of the smallest piece that a stroke lies in, or hangs at."""
    line = LineString(stroke.points) if stroke.points[0] != stroke.points[-1] or len(stroke.points) > 2 else Place(stroke.points[0])
    homes = [int(k) for k in tree.query(line, predicate="intersects") if _same_group(stroke.group, nests[int(k)])]
    inside = [k for k in homes if line.length == 0 or around[k].intersection(line).length > 0.5 * line.length]
    short = line.length <= 40.0
    chosen = inside or (homes if short else [])
    if stroke.group:
        chosen = [k for k in chosen if nests[k].outer.stroke.group == stroke.group] or chosen
    return min(chosen, key=lambda k: polygons[k].area, default=None)


def _without_legends(read: list[_Read]) -> list[_Read]:
    """Return pieces without boxes that only hold words: a legend or a title block among pieces that have marks of their own."""
    if len(read) < 3:
        return read

    def legend(r: _Read) -> bool:
        outer = r.nest.outer
        box = len(outer.outline) == 4 and outer.area > 0.995 * Polygon(outer.outline).envelope.area
        bare = not (r.marks.notches or r.marks.grains or r.marks.folds or r.words.cut or r.group)
        return box and bare and len(r.nest.members) == 1 and len(r.lines) > 2 and not r.words.number

    kept = [r for r in read if not legend(r)]
    return kept or read


def _with_sizes(read: Sequence[_Read], words: Sequence[Words]) -> tuple[tuple[str, ...], list[ProposedPiece], list[Finding]]:
    """Return the file's sizes, the pieces with their lines by size, and what was guessed."""
    findings: list[Finding] = []
    groups = _by_block(read) if any(r.group for r in read) else [(r, [(None, r)]) for r in read]
    known = {m.stroke.size for r in read for m in r.nest.members if m.stroke.size is not None}
    known |= {size for _, parts in groups for size, _ in parts if size}
    most = max((len(r.nest.members) for r in read), default=1)
    if known:
        sizes: tuple[str, ...] = tuple(sorted(known, key=size_rank))
    elif most > 1:
        sizes, said = _listed_sizes(words, most)
        findings.append(said)
    else:
        sizes = ("",)
    pieces = []
    for k, (first, parts) in enumerate(groups, start=1):
        pieces.append(_piece(k, first, parts, sizes, bool(known)))
    return sizes, _numbered(pieces), findings


def _by_block(read: Sequence[_Read]) -> list[tuple[_Read, list[tuple[str | None, _Read]]]]:
    """Return blocks that are one piece in several sizes together, by the name and size that their words give."""
    together: dict[str, list[tuple[str | None, _Read]]] = defaultdict(list)
    for r in read:
        size = next(iter(r.words.sizes), None) or next((m.stroke.size for m in r.nest.members), None)
        name, of_name = _block_name(r, size)
        together[name].append((size or of_name, r))
    result: list[tuple[_Read, list[tuple[str | None, _Read]]]] = []
    for parts in together.values():
        sizes = [size for size, _ in parts]
        if None not in sizes and len(set(sizes)) == len(sizes):
            parts = sorted(parts, key=lambda part: size_rank(part[0] or ""))
            result.append((parts[-1][1], parts))
        else:
            result += [(r, [(size, r)]) for size, r in parts]
    return result


def _block_name(r: _Read, size: str | None) -> tuple[str, str | None]:
    """Return a block's name without the size at its end, and that size."""
    name = r.group.removeprefix("piece:")
    parted = re.match(r"^(.*?)[\s_-]+([A-Za-z0-9/]{1,6})$", name)
    if parted and (of_name := size_of(parted[2])) is not None and (size is None or size_of(size) == of_name):
        return (r.words.name or parted[1]) + "|" + r.words.number, of_name
    return (r.words.name or name) + "|" + r.words.number, None


def _listed_sizes(words: Sequence[Words], count: int) -> tuple[tuple[str, ...], Finding]:
    """Return the sizes of nested lines that carry no name: a list of as many sizes among the words, else numbers."""
    for w in words:
        tokens = [t for t in re.split(r"[\s,;/–—-]+", re.sub(r"(?i)\bsizes?\b:?", " ", w.text)) if t]
        listed = [s for t in tokens if (s := size_of(t)) is not None]
        if len(listed) == count == len(tokens) and len(set(listed)) == count:
            text = f"Nested lines were taken as the sizes listed in the file, the innermost as {listed[0]}."
            return tuple(sorted(listed, key=size_rank)), Finding("note", "guess-sizes-nested", text)
    text = f"Up to {count} lines lie nested in a piece and carry no size: they were numbered from the smallest. Name them."
    return tuple(str(k) for k in range(1, count + 1)), Finding("note", "guess-sizes-nested", text)


def _piece(
    place: int, first: _Read, parts: Sequence[tuple[str | None, _Read]], sizes: Sequence[str], known: bool
) -> ProposedPiece:
    """Return one piece: its lines in each size, turned so that the grain lies along x, and what was guessed."""
    findings: list[Finding] = []
    by_size: dict[str, SizeLines] = {}
    if len(parts) > 1:
        for size, r in parts:
            by_size.update(_lines(r, (size or "",), True, findings))
    else:
        own = sizes
        if parts[0][0] is not None and len(first.nest.members) == 1:
            own, known = (parts[0][0],), True
            only = first.nest.members[0]
            first.nest.members[0] = replace(only, stroke=replace(only.stroke, size=parts[0][0]))
        by_size = _lines(first, own, known, findings)
    if len(sizes) > len(by_size) > 0 and sizes != ("",):
        text = f"Drawn in {', '.join(by_size)} only, of {', '.join(sizes)}."
        findings.append(Finding("note", "guess-fewer-sizes", text))
    said = first.words
    name = said.name or (tidy_name(first.group.removeprefix("piece:")) if first.group else "")
    if not name:
        name = f"Piece {said.number or place}"
        findings.append(Finding("note", "guess-name", "No name was found in it."))
    if not said.cut:
        findings.append(Finding("note", "guess-cut", "Nothing in it says how many are cut: one was taken."))
    turned, origin, by_size = _turned(by_size, findings)
    mirrored = said.mirrored and not any(lines.fold_edge for lines in by_size.values())
    unique = tuple({(f.code, f.text): f for f in findings}.values())
    text = "; ".join(first.lines)[:400]
    return ProposedPiece(
        name, said.number, max(1, said.cut), by_size, unique, said.role, mirrored, text, origin, turned
    )


def _lines(r: _Read, sizes: Sequence[str], known: bool, findings: list[Finding]) -> dict[str, SizeLines]:
    members = in_order(r.nest)
    names = [m.stroke.size or "" for m in members] if known and len(sizes) != len(members) else list(sizes[: len(members)])
    if known:
        names = [m.stroke.size if m.stroke.size is not None else name for m, name in zip(members, names)]
    if not known and len(members) < len(sizes) and len(members) > 1:
        text = f"It has {len(members)} nested lines where others have {len(sizes)}: they were taken as the smallest sizes."
        findings.append(Finding("care", "guess-sizes-nested", text))
    if len(members) == 1 and not known and len(sizes) > 1:
        names = [sizes[0]]
    if len(members) == 2 and not known and even_distance(min(members, key=lambda m: m.area), max(members, key=lambda m: m.area)):
        text = "Its two lines run at an even distance: if the inner one is the seam line, say so."
        findings.append(Finding("care", "guess-sizes-nested", text))
    bridged = max(m.bridged for m in members)
    if bridged > 0.1 and bridged > (GAP_MM if any(m.stroke.style.dashed or m.parts > 12 for m in members) else 0.1):
        findings.append(Finding("note", "guess-closed", f"Gaps of up to {bridged:.1f} mm in its outline were closed."))
    lines = {}
    for name, member in zip(names, members):
        seam = next((s for s in r.nest.seams if s.stroke.size in (member.stroke.size, None)), None)
        lines[name] = _size_lines(r, member, members, seam)
    for kind, text in _GUESSED.items():
        if kind in r.marks.guessed:
            findings.append(Finding("note", f"guess-{kind}", text))
    if max(Counter(s.size for _, s in r.marks.grains).values(), default=0) > 1:
        findings.append(Finding("note", "guess-grain", "More than one line looks like its grain: the longest was taken."))
    return lines


_GUESSED = {
    "notch": "Short marks at its edge were taken as notches.",
    "dot": "Small rings and crosses were taken as dots.",
    "grain": "A line with arrowheads was taken as its grain.",
    "grain-line": "The one long straight line that stands free in it was taken as its grain.",
    "fold": "A bracketed arrow was taken as the fold.",
}


def _size_lines(r: _Read, member: Closed, members: Sequence[Closed], seam: Closed | None) -> SizeLines:
    """Return one size's lines with the marks of that size, and those of no size; marks that only another size has are carried."""
    marks, size = r.marks, member.stroke.size
    outline = member.outline
    grain = max((g for g, s in marks.grains if s.size in (size, None)), key=lambda g: math.dist(*g), default=None)
    if grain is None:
        grain = max((g for g, _ in marks.grains), key=lambda g: math.dist(*g), default=None)
    fold = _fold(marks, member, members)
    return SizeLines(
        outline,
        seam.outline if seam else None,
        _notches(marks, member, members),
        grain,
        fold,
        tuple(p for p, s in _of_size(marks.dots, size)),
        tuple(points for points, s in _of_size(marks.inner, size)),
    )


def _of_size(found: Sequence[tuple[T, Stroke]], size: str | None) -> list[tuple[T, Stroke]]:
    """Return marks of one size with those of none; where that size has none of its own, those of the size that has most."""
    mine = [(m, s) for m, s in found if s.size in (size, None)]
    if mine or not found:
        return mine
    most = Counter(s.size for _, s in found).most_common(1)[0][0]
    return [(m, s) for m, s in found if s.size == most]


def _notches(marks: Marks, member: Closed, members: Sequence[Closed]) -> tuple[Point, ...]:
    """Return a size's notches: its own, those that stand on its line, else those of the size that has most, carried along."""
    mine: list[Point] = []
    by_member: dict[int, list[Point]] = defaultdict(list)
    for at, stroke in marks.notches:
        sizes = [m for m in members if stroke.size is not None and m.stroke.size == stroke.size]
        home = sizes[0] if sizes else min(members, key=lambda m: _away(m, at))
        by_member[id(home)].append(at)
        if home is member or (stroke.size is None and _away(member, at) < 0.8):
            mine.append(at)
    fullest = max(members, key=lambda m: len(by_member[id(m)]))
    there = by_member[id(fullest)]
    if len(mine) >= len(there):
        return tuple(mine)
    return tuple(carried(there, fullest.outline, member.outline))


def _away(member: Closed, at: Point) -> float:
    return float(LineString([*member.outline, member.outline[0]]).distance(Place(at)))


def _fold(marks: Marks, member: Closed, members: Sequence[Closed]) -> Segment | None:
    """Return a size's fold edge: what the fold mark points to, with its ends on this size's own outline."""
    if not marks.folds:
        return None
    own = [f for f, s in marks.folds if s.size == member.stroke.size] or [f for f, _ in marks.folds]
    a, b = own[0]
    long = math.dist(a, b) or 1.0
    ux, uy = (b[0] - a[0]) / long, (b[1] - a[1]) / long
    on = [p for p in member.outline if abs((p[0] - a[0]) * uy - (p[1] - a[1]) * ux) < 1.0]
    if len(on) < 2:
        return a, b
    on.sort(key=lambda p: p[0] * ux + p[1] * uy)
    return on[0], on[-1]


def _turned(by_size: dict[str, SizeLines], findings: list[Finding]) -> tuple[float, Point, dict[str, SizeLines]]:
    """Return a piece turned so that its grain lies along x, its upper end toward smaller x, and moved to begin at 0, 0."""
    largest = max(by_size.values(), key=lambda s: abs(Polygon(s.outline).area))
    along = largest.grain or largest.fold_edge
    angle = 0.0
    if along is None:
        findings.append(Finding("note", "guess-no-grain", "No grain arrow was found: it lies as in the file."))
    else:
        (ax, ay), (bx, by) = along
        if (ay, ax) > (by, bx) if abs(ay - by) > 0.2 * math.dist(*along) else ax > bx:
            ax, ay, bx, by = bx, by, ax, ay
        angle = -math.atan2(by - ay, bx - ax)
    cos, sin = math.cos(angle), math.sin(angle)
    turned = [(x * cos - y * sin, x * sin + y * cos) for s in by_size.values() for x, y in s.outline]
    left, top = min(p[0] for p in turned), min(p[1] for p in turned)

    def at(p: Point) -> Point:
        return (round(p[0] * cos - p[1] * sin - left, 4), round(p[0] * sin + p[1] * cos - top, 4))

    def line(points: Outline) -> Outline:
        return tuple(at(p) for p in points)

    def ends(segment: Segment | None) -> Segment | None:
        return None if segment is None else (at(segment[0]), at(segment[1]))

    moved = {
        size: SizeLines(
            line(s.outline),
            line(s.seam_line) if s.seam_line else None,
            line(s.notches),
            ends(s.grain),
            ends(s.fold_edge),
            line(s.points),
            tuple(line(i) for i in s.internal),
        )
        for size, s in by_size.items()
    }
    origin = (left * cos + top * sin, -left * sin + top * cos)
    return angle, origin, moved


def _numbered(pieces: list[ProposedPiece]) -> list[ProposedPiece]:
    """Return pieces with a number each, all different: those they have, and the next free ones; in the order of their numbers."""
    taken = Counter(p.number for p in pieces if p.number)
    free = (str(k) for k in range(1, 10_000) if str(k) not in taken)
    result, seen = [], set()
    for piece in pieces:
        if piece.number and piece.number not in seen:
            seen.add(piece.number)
            result.append(piece)
        else:
            note = Finding("note", "guess-number", "It has no number of its own: the next free one was taken.")
            result.append(replace(piece, number=next(free), findings=(*piece.findings, note)))
    return sorted(result, key=lambda p: (int(re.match(r"\d+", p.number)[0]) if re.match(r"\d+", p.number) else 999, p.number))  # type: ignore[index]
