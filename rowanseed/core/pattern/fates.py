"""What becomes of an edge that is in no seam, and how an edge is shaped before it is used."""

from dataclasses import dataclass
from typing import Literal, get_args

Ending = Literal[
    "joined", "hem", "bind", "face", "band", "casing", "rib", "fold", "enclosed", "selvage", "raw", "open",
]  # fmt: skip
ENDINGS: tuple[Ending, ...] = get_args(Ending)
Shaping = Literal["gather", "cartridge", "pleat", "dart", "tuck", "ease", "shirr"]
SHAPINGS: tuple[Shaping, ...] = get_args(Shaping)
HEM_WAYS = ("single", "double", "narrow", "blind", "hand", "rolled", "faced", "twin-needle")


def key_of_edge(number: str, name: str) -> str:
    """How a pattern keeps what is said of an edge of a piece."""
    return f"{number}|{name}"


@dataclass(frozen=True)
class EdgeFate:
    """What becomes of an edge: its ending with its way and depths in mm, and how it is shaped before.

    `side`: left or right, where it is the fate of that side alone.
    """

    ending: Ending
    way: str = ""
    first_mm: float | None = None
    second_mm: float | None = None
    width_mm: float | None = None
    shaping: tuple[Shaping, ...] = ()
    side: str = ""
