"""Whether a kind of alteration has a sense on a piece: refused by name where it has none, and the piece that has it offered."""

from collections.abc import Mapping, Sequence

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.reshape import own_edges
from rowanseed.core.fit.roles import Roles, half_of
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece

NEEDS: dict[str, tuple[str, ...]] = {
    "shoulder": ("shoulder",),
    "forward-shoulder": ("shoulder", "armhole"),
    "shoulder-length": ("shoulder", "armhole"),
    "neck-width": ("neck", "shoulder"),
    "neck-depth": ("neck",),
    "gaping-neck": ("neck",),
    "across": ("armhole",),
    "bust": ("armhole", "side"),
    "bust-dartless": ("armhole", "side"),
    "upper-arm": ("front seam", "back seam"),
    "elbow": ("front seam", "back seam"),
    "wrist": ("front seam", "back seam"),
    "crotch": ("crotch",),
    "crotch-length": ("inseam",),
    "rise": ("crotch",),
    "thigh": ("inseam",),
    "calf": ("side", "inseam"),
    "bowed-leg": ("inseam",),
    "side": ("side",),
    "taper": ("side",),
    "hip-curve": ("side",),
    "hem": ("hem",),
}
HALVES: dict[str, str] = {
    "sway-back": "back",
    "rounded-back": "back",
    "high-back": "back",
    "seat": "back",
    "bust": "front",
    "bust-dartless": "front",
    "bust-point": "front",
    "chest": "front",
    "tummy": "front",
}


def refuse_senseless(
    alteration: Alteration, known: Mapping[str, AlterPiece], seams: Sequence[Seam], roles: Roles
) -> None:
    """Raise AlterationError where a piece lacks an edge that the alteration is made at, or is the wrong half of the body."""
    piece = known[alteration.piece]
    wanted = HALVES.get(alteration.kind, "")
    half = half_of(piece, known, seams, roles) if wanted else ""
    if wanted and half and half != wanted:
        there = [n for n, p in known.items() if n != piece.id and half_of(p, known, seams, roles) == wanted]
        there = [
            n for n in there if not known[n].follows and not known[n].same_as and not _lacking(alteration, known[n])
        ]
        raise AlterationError(f"It is made on a {wanted}, and piece {piece.id} is a {half}.{_offered(there)}", "piece")
    lacking = _lacking(alteration, piece)
    if lacking:
        has = ", ".join(own_edges(piece.shape)) or "none is named"
        there = [n for n, p in known.items() if not p.follows and not p.same_as and not _lacking(alteration, p)]
        raise AlterationError(
            f"It is made at the {' and the '.join(lacking)}: piece {piece.id} has no edge “{lacking[0]}”; it has: {has}."
            f"{_offered(there)}",
            "edge",
        )


def _offered(pieces: Sequence[str]) -> str:
    if not pieces:
        return ""
    names = pieces[0] if len(pieces) == 1 else f"{', '.join(pieces[:-1])} or {pieces[-1]}"
    return f" Make it on piece {names}."


def _lacking(alteration: Alteration, piece: AlterPiece) -> list[str]:
    """The edges that a piece lacks for it; one that was typed stands in place of the usual one."""
    needed = list(NEEDS.get(alteration.kind, ()))
    if alteration.edge and needed and KINDS[alteration.kind].edge in needed:
        needed = [alteration.edge if need == KINDS[alteration.kind].edge else need for need in needed]
    return [edge for edge in needed if edge not in piece.shape.edges]
