"""What a body's own measures ask of the pieces: both measured at the same places, less ease; in the order alterations are made.

A measure that was not taken asks for nothing. Eases and the least difference worth a change: common practice, no source.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.fit.edge_shapes import seam_mm
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import Piece

WORTH_MM = 8.0  # a smaller difference is lost in sewing
EASE_MM: Mapping[str, float] = {
    "back_waist": 8.0, "crotch_depth": 15.0, "crotch_length": 30.0, "upper_arm": 45.0, "thigh": 45.0, "waist": 20.0, "hip": 45.0,
}  # fmt: skip


@dataclass(frozen=True)
class Asked:
    """An alteration that a measure asks for, why, and what it does."""

    alteration: Alteration
    why: str
    effect: str


Sized = Sequence[tuple[Piece, PieceShape]]


def asked_by_measures(pieces: Sized, body: Mapping[str, float], unit: Unit, exact: bool = True) -> list[Asked]:
    """Return the alterations that differ by more than is lost in sewing: length, then width, back and shoulders, then sleeves.

    Args:
        pieces: the shell's pieces with their shape as they would be cut.
        body: measures by their keys, mm.
        exact: whether lengths and shoulders are compared too, as on a garment that follows the body.
    """
    rules: tuple[Callable[[Sized, Mapping[str, float], Unit], Iterator[Asked]], ...] = (
        *((_back_waist, _rise) if exact else ()),
        _widths,
        *((_shoulder,) if exact else ()),
        _crotch,
        _upper_arm,
        _thigh,
    )
    return [asked for rule in rules for asked in rule(pieces, body, unit)]


def _told(what: str, has: float, wants: float, ease: float, unit: Unit) -> str:
    spare = f" and {both(ease, unit)} of ease" if ease else ""
    return f"{what} measures {both(has, unit)} on the pieces; the body asks for {both(wants, unit)}{spare}."


def _seam_top(shape: PieceShape, edge: str) -> float:
    """The x of an edge's seam line where it lies nearest the centre: its lowest place for a neck."""
    first, last = shape.edges[edge]
    count = len(shape.seam_line)
    points = [shape.seam_line[(first + k) % count] for k in range((last - first) % count + 1)]
    return max(x for x, _ in points)


def _back_waist(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    for piece, shape in pieces:
        ready = "back" in piece.name.lower() and "neck" in shape.edges and {"bust", "waist"} <= set(shape.levels)
        if not ready or "back_waist" not in body:
            continue
        has, ease = shape.levels["waist"] - _seam_top(shape, "neck"), EASE_MM["back_waist"]
        off = body["back_waist"] + ease - has
        if abs(off) >= WORTH_MM:
            at = (shape.levels["bust"] + shape.levels["waist"]) / 2
            why = _told("From the neck to the waist the back", has, body["back_waist"], ease, unit)
            yield Asked(Alteration("length", piece.number, off, at), why, "Every piece that the line crosses follows.")
        return


def _rise(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    for piece, shape in pieces:
        if "crotch" not in shape.edges or "waist" not in shape.levels or "crotch_depth" not in body:
            continue
        fork = max(x for x, _ in edge_points(shape.outline, shape.edges["crotch"]))
        has, ease = fork - shape.levels["waist"] - shape.allowance_of("inseam"), EASE_MM["crotch_depth"]
        off = body["crotch_depth"] + ease - has
        if abs(off) >= WORTH_MM:
            why = _told("From the waist to the crotch the leg", has, body["crotch_depth"], ease, unit)
            yield Asked(
                Alteration("rise", piece.number, off),
                why,
                "Front and back leg change alike; the leg below keeps its length.",
            )
        return


def _widths(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    girths = finished_girths(pieces)
    for level in ("waist", "hip"):
        if level not in girths or level not in body:
            continue
        girth, ease = girths[level], EASE_MM[level]
        short = body[level] + ease - girth.mm
        own = [(p, s) for p, s in pieces if "side" in s.edges and level in s.levels]
        if short < WORTH_MM or not own:
            continue
        edges = sum(p.cut * (2 if s.fold_edge else 1) for p, s in own)
        piece, shape = own[0]
        why = _told(f"Round the {level} it", girth.mm, body[level], ease, unit)
        effect = f"Each of {edges} side edges moves out by {both(short / edges, unit)}, fading above and below."
        yield Asked(Alteration("taper", piece.number, short / edges, shape.levels[level], "side"), why, effect)


def _shoulder(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    for piece, shape in pieces:
        if (
            not {"shoulder", "armhole"} <= set(shape.edges)
            or "shoulder" not in body
            or "front" not in piece.name.lower()
        ):
            continue
        has = seam_mm(shape, "shoulder")
        off = body["shoulder"] - has
        if abs(off) >= WORTH_MM:
            why = _told("The shoulder", has, body["shoulder"], 0.0, unit)
            effect = "Front and back alike; the armholes follow to half way down."
            yield Asked(Alteration("shoulder-length", piece.number, off, edge="shoulder"), why, effect)
        return


def _crotch(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    legs = [(p, s) for p, s in pieces if "crotch" in s.edges]
    if len(legs) != 2 or "crotch_length" not in body:
        return
    has = sum(seam_mm(s, edge) for _, s in legs for edge in ("crotch", "centre") if edge in s.edges)
    off = body["crotch_length"] + EASE_MM["crotch_length"] - has
    back = next((p for p, _ in legs if "back" in p.name.lower()), legs[-1][0])
    if abs(off) >= WORTH_MM:
        why = _told(
            "From waist to waist through the crotch it", has, body["crotch_length"], EASE_MM["crotch_length"], unit
        )
        yield Asked(
            Alteration("crotch-length", back.number, off), why, "The back's fork is longer; its inseam follows."
        )


def _limb(pieces: Sized, body: Mapping[str, float], unit: Unit, level: str, kind: str, words: str) -> Iterator[Asked]:
    girths = finished_girths(pieces)
    own = next(((p, s) for p, s in pieces if level in s.levels), None)
    if level not in girths or level not in body or own is None:
        return
    short = body[level] + EASE_MM[level] - girths[level].mm
    if short >= WORTH_MM:
        why = _told(f"Round the {words} it", girths[level].mm, body[level], EASE_MM[level], unit)
        by = short / 2 if kind == "thigh" else short  # both legs' inseams move
        yield Asked(Alteration(kind, own[0].number, by), why, "What joins follows; its length stays.")


def _upper_arm(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    sleeves = [(p, s) for p, s in pieces if {"front seam", "back seam"} <= set(s.edges)]
    yield from _limb(sleeves, body, unit, "upper_arm", "upper-arm", "upper arm")


def _thigh(pieces: Sized, body: Mapping[str, float], unit: Unit) -> Iterator[Asked]:
    legs = [(p, s) for p, s in pieces if "inseam" in s.edges]
    yield from _limb(legs, body, unit, "thigh", "thigh", "thigh")
