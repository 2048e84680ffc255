"""A chart of sizes, and finding a measure on it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

BETWEEN_MM = 3.0  # nearer to a size than this is that size


@dataclass(frozen=True)
class SizeRow:
    """One size of a chart: measurement key -> mm. `upto`: the upper end where a letter size covers a range.

    `age`: the years a child's size is meant for, first and last.
    """

    size: str
    mm: Mapping[str, float]
    upto: Mapping[str, float] = field(default_factory=dict)
    age: tuple[float, float] | None = None


@dataclass(frozen=True)
class Scale:
    """One measurement's ladder of sizes, each from low to high, and the figure to find on it, mm."""

    sizes: tuple[str, ...]
    low: tuple[float, ...]
    high: tuple[float, ...]
    target: float

    def off(self, at: int) -> float:
        """How far the figure lies outside a size; 0 within it."""
        return max(self.low[at] - self.target, self.target - self.high[at], 0.0)

    def nearest(self) -> int:
        """The nearest size; an exact half goes to the larger."""
        return min(range(len(self.low)), key=lambda i: (round(self.off(i), 6), -i))

    def at_least(self) -> int:
        """The first size that reaches the figure, else the largest."""
        return next((i for i, mm in enumerate(self.high) if mm >= self.target - 1e-6), len(self.high) - 1)

    def between(self) -> tuple[int, int] | None:
        """The two sizes the figure lies between, by more than a hair from the smaller."""
        for i in range(len(self.low) - 1):
            if self.high[i] + BETWEEN_MM < self.target < self.low[i + 1] - 1e-6:
                return i, i + 1
        return None

    def beyond(self) -> tuple[str, float] | None:
        """Which end of the chart the figure lies beyond, and that end's figure."""
        if self.target > self.high[-1] + BETWEEN_MM:
            return "largest", self.high[-1]
        return ("smallest", self.low[0]) if self.target < self.low[0] - BETWEEN_MM else None

    def line_for_each_inch(self) -> bool:
        """Whether the sizes are an inch apart or closer, as where a pattern is drafted straight to a measurement."""
        steps = [b - a for a, b in zip(self.low, self.low[1:])]
        return len(steps) >= 2 and max(steps) <= 26.0 and self.low == self.high


def scale(rows: Sequence[SizeRow], key: str, target: float) -> Scale | None:
    """The ladder of a measurement over the rows that give it; None when none does."""
    own = [row for row in rows if key in row.mm]
    if not own:
        return None
    low = tuple(row.mm[key] for row in own)
    return Scale(tuple(r.size for r in own), low, tuple(r.upto.get(key, r.mm[key]) for r in own), target)


def figure(rows: Sequence[SizeRow], size: str, key: str) -> float | None:
    """A size's figure, the middle where it covers a range; None when it is not given."""
    row = next((row for row in rows if row.size == size), None)
    if row is None or key not in row.mm:
        return None
    return (row.mm[key] + row.upto.get(key, row.mm[key])) / 2
