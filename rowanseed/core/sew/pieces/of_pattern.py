"""A pattern's pieces as the sewing engine takes them: each one's unit, layer and edges in order, the seams and fates declared."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import dist

from rowanseed.core.geometry.outline import edge_sides
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.fates import EdgeFate, key_of_edge
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.sew.declared import edge_word, unit_of_piece
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, StackedSeam, pieced

SMALL_WORDS = {
    "waistband": "waistband", "neckband": "stand", "flap": "flap", "pocket": "pocket", "welt": "pocket", "placket": "placket",
    "fly": "placket", "strap": "strap", "belt": "belt", "tab": "tab", "loop": "tab", "binding": "band", "band": "band",
    "yoke": "yoke", "tie": "tie",
}  # fmt: skip
UNITS = (
    "body", "bodice", "skirt", "leg", "sleeve", "collar", "stand", "hood", "cuff", "waistband", "yoke", "facing", "pocket",
    "flap", "placket", "band", "strap", "tab", "belt", "tie", "panel", "peplum",
)  # fmt: skip
LAYERS = {"lining": "lining", "interfacing": "interfacing", "underlining": "underlining"}
SHORT_MM = 15.0  # a stretch between named edges that is shorter is a corner of the allowance, not an edge
MIRRORED = "mirror"  # the way of an edge that is joined to its own mirror image, as a centre back seam
ZIPPED = "zip-above"  # the same, with a zip in its upper part
ZIP_MM = 200.0  # an opening from the waist to about the hip; common practice, no source
ZIP_PART = "zip"
Points = tuple[tuple[float, float], ...]
Run = tuple[str, str, Points]  # the engine's word of an edge, the pattern's name of it, the points along it
FOLD_MM = 0.5


@dataclass(frozen=True)
class OfPattern:
    """A pattern's garment; by the engine's edges the pattern's own (piece number, edge), the points in mm, and what was said of it.

    An edge that the pattern does not name has "" and its place: it is asked about like the others.
    """

    garment: PiecedGarment
    edges: Mapping[str, tuple[str, str]]
    points: Mapping[str, Points]
    said: Mapping[str, EdgeFate]


def garment_of_pattern(pattern: Pattern, view: str, size: str) -> OfPattern:
    """Return the garment that a view's pieces are in a size. Raises FeatureError where seams and fates contradict each other."""
    own = [(p, p.shapes[size]) for p in pattern.pieces_of(view) if size in p.shapes]
    ids = _ids([p for p, _ in own])
    low = any(unit_of_piece(p, s) == "low" for p, s in own)
    pieces: list[SewnPiece] = []
    edges: dict[str, tuple[str, str]] = {}
    points: dict[str, Points] = {}
    for piece, shape in own:
        named = list(_zips_apart(pattern, piece, _edges_of(piece, shape)))
        name = ids[piece.number]
        lengths = {word: _long(pts) / 10.0 for word, _, pts in named}
        unit = pattern.units.get(piece.number) or unit_of(piece, shape, pattern.garment, low)
        layer = LAYERS.get(piece.role, "inner" if unit == "facing" else "shell")
        on_fold = shape.fold_edge is not None
        pieces.append(SewnPiece(name, unit, layer, piece.cut, tuple(lengths), on_fold, lengths))
        for word, edge, pts in named:
            edges[f"{name}.{word}"] = (piece.number, edge)
            points[f"{name}.{word}"] = pts
    by = {own: edge for edge, own in edges.items() if own[1]}
    joined = dict(_fates(pattern, edges))
    backing = {p.id for p in pieces if p.layer in BACKINGS}
    told = [s for s in _seams(pattern, by) if not any(e.rpartition(".")[0] in backing for e in s.edges)]
    seams = [
        *_caps_whole(told, {p.id: p for p in pieces}),
        *(_itself(e) for e, fate in joined.items() if fate.way in (MIRRORED, ZIPPED)),
    ]
    sewn = {edge for seam in seams for edge in seam.edges}
    fates = {
        edge: EdgeFate("joined", shaping=fate.shaping) if edge in sewn else fate
        for edge, fate in joined.items()
        if edge in sewn or fate.ending != "joined"
    }
    return OfPattern(pieced(pieces, seams, fates), edges, points, joined)


def unit_of(piece: Piece, shape: PieceShape, garment: str, low_too: bool) -> str:
    """What a piece is a part of, by its name, its edges and the garment that it belongs to."""
    name = piece.name.lower()
    small = next((unit for word, unit in SMALL_WORDS.items() if word in name), None)
    said = unit_of_piece(piece, shape)
    if small is not None and said in ("", "top"):
        return small
    if said == "top":
        return "bodice" if low_too else "body"
    if said == "low":
        return (
            "leg"
            if garment == "trousers" or any("leg" in word or "inseam" in word for word in (name, *shape.edges))
            else "skirt"
        )
    return said or "panel"


def _ids(pieces: Sequence[Piece]) -> dict[str, str]:
    """A name for each piece that steps can be written with: its own, with its number where two have one, its layer where told."""
    found: dict[str, str] = {}
    for piece in pieces:
        words = "".join(c if c.isalnum() else "-" for c in piece.name.lower())
        name = "-".join(part for part in words.split("-") if part) or "piece"
        if piece.role in LAYERS and LAYERS[piece.role] not in name:
            name = f"{name}-{LAYERS[piece.role]}"
        found[piece.number] = name if name not in found.values() else f"{name}-{piece.number.lower()}"
    return found


