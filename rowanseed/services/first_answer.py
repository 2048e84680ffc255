"""Which size, is the cloth enough, what to buy: from an envelope, a tape measure and a piece of cloth, before any piece is in.

The envelope's own lengths stand first. Where it prints none the garment's usual pieces are drawn for the chart's size and laid for
real, with a tenth more, since the pattern's own pieces are others: common practice, no published source.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.envelope_estimate import MORE, estimate
from rowanseed.core.errors import AdviceError, RowanseedError
from rowanseed.core.fit.advice import Advice, size_advice
from rowanseed.core.fit.chart_comparison import AdviceRequest
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.lengths import Length
from rowanseed.core.make.advice import Wearer, advice_request
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import roles_of, sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.notions import Notion, NotionsAsk, notions
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Printed, Role, View
from rowanseed.core.pattern.usual import HEIGHT_MM, SIZE, UsualGarment
from rowanseed.core.reckon.buying import Buy, length_to_buy
from rowanseed.core.sew.garment import complete, operations_for, settled_features
from rowanseed.core.sew.model import ClothTraits, SewnGarment
from rowanseed.core.yardage_table import SELVAGE_MM, widths_for
from rowanseed.formats.sewing import library
from rowanseed.services.long_work import LongWork, Progress
from rowanseed.services.remembered import Remembered
from rowanseed.services.usual_pieces import usual_buttons, usual_pieces
from rowanseed.store.settings import Settings

SHRINKS = 0.05  # unwashed cloth of which nothing is known: cotton's usual share; common practice, no source
USUAL_WIDTH = {"cm": 1400.0, "in": 55 * 25.4}
VIEW = "A"
_held = Remembered(64)


@dataclass(frozen=True)
class FirstAsk:
    """What is asked: the garment, the body, the sizes (the envelope's or a usual chart's), the cloth in hand, the envelope.

    `width` and `length` None: no cloth yet. `chart`: whose usual chart it is, empty for the envelope's own table.
    """

    usual: UsualGarment
    body: Mapping[str, Length]
    sizes: tuple[EnvelopeSize, ...]
    chart: str = ""
    width: Length | None = None
    length: Length | None = None
    washed: bool = False
    one_way: bool = False
    printed: tuple[Printed, ...] = ()
    notions: str = ""

    def pattern(self, name: str = "") -> Pattern:
        """The pattern as far as its envelope is known."""
        return Pattern(
            name or self.usual.words, garment=self.usual.garment, cut=self.usual.cut, sizes=self.sizes, notions=self.notions,
            views=(View(VIEW, features=self.usual.features),), printed=self.printed,
        )  # fmt: skip

    def cloth(self, unit: str, name: str = "cloth in hand") -> Cloth:
        """The cloth in hand, or one of the widest width that the envelope prints, or of a usual one."""
        wide = USUAL_WIDTH["in" if unit == "in" else "cm"]
        printed = max((p.width for p in self.printed), key=lambda w: w.mm, default=None)
        width = (
            self.width or printed or Length(wide, "140 cm" if unit != "in" else "55 in", "in" if unit == "in" else "cm")
        )
        return Cloth(
            name, width, Length(SELVAGE_MM, "1 cm", "cm"), self.length, nap="one-way" if self.one_way else "none",
            prepared=self.washed, shrink_along=0.0 if self.washed else SHRINKS, knit=self.usual.knit,
        )  # fmt: skip


@dataclass(frozen=True)
class ClothNeed:
    """What one cloth of the garment takes: its role and width, the length it is laid on, what to buy, and where that is from.

    `laid_mm` None while nothing is laid yet; while it runs, and where it was cut short, by the best so far. `by`: `envelope` or
    `usual`.
    """

    role: Role
    width_mm: float
    by: str
    laid_mm: float | None
    buy: Buy | None
    progress: Progress = Progress()
    reckoned_from_mm: float | None = None


@dataclass(frozen=True)
class FirstAnswer:
    """The size with its reason, what the cloths take, whether the one in hand is enough, and what else to buy.

    `left_mm`: what is left of the cloth in hand, negative where it is short; None while that is not known. `sure` says whether it
    is enough beyond the margin that usual pieces ask for.
    """

    advice: Advice | None
    problem: str
    asked: AdviceRequest | None
    needs: tuple[ClothNeed, ...] = ()
    left_mm: float | None = None
    sure: bool = True
    notions: tuple[Notion, ...] = ()

    @property
    def running(self) -> bool:
        """Whether a lay is still under way."""
        return any(need.progress.running for need in self.needs)


def first_answer(ask: FirstAsk, settings: Settings, work: LongWork, place: str) -> FirstAnswer:
    """Return what is known so far; lays that are not known yet are begun.

    Args:
        place: what the lays of this asker are known by: another question from there stops the one before.
    """
    if not ask.body:
        return FirstAnswer(None, "", None)
    asked = advice_request(ask.pattern(), Wearer(ask.body), MakePlan(), eases=settings.ease_table)
    try:
        advice = size_advice(asked)
    except AdviceError as error:
        return FirstAnswer(None, error.text, asked)
    row = next(s for s in ask.sizes if s.size == advice.size)
    try:
        pattern = usual_pieces(ask.usual, row, ask.body, settings, ask.chart == "men")
    except RowanseedError as error:
        return FirstAnswer(advice, f"No usual pieces can be drawn for these figures. {error.text}", asked)
    needs = cloth_needs(ask, pattern, advice.size, settings, work, place)
    left, sure = _left(ask, needs)
    return FirstAnswer(advice, "", asked, needs, left, sure, _notions(ask, pattern, settings))


def usual_length(ask: FirstAsk, answer: FirstAnswer) -> float:
    """How long the usual garment is reckoned, mm; 0 while no size is advised."""
    if answer.advice is None:
        return 0.0
    tall = ask.body.get("height")
    height = tall.mm if tall else HEIGHT_MM["men" if ask.chart == "men" else "women"]
    return ask.usual.long_by[1] * height


def cloth_needs(
    ask: FirstAsk, pattern: Pattern, size: str, settings: Settings, work: LongWork, place: str
) -> tuple[ClothNeed, ...]:
    """Return what every cloth of a garment takes in a size, its usual pieces given; lays that are not known yet are begun."""
    return tuple(_need(ask, settings, work, place, pattern, role, size) for role in roles_of(pattern, VIEW))


def _need(
    ask: FirstAsk, settings: Settings, work: LongWork, place: str, pattern: Pattern, role: Role, size: str
) -> ClothNeed:
    """What a role's cloth takes: by the envelope where it prints it for the main cloth, else by a lay of the usual pieces."""
    own = role == "self"
    cloth = ask.cloth(settings.unit) if own else _bought(ask, role, settings)
    shrink = 0.0 if ask.washed and own and ask.length else SHRINKS
    if own and ask.printed:
        by_envelope = estimate(ask.pattern(), VIEW, [size], replace(cloth, length=None))
        if by_envelope is not None:
            # What the envelope prints is what is bought: its allowance for shrinking is its own affair.
            buy = length_to_buy(by_envelope.needs_mm, 0.0, 0.0, settings.step)
            came = by_envelope.width_mm if by_envelope.reckoned else None
            return ClothNeed(role, cloth.width.mm, "envelope", by_envelope.needs_mm, buy, Progress(), came)
    progress = work.look(f"{place}:{role}", _request(pattern, role, cloth), patient=False)
    lay = progress.result or progress.best  # while it runs, or where others waited, the best so far
    if not isinstance(lay, Lay):
        return ClothNeed(role, cloth.width.mm, "usual", None, None, progress)
    if lay.failed:
        text = "At this width a usual piece has no place: it is wider than the cloth."
        return ClothNeed(role, cloth.width.mm, "usual", None, None, Progress(problem=text))
    laid = math.ceil(lay.length_mm * MORE / 10.0) * 10.0  # whole centimetres: usual pieces say no more
    return ClothNeed(
        role,
        cloth.width.mm,
        "usual",
        laid,
        length_to_buy(laid, shrink, settings.straighten_mm, settings.step),
        progress,
    )


