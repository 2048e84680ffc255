"""What a body's own measures ask of the pieces: both measured at the same places, less ease; in the order alterations are made.

A measure that was not taken asks for nothing. The eases are those of the household's table; the least difference worth a change:
common practice, no source.
"""

import math
from collections.abc import Callable, Iterator

from rowanseed.core.fit.ease import least_wearing
from rowanseed.core.fit.edge_shapes import seam_mm
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.measured_places import across, centre_y, has_dart, highest, lowest, side_neck
from rowanseed.core.fit.neck import asked_by_head, asked_by_neck
from rowanseed.core.fit.question import WORTH_MM, Asked, Question
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.lengths import both

WITHOUT_DART_MM = 25.0  # a bust change up to this on each front goes without a dart: common practice, no source
LONG_SLEEVE = 0.75  # of the arm: a shorter sleeve is meant to be short


def asked_by_measures(question: Question) -> list[Asked]:
    """Return the alterations that differ by more than is lost in sewing: length, width, back and shoulders, bust, then sleeves."""
    rules: tuple[Callable[[Question], Iterator[Asked]], ...] = (
        _back_waist, _front_waist, _rise, _widths, _across_back, _across_front, _shoulder, asked_by_neck, asked_by_head,
        _bust, _bust_point, _crotch, _upper_arm, _sleeve_length, _wrist, _thigh, _calf,
    )  # fmt: skip
    left_out = frozenset() if question.exact else FOLLOWING
    return [asked for rule in rules if rule.__name__ not in left_out for asked in rule(question)]


FOLLOWING = frozenset(  # compared only on a garment that follows the body
    (
        "_back_waist",
        "_front_waist",
        "_rise",
        "_across_back",
        "_across_front",
        "_shoulder",
        "asked_by_neck",
        "_bust_point",
    )
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
