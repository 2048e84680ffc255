"""From declared matches to where each pose may stand: positions congruent modulo the print's repeat.

A match ties two pieces: once one stands somewhere, the other stands anywhere a whole number of repeats further. So every piece
that hangs together by matches has one phase in common, free to choose, unless a mark is centred on the print or lies on the fold.
Heads point one way: turned round, bars run the other way from the mark, and meet only where it lies on an axis of the print.
Across a single layer right and left hands are bodies of their own, since they are mirror images; an opened fold piece joins them.
Seams join a piece to the other's mirror image where both are drawn with the edge on the same side: then the print runs on.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from rowanseed.core.lay.demand import on_fold_axis
from rowanseed.core.lay.model import Centre, LayPiece, LayRequest, Match, Spread
from rowanseed.core.lay.problem import NO_REPEAT, Repeat
from rowanseed.core.prints import Print

AGREE_MM = 0.8  # two ways to say where a piece stands may differ by so much; it then stands between them
MATCHED_SPREADS: frozenset[Spread] = frozenset({"single", "lengthwise-fold"})
# Their folds do not lie on a bar of the print, so that nothing can meet across.
ALONG_ONLY: frozenset[Spread] = frozenset({"part-fold", "double-fold", "fold-then-single"})

Body = tuple[str, int]  # a piece, and its hand where hands are bodies of their own


@dataclass
class Frame:
    """One axis: which bodies hang together, how far each stands from its root, and what of it is fixed on the cloth.

    `at[body]` = (root, distance): the body stands at the root's free phase plus the distance. `told`: the marks by which
    the place of each piece is told.
    """

    period: float
    at: dict[Body, tuple[Body, float]] = field(default_factory=dict)
    fixed: dict[Body, float] = field(default_factory=dict)
    told: dict[str, set[str]] = field(default_factory=dict)

    def ends(self, body: Body) -> tuple[Body, float]:
        """The body that this one is tied to in the end, and how far it stands from it, mm."""
        return self.at.setdefault(body, (body, 0.0))

    def tie(self, a: Body, b: Body, apart: float) -> bool:
        """Say that b stands `apart` further than a; whether that agrees with what was said before."""
        (ra, da), (rb, db) = self.ends(a), self.ends(b)
        if ra == rb:
            return self.near(db, da + apart)
        if rb in self.fixed and ra in self.fixed and not self.near(self.fixed[rb], self.fixed[ra] + da + apart - db):
            return False
        shift = da + apart - db
        if rb in self.fixed:
            self.fixed.setdefault(ra, self.fixed[rb] - shift)
        for body, (root, distance) in list(self.at.items()):
            if root == rb:
                self.at[body] = (ra, distance + shift)
        self.fixed.pop(rb, None)
        return True

    def fix(self, body: Body, where: float) -> bool:
        """Say that a body stands at a phase of the cloth; whether that agrees with what was said before."""
        root, distance = self.ends(body)
        if root in self.fixed:
            return self.near(self.fixed[root], where - distance)
        self.fixed[root] = where - distance
        return True

    def near(self, a: float, b: float) -> bool:
        """Whether two places are the same phase."""
        return abs(gap_between(a, b, self.period)) <= AGREE_MM

    def free(self) -> list[Body]:
        """The roots whose phase is still free to choose, of those that tie several bodies together."""
        return sorted({root for root, _ in self.at.values()} - set(self.fixed))


def gap_between(a: float, b: float, period: float) -> float:
    """How far b is from a, modulo a period: between minus half of it and half."""
    return (b - a + period / 2) % period - period / 2


@dataclass
class Phases:
    """Where the pieces of a request may stand on one spread: along, across, and the matches that cannot be met.

    `unmet`: the number of each such match, or of each such centring counted after the matches, with the reason.
    """

    repeat: Repeat
    along: Frame | None
    across: Frame | None
    unmet: dict[int, str]
    hands: bool
    even: bool = False
    axis_mm: float = 0.0

    @property
    def bind(self) -> bool:
        """Whether any piece is bound to the print."""
        return bool(self.along or self.across)


def fold_axis(print_: Print, width_mm: float) -> float:
    """Where a lengthwise fold lies that both layers carry the same bar: on the axis of the print nearest the middle, mm.

    Source: common practice, no published source.
    """
    # Between two columns of a half drop is no axis: its mirror image is another print.
    half = print_.repeat_across_mm / (1 if print_.half_drop else 2)
    if half <= 0:
        return width_mm / 2
    axis = print_.offset_across_mm + print_.axis_across_mm
    return axis + round((width_mm / 2 - axis) / half) * half


def matched_print(request: LayRequest) -> Print | None:
    """The print that matches are kept to; None where nothing is to be matched."""
    print_ = request.cloth.print
    return print_ if request.matches or request.centres else None


def matched_across(request: LayRequest) -> bool:
    """Whether anything is matched or centred across the cloth, so that both layers of a fold must carry the same bar."""
    print_ = matched_print(request)
    if print_ is None or repeat_of(print_, request.cloth.width_mm).across_mm <= 0:
        return False
    asked = any(m.across or (print_.half_drop and m.along) for m in request.matches)
    return asked or any(c.across_mm is not None for c in request.centres)


def may_match(request: LayRequest, spread: Spread) -> bool:
    """Whether a spread can keep the matches asked for: lanes that run along the cloth, and where bars must meet across, no
    fold but one that lies on the axis of an even print."""
    print_ = matched_print(request)
    if print_ is None or spread == "single":
        return True
    if not matched_across(request):
        return spread in MATCHED_SPREADS | ALONG_ONLY
    return spread in MATCHED_SPREADS and print_.even


def why_not(request: LayRequest) -> str:
    """Why a fold does not keep the matches asked for."""
    if request.cloth.print is not None and not request.cloth.print.even:
        return "It is uneven: the two layers of a fold would carry its bars in opposite order."
    if matched_across(request):
        return (
            "Where bars must meet across, they are kept in a single layer, or in a lengthwise fold that lies on a bar."
        )
    return "In a fold across, the bars of the two layers meet only by chance; use a spread that runs along the cloth."


def phases_of(request: LayRequest, spread: Spread, offset_y: float = 0.0, left: Iterable[int] = ()) -> Phases:
    """Where every piece may stand on a spread.

    Args:
        offset_y: how far the strip that is nested on lies from the lane's first edge.
        left: numbers of matches (and after them centrings) that are not kept.
    """
    print_ = matched_print(request)
    if print_ is None:
        return Phases(NO_REPEAT, None, None, {}, False)
    pieces = {p.id: p for p in request.pieces}
    repeat = repeat_of(print_, request.cloth.width_mm)
    along = Frame(repeat.along_mm) if repeat.along_mm > 0 else None
    # In a half drop two columns make one period: the next column is not the same place.
    columns = 2 if print_.half_drop else 1
    across = Frame(repeat.across_mm * columns) if repeat.across_mm > 0 else None
    hands = spread == "single"
    unmet: dict[int, str] = {}
    _Builder(request, pieces, along, across, hands, offset_y, spread, set(left), unmet).run()
    return Phases(
        repeat,
        along if along and along.at else None,
        across if across and across.at else None,
        unmet,
        hands,
        print_.even and not print_.half_drop,
        print_.offset_along_mm + print_.axis_along_mm,
    )


def repeat_of(print_: Print, width_mm: float) -> Repeat:
    """The repeat a print is matched to; a border along one selvage comes once in the whole width."""
    across = print_.repeat_across_mm or (width_mm if print_.kind == "border" else 0.0)
    return Repeat(print_.repeat_along_mm, across, print_.half_drop)


@dataclass
class _Builder:
    request: LayRequest
    pieces: Mapping[str, LayPiece]
    along: Frame | None
    across: Frame | None
    hands: bool
    offset_y: float
    spread: Spread
    left: set[int]
    unmet: dict[int, str]

    def run(self) -> None:
        """Tie what is to match, then fix what is centred or lies on the fold."""
        for number, match in enumerate(self.request.matches):
            why = "" if number in self.left else self._match(match)
            if why:
                self.unmet[number] = why
        for number, centre in enumerate(self.request.centres, start=len(self.request.matches)):
            why = "" if number in self.left else self._centre(centre)
            if why:
                self.unmet[number] = why
        if self.across is not None:
            self._on_the_fold(self.across)
            self._left_like_right(self.across)

    def _centre(self, centre: Centre) -> str:
        """Fix a mark on the print; the reason where that cannot be."""
        piece, mark = centre.mark
        print_ = self.request.cloth.print
        if piece not in self.pieces or mark not in self.pieces[piece].marks or print_ is None:
            return f"piece {piece} has no mark {mark}"
        if centre.along_mm is not None:
            if self.along is None:
                return "the print has no repeat along the cloth"
            self.along.told.setdefault(piece, set()).add(mark)
            where = print_.offset_along_mm + centre.along_mm - self.pieces[piece].marks[mark][0]
            if not self.along.fix((piece, 0), where):
                return "its matches already settle where it stands along the cloth"
        if centre.across_mm is not None:
            if self.across is None:
                return "the print has no repeat across the cloth"
            self.across.told.setdefault(piece, set()).add(mark)
            where = print_.offset_across_mm + centre.across_mm - self._fold_y() - self.offset_y
            if not all(self.across.fix(body, where - y) for body, y in self._across_marks(piece, mark)):
                return "its matches, or the fold, already settle where it stands across the cloth"
        return ""

    def _on_the_fold(self, across: Frame) -> None:
        """A piece on the fold stands there and nowhere else."""
        for body in list(across.at):
            piece = self.pieces[body[0]]
            if self.hands or piece.fold_edge is None or across.fix(body, -self.offset_y):
                continue
            for number, match in enumerate(self.request.matches):
                if match.across and piece.id in (match.a[0], match.b[0]):
                    self.unmet[number] = f"piece {piece.id} lies on the fold, which settles where it stands across"

    def _left_like_right(self, across: Frame) -> None:
        """Left hands on the same bar as right hands, where nothing else says where they stand."""
        for number, match in enumerate(self.request.matches):
            for body, y in self._across_marks(*match.a) if match.across and number not in self.unmet else ():
                if body[1] == 0 and (body[0], 1) in across.at:
                    across.tie(body, (body[0], 1), 2 * y)

    def _fold_y(self) -> float:
        """Where the lane's first edge lies on the open cloth: 0, or the fold."""
        cloth = self.request.cloth
        assert cloth.print is not None
        return 0.0 if self.spread == "single" else fold_axis(cloth.print, cloth.width_mm)

    def _match(self, match: Match) -> str:
        """Tie the two pieces of a match; the reason where that cannot be."""
        for piece, mark in (match.a, match.b):
            if piece not in self.pieces:
                return f"there is no piece {piece}"
            if mark not in self.pieces[piece].marks:
                return f"piece {piece} has no mark {mark}"
        print_ = self.request.cloth.print
        both = print_ is not None and print_.half_drop and (match.along or match.across)
        if (match.along or both) and self.along is not None:
            a, b = (self.pieces[p].marks[m][0] for p, m in (match.a, match.b))
            _tell(self.along, match)
            if not self.along.tie((match.a[0], 0), (match.b[0], 0), a - b):
                return "other matches of these pieces ask for another place along the cloth"
        if (match.across or both) and self.across is not None:
            theirs = dict(self._across_marks(*match.b))
            _tell(self.across, match)
            alike = not match.onto and self._outward(*match.a) == self._outward(*match.b)
            for body, y in self._across_marks(*match.a):
                other = next((o for o in theirs if (o[1] != body[1]) == alike or len(theirs) == 1), None)
                if other is not None and not self.across.tie(body, other, y - theirs[other]):
                    return "other matches of these pieces ask for another place across the cloth"
        if (match.along and self.along is None) or (match.across and self.across is None):
            return "the print has no repeat that way"
        return ""

    def _outward(self, piece_id: str, mark: str) -> bool:
        """Whether a mark lies on the far side of its piece, as drawn.

        Two edges drawn on the same side meet when one of the pieces is turned over: right side on right side, as they are sewn.
        """
        piece = self.pieces[piece_id]
        ys = [y for _, y in piece.outline]
        return piece.marks[mark][1] >= (min(ys) + max(ys)) / 2

    def _across_marks(self, piece_id: str, mark: str) -> list[tuple[Body, float]]:
        """The bodies that carry a mark, and how far across each it lies; in a single layer a body for each hand."""
        piece = self.pieces[piece_id]
        y = piece.marks[mark][1]
        if piece.fold_edge is not None:
            y = on_fold_axis(piece)[1][mark][1]
            if not self.hands:
                return [((piece_id, 0), y)]
            # Opened out, one body has the mark on both sides of its middle.
            left = (piece_id, 1)
            if self.across is not None:
                self.across.tie((piece_id, 0), left, 0.0)
            return [((piece_id, 0), y), (left, -y)]
        if self.hands and piece.mirrored:
            return [((piece_id, 0), y), ((piece_id, 1), -y)]
        return [((piece_id, 0), y)]


def _tell(frame: Frame, match: Match) -> None:
    for piece, mark in (match.a, match.b):
        frame.told.setdefault(piece, set()).add(mark)