def _bought(ask: FirstAsk, role: Role, settings: Settings) -> Cloth:
    """A lining or an interfacing of a width on sale."""
    wide = widths_for(role, settings.unit)
    return replace(
        ask.cloth(settings.unit), length=None, nap="none", prepared=False,
        width=Length(wide[-1] if role == "interfacing" else wide[-2], "", settings.unit),
    )  # fmt: skip


def _request(pattern: Pattern, role: Role, cloth: Cloth) -> LayRequest:
    """The quick lay of a role's usual pieces, as long as it takes."""

    def work() -> LayRequest:
        pieces, _ = sized_pieces(pattern, VIEW, role, [SIZE])
        plan = MakePlan(effort="quick", spread="best")
        return replace(lay_request(pieces, cloth, plan, length_in_hand=False), table=True)

    return _held.once((repr(pattern), role, repr(cloth)), work)


def _left(ask: FirstAsk, needs: Sequence[ClothNeed]) -> tuple[float | None, bool]:
    """What is left of the cloth in hand once it is washed, and whether that is beyond the margin of usual pieces."""
    shell = next((need for need in needs if need.role == "self"), None)
    if shell is None or shell.laid_mm is None or ask.length is None or ask.width is None:
        return None, True
    has = ask.length.mm if ask.washed else ask.length.mm * (1.0 - SHRINKS)
    left = has - shell.laid_mm
    if left < 0 and shell.progress.running:
        return None, True  # a shorter lay may still be found: what is enough stays so, what is short is not known yet
    if shell.by == "usual" and left < 0 and has >= shell.laid_mm / MORE:
        return left, False
    return left, True


def _notions(ask: FirstAsk, pattern: Pattern, settings: Settings) -> tuple[Notion, ...]:
    """What the garment takes beside cloth: by the envelope's list where it has one, else as it is usually made."""
    key = ("notions", ask.usual.key, repr(pattern), ask.notions, repr(ask.body), settings.tools, settings.unit)

    def work() -> tuple[Notion, ...]:
        sewn = SewnGarment(
            dict(ask.usual.features),
            frozenset(settings.tools),
            dict(settings.schools),
            ClothTraits(knit=ask.usual.knit),
        )
        waist = ask.body.get("waist")
        own = tuple((p, p.shapes[SIZE]) for p in pattern.pieces)
        steps = tuple(op.id for op, _ in operations_for(library(), complete(library(), sewn)))
        need = NotionsAsk(
            own, (), settled_features(library(), sewn), sewn.tools, waist.mm if waist else None, settings.unit,
            knit=ask.usual.knit, cloth=sewn.cloth, envelope=ask.notions, garment=ask.usual.garment, steps=steps,
        )  # fmt: skip
        return tuple(usual_buttons(notions(need), ask.usual))

    return _held.once(key, work)
