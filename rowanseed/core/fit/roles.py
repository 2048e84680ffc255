"""What an edge is to the garment, whatever it is called: by its name in some languages, by what it is sewn to, by its neighbours.

The alterations speak of a side, a shoulder, an armhole; a pattern may call them otherwise. Words from memory.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece

WORDS: dict[str, tuple[str, ...]] = {
    "side": ("side seam", "seitennaht", "seite", "côté", "couture de côté", "costado", "lado", "zijnaad", "zij"),
    "shoulder": ("shoulder seam", "schulter", "schulternaht", "épaule", "hombro", "schouder", "schoudernaad"),
    "armhole": ("armscye", "scye", "armloch", "armausschnitt", "emmanchure", "sisa", "armsgat"),
    "neck": ("neckline", "neck edge", "halsloch", "halsausschnitt", "encolure", "escote", "halslijn", "hals"),
    "hem": ("bottom", "lower edge", "saum", "ourlet", "dobladillo", "bajo", "zoom"),
    "waist": ("waistline", "waist seam", "waist edge", "taille", "taillennaht", "cintura"),
    "crotch": ("rise", "crotch seam", "schritt", "schrittnaht", "fourche", "tiro", "kruis"),
    "inseam": ("inside leg", "inner leg", "innenbein", "innenbeinnaht", "entrejambe", "entrepierna", "binnenbeen"),
    "cap": ("sleeve head", "sleeve cap", "armkugel", "tête de manche", "copa", "mouwkop"),
    "front seam": ("sleeve front seam", "vordere ärmelnaht"),
    "back seam": ("sleeve back seam", "hintere ärmelnaht"),
}
ALIKE = ("side", "shoulder", "inseam")  # an edge sewn to one of these is one of these
FRONT_WORDS = ("front", "vorder", "devant", "delanter", "voorpand", "voor ")
BACK_WORDS = ("back", "rück", "rueck", "hinter", "dos", "espalda", "achter", "rugpand")
DEEPER_MM = 20.0  # a front's neck is so much deeper than a back's, at least
BY_WORD = {word: role for role, words in WORDS.items() for word in (role, *words)}


@dataclass(frozen=True)
class Roles:
    """The edges of each piece by role: piece -> role -> the edge's own name."""

    of: Mapping[str, Mapping[str, str]]

    def named(self, piece: AlterPiece) -> AlterPiece:
        """The piece with its edges found by their roles too, beside their own names."""
        own = self.of.get(piece.id, {})
        more = {role: piece.shape.edges[name] for role, name in own.items() if role not in piece.shape.edges}
        return replace(piece, shape=replace(piece.shape, edges={**piece.shape.edges, **more})) if more else piece

    def plain(self, piece: AlterPiece, before: AlterPiece) -> AlterPiece:
        """The piece with the names that it came with alone."""
        if piece.shape.edges.keys() == before.shape.edges.keys():
            return piece
        kept = {name: at for name, at in piece.shape.edges.items() if name in before.shape.edges}
        return replace(piece, shape=replace(piece.shape, edges=kept))


def roles_of(pieces: Sequence[AlterPiece], seams: Sequence[Seam]) -> Roles:
    """Work out the roles of all edges: by name first, then by seams, then by what lies beside them."""
    found: dict[str, dict[str, str]] = {p.id: _by_name(p.shape) for p in pieces}
    known = {p.id: p for p in pieces}
    for _ in range(2):
        for seam in seams:
            _by_seam(seam, known, found)
        for piece in pieces:
            _by_neighbours(piece.shape, found[piece.id])
    return Roles(found)


def _by_name(shape: PieceShape) -> dict[str, str]:
    own: dict[str, str] = {}
    for name in shape.edges:
        role = BY_WORD.get(name.strip().lower())
        if role is not None and (role not in own or name == role):
            own[role] = name
    return own


def _role(found: Mapping[str, Mapping[str, str]], number: str, edge: str) -> str:
    return next((role for role, name in found.get(number, {}).items() if name == edge), "")


