"""Two spreads one after the other along the cloth: pairs folded, then the odd and bias pieces from the opened rest."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely import Polygon

from rowanseed.core.lay.finish import with_findings
from rowanseed.core.lay.model import Centre, Lay, LayPiece, LayRequest, Match, Placement
from rowanseed.core.lay.one_lane import glance, lay_one_lane
from rowanseed.core.lay.watch import LayWatch

Pieces = tuple[LayPiece, ...]
MOST_OPENED = 4  # pairs that go over to the opened rest
WORTH_OPENING = 0.98  # of the length before; a glance is no surer than this
GLANCED_AT = 5  # pairs of those that would fit, the largest first
ROOM = 1.5  # times the free area of the rest that a pair may take


@dataclass(frozen=True)
class _Part:
    """What one of the two parts is to match, and for each such match, then centring, its number in the whole request."""

    matches: tuple[Match, ...]
    centres: tuple[Centre, ...]
    numbers: tuple[int, ...]

    def unmet(self, lay: Lay) -> set[int]:
        """Numbers in the whole request of what a lay of this part does not keep."""
        return {self.numbers[k] for k in lay.unmatched}


def lay_in_turn(request: LayRequest, watch: LayWatch) -> Lay | None:
    """Pairs and fold pieces folded lengthwise, then the odd, same-handed and bias pieces from the opened rest.

    What matches along the cloth between the two parts is kept by centring the later piece on the bar the earlier one took.
    """
    began = watch.clock()
    folded, rest = _in_turn(request.pieces)
    if not folded or not rest:
        return None
    endless = replace(request.cloth, length_mm=None)
    folded, rest = _pairs_opened(replace(request, cloth=endless), folded, rest, watch)
    locks = [[held for held in request.locked if held.lane == k] for k in (0, 1)]
    own = _first_part(request, {p.id for p in folded}, {p.id for p in rest})
    asked = replace(
        request, cloth=endless, pieces=folded, locked=tuple(locks[0]), matches=own.matches, centres=own.centres
    )
    first = lay_one_lane(asked, "lengthwise-fold", watch, None)
    at = first.length_mm
    flaws = tuple((x0 - at, y0, x1 - at, y1) for x0, y0, x1, y1 in request.cloth.flaws if max(x0, x1) > at)
    held = tuple(replace(lock, lane=0, x=lock.x - at) for lock in locks[1])
    print_ = request.cloth.print
    if print_ is not None:
        print_ = replace(print_, offset_along_mm=print_.offset_along_mm - at)
    then = _second_part(request, {p.id for p in rest}, first)
    later = replace(
        request,
        cloth=replace(endless, flaws=flaws, print=print_),
        pieces=rest,
        locked=held,
        matches=then.matches,
        centres=then.centres,
    )
    second = lay_one_lane(later, "single", watch, None)
    placements = (*first.placements, *(_further(p, at) for p in second.placements))
    lanes = (*first.lanes, *(replace(lane, start_mm=at, end_mm=at + second.length_mm) for lane in second.lanes))
    noted = ("one-layer-only", "fold-on-a-bar")  # said of the whole lay
    lay = Lay(
        at + second.length_mm,
        second.width_mm,
        first.bound_mm + second.bound_mm,
        first.fold_bound_mm,
        "fold-then-single",
        watch.clock() - began,
        lanes,
        placements,
        tuple(f for f in (*first.findings, *second.findings) if f.code not in noted),
        0.0,
        tuple(dict.fromkeys((*first.failed, *second.failed))),
        unmatched=tuple(sorted(own.unmet(first) | then.unmet(second))),
    )
    return with_findings(lay, request)


def _pairs_opened(request: LayRequest, folded: Pieces, rest: Pieces, watch: LayWatch) -> tuple[Pieces, Pieces]:
    """Both parts after pairs went over to the opened rest, one at a time, as long as glances say that the cloth gets shorter.

    A long odd piece leaves much of the opened width free, which a pair fills better than it would the fold. Where anything is
    held or matched, each piece stays in its part.
    """
    if request.matches or request.centres or request.locked or request.cloth.flaws:
        return folded, rest
    least = _glance(request, folded, rest)
    for _ in range(MOST_OPENED):
        pairs = _that_fit(request, folded, rest) if len(folded) > 1 and not watch.stop() else []
        tried = [_opened(folded, rest, pair) for pair in pairs]
        lengths = [_glance(request, *parts) for parts in tried]
        if not lengths or min(lengths) > least * WORTH_OPENING:
            break
        least = min(lengths)
        folded, rest = tried[lengths.index(least)]
    return folded, rest


def _that_fit(request: LayRequest, folded: Pieces, rest: Pieces) -> list[LayPiece]:
    """The largest pairs for which the opened rest has about room beside what it holds."""
    free = request.cloth.width_mm * glance(replace(request, pieces=rest), "single") - sum(map(_area, rest))
    fit = [piece for piece in folded if piece.fold_edge is None and _area(piece) <= free * ROOM]
    return sorted(fit, key=_area, reverse=True)[:GLANCED_AT]


def _area(piece: LayPiece) -> float:
    """The cloth that all copies of a piece take, square mm; half a fold piece counts twice."""
    return float(Polygon(piece.outline).area) * piece.cut * (1 if piece.fold_edge is None else 2)


def _glance(request: LayRequest, folded: Pieces, rest: Pieces) -> float:
    """About how long both parts come out together, mm."""
    first = glance(replace(request, pieces=folded), "lengthwise-fold")
    return first + glance(replace(request, pieces=rest), "single")


def _opened(folded: Pieces, rest: Pieces, pair: LayPiece) -> tuple[Pieces, Pieces]:
    """Both parts once a pair has gone over to the rest, where its odd piece may lie already."""
    odd = next((piece for piece in rest if piece.id == pair.id), None)
    others = tuple(piece for piece in rest if piece.id != pair.id)
    whole = replace(pair, cut=pair.cut + (odd.cut if odd else 0))
    return tuple(piece for piece in folded if piece.id != pair.id), (*others, whole)


def _first_part(request: LayRequest, here: set[str], rest: set[str]) -> _Part:
    """The matches of pieces that are both folded, and the centrings of folded ones.

    A mark that a piece of the rest is to match is matched with itself: so its piece lies head to tail only where that mark lies
    on an axis of the print.
    """
    part = _own(request, here)
    ties = {
        number: Match(theirs, theirs)
        for number, match in enumerate(request.matches)
        for mine, theirs in ((match.a, match.b), (match.b, match.a))
        if match.along and mine[0] in rest and theirs[0] in here
    }
    count = len(part.matches)
    numbers = (*part.numbers[:count], *ties, *part.numbers[count:])
    return _Part((*part.matches, *ties.values()), part.centres, numbers)


def _second_part(request: LayRequest, here: set[str], first: Lay) -> _Part:
    """The matches and centrings of pieces from the rest, and a centring for each that matches a piece laid before."""
    part, ties = _own(request, here), dict[int, Centre]()
    for number, match in enumerate(request.matches):
        for mine, theirs in ((match.a, match.b), (match.b, match.a)):
            laid = [p.marks[theirs[1]][0] for p in first.placements if p.piece == theirs[0] and theirs[1] in p.marks]
            if request.cloth.print is not None and match.along and mine[0] in here and laid and number not in ties:
                ties[number] = Centre(mine, laid[0] - request.cloth.print.offset_along_mm)
    return _Part(part.matches, (*part.centres, *ties.values()), (*part.numbers, *ties))


def _own(request: LayRequest, here: set[str]) -> _Part:
    """The matches both of whose pieces are here, and the centrings of pieces that are."""
    matches = {k: m for k, m in enumerate(request.matches) if {m.a[0], m.b[0]} <= here}
    centres = {len(request.matches) + k: c for k, c in enumerate(request.centres) if c.mark[0] in here}
    return _Part(tuple(matches.values()), tuple(centres.values()), (*matches, *centres))


def _further(placement: Placement, x: float) -> Placement:
    """A placement of the second part: its lane, and further along the cloth."""
    moved = tuple((px + x, py) for px, py in placement.outline)
    marks = {name: (px + x, py) for name, (px, py) in placement.marks.items()}
    return replace(placement, lane=1, outline=moved, marks=marks)


def _in_turn(pieces: Sequence[LayPiece]) -> tuple[Pieces, Pieces]:
    """What is cut folded, and what from the opened rest; an odd one of a pair goes with the rest."""
    folded, rest = [], []
    for piece in pieces:
        if piece.grain == "bias" or (piece.fold_edge is None and not piece.mirrored):
            rest.append(piece)
        elif piece.fold_edge is not None or piece.cut % 2 == 0:
            folded.append(piece)
        else:
            if piece.cut > 1:
                folded.append(replace(piece, cut=piece.cut - 1))
            rest.append(replace(piece, cut=1))
    return tuple(folded), tuple(rest)
