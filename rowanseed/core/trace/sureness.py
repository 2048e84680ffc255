"""How sure places on a photographed table are, as it is kept and said."""

from dataclasses import dataclass

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.types import Outline, Point

GRID = 9
MUCH_MM = 1.0  # of an error at the far end of a piece: as much as two people cutting by the same line differ
COARSE_MM_PER_PIXEL = 0.5
OF_A_PIXEL = 0.4  # how near an edge is found between two pixels
Rows = tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Sureness:
    """By how much places may be off: a grid over the flat picture, and the same grid with a second sheet at its far end, mm."""

    left: float
    top: float
    right: float
    foot: float
    off: Rows
    with_second: Rows = ()

    def worst(self, outline: Outline) -> tuple[float, float]:
        """By how much a line's least sure point may be off, mm; and by how much with a second sheet there."""
        off, at = max((self._between(self.off, p), p) for p in outline)
        return off, self._between(self.with_second, at) if self.with_second else off

    def _between(self, values: Rows, at: Point) -> float:
        """The grid's value at a place, between its four neighbours."""
        x = min(1.0, max(0.0, (at[0] - self.left) / (self.right - self.left))) * (GRID - 1)
        y = min(1.0, max(0.0, (at[1] - self.top) / (self.foot - self.top))) * (GRID - 1)
        i, j = min(int(x), GRID - 2), min(int(y), GRID - 2)
        upper, lower = ((1 - x + i) * values[row][i] + (x - i) * values[row][i + 1] for row in (j, j + 1))
        return (1 - y + j) * upper + (y - j) * lower


def said_of(sure: Sureness | None, outline: Outline, mm_per_pixel: float) -> tuple[Finding, ...]:
    """What is to be said of how near a traced line is: at its far end, and by the picture's own fineness."""
    said = []
    if sure is not None:
        worst, second = sure.worst(outline)
        text = f"Its least sure place may be off by {worst:.1f} mm"
        better = f"; a second sheet laid at that end would make it {second:.1f} mm" if second < 0.7 * worst else ""
        said.append(Finding("care" if worst > MUCH_MM else "note", "sure-to", text + better + "."))
    if mm_per_pixel > COARSE_MM_PER_PIXEL:
        text = (
            f"A millimetre is only {1 / mm_per_pixel:.1f} pixels here: the line itself is sure to "
            f"{OF_A_PIXEL * mm_per_pixel:.1f} mm. Photograph from nearer, or in two parts with the sheets left in place."
        )
        said.append(Finding("care", "coarse", text))
    return tuple(said)
