"""How an alteration is made on the tissue itself, in words, in the order of the work. Handbook methods, from memory."""

from collections.abc import Sequence
from dataclasses import dataclass

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.change import Followed
from rowanseed.core.fit.edge_changes import TAKEN_OUT, line_across
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.wedge import WEDGES, wedge_of
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.seamwalk import AlterPiece

LAST = (
    "Draw every line that was broken smooth again, the seam line first, then the cutting line beside it.",
    "Walk the seams that were touched against their partners, and carry notches over.",
)


@dataclass(frozen=True)
class TissueWork:
    """One alteration on the tissue: its heading, its piece, and what is done, step by step."""

    heading: str
    piece: str
    steps: tuple[str, ...]


def on_tissue(
    alteration: Alteration, pieces: Sequence[AlterPiece], followed: Sequence[Followed], unit: Unit
) -> TissueWork:
    """Return how one alteration is made on the tissue, with the pieces as they were before it, and what follows it."""
    piece = next((p for p in pieces if p.id == alteration.piece), None)
    kind = KINDS[alteration.kind]
    steps = list(_steps(alteration, piece, unit)) if piece is not None else []
    steps += [f"Then piece {f.piece} alike, for {f.because}." for f in followed]
    sign = "" if alteration.by_mm >= 0 else "less "
    return TissueWork(f"{kind.title}: {sign}{both(abs(alteration.by_mm), unit)}", alteration.piece, (*steps, *LAST))


def _steps(alteration: Alteration, piece: AlterPiece, unit: Unit) -> Sequence[str]:
    way, by = KINDS[alteration.kind].way, alteration.by_mm
    amount = both(abs(by), unit)
    try:
        if way == "strip":
            return _strip(alteration, piece, amount, unit)
        if alteration.kind in WEDGES:
            return _wedge(alteration, piece, amount, unit)
    except AlterationError as error:
        return (error.text,)
    if way == "slashes":
        return _bust(alteration, amount)
    if way == "dart":
        return _dart(alteration, amount)
    return _edge(alteration, amount)


def _from_top(piece: AlterPiece, x: float, unit: Unit) -> str:
    return both(x - min(x for x, _ in piece.shape.outline), unit)


def _strip(alteration: Alteration, piece: AlterPiece, amount: str, unit: Unit) -> Sequence[str]:
    where = _from_top(piece, line_across(alteration, piece), unit)
    draw = f"Draw a line across the piece, square to the grain, {where} below its top; and the grain line long over both parts."
    if alteration.by_mm >= 0:
        return (
            draw,
            f"Cut along it. Tape a strip of paper between, so that the parts lie {amount} apart, the grain in one line.",
        )
    return (
        draw,
        f"Fold the paper so that the line below comes up to it: {amount} in all, half of it in each layer of the fold.",
    )


def _wedge(alteration: Alteration, piece: AlterPiece, amount: str, unit: Unit) -> Sequence[str]:
    wedge = wedge_of(alteration, piece.shape)
    taken = (alteration.by_mm > 0) == (alteration.kind in TAKEN_OUT)
    if wedge.axis == 0:
        line = f"Draw a line across the piece {_from_top(piece, wedge.line, unit)} below its top."
        opens, hinge = ("side", "inseam") if alteration.kind == "bowed-leg" else ("centre", "other edge")
        cut = f"Cut along it from the {opens} to the seam line at the {hinge}, and clip from outside to that point: the hinge."
    else:
        line = f"Draw a line from the middle of the neck down to {_from_top(piece, wedge.hinge, unit)} below the piece's top."
        cut = "Cut along it from the neck to its lower end."
    move = f"Lap the cut edges by {amount} at the open end" if taken else f"Spread the cut by {amount} at its open end"
    done = (line, cut, f"{move}, nothing at the hinge, and tape it.")
    on_fold = piece.shape.fold_edge is not None
    return (*done, "Draw the fold straight again: it bent where the cut opened.") if on_fold else done


def _bust(alteration: Alteration, amount: str) -> Sequence[str]:
    more = alteration.by_mm >= 0
    steps = [
        "Mark the bust point. Draw a line from the hem up to it, parallel to the grain, on to the armhole, a third of the way up.",
        "Draw a line from the side to the bust point; where there is a dart, along its middle.",
        "Cut from the hem to the armhole's seam line, clip to it from outside, and cut the line from the side.",
        f"{'Spread' if more else 'Lap'} the long cut by {amount} at the bust point, its edges parallel below it.",
        "Let the centre down level with the side: cut the lower part across and slide it.",
    ]
    if alteration.kind == "bust-dartless":
        steps.append("Close what opened at the side, so that it runs into the hem.")
    else:
        steps.append("Draw the dart that opened at the side, its point 2.5 cm (1 in) short of the bust point.")
    return steps


def _dart(alteration: Alteration, amount: str) -> Sequence[str]:
    if alteration.kind == "dart-turned":
        return (
            f"Mark the new place on the {alteration.at_edge}, {amount} along it, and draw a line from there to the dart's point.",
            "Cut along that line, and along one leg of the old dart, both just to the point.",
            "Close the old dart, leg on leg, and tape it: the new one opens by itself.",
            "Fold the new dart as it will be sewn and cut its end along the edge.",
        )
    if alteration.kind == "bust-point":
        return (
            "Cut a box round the dart's point and the bust point.",
            f"Slide it by {amount}, tape it, and draw the legs to it.",
        )
    steps = [
        f"Mark half of {amount} outside each leg of the dart, on the {alteration.at_edge}, and draw new legs to its point."
    ]
    if alteration.kind == "dart-deeper-kept":
        steps.append(f"Let the side out by {amount} at that edge, to nothing at its other end.")
    return steps


def _edge(alteration: Alteration, amount: str) -> Sequence[str]:
    outward = "out" if alteration.by_mm >= 0 else "in"
    where = KINDS[alteration.kind].about
    return (
        f"Tape paper under the {alteration.at_edge or 'edge'} and mark {amount} {outward} where it is most.",
        f"Draw the new line from that mark: {where[0].lower()}{where[1:]}",
    )