def _edges_of(piece: Piece, shape: PieceShape) -> Iterator[Run]:
    """A piece's edges in order round it: the engine's word, the pattern's name ("" for one it has not), the points along it."""
    count, outline = len(shape.outline), shape.outline
    owner: list[str | None] = [None] * count
    for named, at in shape.edges.items():
        for side in edge_sides(count, at):
            owner[side] = owner[side] or named
    if shape.fold_edge is not None:
        axis = shape.fold_edge[0][1]
        for side in range(count):
            ends = (outline[side], outline[(side + 1) % count])
            if all(abs(y - axis) < FOLD_MM for _, y in ends):
                owner[side] = "fold"
    taken: set[str] = set()
    for name, sides in _runs(owner):
        pts = tuple(outline[k % count] for k in (*sides, sides[-1] + 1))
        if name is None and _long(pts) < SHORT_MM:
            continue
        word = (
            (edge_word((piece.number, name), piece) if name else "edge")
            .replace(".", "-")
            .replace("+", "-")
            .replace(" ", "-")
        )
        own = next(w for w in (word, *(f"{word}-{k}" for k in range(2, count + 3))) if w not in taken)
        taken.add(own)
        yield own, name or "", pts


def _zips_apart(pattern: Pattern, piece: Piece, edges: Iterator[Run]) -> Iterator[Run]:
    """The edges, one that has a zip in its upper part in two: the zip's edge, and the seam below it."""
    for word, name, pts in edges:
        fate = pattern.fates.get(key_of_edge(piece.number, name or word))
        if fate is None or fate.way != ZIPPED or _long(pts) < 2 * ZIP_MM:
            yield word, name, pts
        elif pts[0][0] <= pts[-1][0]:
            upper, lower = _parted(pts)
            yield from ((ZIP_PART, ZIP_PART, upper), (word, name, lower))
        else:
            upper, lower = _parted(pts[::-1])
            yield from ((word, name, lower[::-1]), (ZIP_PART, ZIP_PART, upper[::-1]))


def _parted(points: Points) -> tuple[Points, Points]:
    """A line from its top in two, where the zip ends."""
    gone = 0.0
    for k, (a, b) in enumerate(pairwise(points)):
        long = dist(a, b)
        if gone + long >= ZIP_MM:
            t = (ZIP_MM - gone) / long
            at = (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]))
            return (*points[: k + 1], at), (at, *points[k + 1 :])
        gone += long
    return points, points[-1:]


def _runs(owner: Sequence[str | None]) -> Iterator[tuple[str | None, list[int]]]:
    """Stretches of sides with one owner, in order, begun where an owner changes; sides count on over the end."""
    count = len(owner)
    start = next((k for k in range(count) if owner[k] != owner[k - 1]), 0)
    run: list[int] = []
    for k in range(start, start + count):
        if run and owner[k % count] != owner[run[-1] % count]:
            yield owner[run[-1] % count], run
            run = []
        run.append(k)
    yield owner[run[-1] % count], run


def _long(points: Sequence[tuple[float, float]]) -> float:
    return sum(dist(a, b) for a, b in zip(points, points[1:], strict=False))


def _seams(pattern: Pattern, by: Mapping[tuple[str, str], str]) -> Iterator[StackedSeam]:
    """The seams of which every edge is there."""
    for seam in pattern.seams:
        sides = [tuple(dict.fromkeys(by[e] for e in side if e in by)) for side in seam.sides]
        if all(sides) and all(e in by for e in seam.edges) and not set(sides[0]) & set(sides[1]):
            yield StackedSeam(((sides[0], True), (sides[1], False)))


def _caps_whole(seams: Sequence[StackedSeam], pieces: Mapping[str, SewnPiece]) -> Iterator[StackedSeam]:
    """Seams with those of one sleeve's cap put together: it is drawn and declared in halves, and set in one row."""
    halves: dict[str, list[tuple[tuple[str, ...], tuple[str, ...]]]] = {}
    for seam in seams:
        sides = [chain for chain, _ in seam.pages]
        cap = next((k for k, chain in enumerate(sides) if all(_of_cap(e, pieces) for e in chain)), None)
        if cap is None:
            yield seam
        else:
            halves.setdefault(sides[cap][0].rpartition(".")[0], []).append((sides[cap], sides[1 - cap]))
    for name, both in halves.items():
        places = pieces[name].edges
        both.sort(key=lambda half: places.index(half[0][0].rpartition(".")[2]))
        cap_chain = tuple(e for chain, _ in both for e in chain)
        yield StackedSeam(((cap_chain, True), (tuple(e for _, chain in both for e in chain), False)))


def _of_cap(edge: str, pieces: Mapping[str, SewnPiece]) -> bool:
    name, _, word = edge.rpartition(".")
    return pieces[name].unit == "sleeve" and word.startswith("cap")


def _itself(edge: str) -> StackedSeam:
    return StackedSeam((((edge,), True), ((edge,), False)))


def _fates(pattern: Pattern, edges: Mapping[str, tuple[str, str]]) -> Iterator[tuple[str, EdgeFate]]:
    """What was said of edges; a stretch without a name is kept by its word."""
    for edge, (number, name) in edges.items():
        fate = pattern.fates.get(key_of_edge(number, name or edge.rpartition(".")[2]))
        if fate is not None:
            yield edge, fate
