"""A make's small picture: on the shelf and on its page for the notebook; drawn once for all that it shows."""

from rowanseed.formats.thumb_svg import lay_thumb_svg, pieces_thumb_svg
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_pieces import once


def make_picture(worked: WorkedMake) -> str:
    """A make's lay on its cloth, or its pieces while there is none."""
    laid = next((r for r in worked.roles if r.kept is not None and r.kept.lay.placements and r.cloth), None)
    if laid is not None and laid.kept is not None and laid.cloth is not None:
        lay, cloth = laid.kept.lay, laid.cloth.cloth
        when = ("lay in little", worked.make.id, laid.kept.asked, laid.kept.laid_at, lay.length_mm, repr(cloth))
        return once(when, lambda: lay_thumb_svg(lay, cloth, f"cloth-of-{worked.make.id}"))
    return once(("pieces in little", *worked.drawn_from, worked.make.view), lambda: _pieces_picture(worked))


def _pieces_picture(worked: WorkedMake) -> str:
    size = next(iter(worked.sizes), "")
    shapes = [
        p.shapes.get(size) or next(iter(p.shapes.values()), None) for p in worked.drawn.pieces_of(worked.make.view)
    ]
    return pieces_thumb_svg([s for s in shapes if s is not None])
