"""What a print should do on a garment, proposed from its declared seams: which bars meet where, what cannot match and why.

Source of what is matched: common practice, no published source.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import Piece, Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.core.prints import Print

LENGTHWISE = 1.0  # a seam is lengthwise while it runs at least as far along as across
STRAIGHT_MM = 8.0  # an edge that strays less from the grain is straight along it
EASE_MM = 30.0  # more than this is not eased but gathered
CAP = ("cap", "armhole")
BY_DEFAULT = ("stripe", "plaid", "motif")  # on other prints seams are matched only when the user asks
MIDDLE = ("centre", "center")
POCKET, CORNER = "pocket", "pocket corner"
MATCHED_KINDS = ("stripe", "plaid", "motif", "two-way", "one-way", "panel")
WHOLE = 0.9  # a piece that is at most this share of a repeat each way can hold one motif whole


@dataclass(frozen=True)
class RuleMark:
    """A place on a piece that a rule is about."""

    piece: str
    name: str
    at: Point


@dataclass(frozen=True)
class PrintRule:
    """One thing the print should do: two marks that match, or one that is centred; or why it cannot.

    `across_too`: the bars meet across the seam as well as along it. `onto`: the second piece is laid on the first. A rule of
    one mark puts it on a bar or motif: across the cloth, or along it where `lengthwise`, or both with
    `both_ways`. `edges`: the two that are sewn.
    """

    key: str
    title: str
    why: str
    marks: tuple[RuleMark, ...] = ()
    across_too: bool = False
    onto: bool = False
    by_default: bool = True
    lengthwise: bool = False
    edges: tuple[SeamSide, ...] = ()
    both_ways: bool = False

    @property
    def possible(self) -> bool:
        """Whether it can be done at all."""
        return bool(self.marks)


def print_rules(
    pieces: Mapping[str, tuple[Piece, PieceShape]], seams: Sequence[Seam], print_: Print
) -> list[PrintRule]:
    """The rules a print has on the pieces of one garment, those that can be kept first.

    Args:
        pieces: the pieces cut from the printed cloth, by number, in their size.
    """
    if print_.kind != "border" and (
        print_.kind not in MATCHED_KINDS or not (print_.repeat_along_mm or print_.repeat_across_mm)
    ):
        return []
    walker = Walker()
    known = {n: AlterPiece(n, shape) for n, (_, shape) in pieces.items()}
    if print_.kind == "border":
        return [rule for n in pieces if (rule := _border_rule(n, pieces, known, walker)) is not None]
    found = [rule for seam in seams if (rule := _seam_rule(seam, pieces, known, walker, print_)) is not None]
    found += [rule for n in pieces if (rule := _pocket_rule(n, pieces, known, walker, print_)) is not None]
    found += [rule for n in pieces if (rule := _centre_rule(n, pieces, known, walker, print_)) is not None]
    found += [rule for n in pieces if (rule := _motif_rule(n, pieces, print_)) is not None]
    if print_.repeat_along_mm and print_.kind in BY_DEFAULT:
        found += [rule for n in pieces if (rule := _hem_rule(n, pieces, known, walker)) is not None][:1]
    return sorted(found, key=lambda r: not r.possible)


def _seam_rule(
    seam: Seam,
    pieces: Mapping[str, tuple[Piece, PieceShape]],
    known: Mapping[str, AlterPiece],
    walker: Walker,
    print_: Print,
) -> PrintRule | None:
    """A seam whose two first edges are cut from this cloth; None for one that makes a tube of a piece.

    A piece sewn to its own mirror image, as at a centre seam, meets itself: cut on the bias its stripes make a chevron there.
    """
    a, b = seam.a, seam.b
    if (a[0] == b[0] and a[1] != b[1]) or any(n not in known or e not in known[n].shape.edges for n, e in (a, b)):
        return None
    title = f"{pieces[a[0]][0].name} to {pieces[b[0]][0].name}, {a[1]}"
    if a == b:
        title = f"{pieces[a[0]][0].name}, right and left at the {a[1]}"
    key = f"seam:{a[0]}.{a[1]}={b[0]}.{b[1]}"
    no = _why_not(seam, known, walker)
    if no:
        return PrintRule(key, title, no)
    at = _meeting(seam, known, walker)
    middle = any(e in MIDDLE for _, e in (a, b)) and all(_is_straight(walker, known[n], e) for n, e in (a, b))
    across = middle and print_.repeat_across_mm > 0
    if not print_.repeat_along_mm and not across:
        return PrintRule(
            key, title, "the print repeats across only: its stripes run beside this seam and do not cross it"
        )
    why = (
        "bars meet at the notch; above and below it the curves part them"
        if at[2] == "notch"
        else "bars run on over the seam"
    )
    if across:
        why = "a straight seam along the grain: bars meet along it and across it"
    if a == b and pieces[a[0]][0].grain == "bias":
        why = "both halves are cut on the bias: their stripes make a chevron that closes at the seam"
    marks = (RuleMark(a[0], f"{key}:a", at[0]), RuleMark(b[0], f"{key}:b", at[1]))
    return PrintRule(key, title, why, marks, across, False, print_.kind in BY_DEFAULT, edges=(a, b))


def _why_not(seam: Seam, known: Mapping[str, AlterPiece], walker: Walker) -> str:
    """Why a seam cannot match; empty when it can."""
    if "gather" in seam.why or "pleat" in seam.why or abs(seam.meant_mm) > EASE_MM:
        return "one side is gathered or pleated in: no bar can meet another"
    if any(word in seam.why or word in edge for word in CAP for _, edge in (seam.a, seam.b)):
        return (
            ""
            if _front_notches(seam, known, walker)
            else "the sleeve is matched at its front notch; here it comes as it comes"
        )
    for number, edge in (seam.a, seam.b):
        piece = known[number]
        if walker.folded(piece, edge):
            return "a dart opens on this seam and takes the bars away with it"
        dx, dy = _chord(walker, piece, edge)
        if abs(dx) < LENGTHWISE * abs(dy):
            shaped = abs(dx) > 0.08 * abs(dy)
            return (
                "the seam slopes across the cloth, each side its own way: bars meet at one point only"
                if shaped
                else "the seam runs across the cloth: its two sides are cut from different rows of the print"
            )
    return ""


def _meeting(seam: Seam, known: Mapping[str, AlterPiece], walker: Walker) -> tuple[Point, Point, str]:
    """Where the two seam lines meet: at the first notch both have, else at the foot of the seam."""
    at = _front_notches(seam, known, walker)
    if at and not all(_is_even(walker, known[n], e) for n, e in (seam.a, seam.b)):
        first, second = (walker.seam_place(known[n], e, d) for (n, e), d in zip((seam.a, seam.b), at, strict=True))
        return first, second, "notch"
    ends = [_foot(walker, known[n], e) for n, e in (seam.a, seam.b)]
    return ends[0], ends[1], "foot"


def _front_notches(seam: Seam, known: Mapping[str, AlterPiece], walker: Walker) -> tuple[float, float] | None:
    """How far along both sides the first single notch lies; None where one side has none. Two notches together mean back."""
    found = []
    for number, edge in (seam.a, seam.b):
        notches = known[number].shape.notches
        own = [at for k, at in walker.notches(known[number], edge) if notches[k].count == 1]
        if not own:
            return None
        found.append(min(own))
    return found[0], found[1]


def _foot(walker: Walker, piece: AlterPiece, edge: str) -> Point:
    """The end of an edge's seam line that lies further from the head."""
    line = edge_points(walker.line(piece), piece.shape.edges[edge])
    return max(line[0], line[-1])


