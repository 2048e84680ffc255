"""Kinds of print, and what each allows on the cutting table."""

from dataclasses import dataclass, replace
from typing import Literal, get_args

PrintKind = Literal["plain", "tossed", "two-way", "one-way", "stripe", "plaid", "border", "panel", "motif"]
PRINT_KINDS: tuple[PrintKind, ...] = get_args(PrintKind)


@dataclass(frozen=True)
class Bar:
    """One bar of a stripe or plaid: where it begins in the repeat, how wide it is (mm), and its colour (#rrggbb)."""

    at_mm: float
    width_mm: float
    colour: str


def mirror_axis(bars: tuple[Bar, ...], repeat_mm: float) -> float | None:
    """Where in the repeat bars are their own mirror image, mm, the middle of a bar before a gap; None where they nowhere are.

    >>> mirror_axis((Bar(10, 20, "#000000"),), 100)
    20.0
    """
    if not bars or repeat_mm <= 0:
        return 0.0
    middles = [b.at_mm + b.width_mm / 2 for b in bars]
    between = [(m + n) / 2 + h for m in middles for n in middles for h in (0.0, repeat_mm / 2)]
    for axis in (*middles, *between):
        if all(any(_same_bar(bar, other, 2 * axis, repeat_mm) for other in bars) for bar in bars):
            return axis % repeat_mm
    return None


def _same_bar(bar: Bar, other: Bar, twice: float, repeat_mm: float) -> bool:
    """Whether a bar's mirror image is another bar."""
    off = (twice - bar.at_mm - bar.width_mm - other.at_mm) % repeat_mm
    near = min(off, repeat_mm - off) < 0.5
    return near and abs(bar.width_mm - other.width_mm) < 0.5 and bar.colour.lower() == other.colour.lower()


@dataclass(frozen=True)
class Print:
    """A print: its kind, whether a stripe or plaid is even (reads the same both ways), and its repeat.

    Repeats and offsets in mm: along the cloth from the cut end, across it from the edge of the first selvage; 0 when it
    has none. `half_drop`: every second column lies half a repeat further along. `axis_across_mm`, `axis_along_mm`: from where the
    repeat begins, the middle of a bar about which an even print is its own mirror image.
    """

    kind: PrintKind = "plain"
    even: bool = True
    repeat_along_mm: float = 0.0
    repeat_across_mm: float = 0.0
    offset_along_mm: float = 0.0
    offset_across_mm: float = 0.0
    half_drop: bool = False
    axis_across_mm: float = 0.0
    axis_along_mm: float = 0.0

    @property
    def is_placed(self) -> bool:
        """Whether it matters where the print lands on a piece: it repeats, or runs along one edge of the cloth."""
        return self.kind == "border" or bool(self.repeat_along_mm or self.repeat_across_mm)

    def shrunk(self, along: float, across: float) -> "Print":
        """The print on cloth that still shrinks by these factors: its repeats and where they begin go along."""
        if along == 1.0 and across == 1.0:
            return self
        return replace(
            self,
            repeat_along_mm=self.repeat_along_mm * along,
            offset_along_mm=self.offset_along_mm * along,
            axis_along_mm=self.axis_along_mm * along,
            repeat_across_mm=self.repeat_across_mm * across,
            offset_across_mm=self.offset_across_mm * across,
            axis_across_mm=self.axis_across_mm * across,
        )

    def seen_from(self, along_mm: float, across_mm: float) -> "Print":
        """The print of a part that begins so far from the cut end and the first edge."""

        def begins(offset: float, by: float, repeat: float) -> float:
            return (offset - by) % repeat if repeat else offset - by

        return replace(
            self,
            offset_along_mm=begins(self.offset_along_mm, along_mm, self.repeat_along_mm),
            offset_across_mm=begins(self.offset_across_mm, across_mm, self.repeat_across_mm),
        )

    @property
    def one_way(self) -> bool:
        """Whether turning a piece head to tail would show: one-way prints and motifs, uneven stripes and plaids."""
        return self.kind in ("one-way", "motif", "border", "panel") or (
            self.kind in ("stripe", "plaid") and not self.even
        )
