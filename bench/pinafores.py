"""Ten invented pinafores of a class, in five sizes: small pieces of many kinds, for a lay of many garments."""

from rowanseed.core.geometry.types import Outline
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Spread

SIZES = (0.84, 0.92, 1.0, 1.08, 1.16)  # of the middle one, each sewn twice


def ten_pinafores(spread: Spread) -> LayRequest:
    """The lay of all their pieces on plain cloth 150 cm wide."""
    pieces = [piece for n, size in enumerate((*SIZES, *SIZES)) for piece in _pinafore(str(n + 1), size)]
    return LayRequest(LayCloth(1500.0, (10.0, 10.0)), tuple(pieces), spread, effort="good")


def _pinafore(name: str, size: float) -> list[LayPiece]:
    """One pinafore: front on the fold, two backs, two pockets, two straps, facings of the upper edges; mm, allowances included."""

    def drawn(*points: tuple[float, float]) -> Outline:
        return tuple((x * size, y * size) for x, y in points)

    armhole = ((95.0, 92.0), (130.0, 100.0), (160.0, 118.0), (180.0, 150.0))
    front = drawn((0, 0), (520, 0), (512, 120), (495, 225), *reversed(armhole), (0, 84))
    back = drawn((0, 0), (510, 0), (505, 110), (488, 222), *reversed(armhole), (20, 78), (0, 60))
    pocket = drawn((0, 0), (130, 0), (150, 20), (155, 65), (150, 110), (130, 130), (0, 130))
    strap = drawn((0, 0), (460, 0), (460, 70), (0, 70))
    front_facing = drawn((0, 0), (70, 0), (75, 60), (180, 130), (180, 150), *reversed(armhole[:-1]), (0, 84))
    back_facing = drawn((0, 0), (75, 0), (80, 55), (180, 128), (180, 150), *reversed(armhole[:-1]), (20, 78), (0, 60))
    on_fold = ((0.0, 0.0), (520.0 * size, 0.0))
    short_fold = ((0.0, 0.0), (70.0 * size, 0.0))
    return [
        LayPiece(f"front {name}", front, fold_edge=on_fold),
        LayPiece(f"back {name}", back, 2, True),
        LayPiece(f"pocket {name}", pocket, 2, True),
        LayPiece(f"strap {name}", strap, 2),
        LayPiece(f"front facing {name}", front_facing, fold_edge=short_fold),
        LayPiece(f"back facing {name}", back_facing, 2, True),
    ]
