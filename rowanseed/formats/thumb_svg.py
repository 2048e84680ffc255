"""Small pictures for the shelf: a lay as it lies, or the pieces that there are; outlines only."""

from collections.abc import Sequence

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline
from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.reading import on_table
from rowanseed.formats.drawing import Drawn, markup, tag
from rowanseed.formats.piece_svg import path
from rowanseed.formats.print_svg import print_tile

MOST_PIECES = 8
ROOM_MM = 40.0


def lay_thumb_svg(lay: Lay, cloth: Cloth, name: str) -> str:
    """Return a lay on its cloth, with its own print; `name`: the picture's on its page, where no other has it."""
    width, end = max(lane.to_mm for lane in lay.lanes), max(lane.end_mm for lane in lay.lanes)
    across, along = f"{width:.0f}", f"{end:.0f}"
    defs = tag("defs", print_tile(cloth, name))
    ground = tag("rect", x=0, y=0, width=along, height=across, fill=f"url(#{name})", stroke="#8E8375", stroke_width=4)
    pieces = [_outline(on_table(lay, p).outline) for p in lay.placements]
    return markup(
        tag(
            "svg", defs, ground, pieces, css="thumb", viewBox=f"-4 -4 {end + 8:.0f} {width + 8:.0f}", aria_hidden="true"
        )
    )


def pieces_thumb_svg(shapes: Sequence[PieceShape]) -> str:
    """Return the first pieces of a pattern side by side; empty for none."""
    drawn: list[Drawn] = []
    x, high = 0.0, 1.0
    for shape in shapes[:MOST_PIECES]:
        left, top = min(p[1] for p in shape.outline), min(p[0] for p in shape.outline)
        upright = tuple((y - left + x, along - top) for along, y in shape.outline)  # the grain runs down the page
        drawn.append(_outline(upright, small=True))
        x, high = max(p[0] for p in upright) + ROOM_MM, max(high, max(p[1] for p in upright))
    if not drawn:
        return ""
    view = f"-4 -4 {x + 8:.0f} {high + 8:.0f}"
    return markup(tag("svg", drawn, css="thumb", viewBox=view, aria_hidden="true", xmlns="http://www.w3.org/2000/svg"))


def _outline(outline: Outline, small: bool = False) -> Drawn:
    """An outline; `small`: its line stays as strong however small the picture is shown."""
    effect = {"stroke_width": 1.1, "vector_effect": "non-scaling-stroke"} if small else {"stroke_width": 5}
    return tag("path", d=path(outline), fill="#FDFAF3", fill_opacity=".9", stroke="#2B2622", **effect)
