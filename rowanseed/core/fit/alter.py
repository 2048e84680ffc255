"""Alterations, carried to every piece that joins, and what the seam walk says afterwards."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.fit.reshape import change_length, move_edge, subdivided
from rowanseed.core.fit.seamwalk import WalkedSeam, WalkPiece, edge_points, walk, walk_findings
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import PieceShape, Seam

REACH_MM = 160.0  # how far a taper runs above and below its fullest place
EDGE_MARGIN_MM = 3.0


@dataclass(frozen=True)
class AlterationKind:
    """A kind of alteration and the inputs it takes beside `piece` and `by`."""

    name: str
    title: str
    about: str
    inputs: tuple[str, ...]
    edge: str = ""


KINDS: dict[str, AlterationKind] = {
    k.name: k
    for k in (
        AlterationKind(
            "length",
            "Lengthen or shorten at a line",
            "A strip let in, or folded out when negative, across the piece.",
            ("at",),
        ),
        AlterationKind(
            "hem", "Longer or shorter at the hem", "Where there is no line: at the hem itself.", ("edge",), "hem"
        ),
        AlterationKind(
            "side", "Widen or narrow at a seam", "The whole edge moved out, or in when negative.", ("edge",), "side"
        ),
        AlterationKind(
            "taper",
            "In or out by tapering",
            "The edge moved out most at one place, fading above and below it.",
            ("edge", "at"),
            "side",
        ),
        AlterationKind(
            "shoulder",
            "Take up a shoulder",
            "The shoulder's outer end lowered, nothing at the neck.",
            ("edge",),
            "shoulder",
        ),
        AlterationKind("upper-arm", "Full upper arm", "Both seams let out at the underarm, fading to the hem.", ()),
    )
}


@dataclass(frozen=True)
class Alteration:
    """One alteration: what, on which piece, by how much (mm, negative for less), where, and whether it counts."""

    kind: str
    piece: str
    by_mm: float
    at_mm: float | None = None
    edge: str = ""
    on: bool = True


@dataclass(frozen=True)
class AlterPiece:
    """A piece that may be altered."""

    id: str
    shape: PieceShape
    same_as: str = ""
    allowance_mm: float = 0.0


@dataclass(frozen=True)
class Followed:
    """A piece that an alteration was carried to, and why."""

    piece: str
    because: str


@dataclass(frozen=True)
class Altered:
    """The pieces after all alterations, what followed, and what to know."""

    pieces: tuple[AlterPiece, ...]
    followed: tuple[Followed, ...]
    findings: tuple[Finding, ...]


def alter(pieces: Sequence[AlterPiece], seams: Sequence[Seam], alterations: Sequence[Alteration]) -> Altered:
    """Apply alterations in order, each to its piece and to every piece that joins it.

    One that cannot be made is refused with a `stop` finding and changes nothing. Findings tell the seams that no longer meet.
    Raises:
        AlterationError: an unknown kind, piece or seam.
    """
    known = {piece.id: piece for piece in pieces}
    before = walk([_walked(p) for p in pieces], seams)
    followed: list[Followed] = []
    findings: list[Finding] = []
    for alteration in alterations:
        if not alteration.on:
            continue
        _refuse_unknown(alteration, known)
        try:
            changed, carried = _apply(alteration, known, seams)
        except AlterationError as error:
            text = f"{KINDS[alteration.kind].title}, piece {alteration.piece}: {error.text}"
            findings.append(Finding("stop", "alteration-refused", text))
            continue
        known.update(changed)
        followed += carried
    after = walk([_walked(p) for p in known.values()], seams)
    findings += walk_findings(after, before)
    return Altered(tuple(known[p.id] for p in pieces), tuple(followed), tuple(findings))


def _walked(piece: AlterPiece) -> WalkPiece:
    return WalkPiece(piece.id, piece.shape.outline, piece.shape.edges, piece.allowance_mm, piece.shape.fold_edge)


def seam_walk(pieces: Sequence[AlterPiece], seams: Sequence[Seam]) -> list[WalkedSeam]:
    """Measure the seams of pieces as they are."""
    return walk([_walked(p) for p in pieces], seams)


def _refuse_unknown(alteration: Alteration, known: Mapping[str, AlterPiece]) -> None:
    if alteration.kind not in KINDS:
        raise AlterationError(f"There is no alteration “{alteration.kind}”. Known: {', '.join(KINDS)}.", "kind")
    if alteration.piece not in known:
        raise AlterationError(f"There is no piece {alteration.piece}.", "piece")
    if "at" in KINDS[alteration.kind].inputs and alteration.at_mm is None:
        raise AlterationError("Say where on the piece, from its top.", "at")
    if not math.isfinite(alteration.by_mm) or abs(alteration.by_mm) > 1000:
        raise AlterationError("An alteration is at most a metre.", "by")


def _apply(
    alteration: Alteration, known: Mapping[str, AlterPiece], seams: Sequence[Seam]
) -> tuple[dict[str, AlterPiece], list[Followed]]:
    if alteration.kind in ("length", "hem"):
        return _change_lengths(alteration, known, seams)
    if alteration.kind == "upper-arm":
        piece = known[alteration.piece]
        shape = piece.shape
        for edge in ("front seam", "back seam"):
            half = alteration.by_mm / 2
            top_first = _runs_down(shape, edge)
            shape = _out(shape, edge, lambda t, h=half, f=top_first: h * (1 - t if f else t))  # type: ignore[misc]
        changed = {piece.id: replace(piece, shape=shape)}
        return changed, _copy_to_same(changed, known)
    return _move_edges(alteration, known, seams)


def _change_lengths(
    alteration: Alteration, known: Mapping[str, AlterPiece], seams: Sequence[Seam]
) -> tuple[dict[str, AlterPiece], list[Followed]]:
    """A strip across the piece, and across every piece whose joined edge it crosses, at the same distance along it."""
    piece = known[alteration.piece]
    at = alteration.at_mm
    if alteration.kind == "hem":
        edge = alteration.edge or KINDS["hem"].edge
        at = min(x for x, _ in _edge(piece, edge)) - EDGE_MARGIN_MM
    assert at is not None  # _refuse_unknown saw to it
    changed: dict[str, AlterPiece] = {}
    followed: list[Followed] = []
    todo: list[tuple[str, float, str]] = [(piece.id, at, "")]
    while todo:
        number, line, because = todo.pop(0)
        if number in changed:
            continue
        own = known[number]
        changed[number] = replace(own, shape=change_length(own.shape, line, alteration.by_mm))
        if because:
            followed.append(Followed(number, because))
        for other, edge, their_edge in _joined(own, seams):
            if other == number or other in changed or other not in known:
                continue
            met = _same_distance(own, edge, line, known[other], their_edge)
            if met is not None:
                todo.append((other, met, f"its {their_edge} is sewn to the {edge} of piece {number}"))
        todo += [
            (p.id, line, f"it is cut like piece {number}")
            for p in known.values()
            if _alike(p, own) and p.id not in changed
        ]
    return changed, followed


def _joined(piece: AlterPiece, seams: Sequence[Seam]) -> list[tuple[str, str, str]]:
    """The seams of a piece: the other piece, this piece's edge, the other's."""
    out = []
    for seam in seams:
        for (mine, edge), (other, theirs) in ((seam.a, seam.b), (seam.b, seam.a)):
            if mine == piece.id:
                out.append((other, edge, theirs))
    return out


def _alike(piece: AlterPiece, other: AlterPiece) -> bool:
    return bool(piece.same_as and piece.same_as == other.id) or bool(other.same_as and other.same_as == piece.id)


def _edge(piece: AlterPiece, name: str) -> list[tuple[float, float]]:
    if name not in piece.shape.edges:
        known = ", ".join(piece.shape.edges) or "none"
        raise AlterationError(f"Piece {piece.id} has no edge “{name}”; it has: {known}.", "edge")
    return edge_points(piece.shape.outline, piece.shape.edges[name])


def _runs_down(shape: PieceShape, edge: str) -> bool:
    points = edge_points(shape.outline, shape.edges[edge]) if edge in shape.edges else [(0.0, 0.0)]
    return points[0][0] <= points[-1][0]


def _same_distance(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float | None:
    """Where the same distance from the head end along the joined edge lies on the other piece; None when not crossed."""
    own = sorted_down(_edge(piece, edge))
    if not own[0][0] + EDGE_MARGIN_MM / 2 < line < own[-1][0] - EDGE_MARGIN_MM / 2:
        return None
    far = 0.0
    for a, b in zip(own, own[1:]):
        if a[0] <= line <= b[0] and b[0] > a[0]:
            far += math.dist(a, b) * (line - a[0]) / (b[0] - a[0])
            break
        far += math.dist(a, b)
    theirs = sorted_down(_edge(other, their_edge))
    for a, b in zip(theirs, theirs[1:]):
        step = math.dist(a, b)
        if far <= step:
            return a[0] + (b[0] - a[0]) * far / step if step else a[0]
        far -= step
    return theirs[-1][0] - EDGE_MARGIN_MM


def sorted_down(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """An edge's points from its head end to its foot end."""
    return points if points[0][0] <= points[-1][0] else points[::-1]


