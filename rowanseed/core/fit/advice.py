"""Which size for which part of the body, by three schools, with the reason in a sentence."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from rowanseed.core.errors import AdviceError, Finding
from rowanseed.core.fit.ease import ZONES, Garment, Zone, least_wearing, look_of, wanted_ease
from rowanseed.core.lengths import both

School = Literal["chart", "finished", "at-least"]
Between = Literal["larger", "blend"]
FULL_BUST_MM = 50.8  # 2 in: a larger difference of full and high bust asks for a bust alteration; common practice
BETWEEN_MM = 3.0  # nearer to a size than this is that size
LENGTH_MM = 25.0  # a smaller difference of heights is left to the hem

SCHOOL_REASONS: dict[School, str] = {
    "chart": "The pattern's body chart says which body each size was drawn for; the ease is the designer's.",
    "finished": "Chart sizes often come out too big, since the design holds ease already: look for body plus the ease you like.",
    "at-least": "A roomy coat must go over other clothes: take the first size at or above the body.",
}


@dataclass(frozen=True)
class SizeRow:
    """One size of a chart: measurement key -> mm."""

    size: str
    mm: Mapping[str, float]


@dataclass(frozen=True)
class AdviceRequest:
    """A body against a chart. Measures in mm; `finished` may be empty."""

    body: Mapping[str, float]
    chart: tuple[SizeRow, ...]
    finished: tuple[SizeRow, ...] = ()
    key: Zone = "bust"
    school: School = "chart"
    between: Between = "blend"
    want_ease: Mapping[Zone, float] | None = None
    drafted_height: float | None = None
    garment: Garment | None = None
    stretch: float = 0.0


@dataclass(frozen=True)
class ZoneAdvice:
    """The size at one zone, and the ease it leaves there."""

    zone: Zone
    size: str
    body_mm: float
    chart_mm: float | None
    finished_mm: float | None
    ease_mm: float | None


@dataclass(frozen=True)
class Advice:
    """The size to take, each zone's own, and what to know."""

    size: str
    zones: tuple[ZoneAdvice, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class _Scale:
    """One zone's ladder of sizes, and the figure to find on it."""

    sizes: tuple[str, ...]
    mm: tuple[float, ...]
    target: float

    def nearest(self) -> int:
        """The nearest size; an exact half goes to the larger."""
        return min(range(len(self.mm)), key=lambda i: (round(abs(self.mm[i] - self.target), 6), -i))

    def at_least(self) -> int:
        """The first size at or above the figure, else the largest."""
        return next((i for i, mm in enumerate(self.mm) if mm >= self.target - 1e-6), len(self.mm) - 1)

    def between(self) -> tuple[int, int] | None:
        """The two sizes the figure lies between, by more than a hair from the smaller."""
        for i in range(len(self.mm) - 1):
            if self.mm[i] + BETWEEN_MM < self.target < self.mm[i + 1] - 1e-6:
                return i, i + 1
        return None


def size_advice(request: AdviceRequest) -> Advice:
    """Choose a size by one school.

    Raises:
        AdviceError: an empty or falling chart, a size without a finished row, or no measurement to compare by.
    """
    _refuse_unusable(request)
    by_high_bust = uses_high_bust(request.body, request.key, request.garment)
    wanted = _wanted(request, by_high_bust)
    scales = {zone: scale for zone in ZONES if (scale := _scale(request, zone, wanted, by_high_bust)) is not None}
    if request.key not in scales:
        raise AdviceError(f"The {request.key} is needed both of the body and in the chart to choose by it.", "key")
    chosen = {
        zone: scale.at_least() if request.school == "at-least" else scale.nearest() for zone, scale in scales.items()
    }
    zones = tuple(_zone(request, zone, scales[zone].sizes[chosen[zone]]) for zone in scales)
    key = scales[request.key]
    pair = key.between()
    at = chosen[request.key]
    if pair is not None and request.between == "larger" and request.school != "at-least":
        at = pair[1]
    size = key.sizes[at]
    findings = [_reason(request, key, size, pair, by_high_bust), *_zone_findings(request, size, zones, scales)]
    if by_high_bust:
        findings.append(_enlargement(request, size))
    findings += _length(request)
    return Advice(size, zones, tuple(findings))


def uses_high_bust(body: Mapping[str, float], key: Zone, garment: Garment | None) -> bool:
    """Whether the high bust chooses the size: garments sized at the bust, full bust over 2 in larger."""
    if "bust" not in body or "high_bust" not in body or garment in ("skirt", "trousers"):
        return False
    return (garment is not None or key == "bust") and body["bust"] - body["high_bust"] > FULL_BUST_MM + 0.01


def _refuse_unusable(request: AdviceRequest) -> None:
    if not request.chart:
        raise AdviceError("The size chart is empty: type at least one size.", "chart")
    sizes = [row.size for row in request.chart]
    if len(set(sizes)) != len(sizes):
        raise AdviceError("Two sizes in the chart have the same name.", "chart")
    for rows, name in ((request.chart, "chart"), (request.finished, "finished")):
        for zone in ZONES:
            figures = [row.mm[zone] for row in rows if zone in row.mm]
            if any(b < a for a, b in zip(figures, figures[1:], strict=False)):
                raise AdviceError(f"The {zone} figures must rise from the smallest size to the largest.", name)
    for row in request.finished:
        if row.size not in sizes:
            raise AdviceError(f"Size {row.size} has finished measurements but is not in the chart.", "finished")
    if request.school == "finished" and not any(request.key in row.mm for row in request.finished):
        raise AdviceError("This school needs the finished measurements from the envelope or the tissue.", "finished")


def _wanted(request: AdviceRequest, by_high_bust: bool) -> dict[Zone, float]:
    """The ease to look for at each zone, mm: what was asked, at the key zone else the garment's usual ease.

    At the other zones, unless asked, it is the designer's own: what the size that the key zone takes was drawn with, so
    that a straight cut is not taken for one that is too large at the waist.
    """
    wanted = wanted_ease(request.garment, request.want_ease or {}, request.stretch)
    key = _scale(request, request.key, wanted, by_high_bust)
    if request.school != "finished" or key is None:
        return wanted
    size = key.sizes[key.nearest()]
    for zone in ZONES:
        body, finished = _figure(request.chart, size, zone), _figure(request.finished, size, zone)
        if zone != request.key and zone not in (request.want_ease or {}) and body is not None and finished is not None:
            wanted[zone] = finished - body
    return wanted


def _scale(request: AdviceRequest, zone: Zone, wanted: Mapping[Zone, float], by_high_bust: bool) -> _Scale | None:
    if zone not in request.body:
        return None
    body = request.body["high_bust"] if zone == "bust" and by_high_bust else request.body[zone]
    rows = request.finished if request.school == "finished" else request.chart
    rows = tuple(row for row in rows if zone in row.mm)
    if not rows:
        return None
    target = body + wanted[zone] if request.school == "finished" else body
    return _Scale(tuple(r.size for r in rows), tuple(r.mm[zone] for r in rows), target)


def _figure(rows: tuple[SizeRow, ...], size: str, zone: Zone) -> float | None:
    return next((row.mm.get(zone) for row in rows if row.size == size), None)


def _zone(request: AdviceRequest, zone: Zone, size: str) -> ZoneAdvice:
    body, finished = request.body[zone], _figure(request.finished, size, zone)
    return ZoneAdvice(
        zone, size, body, _figure(request.chart, size, zone), finished, None if finished is None else finished - body
    )


def _reason(
    request: AdviceRequest, key: _Scale, size: str, pair: tuple[int, int] | None, by_high_bust: bool
) -> Finding:
    measure = "high bust" if by_high_bust and request.key == "bust" else request.key
    mm = key.mm[key.sizes.index(size)]
    body = request.body["high_bust"] if measure == "high bust" else request.body[request.key]
    if request.school == "finished":
        text = (
            f"Size {size}: the {measure}, {both(body)}, plus {both(key.target - body)} of ease asks for "
            f"{both(key.target)}; this size is finished at {both(mm)}."
        )
    elif request.school == "at-least":
        text = f"Size {size}: the first whose {request.key}, {both(mm)}, is at or above the {measure}, {both(body)}."
    else:
        text = f"Size {size}: the {measure}, {both(body)}, against {both(mm)} in the chart."
    if pair is not None and request.school != "at-least":
        low, high = key.sizes[pair[0]], key.sizes[pair[1]]
        text += f" It lies between {low} and {high}: " + (
            "the larger can be taken in at the side seams after a try-on."
            if request.between == "larger"
            else "the nearer one is taken, and each zone keeps its own line."
        )
    return Finding("note", "reason", text)


def _zone_findings(
    request: AdviceRequest, size: str, zones: tuple[ZoneAdvice, ...], scales: Mapping[Zone, _Scale]
) -> list[Finding]:
    findings = []
    for advice in zones:
        scale = scales[advice.zone]
        if scale.target > scale.mm[-1] + BETWEEN_MM or scale.target < scale.mm[0] - BETWEEN_MM:
            end, mm = ("largest", scale.mm[-1]) if scale.target > scale.mm[-1] else ("smallest", scale.mm[0])
            findings.append(
                Finding(
                    "care",
                    "beyond-chart",
                    f"The {advice.zone} needs {both(scale.target)}; the {end} "
                    f"size gives {both(mm)}: alter there by {both(abs(scale.target - mm))}.",
                )
            )
        if advice.ease_mm is not None and advice.ease_mm < least_wearing(advice.zone, request.stretch) - 1e-6:
            findings.append(
                Finding(
                    "care",
                    "under-wearing-ease",
                    f"At the {advice.zone} size {advice.size} leaves "
                    f"{_signed(advice.ease_mm)} of ease, under the {both(least_wearing(advice.zone, request.stretch))} "
                    "that moving and breathing need. Fine if it is meant to be that close.",
                )
            )
        if advice.zone == "bust" and advice.ease_mm is not None and not request.stretch:
            findings.append(
                Finding(
                    "note",
                    "look",
                    f"{_signed(advice.ease_mm)} of ease at the bust: {look_of(advice.ease_mm, request.garment)}.",
                )
            )
    own = {advice.zone: advice.size for advice in zones}
    if len(set(own.values())) > 1:
        parts = ", ".join(f"{zone} {name}" for zone, name in own.items())
        advice_text = (
            "cut each zone on its own line and join the lines smoothly between."
            if request.between == "blend"
            else f"cut {size} and take it in after a try-on."
        )
        findings.append(Finding("note", "zones-differ", f"The zones ask for different sizes ({parts}): {advice_text}"))
    return findings


def _signed(mm: float) -> str:
    return both(mm) if mm >= 0 else f"minus {both(-mm)}"


def _enlargement(request: AdviceRequest, size: str) -> Finding:
    chart = _figure(request.chart, size, "bust")
    more = (
        max(0.0, request.body["bust"] - chart)
        if chart is not None
        else (request.body["bust"] - request.body["high_bust"])
    )
    difference = request.body["bust"] - request.body["high_bust"]
    return Finding(
        "care",
        "bust-enlargement",
        f"The full bust is {both(difference)} larger than the high bust, so the "
        f"high bust chooses the size, which fits the shoulders; enlarge the bust on the pattern by "
        f"{both(more)} in all.",
    )


def _length(request: AdviceRequest) -> list[Finding]:
    if request.drafted_height is None or "height" not in request.body:
        return []
    difference = request.body["height"] - request.drafted_height
    if abs(difference) < LENGTH_MM:
        return []
    word = "longer" if difference > 0 else "shorter"
    change = "Lengthen" if difference > 0 else "Shorten"
    return [
        Finding(
            "care",
            "length",
            f"You are {both(abs(difference))} {word} than the height the pattern is drawn for. "
            f"{change} at its lines, above and below the waist, and change every piece that joins.",
        )
    ]
