"""What a view's garment seems to have, from its pieces, its text and the notions on the envelope: each proposal with its reason."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Piece

PIECE_WORDS: Sequence[tuple[tuple[str, ...], str, str]] = (
    (("collar stand", "neckband"), "collar", "two-piece"),
    (("upper collar", "under collar", "undercollar"), "collar", "notched"),
    (("hood",), "collar", "hooded"),
    (("collar",), "collar", "one-piece"),
    (("yoke",), "yoke", "plain"),
    (("front band", "button band"), "front", "band"),
    (("front facing",), "front", "facing"),
    (("back band", "back button band"), "opening-at", "back"),
    (("neck facing", "back facing"), "neck", "facing"),
    (("armhole facing",), "armhole", "facing"),
    (("cape", "poncho"), "armhole", "cape"),
    (("waist facing",), "waist", "facing"),
    (("waistband",), "waist", "band"),
    (("upper sleeve", "under sleeve", "top sleeve"), "sleeve", "two-piece"),
    (("sleeve",), "sleeve", "set-in"),
    (("cuff",), "cuff", "band"),
    (("fly",), "closure", "fly"),
    (("welt",), "pocket", "welt"),
    (("flap",), "pocket", "patch-flap"),
    (("pocket",), "pocket", "patch"),
    (("belt loop", "carrier"), "belt", "loops"),
    (("strap",), "straps", "sewn"),
    (("godet",), "panels", "godets"),
    (("tier",), "tiers", "gathered"),
    (("bias", "binding"), "neck", "binding"),
)  # fmt: skip
TEXT_WORDS: Sequence[tuple[tuple[str, ...], str, str]] = (
    (("wraps over", "wrap over", "wrap-over", "wrap dress", "wrap skirt", "wrap blouse", "wrap top"), "closure", "wrap"),
    (("invisible zip",), "closure", "invisible-zip"),
    (("lapped zip",), "closure", "lapped-zip"),
    (("separating zip",), "closure", "separating-zip"),
    (("side placket", "placket at the side", "placket in the side"), "closure", "placket"),
    (("button",), "closure", "buttons"),
    (("snap", "press stud"), "closure", "snaps"),
    (("zip",), "closure", "centred-zip"),
    (("down the back", "back opening", "back button", "buttons at the back", "opens at the back"), "opening-at", "back"),
    (("raglan",), "sleeve", "raglan"),
    (("pleat",), "shaping", "pleats"),
    (("gather",), "gathers", "waist"),
    (("princess",), "panels", "princess"),
    (("shoulder pad",), "shoulder-pads", "sewn"),
    (("boning",), "boning", "channels"),
    (("elastic",), "waist", "casing"),
    (("edge to edge", "open front"), "front", "lined"),
)  # fmt: skip


@dataclass(frozen=True)
class Proposal:
    """A feature that the garment seems to have, and why."""

    feature: str
    choice: str
    reason: str


def proposals(pieces: Sequence[Piece], text: str, notions: str, described: Mapping[str, str]) -> list[Proposal]:
    """What a view's garment seems to have, the surest first, one for each feature that the description does not already have.

    Args:
        pieces: the view's pieces of every role.
        text: the view's words on the envelope. notions: the envelope's list of notions.
        described: the features that the view is described by; only what it does not have is proposed.
    """
    found: dict[str, Proposal] = {}
    words = (*_from_words(text, "The envelope says"), *_from_words(notions, "The notions list"))
    for feature, choice, reason in (*_from_pieces(pieces), *words):
        if described.get(feature, "none") == "none":
            found.setdefault(feature, Proposal(feature, choice, reason))
    return list(found.values())


def _from_pieces(pieces: Sequence[Piece]) -> Iterator[tuple[str, str, str]]:
    shell = [piece for piece in pieces if piece.role in ("self", "contrast")]
    names = [(piece, piece.name.lower()) for piece in shell]
    for words, feature, choice in PIECE_WORDS:
        piece = next((piece for piece, name in names if any(word in name for word in words)), None)
        if piece is not None:
            yield feature, choice, f"There is a piece {piece.number} {piece.name}."
    yield from _from_plackets(shell)
    yield from _from_shapes(shell)
    for piece in pieces:
        if piece.role == "lining":
            yield (
                "lining",
                "waist" if _lower(shell) else "bagged",
                f"Piece {piece.number} {piece.name} is cut from lining.",
            )
        if piece.role == "interfacing":
            yield "interfacing", "fusible", f"Piece {piece.number} {piece.name} is cut from interfacing."


def _from_plackets(shell: Sequence[Piece]) -> Iterator[tuple[str, str, str]]:
    """A placket is the sleeves' where there are sleeves and it is not called the front's; else it opens front or skirt."""
    sleeves = any("sleeve" in piece.name.lower() for piece in shell)
    for piece in shell:
        name = piece.name.lower()
        if "placket" in name:
            own = sleeves and not any(word in name for word in ("front", "neck"))
            yield "sleeve-vent" if own else "closure", "placket", f"There is a piece {piece.number} {piece.name}."


def _lower(shell: Sequence[Piece]) -> bool:
    edges = (edge for piece in shell for shape in piece.shapes.values() for edge in shape.edges)
    return not any("armhole" in edge or edge == "neck" for edge in edges)


def _from_shapes(shell: Sequence[Piece]) -> Iterator[tuple[str, str, str]]:
    """What the shapes themselves show: darts, the edges of a leg, of a skirt."""
    for piece in shell:
        shape = next(iter(piece.shapes.values()), None)
        if shape is None:
            continue
        edges = " ".join(shape.edges)
        darts = sum(line.kind == "dart" for line in shape.lines)
        if darts:
            many = "a dart" if darts == 1 else f"{darts} darts"
            yield "shaping", "darts", f"Piece {piece.number} {piece.name} has {many}."
        if "inseam" in edges or "crotch" in edges:
            yield "legs", "trousers", f"Piece {piece.number} {piece.name} has an inseam or a crotch edge."
        if "raglan" in edges:
            yield "sleeve", "raglan", f"Piece {piece.number} {piece.name} has a raglan edge."
        if _opened_back(piece, shape) and "inseam" not in edges and "crotch" not in edges:
            yield "centre-seam", "sewn", f"Piece {piece.number} {piece.name} is cut as a pair, without a fold."
        if "cap" in edges:
            yield "sleeve", "set-in", f"Piece {piece.number} {piece.name} has a cap."


def _opened_back(piece: Piece, shape: PieceShape) -> bool:
    """Whether a back is cut in two halves, so that a seam runs down its middle."""
    name = piece.name.lower()
    whole_back = "back" in name and not any(
        word in name for word in ("facing", "yoke", "pocket", "side", "neck", "sleeve")
    )
    return whole_back and piece.cut == 2 and piece.mirrored and shape.fold_edge is None


def _from_words(text: str, source: str) -> Iterator[tuple[str, str, str]]:
    low = text.lower()
    for words, feature, choice in TEXT_WORDS:
        word = next((word for word in words if word in low), "")
        if word:
            yield feature, choice, f"{source} “{word}”."