def _move_edges(
    alteration: Alteration, known: Mapping[str, AlterPiece], seams: Sequence[Seam]
) -> tuple[dict[str, AlterPiece], list[Followed]]:
    """An edge moved on its piece and on the piece it is sewn to, so that the seam still meets."""
    piece = known[alteration.piece]
    edge = alteration.edge or KINDS[alteration.kind].edge
    changed = {piece.id: replace(piece, shape=_moved(alteration, piece, edge, alteration.at_mm))}
    followed = []
    for other, mine, theirs in _joined(piece, seams):
        if mine != edge or other not in known or other in changed:
            continue
        met = None
        if alteration.at_mm is not None:
            met = _same_distance(piece, edge, alteration.at_mm, known[other], theirs)
        changed[other] = replace(known[other], shape=_moved(alteration, known[other], theirs, met))
        followed.append(Followed(other, f"its {theirs} is sewn to the {edge} of piece {piece.id}"))
    return changed, followed + _copy_to_same(changed, known)


def _copy_to_same(changed: dict[str, AlterPiece], known: Mapping[str, AlterPiece]) -> list[Followed]:
    """Pieces cut like a changed one take its shape."""
    followed = []
    for piece in known.values():
        source = changed.get(piece.same_as)
        if source is not None and piece.id not in changed:
            changed[piece.id] = replace(piece, shape=source.shape)
            followed.append(Followed(piece.id, f"it is cut like piece {piece.same_as}"))
    return followed


