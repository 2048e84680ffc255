"""What the size advice is asked for: a wearer against a pattern's envelope."""

from collections.abc import Mapping
from dataclasses import dataclass

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.fit.chart_comparison import CUP_MM, AdviceRequest
from rowanseed.core.fit.ease import key_zone
from rowanseed.core.fit.ease_table import NO_GROWTH, USUAL, EaseTable, growth
from rowanseed.core.fit.scale import SizeRow
from rowanseed.core.lengths import Length
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern


@dataclass(frozen=True)
class Wearer:
    """For whom the size is chosen: the body as measured, whether a child's and of which age."""

    body: Mapping[str, Length]
    child: bool = False
    age: float | None = None


def advice_request(
    pattern: Pattern,
    wearer: Wearer,
    plan: MakePlan,
    cloth: Cloth | None = None,
    underlined: bool = False,
    eases: EaseTable = USUAL,
) -> AdviceRequest:
    """A body against a pattern's envelope, by the make's school; the cloth where it is chosen."""
    traits = (*(cloth.takes_room if cloth else ()), *(("underlined",) if underlined else ()))
    return AdviceRequest(
        {key: length.mm for key, length in wearer.body.items()},
        tuple(SizeRow(s.size, _mm(s.body), _mm(s.upto), s.age) for s in pattern.sizes),
        tuple(SizeRow(s.size, _mm(s.finished)) for s in pattern.sizes if s.finished),
        plan.key or key_zone(pattern.garment, pattern.cut),
        plan.school,
        plan.between,
        plan.want_ease or None,
        pattern.drafted_height.mm if pattern.drafted_height else None,
        pattern.garment,
        cloth.stretch if cloth and cloth.knit else 0.0,
        pattern.cut,
        plan.worn_under_mm,
        pattern.least_stretch if cloth else 0.0,
        plan.look,
        eases,
        traits,
        wearer.child,
        wearer.age,
        pattern.cup.mm if pattern.cup else CUP_MM,
        plan.bust_by,
        growth(wearer.age, plan.growth_months, eases) if wearer.child else NO_GROWTH,
    )


def _mm(lengths: Mapping[str, Length]) -> dict[str, float]:
    return {key: length.mm for key, length in lengths.items()}
