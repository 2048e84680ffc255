"""A body weighed against a chart of sizes by one of three schools: which size at which zone, and what decided."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from rowanseed.core.errors import AdviceError
from rowanseed.core.fit.ease import ease_for_look, least_wearing, wanted_ease
from rowanseed.core.fit.ease_table import NO_GROWTH, USUAL, EaseTable, Growth
from rowanseed.core.fit.scale import Scale, SizeRow, figure, scale
from rowanseed.core.garment_kinds import ZONES, Cut, GarmentKind, Zone

School = Literal["chart", "finished", "at-least"]
Between = Literal["larger", "blend"]
BustBy = Literal["high-bust-and-cup", "high-bust"]
CUP_MM = 50.8  # 2 in between full and high bust: the cup most patterns are drawn for; common practice, no source

SCHOOL_REASONS: dict[School, str] = {
    "chart": "The pattern's body chart says which body each size was drawn for; the ease is the designer's.",
    "finished": "Chart sizes often come out too big, since the design holds ease already: look for body plus the ease you like.",
    "at-least": "A roomy coat must go over other clothes: take the first size at or above the body.",
}


@dataclass(frozen=True)
class AdviceRequest:
    """A body against a chart. Measures in mm; `finished` may be empty.

    `worn_under`: what the clothes beneath add round the body. `least_stretch`: the share of stretch the pattern asks for;
    `stretch`: the cloth's, 0 for woven. `look`: a name from the looks of `eases`, which sets the bust ease to look for. `cloth`:
    what takes room: stiff, thick, underlined. `age`: a child's, years, and `growth` what it grows while it wears this. `cup`: how
    much larger than the high bust the pattern is drawn for the full bust to be, mm; `bust_by`: which school sizes a bust that is
    not so.
    """

    body: Mapping[str, float]
    chart: tuple[SizeRow, ...]
    finished: tuple[SizeRow, ...] = ()
    key: Zone = "bust"
    school: School = "chart"
    between: Between = "blend"
    want_ease: Mapping[Zone, float] | None = None
    drafted_height: float | None = None
    garment: GarmentKind | None = None
    stretch: float = 0.0
    cut: Cut = ""
    worn_under: float = 0.0
    least_stretch: float = 0.0
    look: str = ""
    eases: EaseTable = USUAL
    cloth: tuple[str, ...] = ()
    child: bool = False
    age: float | None = None
    cup: float = CUP_MM
    bust_by: BustBy = "high-bust-and-cup"
    growth: Growth = NO_GROWTH

    def least_ease(self, zone: Zone) -> float:
        """The least ease at a zone for this garment, this cloth and what is worn beneath, mm: the one figure told anywhere."""
        return least_wearing(zone, self.stretch, self.garment, self.eases) + self.worn_under


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
class ChartComparison:
    """A request weighed: what decides, the ladders of all zones, the size and each zone's, and how it was come by."""

    request: AdviceRequest
    by_high_bust: bool
    key: str
    scales: Mapping[str, Scale]
    size: str
    pair: tuple[int, int] | None
    zones: tuple[ZoneAdvice, ...]

    @property
    def scale(self) -> Scale:
        """The chart's sizes by the measurement that decides."""
        return self.scales[self.key]

    @property
    def measure(self) -> str:
        """The measurement that decides, in words, mentioning the high bust where that is used."""
        if not self.by_high_bust or self.key != "bust":
            return self.key
        return "high bust" if self.request.bust_by == "high-bust" else "high bust and the pattern's cup"

    @property
    def body(self) -> float:
        """The body's measure that decides, mm."""
        return _bust(self.request) if self.by_high_bust and self.key == "bust" else self.request.body[self.key]


def compare_with_chart(request: AdviceRequest) -> ChartComparison:
    """Find every measure on its ladder and take the size.

    Raises:
        AdviceError: an empty or falling chart, a size without a finished row, or no measurement to compare by.
    """
    _refuse_unusable(request)
    key = _key(request)
    by_high_bust = uses_high_bust(request)
    wanted = _wanted(request, by_high_bust)
    scales: dict[str, Scale] = {}
    for zone in (*ZONES, "height"):
        own = _scale(request, zone, wanted, by_high_bust)
        if own is not None:
            scales[zone] = own
    if key not in scales:
        raise AdviceError(f"The {key} is needed both of the body and in the chart to choose by it.", "key")
    chosen = {zone: own.at_least() if request.school == "at-least" else own.nearest() for zone, own in scales.items()}
    zones = tuple(_zone(request, zone, scales[zone].sizes[chosen[zone]]) for zone in ZONES if zone in scales)
    pair, at = scales[key].between(), chosen[key]
    if pair is not None and request.between == "larger" and request.school != "at-least":
        at = pair[1]
    return ChartComparison(request, by_high_bust, key, scales, scales[key].sizes[at], pair, zones)


