"""What a body's own measures ask of the pieces: both measured at the same places, less ease; in the order alterations are made.

A measure that was not taken asks for nothing. The eases are those of the household's table; the least difference worth a change:
common practice, no source.
"""

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.fit.chart_comparison import CUP_MM
from rowanseed.core.fit.ease import ease_on_knit, least_wearing
from rowanseed.core.fit.ease_table import USUAL, EaseTable
from rowanseed.core.fit.edge_changes import altered_shape
from rowanseed.core.fit.edge_shapes import seam_mm
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.measured_places import across, centre_y, has_dart, highest, lowest, neck_half, side_neck
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import Piece
from rowanseed.core.pattern.seamwalk import AlterPiece

WORTH_MM = 8.0  # a smaller difference is lost in sewing
COLLARS = ("collar", "stand")
AT_THE_NECK = (*COLLARS, "facing", "band", "binding", "hood")  # pieces that end at the neck and are no part of it
MOST_WIDER_MM, MOST_LOWER_MM = 12.0, 40.0  # further the neck is drawn anew
TRIES = 12
WITHOUT_DART_MM = 25.0  # a bust change up to this on each front goes without a dart: common practice, no source
LONG_SLEEVE = 0.75  # of the arm: a shorter sleeve is meant to be short


@dataclass(frozen=True)
class Asked:
    """An alteration that a measure asks for, why, and what it does."""

    alteration: Alteration
    why: str
    effect: str


Sized = Sequence[tuple[Piece, PieceShape]]


@dataclass(frozen=True)
class Question:
    """A body held against pieces.

    `pieces`: the shell's, with their shape as they would be cut. `body`: measures by their keys, mm. `stretch`: the cloth's share.
    `cup`: how much larger than the high bust the pattern is drawn for, mm. `opens`: whether it has an opening at the neck; without
    one it is pulled over the head. `exact`: whether lengths, shoulders and the bust's place
    are compared too, as on a garment that follows the body.
    """

    pieces: Sized
    body: Mapping[str, float]
    unit: Unit
    exact: bool = True
    table: EaseTable = USUAL
    stretch: float = 0.0
    cup: float = CUP_MM
    opens: bool = True

    def ease(self, key: str) -> float:
        """The ease a measure needs, mm; on a knit less, round the figure less than the body."""
        own = self.table[f"at.{key}"]
        return ease_on_knit(own, self.body.get(key, 0.0), self.stretch, self.table) if self.stretch else own

    def part(self, words: str, *edges: str) -> tuple[Piece, PieceShape] | None:
        """The first piece of a name with these edges."""
        named = ((p, s) for p, s in self.pieces if words in p.name.lower() and set(edges) <= s.edges.keys())
        return next(named, None)

    def told(self, what: str, has: float, wants: float, ease: float) -> str:
        """A difference in a sentence."""
        spare = f" and {both(ease, self.unit)} of ease" if ease > 0 else ""
        spare = f", {both(-ease, self.unit)} smaller than it on this stretch" if ease < 0 else spare
        return (
            f"{what} measures {both(has, self.unit)} on the pieces; the body asks for {both(wants, self.unit)}{spare}."
        )


def asked_by_measures(question: Question) -> list[Asked]:
    """Return the alterations that differ by more than is lost in sewing: length, width, back and shoulders, bust, then sleeves."""
    rules: tuple[Callable[[Question], Iterator[Asked]], ...] = (
        _back_waist, _front_waist, _rise, _widths, _across_back, _across_front, _shoulder, _neck, _head, _bust, _bust_point,
        _crotch, _upper_arm, _sleeve_length, _wrist, _thigh, _calf,
    )  # fmt: skip
    left_out = frozenset() if question.exact else FOLLOWING
    return [asked for rule in rules if rule.__name__ not in left_out for asked in rule(question)]


FOLLOWING = frozenset(  # compared only on a garment that follows the body
    ("_back_waist", "_front_waist", "_rise", "_across_back", "_across_front", "_shoulder", "_neck", "_bust_point")
)


def _back_waist(q: Question) -> Iterator[Asked]:
    for piece, shape in q.pieces:
        ready = "back" in piece.name.lower() and "neck" in shape.edges and {"bust", "waist"} <= set(shape.levels)
        if not ready or "back_waist" not in q.body:
            continue
        has, ease = shape.levels["waist"] - lowest(shape, "neck"), q.ease("back_waist")
        off = q.body["back_waist"] + ease - has
        if abs(off) >= WORTH_MM:
            at = (shape.levels["bust"] + shape.levels["waist"]) / 2
            why = q.told("From the neck to the waist the back", has, q.body["back_waist"], ease)
            yield Asked(Alteration("length", piece.number, off, at), why, "Every piece that the line crosses follows.")
        return


