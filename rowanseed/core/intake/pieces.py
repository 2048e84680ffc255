"""Pieces of what was nested: their words, their lines by size, turned to their grain; what was guessed."""

import math
import re
from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from shapely import LineString, Polygon, STRtree
from shapely import Point as Place

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.sizes import carried
from rowanseed.core.geometry.types import Outline, Point, Segment
from rowanseed.core.intake.marks import Marks, read_marks
from rowanseed.core.intake.model import ProposedPiece, SizeLines, Stroke, Words
from rowanseed.core.intake.names import PieceWords, piece_words, size_of, size_rank, tidy_name
from rowanseed.core.intake.nesting import Nest, even_distance, in_order, valid_polygon
from rowanseed.core.intake.outlines import GAP_MM, Closed
from rowanseed.core.intake.sizing import listed_sizes

T = TypeVar("T")
Tell = Callable[[str, float], None]
Parts = tuple["PieceRead", list[tuple[str | None, "PieceRead"]]]


@dataclass
class PieceRead:
    """A piece on the way: its outlines and marks, its words, where it stands."""

    nest: Nest
    marks: Marks
    words: PieceWords
    lines: list[str]
    group: str = ""


def read_pieces(
    nests: Sequence[Nest], strokes: Sequence[Stroke], words: Sequence[Words], tell: Tell
) -> list[PieceRead]:
    """Return each nest with the marks and words that lie in it."""
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
        read.append(PieceRead(nest, marks, piece_words(lines), lines, nest.outer.stroke.group))
    return _without_legends(read)


def _same_group(group: str, nest: Nest) -> bool:
    return not group or not nest.outer.stroke.group or group == nest.outer.stroke.group


def _holder(
    stroke: Stroke, tree: STRtree, around: Sequence[Polygon], polygons: Sequence[Polygon], nests: Sequence[Nest]
) -> int | None:
    """Return the number of the smallest piece that a stroke lies in, or hangs at."""
    line = (
        LineString(stroke.points)
        if stroke.points[0] != stroke.points[-1] or len(stroke.points) > 2
        else Place(stroke.points[0])
    )
    homes = [int(k) for k in tree.query(line, predicate="intersects") if _same_group(stroke.group, nests[int(k)])]
    inside = [k for k in homes if line.length == 0 or around[k].intersection(line).length > 0.5 * line.length]
    short = line.length <= 40.0
    chosen = inside or (homes if short else [])
    if stroke.group:
        chosen = [k for k in chosen if nests[k].outer.stroke.group == stroke.group] or chosen
    return min(chosen, key=lambda k: polygons[k].area, default=None)


def _without_legends(read: list[PieceRead]) -> list[PieceRead]:
    """Return pieces without boxes that only hold words: a legend or a title block among pieces that have marks of their own."""
    if len(read) < 3:
        return read

    def legend(r: PieceRead) -> bool:
        outer = r.nest.outer
        box = len(outer.outline) == 4 and outer.area > 0.995 * Polygon(outer.outline).envelope.area
        bare = not (r.marks.notches or r.marks.grains or r.marks.folds or r.words.cut or r.group)
        return box and bare and len(r.nest.members) == 1 and len(r.lines) > 2 and not r.words.number

    kept = [r for r in read if not legend(r)]
    return kept or read


def with_sizes(
    read: Sequence[PieceRead], words: Sequence[Words]
) -> tuple[tuple[str, ...], list[ProposedPiece], list[Finding]]:
    """Return the file's sizes, the pieces with their lines by size, and what was guessed."""
    findings: list[Finding] = []
    alone: list[Parts] = [(r, [(None, r)]) for r in read]
    groups = _by_block(read) if any(r.group for r in read) else alone
    known = {m.stroke.size for r in read for m in r.nest.members if m.stroke.size is not None}
    known |= {size for _, parts in groups for size, _ in parts if size}
    most = max((len(r.nest.members) for r in read), default=1)
    if known:
        sizes: tuple[str, ...] = tuple(sorted(known, key=size_rank))
    elif most > 1:
        sizes, said = listed_sizes(words, most)
        findings.append(said)
    else:
        sizes = ("",)
    pieces = []
    for k, (first, parts) in enumerate(groups, start=1):
        pieces.append(_piece(k, first, parts, sizes, bool(known)))
    return sizes, _numbered(pieces), findings