def other_way(request: AdviceRequest) -> AdviceRequest:
    """The same question, decided the other way between two sizes."""
    return replace(request, between="larger" if request.between == "blend" else "blend")


def uses_high_bust(request: AdviceRequest) -> bool:
    """Whether the high bust chooses the size: wherever it is known of an adult's garment that is sized at the bust.

    So it does on both sides of the pattern's cup, and no step in the body makes the size jump.
    """
    body = request.body
    if "bust" not in body or "high_bust" not in body or request.garment in ("skirt", "trousers") or request.child:
        return False
    return request.garment is not None or request.key == "bust"


def _bust(request: AdviceRequest) -> float:
    """The bust to find on the chart, mm: the high bust with the pattern's cup, or, a school, the high bust itself."""
    high = request.body["high_bust"]
    return high + request.cup if request.bust_by == "high-bust-and-cup" else high


def _key(request: AdviceRequest) -> str:
    """What decides: the zone asked for; where the chart does not give it, what it does give, as one drafted to a waist."""
    given = [zone for zone in (request.key, *ZONES, "height") if any(zone in row.mm for row in request.chart)]
    return given[0] if given else request.key


def _refuse_unusable(request: AdviceRequest) -> None:
    if not request.chart:
        raise AdviceError("The size chart is empty: type at least one size.", "chart")
    sizes = [row.size for row in request.chart]
    if len(set(sizes)) != len(sizes):
        raise AdviceError("Two sizes in the chart have the same name.", "chart")
    for rows, name in ((request.chart, "chart"), (request.finished, "finished")):
        for zone in (*ZONES, "height"):
            _refuse_falling([row for row in rows if zone in row.mm], zone, name)
    for row in request.finished:
        if row.size not in sizes:
            raise AdviceError(f"Size {row.size} has finished measurements but is not in the chart.", "finished")
    if request.school == "finished" and not any(_key(request) in row.mm for row in request.finished):
        raise AdviceError("This school needs the finished measurements from the envelope or the tissue.", "finished")


def _refuse_falling(rows: list[SizeRow], zone: str, name: str) -> None:
    figures = [row.mm[zone] for row in rows]
    ends = [row.upto.get(zone, row.mm[zone]) for row in rows]
    if any(b < a for a, b in zip(figures, figures[1:])) or any(b < a for a, b in zip(ends, ends[1:])):
        raise AdviceError(f"The {zone} figures must rise from the smallest size to the largest.", name)
    if any(end < start for start, end in zip(figures, ends)):
        raise AdviceError(f"A range of the {zone} ends below where it begins.", name)


def _wanted(request: AdviceRequest, by_high_bust: bool) -> dict[Zone, float]:
    """The ease to look for at each zone, mm: what was asked or the look's, at the key zone else the garment's usual ease.

    At the other zones, unless asked, it is the designer's own: what the size that the key zone takes was drawn with, so
    that a straight cut is not taken for one that is too large at the waist.
    """
    asked = dict(request.want_ease or {})
    by_look = ease_for_look(request.look, request.garment, request.eases) if request.look else None
    if by_look is not None and "bust" not in asked:
        asked["bust"] = by_look
    wanted = wanted_ease(request.garment, asked, request.stretch, request.body, request.eases)
    key = _scale(request, _key(request), wanted, by_high_bust)
    if request.school != "finished" or key is None:
        return wanted
    size = key.sizes[key.nearest()]
    for zone in ZONES:
        body, finished = figure(request.chart, size, zone), figure(request.finished, size, zone)
        if zone != request.key and zone not in asked and body is not None and finished is not None:
            wanted[zone] = finished - body
    return wanted


def _scale(request: AdviceRequest, zone: str, wanted: Mapping[Zone, float], by_high_bust: bool) -> Scale | None:
    """The ladder of a zone and the figure to find on it: the body over what is worn under, plus ease in that school."""
    if zone not in request.body:
        return None
    if zone == "height":
        return scale(request.chart, zone, request.body[zone] + request.growth.height_mm)
    body = _bust(request) if zone == "bust" and by_high_bust else request.body[zone]
    target = body + request.worn_under + request.growth.girth_mm
    if request.school != "finished":
        return scale(request.chart, zone, target)
    return scale(request.finished, zone, target + next(mm for own, mm in wanted.items() if own == zone))


def _zone(request: AdviceRequest, zone: Zone, size: str) -> ZoneAdvice:
    body, finished = request.body[zone], figure(request.finished, size, zone)
    ease = None if finished is None else finished - body
    return ZoneAdvice(zone, size, body, figure(request.chart, size, zone), finished, ease)
