"""The bench's own lay instances: the demo garments in single sizes, and jigsaws whose optimum is known.

A jigsaw is a rectangle as wide as the cloth, cut up by random straight cuts; its length is the shortest lay there can be.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from shapely import LineString, Polygon
from shapely.ops import split

from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Nap, Spread
from rowanseed.core.make.lay_requests import lay_piece
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.pattern.model import Pattern, Role
from rowanseed.demo import overshirt, trousers, waistcoat

GAP_MM = 3.0


@dataclass(frozen=True)
class Instance:
    """Pieces on a cloth; `optimum_mm` where it is known."""

    name: str
    pieces: tuple[LayPiece, ...]
    width_mm: float
    nap: Nap
    gap_mm: float
    spreads: tuple[Spread, ...]
    optimum_mm: float | None = None

    def request(self, spread: Spread, effort: str) -> LayRequest:
        """The instance as a lay request."""
        return LayRequest(LayCloth(self.width_mm, nap=self.nap), self.pieces, spread, (), self.gap_mm, effort)  # type: ignore[arg-type]


def garment(name: str, pattern: Pattern, sizes: list[str], width: float, nap: Nap, role: Role = "self") -> Instance:
    """A demo garment's pieces of one cloth, in one size or several together."""
    pieces, _ = sized_pieces(pattern, "A", role, sizes)
    both: tuple[Spread, ...] = ("lengthwise-fold", "single")
    return Instance(name, tuple(lay_piece(p) for p in pieces), width, nap, GAP_MM, both)


def jigsaw(seed: int, count: int, width: float, length: float) -> Instance:
    """A rectangle cut into `count` pieces by straight cuts through its largest remaining piece."""
    rng = np.random.default_rng(seed)
    parts = [Polygon([(0, 0), (length, 0), (length, width), (0, width)])]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        big = parts.pop(0)
        angle = rng.uniform(0, np.pi)
        x, y = big.centroid.x + rng.uniform(-60, 60), big.centroid.y + rng.uniform(-60, 60)
        dx, dy = 9000 * np.cos(angle), 9000 * np.sin(angle)
        parts += split(big, LineString([(x - dx, y - dy), (x + dx, y + dy)])).geoms
    pieces = tuple(
        LayPiece(f"j{k}", tuple((float(px), float(py)) for px, py in p.exterior.coords[:-1]))
        for k, p in enumerate(parts)
    )
    return Instance(f"jigsaw {count}", pieces, width, "none", 0.0, ("single",), length)


ALL: tuple[Callable[[], Instance], ...] = (
    lambda: garment("overshirt 14", overshirt.pattern(), ["14"], 1480.0, "none"),
    lambda: garment("overshirt 20", overshirt.pattern(), ["20"], 1380.0, "one-way"),
    lambda: garment("trousers 40", trousers.pattern(), ["40"], 1400.0, "none"),
    lambda: garment("trousers 46", trousers.pattern(), ["46"], 1480.0, "one-way"),
    lambda: garment("waistcoat M", waistcoat.pattern(), ["M"], 1400.0, "none"),
    lambda: garment("waistcoats S L", waistcoat.pattern(), ["S", "L"], 1480.0, "none"),
    lambda: garment("linings M XL", waistcoat.pattern(), ["M", "XL"], 1380.0, "none", "lining"),
    lambda: jigsaw(4, 8, 1400.0, 900.0),
    lambda: jigsaw(9, 12, 1400.0, 1300.0),
)
