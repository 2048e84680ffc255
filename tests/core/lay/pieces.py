"""Pieces and requests that the lay tests share."""

from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest


def rect(length, width):
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))


def fold_piece(id_, length, half, cut=1):
    return LayPiece(id_, rect(length, half), cut, fold_edge=((0.0, 0.0), (length, 0.0)))


def wedge(id_, length, wide, narrow, cut=1, mirrored=False):
    """A piece wider at its foot, square on one side: its own mirror image it is not."""
    return LayPiece(id_, ((0.0, 0.0), (length, 0.0), (length, wide), (0.0, narrow)), cut, mirrored)


def request(pieces, width=1400.0, **more):
    cloth = {k: more.pop(k) for k in ("selvage_mm", "length_mm", "nap", "print", "flaws") if k in more}
    more.setdefault("effort", "quick")
    return LayRequest(LayCloth(width, **cloth), tuple(pieces), **more)


SHIRT = (
    fold_piece("back", 700.0, 270.0),
    wedge("front", 690.0, 300.0, 240.0, 2, True),
    LayPiece("sleeve", ((140.0, 0.0), (0.0, 190.0), (140.0, 380.0), (600.0, 300.0), (600.0, 80.0)), 2, True),
    fold_piece("collar", 80.0, 210.0, 2),
    LayPiece("pocket", ((0.0, 0.0), (160.0, 0.0), (180.0, 70.0), (160.0, 140.0), (0.0, 140.0)), 1),
)