def _by_seam(seam: Seam, known: Mapping[str, AlterPiece], found: dict[str, dict[str, str]]) -> None:
    """An edge sewn to a side is a side; one sewn to an armhole a cap; two of one piece sewn to each other a sleeve's seams."""
    for side, other in (seam.sides, seam.sides[::-1]):
        roles = {_role(found, *edge) for edge in other}
        for number, edge in side:
            if number not in known or edge not in known[number].shape.edges or _role(found, number, edge):
                continue
            own = found[number]
            if len(side) == len(other) == 1 and (role := next(iter(roles))) in ALIKE and other[0][0] != number:
                own.setdefault(role, edge)
            elif roles == {"armhole"} and all(n != number for n, _ in other):
                _as_cap(seam, side, other, number, edge, own, found)
            elif len(side) == len(other) == 1 and other[0][0] == number and _has_cap(own):
                own.setdefault("front seam" if "front seam" not in own and edge < other[0][1] else "back seam", edge)


def _as_cap(
    seam: Seam,
    side: Sequence[tuple[str, str]],
    other: Sequence[tuple[str, str]],
    number: str,
    edge: str,
    own: dict[str, str],
    found: Mapping[str, Mapping[str, str]],
) -> None:
    """A cap in one, or the half of it that is sewn to the front's armhole, or to the back's."""
    if len(side) == 1 and len(other) > 1:
        own.setdefault("cap", edge)
        return
    partner = other[min(side.index((number, edge)), len(other) - 1)][0]
    half = "cap back" if any(word in partner.lower() for word in BACK_WORDS) else "cap front"
    if half in own and half == "cap front":
        half = "cap back"
    own.setdefault(half, edge)


def _has_cap(own: Mapping[str, str]) -> bool:
    return bool({"cap", "cap front", "cap back"} & own.keys())


def _by_neighbours(shape: PieceShape, own: dict[str, str]) -> None:
    """The edge between side and shoulder is an armhole, the one beyond the shoulder a neck, the one at the side's foot a hem."""
    taken = set(own.values())
    free = [name for name in shape.edges if name not in taken]

    def ends(name: str) -> set[int]:
        return set(shape.edges[name])

    if {"side", "shoulder"} <= own.keys():
        for name in free:
            if "armhole" not in own and ends(name) & ends(own["side"]) and ends(name) & ends(own["shoulder"]):
                own["armhole"] = name
        for name in (n for n in free if n not in own.values()):
            if "neck" not in own and ends(name) & ends(own["shoulder"]) and not ends(name) & ends(own["side"]):
                own["neck"] = name
    long = [own[role] for role in ("side", "inseam", "front seam") if role in own]
    for name in (n for n in free if n not in own.values()):
        foot = {max(shape.edges[at], key=lambda k: shape.outline[k][0]) for at in long}
        if "hem" not in own and foot & ends(name) and _runs_across(shape, name):
            own["hem"] = name


def _runs_across(shape: PieceShape, edge: str) -> bool:
    (x0, y0), *_, (x1, y1) = edge_points(shape.outline, shape.edges[edge])
    return abs(y1 - y0) > abs(x1 - x0)


def half_of(piece: AlterPiece, pieces: Mapping[str, AlterPiece], seams: Sequence[Seam], roles: Roles) -> str:
    """Whether a piece is a front or a back: by its name, else by which of two necks is the deeper; empty where nothing tells."""
    name = f"{piece.id} {piece.name}".lower()
    front, back = (any(word in name for word in words) for words in (FRONT_WORDS, BACK_WORDS))
    if front != back:
        return "front" if front else "back"
    own = roles.of.get(piece.id, {})
    for seam in seams:
        for (mine, edge), (other, theirs) in ((seam.a, seam.b), (seam.b, seam.a)):
            if mine != piece.id or other not in pieces or other == mine or edge != own.get("shoulder"):
                continue
            if theirs != roles.of.get(other, {}).get("shoulder"):
                continue
            depths = [_neck_depth(p, roles) for p in (piece, pieces[other])]
            if None not in depths and abs(depths[0] - depths[1]) > DEEPER_MM:  # type: ignore[operator]
                return "front" if depths[0] > depths[1] else "back"  # type: ignore[operator]
    return ""


def _neck_depth(piece: AlterPiece, roles: Roles) -> float | None:
    neck = roles.of.get(piece.id, {}).get("neck")
    if neck is None:
        return None
    xs = [x for x, _ in edge_points(piece.shape.outline, piece.shape.edges[neck])]
    return max(xs) - min(xs)
