"""Which size for which part of the body, by three schools, with the reason in a sentence."""

from dataclasses import dataclass

from rowanseed.core.errors import Finding
from rowanseed.core.fit.chart_comparison import AdviceRequest, ZoneAdvice, compare_with_chart
from rowanseed.core.fit.reasons import findings_of


@dataclass(frozen=True)
class Advice:
    """The size to take, each zone's own, and what to know."""

    size: str
    zones: tuple[ZoneAdvice, ...]
    findings: tuple[Finding, ...]


def size_advice(request: AdviceRequest) -> Advice:
    """Choose a size by one school.

    Raises:
        AdviceError: an empty or falling chart, a size without a finished row, or no measurement to compare by.
    """
    weighed = compare_with_chart(request)
    return Advice(weighed.size, weighed.zones, tuple(findings_of(weighed)))