def _by_block(read: Sequence[PieceRead]) -> list[tuple[PieceRead, list[tuple[str | None, PieceRead]]]]:
    """Return blocks that are one piece in several sizes together, by the name and size that their words give."""
    together: dict[str, list[tuple[str | None, PieceRead]]] = defaultdict(list)
    for r in read:
        size = next(iter(r.words.sizes), None) or next((m.stroke.size for m in r.nest.members), None)
        name, of_name = _block_name(r, size)
        together[name].append((size or of_name, r))
    result: list[tuple[PieceRead, list[tuple[str | None, PieceRead]]]] = []
    for parts in together.values():
        sizes = [size for size, _ in parts]
        if None not in sizes and len(set(sizes)) == len(sizes):
            parts = sorted(parts, key=lambda part: size_rank(part[0] or ""))
            result.append((parts[-1][1], parts))
        else:
            result += [(r, [(size, r)]) for size, r in parts]
    return result


def _block_name(r: PieceRead, size: str | None) -> tuple[str, str | None]:
    """Return a block's name without the size at its end, and that size."""
    name = r.group.removeprefix("piece:")
    parted = re.match(r"^(.*?)[\s_-]+([A-Za-z0-9/]{1,6})$", name)
    if parted and (of_name := size_of(parted[2])) is not None and (size is None or size_of(size) == of_name):
        return (r.words.name or parted[1]) + "|" + r.words.number, of_name
    return (r.words.name or name) + "|" + r.words.number, None


def _piece(
    place: int, first: PieceRead, parts: Sequence[tuple[str | None, PieceRead]], sizes: Sequence[str], known: bool
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
        findings.append(Finding("care", "guess-fewer-sizes", text))
    said = first.words
    label = first.nest.outer.stroke.label
    name = said.name or (tidy_name(first.group.removeprefix("piece:")) if first.group else "") or label
    if name and name == label:
        findings.append(Finding("note", "guess-name", "It has the name of the group that it lies in."))
    if not name:
        name = f"Piece {said.number or place}"
        findings.append(Finding("note", "guess-name", "No name was found in it."))
    if not said.cut:
        findings.append(Finding("note", "guess-cut", "Nothing in it says how many are cut: one was taken."))
    turned, origin, by_size = _turned(by_size, findings)
    if said.on_fold and not any(lines.fold_edge for lines in by_size.values()):
        text = "It says that it is cut on the fold, and no fold mark was found: choose the edge on its page, else half is laid."
        findings.append(Finding("care", "guess-fold-missing", text))
    mirrored = said.mirrored and not any(lines.fold_edge for lines in by_size.values())
    unique = tuple({(f.code, f.text): f for f in findings}.values())
    text = "; ".join(first.lines)[:400]
    return ProposedPiece(
        name, said.number, max(1, said.cut), by_size, unique, said.role, mirrored, text, origin, turned
    )


def _lines(r: PieceRead, sizes: Sequence[str], known: bool, findings: list[Finding]) -> dict[str, SizeLines]:
    members = in_order(r.nest)
    names = (
        [m.stroke.size or "" for m in members] if known and len(sizes) != len(members) else list(sizes[: len(members)])
    )
    if known:
        names = [m.stroke.size if m.stroke.size is not None else name for m, name in zip(members, names)]
    if not known and len(members) < len(sizes) and len(members) > 1:
        text = (
            f"It has {len(members)} nested lines where others have {len(sizes)}: they were taken as the smallest sizes."
        )
        findings.append(Finding("care", "guess-sizes-nested", text))
    if len(members) == 1 and members[0].stroke.size is None and len(sizes) > 1:
        members, names = members * len(sizes), list(sizes)
        findings.append(Finding("care", "guess-one-for-all", "It has one line: it was taken for all sizes."))
    if (
        len(members) == 2
        and not known
        and even_distance(min(members, key=lambda m: m.area), max(members, key=lambda m: m.area))
    ):
        text = "Its two lines run at an even distance: if the inner one is the seam line, say so."
        findings.append(Finding("care", "guess-sizes-nested", text))
    bridged = max(m.bridged for m in members)
    if bridged > 0.1 and bridged > (GAP_MM if any(m.stroke.style.dashed or m.parts > 12 for m in members) else 0.1):
        findings.append(Finding("note", "guess-closed", f"Gaps of up to {bridged:.1f} mm in its outline were closed."))
    shared = [name for name, m in zip(names, members) if m.shared]
    if shared:
        text = f"Part of the line of {', '.join(shared)} is drawn once, with another size's: it was followed there."
        findings.append(Finding("note", "guess-shared-line", text))
    lines = {}
    for name, member in zip(names, members):
        lines[name] = _size_lines(r, member, members, _seam_of(r.nest.seams, member))
    for kind, text in _GUESSED.items():
        if kind in r.marks.guessed:
            findings.append(Finding("note", f"guess-{kind}", text))
    if max(Counter(s.size for _, s in r.marks.grains).values(), default=0) > 1:
        findings.append(
            Finding("note", "guess-grain", "More than one line looks like its grain: the longest was taken.")
        )
    return lines


_GUESSED = {
    "notch": "Short marks at its edge were taken as notches.",
    "dot": "Small rings and crosses were taken as dots.",
    "grain": "A line with arrowheads was taken as its grain.",
    "grain-line": "The one long straight line that stands free in it was taken as its grain.",
    "fold": "A bracketed arrow was taken as the fold.",
}


def _size_lines(r: PieceRead, member: Closed, members: Sequence[Closed], seam: Closed | None) -> SizeLines:
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
        tuple(points for points, s in _of_size(marks.inner, size) if _reaches(points, s, member, members)),
    )


