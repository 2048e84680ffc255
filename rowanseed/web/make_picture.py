"""A make's small picture: on the shelf and on its page for the notebook."""

from rowanseed.formats.thumb_svg import lay_thumb_svg, pieces_thumb_svg
from rowanseed.services.worked_make import WorkedMake


def make_picture(worked: WorkedMake) -> str:
    """A make's lay on its cloth, or its pieces while there is none."""
    laid = next((r for r in worked.roles if r.kept is not None and r.kept.lay.placements and r.cloth), None)
    if laid is not None and laid.kept is not None and laid.cloth is not None:
        return lay_thumb_svg(laid.kept.lay, laid.cloth.cloth.print_colours[0])
    size = next(iter(worked.sizes), "")
    shapes = [
        p.shapes.get(size) or next(iter(p.shapes.values()), None) for p in worked.drawn.pieces_of(worked.make.view)
    ]
    return pieces_thumb_svg([s for s in shapes if s is not None])
