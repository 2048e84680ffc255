"""The independent check of a print: marks that match, marks on their place of it, both layers of a fold on the same bar.

Like `check`, whose part it is, it shares no code with the nester.
"""

from rowanseed.core.errors import Finding
from rowanseed.core.lay.model import Lay, LayPiece, LayRequest, Placement

PLACE = 0.05
MATCH = 1.5  # how far two marks that match may be apart on the print
AHEAD = {"lengthwise": (0,), "crosswise": (90,), "bias": (45, 315), "any": (0,)}  # turns with the head to the cut end
TURN = 0.01  # degrees
_MarkAt = tuple[float, float, bool | None, bool | None, bool]


def check_matches(request: LayRequest, lay: Lay) -> list[Finding]:
    """Marks that match must lie on the same phase of the print, where the pieces are sewn; centred ones at their place of it."""
    print_ = request.cloth.print
    if print_ is None:
        return []
    pieces = {p.id: p for p in request.pieces}
    found = []
    across = False
    for number, match in enumerate(request.matches):
        if number in lay.unmatched:
            continue
        both = print_.half_drop
        along_too, across_too = match.along or both, match.across or both
        across = across or across_too
        for one in _marks(pieces, lay, match.a):
            for other in _marks(pieces, lay, match.b):
                # The same side of both is not sewn to each other; what is laid on goes by the hand.
                apart = one[2] is not None and other[2] is not None and one[2] == other[2]
                if match.onto:
                    apart = one[3] is not None and other[3] is not None and one[3] != other[3]
                if apart and print_.half_drop:
                    continue
                across_here = across_too and not apart
                off = _off_phase(request, other[0] - one[0], other[1] - one[1], along_too, across_here)
                if one[4] != other[4] and not (apart and print_.half_drop):
                    off = max(
                        off, _off_axis(request, one[0], one[1] + _fold_line(request, lay), along_too, across_here)
                    )
                if off > MATCH:
                    text = f"Pieces {match.a[0]} and {match.b[0]} do not match: {off:.1f} mm apart on the print."
                    found.append(Finding("stop", "off-match", text))
                    break
            else:
                continue
            break
    for number, centre in enumerate(request.centres, start=len(request.matches)):
        if number in lay.unmatched:
            continue
        across = across or centre.across_mm is not None
        for x, y, *_ in _marks(pieces, lay, centre.mark):
            dx = x - print_.offset_along_mm - (centre.along_mm or 0.0)
            dy = y + _fold_line(request, lay) - print_.offset_across_mm - (centre.across_mm or 0.0)
            off = _off_phase(request, dx, dy, centre.along_mm is not None, centre.across_mm is not None)
            if off > MATCH:
                found.append(
                    Finding(
                        "stop", "off-centre", f"Piece {centre.mark[0]} lies {off:.1f} mm off its place on the print."
                    )
                )
                break
    return found + (_check_fold_on_bar(request, lay) if across else [])


def _marks(pieces: dict[str, LayPiece], lay: Lay, wanted: tuple[str, str]) -> list[_MarkAt]:
    """Where a mark lies on the cloth: every placement's; in a single layer whether on the far side of its piece, and of which hand.

    Edges meet that lie on opposite sides, as cut: the print runs on from one to the other. An opened half has one on each side.
    """
    name, mark = wanted
    found: list[_MarkAt] = []
    for placement in lay.placements:
        if placement.piece != name or mark not in placement.marks:
            continue
        x, y = placement.marks[mark]
        piece = pieces[name]
        back = _turned_back(piece, placement)  # head to tail
        drawn = [py for _, py in piece.outline]
        far = piece.marks[mark][1] >= (min(drawn) + max(drawn)) / 2
        if lay.lanes[placement.lane].layers == 2:
            found.append((x, y, None, None, back))
        elif piece.fold_edge is not None:
            ys = [py for _, py in placement.outline]
            found += [(x, y, far, False, back), (x, min(ys) + max(ys) - y, not far, True, back)]
        else:
            sided = piece.mirrored
            found.append(
                (x, y, far != placement.face_down, placement.face_down, back) if sided else (x, y, None, None, back)
            )
    return found


def _off_phase(request: LayRequest, dx: float, dy: float, along: bool, across: bool) -> float:
    """How far a distance is from a whole number of repeats, mm, in the ways that are asked for."""
    print_ = request.cloth.print
    assert print_ is not None  # asked for only where there is a print
    repeat_x = print_.repeat_along_mm
    repeat_y = print_.repeat_across_mm or (request.cloth.width_mm if print_.kind == "border" else 0.0)
    columns = round(dy / repeat_y) if repeat_y > 0 else 0
    shift = repeat_x / 2 if print_.half_drop and across and columns % 2 else 0.0
    off_x = abs((dx + shift + repeat_x / 2) % repeat_x - repeat_x / 2) if along and repeat_x > 0 else 0.0
    off_y = abs(dy - columns * repeat_y) if across and repeat_y > 0 else 0.0
    return max(off_x, off_y)


def _off_axis(request: LayRequest, x: float, y: float, along: bool, across: bool) -> float:
    """How far a mark lies from an axis of the print, mm: only there it reads alike from both ways that heads may point."""
    print_ = request.cloth.print
    assert print_ is not None  # asked for only where there is a print
    far = 0.0
    for asked, at, period in (
        (along, x - print_.offset_along_mm - print_.axis_along_mm, print_.repeat_along_mm),
        (across, y - print_.offset_across_mm - print_.axis_across_mm, print_.repeat_across_mm),
    ):
        if asked and period > 0:
            far = max(far, abs((at + period / 4) % (period / 2) - period / 4))
    return far


def _fold_line(request: LayRequest, lay: Lay) -> float:
    """Where the first edge of a lane lies on the open cloth: 0, or where it is folded on an axis of the print."""
    print_, width = request.cloth.print, request.cloth.width_mm
    if lay.spread == "single" or print_ is None:
        return 0.0
    half = print_.repeat_across_mm if print_.half_drop else print_.repeat_across_mm / 2
    if half <= 0:
        return width / 2
    bar = print_.offset_across_mm + print_.axis_across_mm
    return bar + round((width / 2 - bar) / half) * half


def _check_fold_on_bar(request: LayRequest, lay: Lay) -> list[Finding]:
    """Folded on a bar off the middle of the cloth, one layer is narrower: pieces must lie on both."""
    print_ = request.cloth.print
    if lay.spread == "single" or print_ is None:
        return []
    if not print_.even:
        return [
            Finding("stop", "uneven-folded", "An uneven print does not match in two layers; lay it in a single one.")
        ]
    fold = _fold_line(request, lay)
    reach = min(fold, request.cloth.width_mm - fold) - max(request.cloth.selvage_mm)
    out = max((y for p in lay.placements for _, y in p.outline), default=0.0) - reach
    return (
        [Finding("stop", "off-the-cloth", f"Folded on a bar, one layer ends {out:.1f} mm before the pieces do.")]
        if out > PLACE
        else []
    )


def _turned_back(piece: LayPiece, placement: Placement) -> bool:
    """Whether a piece lies head to tail."""
    off = min(abs((placement.turned - turn + 180.0) % 360.0 - 180.0) for turn in AHEAD[piece.grain])
    return off > piece.off_grain + TURN