def _chord(walker: Walker, piece: AlterPiece, edge: str) -> Point:
    line = edge_points(walker.line(piece), piece.shape.edges[edge])
    return line[-1][0] - line[0][0], line[-1][1] - line[0][1]


def _is_straight(walker: Walker, piece: AlterPiece, edge: str) -> bool:
    ys = [y for _, y in edge_points(walker.line(piece), piece.shape.edges[edge])]
    return max(ys) - min(ys) <= STRAIGHT_MM


def _is_even(walker: Walker, piece: AlterPiece, edge: str) -> bool:
    """Whether an edge is nearly a straight line, slanting or not."""
    line = edge_points(walker.line(piece), piece.shape.edges[edge])
    length = sum(math.dist(p, q) for p, q in zip(line, line[1:], strict=False))
    return length <= 1.02 * math.dist(line[0], line[-1])


def _pocket_rule(
    number: str,
    pieces: Mapping[str, tuple[Piece, PieceShape]],
    known: Mapping[str, AlterPiece],
    walker: Walker,
    print_: Print,
) -> PrintRule | None:
    """A patch pocket disappears where it is sewn on: its corner on the mark that shows its place."""
    piece, _ = pieces[number]
    if POCKET not in piece.name.lower() or any(w in piece.name.lower() for w in ("flap", "bag", "lining")):
        return None
    for other, (whole, shape) in pieces.items():
        mark = next((m for m in shape.marks if m.name == CORNER), None)
        if mark is None or other == number:
            continue
        line = walker.line(known[number])
        corner = (min(x for x, _ in line), min(y for _, y in line))
        key = f"pocket:{number}"
        marks = (RuleMark(other, f"{key}:a", mark.at), RuleMark(number, f"{key}:b", corner))
        why = "the pocket disappears on its place"
        return PrintRule(key, f"{piece.name} on {whole.name}", why, marks, True, True, print_.kind in BY_DEFAULT)
    return None


