"""A stack of alterations, each carried to every piece that joins, and what the seam walk says afterwards."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.fit.change import Change, Followed
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.propagation import apply
from rowanseed.core.fit.roles import roles_of
from rowanseed.core.fit.sense import refuse_senseless
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, WalkedSeam, Walker, walk, walk_findings

MOST_MM = 1000.0
HEMS_MM = 2.0  # what is lost in cutting; common practice, no source


@dataclass(frozen=True)
class Altered:
    """The pieces after all alterations, what followed, what was left though it joins, the seams walked, and what to know.

    `followed_by` and `left_by`: the same for each alteration of the stack, by its place in it.
    """

    pieces: tuple[AlterPiece, ...]
    followed: tuple[Followed, ...]
    findings: tuple[Finding, ...]
    walked: tuple[WalkedSeam, ...] = ()
    followed_by: tuple[tuple[Followed, ...], ...] = ()
    left_by: tuple[tuple[Followed, ...], ...] = ()


def alter(pieces: Sequence[AlterPiece], seams: Sequence[Seam], alterations: Sequence[Alteration]) -> Altered:
    """Apply alterations in order, each to its piece and to every piece that joins it.

    One that cannot be made is refused with a `stop` finding and changes nothing. Findings tell the seams that no longer meet.
    Raises:
        AlterationError: an unknown kind, piece or seam.
    """
    roles = roles_of(pieces, seams)
    known = {piece.id: roles.named(piece) for piece in pieces}
    walker = Walker()
    before = walk(pieces, seams, walker)
    meant = [seam.difference_mm for seam in before]
    followed: list[tuple[Followed, ...]] = []
    left: list[tuple[Followed, ...]] = []
    findings: list[Finding] = []
    for alteration in alterations:
        followed.append(())
        left.append(())
        if not alteration.on:
            continue
        refuse_unknown(alteration, known)
        try:
            refuse_senseless(alteration, known, seams, roles)
            change = apply(alteration, known, seams, walker, meant)
        except AlterationError as error:
            text = f"{KINDS[alteration.kind].title}, piece {alteration.piece}: {error.text}"
            findings.append(Finding("stop", "alteration-refused", text))
            continue
        known.update(change.changed)
        followed[-1], left[-1] = tuple(change.followed), tuple(change.left)
        findings += [*_left_findings(change), *_remarked_findings(change)]
    known = {p.id: roles.plain(known[p.id], p) for p in pieces}
    after = walk(list(known.values()), seams, walker)
    findings += walk_findings(after, before)
    findings += hem_findings(pieces, known)
    return Altered(
        tuple(known[p.id] for p in pieces),
        tuple(f for each in followed for f in each),
        tuple(findings),
        tuple(after),
        tuple(followed),
        tuple(left),
    )


def seam_walk(pieces: Sequence[AlterPiece], seams: Sequence[Seam]) -> list[WalkedSeam]:
    """Measure the seams of pieces as they are."""
    return walk(pieces, seams)


def hem_findings(before: Sequence[AlterPiece], known: Mapping[str, AlterPiece]) -> list[Finding]:
    """Where a layer's hem no longer lies as far from its shell's as it was drawn.

    Two hems are never compared by their widths: a lining is pleated, a facing narrow.
    """
    drawn = {piece.id: piece for piece in before}
    found = []
    for piece in before:
        shell = drawn.get(piece.follows)
        if shell is None or "hem" not in piece.shape.edges or "hem" not in shell.shape.edges:
            continue
        lower = [_foot(known[p.id].shape) - _foot(p.shape) for p in (shell, piece)]
        apart = lower[0] - lower[1]
        if abs(apart) > HEMS_MM:
            text = (
                f"Piece {piece.id} lies behind piece {shell.id}: its hem lies {both(abs(apart))} "
                f"{'higher' if apart > 0 else 'lower'} beside the other's than it was drawn. Change both alike."
            )
            found.append(Finding("care", "hems-apart", text))
    return found


def _foot(shape: PieceShape) -> float:
    return max(x for x, _ in edge_points(shape.outline, shape.edges["hem"]))


def _left_findings(change: Change) -> list[Finding]:
    return [
        Finding(
            "care",
            "left-as-it-was",
            f"Piece {left.piece} is left as it was, as you chose: {left.because}. Change it yourself before you cut.",
        )
        for left in change.left
    ]


def _remarked_findings(change: Change) -> list[Finding]:
    return [
        Finding(
            "note", "notch-marked-anew", f"Piece {number}: the notch on its {edge} is marked anew, to meet its partner."
        )
        for number, edge in dict.fromkeys(change.remarked)
    ]


def refuse_unknown(alteration: Alteration, known: Mapping[str, AlterPiece]) -> None:
    """Raise AlterationError, naming the field, for a kind or piece that is not there, a missing place, or too much."""
    if alteration.kind not in KINDS:
        raise AlterationError(f"There is no alteration “{alteration.kind}”. Known: {', '.join(KINDS)}.", "kind")
    if alteration.piece not in known:
        raise AlterationError(f"There is no piece {alteration.piece}.", "piece")
    if alteration.kind in ("length", "taper") and alteration.at_mm is None and not _has_line(alteration, known):
        raise AlterationError("Say where on the piece, from its top.", "at")
    if not math.isfinite(alteration.by_mm) or abs(alteration.by_mm) > MOST_MM:
        raise AlterationError("An alteration is at most a metre.", "by")


def _has_line(alteration: Alteration, known: Mapping[str, AlterPiece]) -> bool:
    """Whether the piece shows its own line to lengthen at."""
    return alteration.kind == "length" and any(line.kind == "lengthen" for line in known[alteration.piece].shape.lines)
