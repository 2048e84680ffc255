"""How a body stands, and what that asks of a pattern: an alteration each, with an amount to begin with that is pinned on the body.

No tape tells these; a look in the mirror does. The amounts are where one begins to pin: common practice, no published source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.question import Asked, Sized


@dataclass(frozen=True)
class Posture:
    """A way of standing: its words, how it is seen, and the alteration it asks for, with the amount to begin with, mm."""

    key: str
    words: str
    seen: str
    kind: str
    by_mm: float
    part: str
    edges: tuple[str, ...] = ()


POSTURES: tuple[Posture, ...] = (
    Posture("sway-back", "Sway back", "Folds lie across the back just below the waist.", "sway-back", 12.0, "back"),
    Posture("rounded-back", "Rounded back", "The back pulls up and the hem kicks out behind.", "rounded-back", 10.0, "back"),
    Posture("erect-back", "Very erect back", "Folds lie across the back between the blades.", "rounded-back", -10.0, "back"),
    Posture("high-back", "Round below the neck", "The collar stands off behind, the neckline rides up.", "high-back", 10.0, "back"),
    Posture(
        "forward-shoulder", "Shoulders forward", "The seam lies behind the shoulder's end.", "forward-shoulder", 10.0, "front",
        ("shoulder",),
    ),
    Posture("sloping", "Sloping shoulders", "Folds run from the neck to under the arm.", "shoulder", 8.0, "front", ("shoulder",)),
    Posture("square", "Square shoulders", "It pulls from shoulder's end to neck.", "shoulder", -8.0, "front", ("shoulder",)),
    Posture("hollow-chest", "Hollow chest", "Cloth stands empty between neck and bust.", "chest", -10.0, "front"),
    Posture("full-seat", "Full seat", "The back pulls up, the side seams swing back.", "seat", 15.0, "back"),
    Posture("flat-seat", "Flat seat", "Cloth hangs in folds below the seat.", "seat", -12.0, "back"),
    Posture("tummy", "Tummy", "The front pulls up, the side seams swing forward.", "tummy", 15.0, "front"),
    Posture("bowed-leg", "Bowed legs", "Folds run to the knee from inside.", "bowed-leg", 10.0, "back", ("inseam",)),
    Posture("knock-knees", "Knock knees", "Folds run to the knee from outside.", "bowed-leg", -10.0, "back", ("inseam",)),
)  # fmt: skip
BY_KEY = {p.key: p for p in POSTURES}


def asked_by_posture(pieces: Sized, seen: Sequence[str]) -> Iterator[Asked]:
    """What each posture asks for on the first piece of its part that takes it; nothing where the garment has none.

    Args:
        pieces: the shell's, with their shape as they would be cut.
        seen: keys of `POSTURES`; one that is not known asks for nothing.
    """
    for posture in (p for p in POSTURES if p.key in seen):
        needed = {*posture.edges, *((KINDS[posture.kind].edge,) if KINDS[posture.kind].edge else ())}
        levels = {"waist"} if posture.kind in ("sway-back", "seat", "tummy") else set()
        for piece, shape in pieces:
            if posture.part in piece.name.lower() and needed <= shape.edges.keys() and levels <= shape.levels.keys():
                alteration = Alteration(
                    posture.kind, piece.number, posture.by_mm, edge=posture.edges[0] if posture.edges else ""
                )
                effect = (
                    "Begin with this much, pin it on the body or on the tissue, and put what was pinned in its place."
                )
                yield Asked(alteration, f"{posture.words}: {posture.seen[0].lower()}{posture.seen[1:]}", effect)
                break
