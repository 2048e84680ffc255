"""Kinds of print, and what each allows on the cutting table."""

from dataclasses import dataclass
from typing import Literal, get_args

PrintKind = Literal["plain", "tossed", "two-way", "one-way", "stripe", "plaid", "border", "panel", "motif"]
PRINT_KINDS: tuple[PrintKind, ...] = get_args(PrintKind)


@dataclass(frozen=True)
class Print:
    """A print: its kind, whether a stripe or plaid is even (reads the same both ways), and its repeat.

    Repeats and offsets in mm: along the cloth from the cut end, across it from the edge of the first selvage; 0 when it
    has none.
    """

    kind: PrintKind = "plain"
    even: bool = True
    repeat_along_mm: float = 0.0
    repeat_across_mm: float = 0.0
    offset_along_mm: float = 0.0
    offset_across_mm: float = 0.0
    half_drop: bool = False

    @property
    def one_way(self) -> bool:
        """Whether turning a piece head to tail would show: one-way prints and motifs, uneven stripes and plaids."""
        return self.kind in ("one-way", "motif", "border", "panel") or (
            self.kind in ("stripe", "plaid") and not self.even
        )