def _reaches(points: Outline, stroke: Stroke, member: Closed, members: Sequence[Closed]) -> bool:
    """Whether an inner line is this size's: not where it names no size and ends on the line of others only."""
    if stroke.size is not None or len(members) < 2:
        return True
    on = [m for m in members if min(_away(m, points[0]), _away(m, points[-1])) < 0.8]
    return not on or member in on


def _seam_of(seams: Sequence[Closed], member: Closed) -> Closed | None:
    """Return the seam line of one size: its own, else the nearest that runs evenly inside its outline."""
    own = [s for s in seams if s.stroke.size is not None and s.stroke.size == member.stroke.size]
    if own:
        return own[0]
    even = [(d, s) for s in seams if s.stroke.size is None and (d := even_distance(s, member)) is not None]
    if even:
        return min(even, key=lambda pair: pair[0])[1]
    return seams[0] if len(seams) == 1 and seams[0].stroke.size is None else None


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
    on = [p for p in member.outline if abs((p[0] - a[0]) * uy - (p[1] - a[1]) * ux) < 0.2]
    if len(on) < 2:
        return a, b
    on.sort(key=lambda p: p[0] * ux + p[1] * uy)
    return on[0], on[-1]


def _turned(by_size: dict[str, SizeLines], findings: list[Finding]) -> tuple[float, Point, dict[str, SizeLines]]:
    """Return a piece turned so that its grain lies along x, its upper end toward smaller x, and moved to begin at 0, 0."""
    largest = max(by_size.values(), key=lambda s: abs(Polygon(s.outline).area))
    along = largest.grain or largest.fold_edge
    if along is None:
        findings.append(Finding("note", "guess-no-grain", "No grain arrow was found: it lies as in the file."))
    angle = angle_of(along)
    cos, sin = math.cos(angle), math.sin(angle)
    turned = [(x * cos - y * sin, x * sin + y * cos) for s in by_size.values() for x, y in s.outline]
    left, top = min(p[0] for p in turned), min(p[1] for p in turned)
    moved = {size: moved_lines(s, angle, (left, top)) for size, s in by_size.items()}
    origin = (left * cos + top * sin, -left * sin + top * cos)
    return angle, origin, moved


def angle_of(along: Segment | None) -> float:
    """Return by how much a piece is turned so that a line lies along x, its upper (else left) end first; 0 without a line."""
    if along is None:
        return 0.0
    (ax, ay), (bx, by) = along
    if (ay, ax) > (by, bx) if abs(ay - by) > 0.2 * math.dist(*along) else ax > bx:
        ax, ay, bx, by = bx, by, ax, ay
    return -math.atan2(by - ay, bx - ax)


def moved_lines(s: SizeLines, angle: float, corner: Point) -> SizeLines:
    """Return a size's lines turned by an angle, then moved so that `corner` comes to 0, 0."""
    cos, sin = math.cos(angle), math.sin(angle)

    def at(p: Point) -> Point:
        return (round(p[0] * cos - p[1] * sin - corner[0], 4), round(p[0] * sin + p[1] * cos - corner[1], 4))

    def line(points: Outline) -> Outline:
        return tuple(at(p) for p in points)

    def ends(segment: Segment | None) -> Segment | None:
        return None if segment is None else (at(segment[0]), at(segment[1]))

    return SizeLines(
        line(s.outline),
        line(s.seam_line) if s.seam_line else None,
        line(s.notches),
        ends(s.grain),
        ends(s.fold_edge),
        line(s.points),
        tuple(line(i) for i in s.internal),
    )


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
    return sorted(result, key=lambda p: (_whole_number(p.number), p.number))


def _whole_number(number: str) -> int:
    digits = re.match(r"\d+", number)
    return int(digits[0]) if digits else 999