def _front_waist(q: Question) -> Iterator[Asked]:
    """What the front is longer than the back has asked for already: the chest's own length, above the bust."""
    front = q.part("front", "neck", "shoulder")
    if front is None or "front_waist" not in q.body or "waist" not in front[1].levels:
        return
    piece, shape = front
    start = side_neck(shape)
    if start is None:
        return
    ease = q.ease("back_waist")
    followed = sum(a.alteration.by_mm for a in _back_waist(q))
    has = shape.levels["waist"] - start[0]
    off = q.body["front_waist"] + ease - has - followed
    if abs(off) >= WORTH_MM:
        why = q.told("From the side of the neck to the waist the front", has + followed, q.body["front_waist"], ease)
        effect = "The front alone, across the chest; the armhole keeps its length. If a fuller bust asks for it, alter that first."
        yield Asked(Alteration("chest", piece.number, off), why, effect)


def _rise(q: Question) -> Iterator[Asked]:
    for piece, shape in q.pieces:
        if "crotch" not in shape.edges or "waist" not in shape.levels or "crotch_depth" not in q.body:
            continue
        fork = max(x for x, _ in edge_points(shape.outline, shape.edges["crotch"]))
        has, ease = fork - shape.levels["waist"] - shape.allowance_of("inseam"), q.ease("crotch_depth")
        off = q.body["crotch_depth"] + ease - has
        if abs(off) >= WORTH_MM:
            why = q.told("From the waist to the crotch the leg", has, q.body["crotch_depth"], ease)
            effect = "Front and back leg change alike; the leg below keeps its length."
            yield Asked(Alteration("rise", piece.number, off), why, effect)
        return


def _widths(q: Question) -> Iterator[Asked]:
    girths = finished_girths(q.pieces)
    for level in ("waist", "hip"):
        if level not in girths or level not in q.body:
            continue
        girth, ease = girths[level], least_wearing("waist" if level == "waist" else "hip", q.stretch, table=q.table)
        short = q.body[level] + ease - girth.mm
        own = [(p, s) for p, s in q.pieces if "side" in s.edges and level in s.levels]
        if short < WORTH_MM or not own:
            continue
        edges = sum(p.cut * (2 if s.fold_edge else 1) for p, s in own)
        piece, shape = own[0]
        why = q.told(f"Round the {level} it", girth.mm, q.body[level], ease)
        effect = f"Each of {edges} side edges moves out by {both(short / edges, q.unit)}, fading above and below."
        yield Asked(Alteration("taper", piece.number, short / edges, shape.levels[level], "side"), why, effect)


def _across_back(q: Question) -> Iterator[Asked]:
    yield from _across(q, "back", "across_back", "Across the back it")


def _across_front(q: Question) -> Iterator[Asked]:
    yield from _across(q, "front", "across_front", "Across the front it")


def _across(q: Question, name: str, key: str, words: str) -> Iterator[Asked]:
    part = q.part(name, "armhole", "shoulder")
    half = across(part[1]) if part else None
    if part is None or half is None or key not in q.body:
        return
    has, ease = 2 * half, q.ease(key)
    off = q.body[key] + ease - has
    if abs(off) >= WORTH_MM:
        effect = f"Each armhole moves by {both(abs(off) / 2, q.unit)} half way down, nothing at shoulder and underarm."
        yield Asked(Alteration("across", part[0].number, off / 2), q.told(words, has, q.body[key], ease), effect)


def _shoulder(q: Question) -> Iterator[Asked]:
    front = q.part("front", "shoulder", "armhole")
    if front is None or "shoulder" not in q.body:
        return
    has = seam_mm(front[1], "shoulder")
    off = q.body["shoulder"] - has
    if abs(off) >= WORTH_MM:
        effect = "Front and back alike; the armholes follow to half way down."
        asked = Alteration("shoulder-length", front[0].number, off, edge="shoulder")
        yield Asked(asked, q.told("The shoulder", has, q.body["shoulder"], 0.0), effect)


