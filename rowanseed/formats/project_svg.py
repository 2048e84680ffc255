"""What a projector shows at full size: pieces in a row, or the lay on its cloth, as lines alone, a millimetre to a unit."""

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from xml.etree.ElementTree import Element

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, on_table
from rowanseed.formats.drawing import markup, tag
from rowanseed.formats.pattern_sheet import lines_of

GAP_MM = 40.0
LETTERS_MM = 18.0


def _placed(by: Point, p: Point) -> Point:
    """A piece's point on the table: the grain along x, as the cloth lies before the one who cuts."""
    return (p[0] + by[0], p[1] + by[1])


def pieces_svg(pieces: Sequence[tuple[str, PieceShape]]) -> str:
    """Pieces one after the other along the table, each with its words, grain, notches and marks."""
    groups, x, high = [], GAP_MM, 0.0
    for title, shape in pieces:
        xs, ys = [p[0] for p in shape.outline], [p[1] for p in shape.outline]
        by = (x - min(xs), GAP_MM - min(ys))
        paths = [
            tag("path", css=line.kind, d=_d(line.points, line.closed)) for line in lines_of(shape, partial(_placed, by))
        ]
        wide, tall = max(xs) - min(xs), max(ys) - min(ys)
        middle = (x + wide / 2, GAP_MM + tall / 2)
        groups.append(_group(title, middle, paths))
        x += wide + GAP_MM
        high = max(high, tall + 2 * GAP_MM)
    return _svg(groups, x, high, f"{len(pieces)} pieces at full size, one after the other")


def lay_svg(lay: Lay, titles: Callable[[str], tuple[str, str]]) -> str:
    """The lay on its cloth at full size: the cloth's edges, every piece with its grain and number."""
    groups = [
        tag("path", css="cloth", d=_d(_box(lane.start_mm, lane.from_mm, lane.end_mm, lane.to_mm), True))
        for lane in lay.lanes
    ]
    for placement in lay.placements:
        laid = on_table(lay, placement)
        paths = [tag("path", css="cut", d=_d(laid.outline, True))]
        head, foot = laid.marks.get(GRAIN_HEAD), laid.marks.get(GRAIN_FOOT)
        if head and foot:
            paths.append(tag("path", css="grain", d=_d((head, foot))))
        xs, ys = [p[0] for p in laid.outline], [p[1] for p in laid.outline]
        middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        groups.append(_group(" ".join(titles(placement.piece)), middle, paths))
    wide, high = max(lane.end_mm for lane in lay.lanes), max(lane.to_mm for lane in lay.lanes)
    return _svg(groups, wide, high, f"The lay at full size, {len(lay.placements)} pieces")


def _box(x0: float, y0: float, x1: float, y1: float) -> Outline:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _group(title: str, middle: Point, paths: Iterable[Element]) -> Element:
    x, y = (f"{v:.1f}" for v in middle)
    words = tag("text", title, x=x, y=y, font_size=f"{LETTERS_MM:g}", text_anchor="middle")
    return tag("g", *paths, words, css="thing", data_x=x, data_y=y, data_title=title)


def _d(points: Outline, closed: bool = False) -> str:
    return "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in points) + ("Z" if closed else "")


def _svg(groups: Sequence[Element], wide: float, high: float, said: str) -> str:
    size = {"width": f"{wide:.0f}", "height": f"{high:.0f}", "viewBox": f"0 0 {wide:.0f} {high:.0f}"}
    return markup(tag("svg", *groups, id="projected", role="img", aria_label=said, **size))
