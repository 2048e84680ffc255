"""Which concessions a view's pieces allow on a cloth, one for each piece or group of pieces that is conceded together."""

from collections.abc import Sequence
from dataclasses import dataclass

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lay.model import LayCloth
from rowanseed.core.make.concessions import FACED_ALLOWANCE_MM, Concession
from rowanseed.core.pattern.model import Pattern, Piece, Role

# Words by which a piece is known. Common practice, no published source; the user unticks what does not suit.
HIDDEN = ("facing", "pocket", "under collar", "undercollar", "inner", "lining", "binding", "stay", "welt", "flap")
BANDS = ("facing", "band", "tie", "strap", "belt", "binding", "casing", "stand")
SLEEVES = ("sleeve",)
BACK = ("back",)
CROSSWISE_PRINTS = ("plain", "tossed")
SMALL_SHARE = 0.35  # of the largest piece's area; a larger one is a main panel and keeps its grain
LONG = 4.0  # a band is so many times longer than wide


@dataclass(frozen=True)
class HemDepths:
    """What may be given at hems: the depth turned up now, how much shallower it may be, and how much the garment shorter, mm."""

    turned_mm: float = 0.0
    shallower_mm: float = 0.0
    shorter_mm: float = 0.0


def offers(
    pattern: Pattern, view: str, role: Role, size: str, cloth: LayCloth, hems: HemDepths | None = None
) -> list[Concession]:
    """Every concession the pieces of a role allow in this size, the least harm first.

    Crosswise cutting needs cloth without nap whose print runs either way. Hems move only by what the user allows.
    """
    hems = hems or HemDepths()
    pieces = [p for p in pattern.pieces_of(view, role) if size in p.shapes]
    areas = {p.number: p.shapes[size].area_mm2() * (2 if p.shapes[size].fold_edge else 1) for p in pieces}
    most = max(areas.values(), default=0.0)
    small = {n for n, area in areas.items() if area <= SMALL_SHARE * most}
    found = [_seam(p) for p in pieces if p.shapes[size].fold_edge is not None]
    if not cloth.one_way and (cloth.print is None or cloth.print.kind in CROSSWISE_PRINTS):
        found += [Concession("crosswise", (p.number,)) for p in pieces if p.grain == "lengthwise" and p.number in small]
    if role in ("self", "contrast"):
        found += [Concession("elsewhere", (p.number,)) for p in pieces if _called(p, HIDDEN) and p.number in small]
    found += [Concession("join", (p.number,)) for p in pieces if _called(p, BANDS) and _is_long(p.shapes[size])]
    found += [Concession("sleeve-seam", (p.number,)) for p in pieces if _is_sleeve(p, size)]
    hemmed = [p for p in pieces if "hem" in p.shapes[size].edges]
    found += _at_hems([p for p in hemmed if not _called(p, SLEEVES)], hems)
    found += _at_hems([p for p in hemmed if _called(p, SLEEVES)], hems)
    found += [Concession("view", view=v.name) for v in pattern.views if v.name != view]
    return sorted(found, key=lambda c: c.harm)


def _seam(piece: Piece) -> Concession:
    """A seam at the centre back hardly shows; elsewhere it does."""
    return Concession("seam", (piece.number,), extra_harm=0 if _called(piece, BACK) else 3)


def _called(piece: Piece, words: Sequence[str]) -> bool:
    return any(word in piece.name.lower() for word in words)


def _is_long(shape: PieceShape) -> bool:
    xs, ys = [x for x, _ in shape.outline], [y for _, y in shape.outline]
    wide = (max(ys) - min(ys)) * (2 if shape.fold_edge else 1)
    return max(xs) - min(xs) >= LONG * wide


def _is_sleeve(piece: Piece, size: str) -> bool:
    return _called(piece, SLEEVES) and not _called(piece, HIDDEN) and piece.shapes[size].fold_edge is None


def _at_hems(pieces: Sequence[Piece], hems: HemDepths) -> list[Concession]:
    """Hems that run round together: a garment whose front alone is shorter is not a concession."""
    numbers = tuple(p.number for p in pieces)
    if not numbers:
        return []
    found = []
    if hems.shallower_mm > 0:
        found.append(Concession("shallow-hem", numbers, hems.shallower_mm))
    if hems.turned_mm > FACED_ALLOWANCE_MM:
        found.append(Concession("face-hem", numbers, hems.turned_mm - FACED_ALLOWANCE_MM))
    if hems.shorter_mm > 0:
        found.append(Concession("shorten", numbers, hems.shorter_mm))
    return found