def _border_rule(
    number: str, pieces: Mapping[str, tuple[Piece, PieceShape]], known: Mapping[str, AlterPiece], walker: Walker
) -> PrintRule | None:
    """The hem on the border that runs along a selvage, for a piece that is cut crosswise so that it can."""
    piece, shape = pieces[number]
    if "hem" not in shape.edges:
        return None
    key, title = f"border:{number}", f"{piece.name}, hem on the border"
    if piece.grain != "crosswise":
        return PrintRule(
            key,
            title,
            "the border runs along the selvage: set the piece's grain to crosswise, if the cloth hangs well so",
        )
    line = edge_points(walker.line(known[number]), shape.edges["hem"])
    why = "the hem runs along the border, at this distance from the cloth's first edge"
    return PrintRule(key, title, why, (RuleMark(number, f"{key}:a", max(line)),), True, False, True)


def _motif_rule(number: str, pieces: Mapping[str, tuple[Piece, PieceShape]], print_: Print) -> PrintRule | None:
    """One motif whole and in the middle of a small piece, as a pocket; it takes a motif for every piece."""
    piece, shape = pieces[number]
    xs, ys = [x for x, _ in shape.outline], [y for _, y in shape.outline]
    if print_.kind not in ("motif", "panel") or shape.fold_edge is not None:
        return None
    if max(xs) - min(xs) > WHOLE * print_.repeat_along_mm or max(ys) - min(ys) > WHOLE * print_.repeat_across_mm:
        return None
    key = f"motif:{number}"
    middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    why = "one motif whole and in the middle; every piece then takes a motif of its own, and the cloth between is lost"
    mark = RuleMark(number, f"{key}:a", middle)
    return PrintRule(key, f"{piece.name}, one motif in the middle", why, (mark,), True, False, False, both_ways=True)


def _hem_rule(
    number: str, pieces: Mapping[str, tuple[Piece, PieceShape]], known: Mapping[str, AlterPiece], walker: Walker
) -> PrintRule | None:
    """The finished hem on a bar, at the middle of the piece; its neighbours follow through their seams."""
    piece, shape = pieces[number]
    if "hem" not in shape.edges:
        return None
    line = edge_points(walker.line(known[number]), shape.edges["hem"])
    key = f"hem:{number}"
    why = "a bar runs along the hem, all round where the side seams match"
    return PrintRule(
        key, f"{piece.name}, hem on a bar", why, (RuleMark(number, f"{key}:a", max(line)),), False, False, False, True
    )


def _centre_rule(
    number: str,
    pieces: Mapping[str, tuple[Piece, PieceShape]],
    known: Mapping[str, AlterPiece],
    walker: Walker,
    print_: Print,
) -> PrintRule | None:
    """The middle of the garment on the middle of a bar or motif, so that left and right are each other's mirror image."""
    piece, shape = pieces[number]
    if not print_.repeat_across_mm or not print_.even:
        return None
    at: Point | None = None
    if shape.fold_edge is not None:
        at = shape.fold_edge[1]
    for line in shape.lines:
        if line.kind == "centre front":
            at = line.points[-1]
    for name in shape.edges:
        if at is None and name in MIDDLE and _is_straight(walker, known[number], name):
            at = max(edge_points(walker.line(known[number]), shape.edges[name]))
    if at is None:
        return None
    key = f"centre:{number}"
    why = "the middle lies on the middle of a bar or motif, and both sides mirror each other"
    return PrintRule(
        key,
        f"{piece.name} centred",
        why,
        (RuleMark(number, f"{key}:a", at),),
        across_too=True,
        by_default=print_.kind == "motif",
    )
