"""A garment's usual pieces in a size of its pattern, while its own pieces are not in."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.fit.ease import wanted_ease
from rowanseed.core.garment_kinds import ZONES, Zone
from rowanseed.core.lengths import Length
from rowanseed.core.notions import Notion
from rowanseed.core.pattern.model import EnvelopeSize, Pattern
from rowanseed.core.pattern.usual import HEIGHT_MM, Figure, UsualGarment
from rowanseed.store.settings import Settings

ALIKE: Mapping[Zone, float] = {
    "bust": 1.0,
    "waist": 0.8,
    "hip": 1.06,
}  # of the bust, where a chart lacks a girth; from memory
KNIT_STRETCH = 0.25  # of a knit of which nothing is known


def usual_pieces(
    usual: UsualGarment, size: EnvelopeSize, body: Mapping[str, Length], settings: Settings, men: bool = False
) -> Pattern:
    """Return the usual pieces for the body that a size is drawn for, with the garment's usual ease.

    Raises:
        ShapeError: the figures give no pieces.
    """
    ease = wanted_ease(usual.garment, {}, KNIT_STRETCH if usual.knit else 0.0, table=settings.ease_table)
    girths = _girths(size, body)
    tall = body.get("height") or size.body.get("height")
    height = tall.mm if tall else HEIGHT_MM["men" if men else "women"]
    at = {zone: girths[zone] + ease[zone] for zone in ZONES}
    return usual.pattern(Figure(at["bust"], at["waist"], at["hip"], height))


def _girths(size: EnvelopeSize, body: Mapping[str, Length]) -> dict[Zone, float]:
    """A size's girths: the middle of a range, the body's own where the chart lacks one, else by the usual share of another."""
    found: dict[Zone, float] = {}
    for zone in ZONES:
        low, high = size.body.get(zone), size.upto.get(zone)
        if low is not None:
            found[zone] = (low.mm + high.mm) / 2 if high is not None else low.mm
        elif zone in body:
            found[zone] = body[zone].mm
    known = next(iter(found), None)
    bust = found.get("bust", found[known] / ALIKE[known] if known else 920.0)
    return {zone: found.get(zone, bust * ALIKE[zone]) for zone in ZONES}


def usual_buttons(found: Sequence[Notion], usual: UsualGarment) -> list[Notion]:
    """Return notions with the buttons that such a garment usually has, where neither the envelope nor the sewist says how many.

    A jacket closes with a few large ones, not evenly down its whole front; common practice, no source.
    """
    if usual.buttons is None:
        return list(found)
    count, across = usual.buttons
    reason = f"Usual on a garment like this, {across:g} mm across; the pattern says it better."
    return [
        replace(n, amount=float(count), text=f"{count}, {across:g} mm", reason=reason)
        if n.kind == "buttons" and not any(word in n.reason for word in ("envelope", "typed"))
        else n
        for n in found
    ]
