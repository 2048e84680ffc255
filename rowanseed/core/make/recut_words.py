"""A recut in words: what to do to a piece that lies cut or printed, for the person who has it before them."""

from collections.abc import Sequence

from rowanseed.core.lengths import Unit, both
from rowanseed.core.make.recut import LEAST_ALLOWANCE_MM, AtEdge, Recut

MOST_SAID = 4  # of the edges at which something is otherwise, the largest first

WHY = {
    "size": "cut in size {was}, and size {now} is chosen",
    "allowance": "its seam allowance is another since",
    "shape": "its shape is another since",
}


def why_recut(found: Recut, was: str, now: str) -> str:
    """Return why a piece is held against what was cut: its sizes then and now, or what changed."""
    return WHY[found.why].format(was=was, now=now) if found.why else ""


def recut_words(found: Recut, unit: Unit, printed: bool = False) -> list[str]:
    """Return what to do, a sentence each: trim, sew with less, mark anew or cut anew; on paper print anew."""
    said: list[str] = []
    if printed:
        where = [*found.missing, *found.trim]
        if where:
            said.append(f"Its line lies elsewhere: {_places(where, unit)}. Print it anew, or draw the line over.")
        elif found.marks:
            said.append(
                f"Its cutting line is the same; {_list(found.marks)} lie elsewhere. Print it anew, or mark them."
            )
        return said
    if found.answer == "anew":
        short = sorted((m for m in found.missing if m.left_mm < LEAST_ALLOWANCE_MM), key=lambda m: m.left_mm)
        said.append(f"Cut it anew. Cloth is missing: {'; '.join(_lacks(m, unit) for m in short[:MOST_SAID])}.")
        return said
    if found.missing:
        less = "; ".join(
            f"{_edge(m.edge)} with {both(m.left_mm, unit)} of allowance on this piece, not {both(m.allowance_mm, unit)}"
            for m in found.missing
        )
        said.append(f"It lies cut a little small. Sew {less}: the seam line stays where it belongs.")
    if found.trim:
        said.append(f"Lay the new piece on it, grain on grain, and trim: {_places(found.trim, unit)}.")
    if found.marks:
        said.append(f"Mark anew: {_list(found.marks)}.")
    return said


def _lacks(at: AtEdge, unit: Unit) -> str:
    room = f" of an allowance of {both(at.allowance_mm, unit)}" if at.allowance_mm else ""
    return f"{_edge(at.edge)}, {both(at.mm, unit)}{room}"


def _places(where: Sequence[AtEdge], unit: Unit) -> str:
    most = sorted(where, key=lambda at: -at.mm)
    more = "; and less elsewhere" if len(most) > MOST_SAID else ""
    return "; ".join(f"{_edge(at.edge)}, up to {both(at.mm, unit)}" for at in most[:MOST_SAID]) + more


def _edge(name: str) -> str:
    return name or "its edge"


def _list(words: Sequence[str]) -> str:
    return ", ".join(words)
