"""Seams that a pattern declares: which unit of the garment they belong to, where they end."""

from collections.abc import Iterator, Mapping, Sequence

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Piece, Seam, SeamSide
from rowanseed.core.sew.model import DeclaredSeam

# The words of a piece's name that say which unit it is a part of; what has none of them is the garment's main part.
UNIT_WORDS: Sequence[tuple[tuple[str, ...], str]] = (
    (("facing",), "facing"),
    (("waistband",), "waistband"),
    (("stand", "neckband"), "stand"),
    (("collar",), "collar"),
    (("hood",), "hood"),
    (("cuff",), "cuff"),
    (("sleeve",), "sleeve"),
    (("pocket", "welt", "flap", "placket", "fly", "strap", "belt", "tab", "loop", "band", "binding"), ""),
    (("bodice", "yoke"), "top"),
    (("skirt", "trouser", "leg"), "low"),
)
SEWN_WORDS = {
    "center": "centre",
    "centre back": "centre-back",
    "centre front": "centre-front",
    "cb": "centre-back",
    "cf": "centre-front",
    "under arm": "underarm",
    "inside leg": "inseam",
    "inner leg": "inseam",
    "inleg": "inseam",
    "outside leg": "side",
    "outer leg": "side",
    "outseam": "side",
}
SLEEVE_SEAMS = {"front": "inseam", "back": "underarm", "inner": "inseam", "outer": "underarm"}  # of one in two pieces
BESIDE_YOKE = ("shoulder", "side", "neck", "armhole")  # a yoke's other seams
TOP_EDGES = ("neck", "armhole", "shoulder", "raglan")


def declared_seams(pieces: Sequence[tuple[Piece, PieceShape]], seams: Sequence[Seam]) -> tuple[DeclaredSeam, ...]:
    """The seams of the shell that join two pieces of one unit, each once, by name.

    Args:
        pieces: the view's pieces in the size that is sewn. seams: as the pattern declares them.
    """
    known = {piece.number: (piece, shape) for piece, shape in pieces if piece.role in ("self", "contrast")}
    found: dict[tuple[str, str], DeclaredSeam] = {}
    for seam in seams:
        for declared in _of(seam, known):
            found.setdefault((declared.unit, declared.name), declared)
    return tuple(found.values())


def _of(seam: Seam, known: Mapping[str, tuple[Piece, PieceShape]]) -> Iterator[DeclaredSeam]:
    if seam.more_a or seam.more_b or seam.a[0] not in known or seam.b[0] not in known or seam.a[0] == seam.b[0]:
        return
    one, other = (known[side[0]][0] for side in (seam.a, seam.b))
    units = {unit_of_piece(*known[side[0]]) for side in (seam.a, seam.b)}
    if len(units) > 1 or "" in units:
        return
    name = edge_word(seam.a, one)
    if name != edge_word(seam.b, other):
        name = _plain(seam.a[1])
    if ("yoke" in one.name.lower()) != ("yoke" in other.name.lower()) and name not in BESIDE_YOKE:
        name = "yoke"  # whatever its edges are called, it is the seam that every yoke has
    ends = dict.fromkeys(e for side in (seam.a, seam.b) for e in _neighbours(side, *known[side[0]]))
    yield DeclaredSeam(
        units.pop(), name, f"seam of {one.name} and {other.name}, their {_plain(seam.a[1])} edges", tuple(ends)
    )


def unit_of_piece(piece: Piece, shape: PieceShape) -> str:
    """The unit that a piece is a part of by its name, else by its edges: `top` or `low`; "" for a small part that has none."""
    name = piece.name.lower()
    said = next((unit for words, unit in UNIT_WORDS if any(word in name for word in words)), None)
    if said is not None:
        return said
    return "top" if any(edge.split()[0] in TOP_EDGES for edge in shape.edges if edge) else "low"


def _plain(edge: str) -> str:
    """An edge's fixed name, however a pattern calls it: without the word seam, in one spelling."""
    plain = edge.lower().replace("center", "centre").removesuffix(" seam").removesuffix(" edge").strip()
    return SEWN_WORDS.get(plain, plain)


def edge_word(side: SeamSide, piece: Piece) -> str:
    """The seam's fixed name: a centre edge is the front's or the back's."""
    edge = _plain(side[1])
    if "sleeve" in piece.name.lower() and edge in SLEEVE_SEAMS:
        return SLEEVE_SEAMS[edge]
    if edge == "centre":
        return "centre-back" if "back" in piece.name.lower() else "centre-front"
    return edge.replace(" ", "-")


def _neighbours(side: SeamSide, piece: Piece, shape: PieceShape) -> Iterator[str]:
    """The edges that share a corner with this one."""
    ends = shape.edges.get(side[1])
    if ends is None:
        return
    for name, corners in shape.edges.items():
        if name != side[1] and set(corners) & set(ends):
            yield edge_word((side[0], name), piece)
