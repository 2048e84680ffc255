"""Body charts to begin with where a pattern gives none: girths by the designations of a published standard.

The figures are from memory of EN 13402-3 (Size designation of clothes, part 3: body measurements and intervals), which names a
size by the girth itself and a child's by its height; a pattern's own chart always stands before them.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import EnvelopeSize

SOURCE = "from memory of EN 13402-3"


@dataclass(frozen=True)
class BodyChart:
    """A chart: whom it is for, by which measure a size is named, and the girths in cm, each as long as the names."""

    words: str
    named_by: str
    cm: Mapping[str, Sequence[float]]

    def sizes(self) -> tuple[EnvelopeSize, ...]:
        """The chart as an envelope's size table, in centimetres."""
        names = [f"{value:g}" for value in self.cm[self.named_by]]
        rows = [{key: _cm(values[k]) for key, values in self.cm.items()} for k in range(len(names))]
        return tuple(EnvelopeSize(name, row) for name, row in zip(names, rows, strict=True))


def _cm(value: float) -> Length:
    return Length(value * 10, f"{value:g} cm", "cm")


CHARTS: Mapping[str, BodyChart] = {
    "women": BodyChart(
        "women, by the bust",
        "bust",
        {
            "bust": (76, 80, 84, 88, 92, 96, 100, 104, 110, 116, 122),
            "waist": (60, 64, 68, 72, 76, 80, 84, 88, 94, 100, 106),
            "hip": (84, 88, 92, 96, 100, 104, 108, 112, 117, 122, 127),
        },
    ),
    "men": BodyChart(
        "men, by the chest",
        "bust",
        {
            "bust": (84, 88, 92, 96, 100, 104, 108, 112, 116, 120),
            "waist": (72, 76, 80, 84, 88, 92, 96, 100, 104, 108),
        },
    ),
    "children": BodyChart(
        "children, by height",
        "height",
        {
            "height": (92, 98, 104, 110, 116, 122, 128, 134, 140, 146, 152),
            "bust": (54, 55, 56, 58, 60, 62, 64, 67, 70, 73, 76),
            "waist": (51, 52, 53, 54, 56, 57, 58, 60, 62, 64, 66),
            "hip": (56, 58, 60, 62, 64, 66, 69, 72, 75, 78, 82),
        },
    ),
}
