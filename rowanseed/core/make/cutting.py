"""Cutting cards from a lay, and what to mark on each piece."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.reading import PieceReading, read_lay
from rowanseed.core.lengths import Unit, both
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.requirements import Buttons


@dataclass(frozen=True)
class CutCard:
    """One card at the cutting table: a piece as it lies, how many pieces of cloth it yields, what to mark and fuse."""

    key: str
    sized: SizedPiece
    reading: PieceReading
    yields: int
    marks: tuple[str, ...]
    fuse: bool

    @property
    def opened(self) -> bool:
        """Whether half a pattern piece is cut as its whole here: drawn round, turned over on its fold edge, drawn again."""
        return self.sized.shape.fold_edge is not None and not self.reading.placement.on_fold


def card_keys(role: str, lay: Lay, pieces: Sequence[SizedPiece]) -> set[str]:
    """The keys of the cards of one lay, where no more of them is wanted than how many there are and which are ticked."""
    placed = Counter(p.piece for p in lay.placements)
    return {f"{role}:{s.lay_id}:{n + 1}" for s in pieces for n in range(placed[s.lay_id])}


def cut_cards(
    role: str,
    lay: Lay,
    pieces: Sequence[SizedPiece],
    interfaced: set[str],
    buttons: Mapping[str, Buttons] | None = None,
    unit: Unit = "cm",
) -> list[CutCard]:
    """Cards for one lay in cutting order.

    Args:
        interfaced: names of pieces that interfacing is cut for.
        buttons: what a garment's front takes, by the size it is cut in.
    """
    by_id = {sized.lay_id: sized for sized in pieces}
    cards, seen = [], dict[str, int]()
    for reading in read_lay(lay):
        sized = by_id.get(reading.placement.piece)
        if sized is None:
            continue
        seen[sized.lay_id] = seen.get(sized.lay_id, 0) + 1
        fold = reading.placement.on_fold
        cards.append(
            CutCard(
                f"{role}:{sized.lay_id}:{seen[sized.lay_id]}",
                sized,
                reading,
                1 if fold else reading.placement.layers,
                what_to_mark(sized, (buttons or {}).get(sized.size), unit),
                sized.piece.name in interfaced and role == "self",
            )
        )
    return cards


def what_to_mark(sized: SizedPiece, buttons: Buttons | None = None, unit: Unit = "cm") -> tuple[str, ...]:
    """What to transfer before the tissue comes off; on a front also the button places, as they are told at the machine."""
    shape = sized.shape
    marks = []
    if shape.notches:
        marks.append(f"{len(shape.notches)} notch{'es' if len(shape.notches) > 1 else ''}")
    if shape.fold_edge is not None:
        marks.append("the centre, at both ends of the fold")
    marks += [f"{line.kind} lines" for line in shape.lines]
    marks += [mark.name for mark in shape.marks]
    places = buttons.places_on(sized.piece.number) if buttons is not None else ()
    if buttons is not None and places:
        first = buttons.bear[0].piece == sized.piece.number
        many = f"{len(places)} button place{'s' if len(places) > 1 else ''}"
        where = "the neck's seam line" if first else "its upper seam line"
        then = f", then every {both(buttons.spacing_mm, unit)}" if len(places) > 1 else ""
        marks.append(f"{many}: the first {both(places[0], unit)} below {where}{then}")
    return (*marks, "the right side")