def _neck(q: Question) -> Iterator[Asked]:
    """Below a collar the neck seam fits the neck; an edge without one may lie lower, but never round less than the neck itself."""
    own, front = _at_the_neck(q), q.part("front", "neck", "shoulder")
    if not own or front is None or "neck" not in q.body:
        return
    closed = any(word in p.name.lower() for p, _ in q.pieces for word in COLLARS)
    girth, ease = _girth(own), q.ease("neck") if closed else 0.0
    off = q.body["neck"] + ease - girth
    if abs(off) >= WORTH_MM and (closed or off > 0):
        yield from _wider_neck(q, front[0].number, off, q.told("Round the neck it", girth, q.body["neck"], ease))


def _head(q: Question) -> Iterator[Asked]:
    own, front = _at_the_neck(q), q.part("front", "neck", "shoulder")
    if q.opens or not own or front is None or "head" not in q.body:
        return
    girth, ease = _girth(own), q.table["at.head"]
    short = q.body["head"] + ease - girth * (1 + q.stretch)
    if short >= WORTH_MM:
        why = q.told("It is pulled over the head: the neck", girth, q.body["head"], ease)
        yield from _wider_neck(q, front[0].number, short / (1 + q.stretch), why)


def _at_the_neck(q: Question) -> Sized:
    """The pieces that the neck is cut in, where the neck of each is known."""
    own = [(p, s) for p, s in q.pieces if "neck" in s.edges and not any(word in p.name.lower() for word in AT_THE_NECK)]
    return own if len(own) > 1 and all(neck_half(shape) is not None for _, shape in own) else []


def _girth(pieces: Sized) -> float:
    """Round the neck on the seam line, both halves of front and back, mm."""
    return 2 * sum(neck_half(shape) or 0.0 for _, shape in pieces)


def _wider_neck(q: Question, piece: str, off: float, why: str) -> Iterator[Asked]:
    """The neck's ends moved, and where that is not enough its centre front too: how far is tried on the pieces."""
    own = _at_the_neck(q)
    by = _tried(own, "neck-width", off, MOST_WIDER_MM)
    effect = f"The neck's ends at the shoulders move by {both(abs(by), q.unit)}, on front and back alike; collar and facing follow."
    yield Asked(Alteration("neck-width", piece, by), why, effect)
    wider = [(p, _changed(p, s, "neck-width", by)) for p, s in own]
    front = [(p, s) for p, s in wider if p.number == piece]
    left = off - (_girth(wider) - _girth(own))
    if abs(left) >= WORTH_MM:
        down = _tried(front, "neck-depth", left, MOST_LOWER_MM)
        words = f"The rest: the front neck is {'lowered' if down > 0 else 'raised'} by {both(abs(down), q.unit)} at its centre."
        yield Asked(Alteration("neck-depth", piece, down), why, words)


def _tried(pieces: Sized, kind: str, off: float, most: float) -> float:
    """By how much a change makes a neck longer by so much, mm, but no more than is drawn so: found by trying."""
    by = math.copysign(1.0, off)
    for _ in range(TRIES):
        gained = _girth([(p, _changed(p, s, kind, by)) for p, s in pieces]) - _girth(pieces)
        if gained * off <= 0:
            return math.copysign(most, off)
        by = math.copysign(min(most, abs(by * off / gained)), off)
    return by


def _changed(piece: Piece, shape: PieceShape, kind: str, by: float) -> PieceShape:
    return altered_shape(Alteration(kind, piece.number, by), AlterPiece(piece.number, shape), KINDS[kind].edge, None)


def _bust(q: Question) -> Iterator[Asked]:
    """A bust beyond the pattern's cup: half of it on each front, with the dart where there is one."""
    marked = ((p, s) for p, s in q.pieces if any(m.name == "bust point" for m in s.marks))
    front = next(marked, None)
    if front is None or not {"bust", "high_bust"} <= q.body.keys():
        return
    beyond = q.body["bust"] - q.body["high_bust"] - q.cup
    if abs(beyond) < 2 * WORTH_MM:
        return
    dart = has_dart(front[1]) or abs(beyond / 2) > WITHOUT_DART_MM
    kind = "bust" if dart else "bust-dartless"
    size = f"{both(q.body['bust'] - q.body['high_bust'], q.unit)}; the pattern is drawn for {both(q.cup, q.unit)}"
    why = f"The full bust measures more than the high bust by {size}. The size goes by the high bust."
    more = "wider and longer below the bust" if beyond > 0 else "narrower and shorter below the bust"
    effect = f"Each front is {more}; the waist follows, and what it must not have is taken in at the side."
    if dart and not has_dart(front[1]):
        most = both(WITHOUT_DART_MM, q.unit)
        effect += f" The side gains a dart: without one more than {most} a side makes the hem flare and drag."
    yield Asked(Alteration(kind, front[0].number, beyond / 2), why, effect)