def _moved(alteration: Alteration, piece: AlterPiece, edge: str, at: float | None) -> PieceShape:
    by = alteration.by_mm
    if alteration.kind == "side":
        return _out(piece.shape, edge, lambda t: by)
    if alteration.kind == "shoulder":
        points = _edge(piece, edge)
        outer_last = abs(points[-1][1]) >= abs(points[0][1])
        return move_edge(piece.shape, edge, lambda t: by * (t if outer_last else 1 - t), 1.0, 0.0)
    points = _edge(piece, edge)
    down = points[0][0] <= points[-1][0]
    xs = [p[0] for p in points]
    place = at if at is not None else (xs[0] + xs[-1]) / 2
    length = (max(xs) - min(xs)) or 1.0

    def bump(t: float) -> float:
        x = min(xs) + (t if down else 1 - t) * length
        share = min(1.0, abs(x - place) / REACH_MM)
        return by * 0.5 * (1 + math.cos(math.pi * share))

    return _out(subdivided(piece.shape, edge), edge, bump)


def _out(shape: PieceShape, edge: str, profile: Callable[[float], float]) -> PieceShape:
    """An edge moved outward, away from the middle of the piece."""
    ys = [y for _, y in shape.outline]
    points = edge_points(shape.outline, shape.edges[edge]) if edge in shape.edges else []
    middle = (min(ys) + max(ys)) / 2
    outward = 1.0 if not points or sum(y for _, y in points) / len(points) >= middle else -1.0
    return move_edge(shape, edge, profile, 0.0, outward)


def describe(alteration: Alteration, top_mm: float = 0.0) -> str:
    """An alteration in words; `top_mm`: the x of its piece's top, from which its place is measured."""
    kind = KINDS[alteration.kind]
    sign = "" if alteration.by_mm >= 0 else "minus "
    where = (
        f" at {both(alteration.at_mm - top_mm)} from the top"
        if alteration.at_mm is not None and "at" in kind.inputs
        else ""
    )
    return f"{kind.title}, piece {alteration.piece}{where}: {sign}{both(abs(alteration.by_mm))}"