def _bust_point(q: Question) -> Iterator[Asked]:
    """Where the bust lies: from the side of the neck down, and half of what lies between both."""
    for piece, shape in q.pieces:
        mark = next((m for m in shape.marks if m.name == "bust point"), None)
        start = side_neck(shape)
        if mark is None or start is None or "bust_point" not in q.body or not has_dart(shape):
            continue
        centre = centre_y(shape, mark.at[0])
        aside = 0.0
        if centre is not None and "bust_span" in q.body:
            aside = q.body["bust_span"] / 2 - abs(mark.at[1] - centre)
        outward = -1.0 if centre is not None and mark.at[1] < centre else 1.0
        beside = mark.at[1] + outward * aside - start[1]
        down = max(q.body["bust_point"] ** 2 - beside**2, 0.0) ** 0.5 - (mark.at[0] - start[0])
        if max(abs(down), abs(aside)) >= WORTH_MM:
            has = math.dist(mark.at, start)
            why = q.told("From the side of the neck to the bust the front", has, q.body["bust_point"], 0.0)
            effect = "Darts are pointed at the new place; their width stays."
            yield Asked(Alteration("bust-point", piece.number, down, across_mm=aside), why, effect)
        return


def _crotch(q: Question) -> Iterator[Asked]:
    legs = [(p, s) for p, s in q.pieces if "crotch" in s.edges]
    if len(legs) != 2 or "crotch_length" not in q.body:
        return
    has, ease = (
        sum(seam_mm(s, edge) for _, s in legs for edge in ("crotch", "centre") if edge in s.edges),
        q.ease("crotch_length"),
    )
    off = q.body["crotch_length"] + ease - has
    back = next((p for p, _ in legs if "back" in p.name.lower()), legs[-1][0])
    if abs(off) >= WORTH_MM:
        why = q.told("From waist to waist through the crotch it", has, q.body["crotch_length"], ease)
        effect = "The back's fork is longer; its inseam follows."
        yield Asked(Alteration("crotch-length", back.number, off), why, effect)


def _limb(q: Question, edge: str, level: str, kind: str, words: str, both_legs: bool = False) -> Iterator[Asked]:
    pieces = [(p, s) for p, s in q.pieces if edge in s.edges]
    girths = finished_girths(pieces)
    own = next(((p, s) for p, s in pieces if level in s.levels), None)
    if level not in girths or level not in q.body or own is None:
        return
    ease = q.ease(level)
    short = q.body[level] + ease - girths[level].mm
    if short >= WORTH_MM:
        why = q.told(f"Round the {words} it", girths[level].mm, q.body[level], ease)
        at = own[1].levels[level] if kind == "calf" else None
        asked = Alteration(kind, own[0].number, short / 2 if both_legs else short, at)
        yield Asked(asked, why, "What joins follows; its length stays.")


def _upper_arm(q: Question) -> Iterator[Asked]:
    yield from _limb(q, "front seam", "upper_arm", "upper-arm", "upper arm")


def _sleeve_length(q: Question) -> Iterator[Asked]:
    """A long sleeve without a cuff, from the cap's top to its hem; what a cuff adds is not guessed."""
    cuffed = any("cuff" in p.name.lower() for p, _ in q.pieces)
    for piece, shape in q.pieces:
        caps = [edge for edge in shape.edges if edge.startswith("cap")]
        if cuffed or not caps or "hem" not in shape.edges or "arm_length" not in q.body:
            continue
        ease = q.ease("arm_length") if not q.stretch else q.table["at.arm_length"]
        has = lowest(shape, "hem") - highest(shape, *caps)
        off = q.body["arm_length"] + ease - has
        if abs(off) >= WORTH_MM and has >= LONG_SLEEVE * q.body["arm_length"]:
            at = (lowest(shape, *caps[:1]) + lowest(shape, "hem")) / 2
            why = q.told("The sleeve from the shoulder to its hem", has, q.body["arm_length"], ease)
            yield Asked(
                Alteration("length", piece.number, off, at), why, "Below the underarm; the cap keeps its height."
            )
        return


def _wrist(q: Question) -> Iterator[Asked]:
    yield from _limb(q, "front seam", "wrist", "wrist", "wrist")


def _thigh(q: Question) -> Iterator[Asked]:
    yield from _limb(q, "inseam", "thigh", "thigh", "thigh", both_legs=True)


def _calf(q: Question) -> Iterator[Asked]:
    for level in ("knee", "calf"):
        yield from _limb(q, "inseam", level, "calf", level, both_legs=True)
