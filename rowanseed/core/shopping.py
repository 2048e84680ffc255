"""One list of what is still to be bought, across makes, in shop order, with what the stash already covers."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from rowanseed.core.cloth.shops import Shop, cost, cut_length, price_of, say_cut, say_money
from rowanseed.core.lengths import METRIC, Unit, both, format_length
from rowanseed.core.notions import COUNTED, KIND_WORDS, MATCHING_THREAD, Notion, NotionKind
from rowanseed.core.reckon.buying import BuyingStep, round_up

Source = Literal["", "pieces", "envelope", "usual"]
SOURCE_WORDS: dict[Source, str] = {
    "": "",
    "pieces": "from pieces",
    "envelope": "by the envelope",
    "usual": "from usual pieces",
}
REEL_MM = 3000.0  # from here on a length is told as it stands on the reel
AISLES = ("Cloth", "Lining", "Interfacing", "Underlining", "Thread", "Fastenings", "Elastic, tape and trim", "Machine")
_AISLE_OF: dict[str, str] = {
    "thread": "Thread",
    "overlock-thread": "Thread",
    "zip": "Fastenings",
    "buttons": "Fastenings",
    "hooks": "Fastenings",
    "snaps": "Fastenings",
    "needles": "Machine",
    "foot": "Machine",
}
_CLOTH_AISLE = {"main": "Cloth", "lining": "Lining", "interfacing": "Interfacing", "underlining": "Underlining"}


@dataclass(frozen=True)
class Supply:
    """A thing in the stash that is no cloth: its kind and name, and how much there is (mm, or a count)."""

    kind: NotionKind
    name: str
    amount: float
    note: str = ""

    def says(self, unit: Unit) -> str:
        """Its amount in words: a count, a length, or what stands on a reel in metres or yards."""
        if self.kind in COUNTED:
            return f"{self.amount:g}"
        if self.amount < REEL_MM:
            return both(self.amount, unit)
        return f"{round(self.amount / 1000, 1):g} m" if unit in METRIC else format_length(self.amount, "yd")


@dataclass(frozen=True)
class Wanted:
    """One line before the stash is looked at: for which make, what, how much; `cloth`: its kind where it is one, and its width.

    Of cloth `amount` is what is needed, before it is brought up to a step. `source`: whether it is worked out from the pattern's
    pieces, read from its envelope, or reckoned from usual pieces.
    """

    make: str
    what: str
    name: str
    amount: float
    text: str
    reason: str
    cloth: str = ""
    width_mm: float = 0.0
    step: BuyingStep = "10 cm"
    source: Source = ""
    make_id: int = 0
    cloth_id: int = 0


@dataclass(frozen=True)
class ListLine:
    """One line of the list: what, how much in all, for which makes, what the stash covers, what is left to buy, at what price.

    `wanted`: what each make asks for, as it was before it was put together.
    """

    key: str
    aisle: str
    what: str
    text: str
    makes: tuple[str, ...]
    reasons: tuple[str, ...]
    covered: str = ""
    price: str = ""
    money: Decimal | None = None
    optional: bool = False
    sources: tuple[str, ...] = ()
    wanted: tuple[Wanted, ...] = ()

    @property
    def needed(self) -> bool:
        """Whether anything is left to buy."""
        return bool(self.text)


def from_notion(make: str, notion: Notion, cloth: str = "", source: Source = "pieces") -> Wanted:
    """A make's notion as a line; thread that matches the cloth is named by it, since another cloth takes another reel."""
    name = f"to match {cloth}" if cloth and notion.name == MATCHING_THREAD else notion.name
    read = "envelope" in notion.reason
    if notion.kind in ("needles", "foot"):
        source = ""
    return Wanted(
        make, notion.kind, name, notion.amount, notion.text, notion.reason, source="envelope" if read else source
    )


def shopping_list(
    wanted: Iterable[Wanted], stash: Sequence[Supply], unit: Unit, shop: Shop | None = None
) -> list[ListLine]:
    """The lines in shop order; alike ones of several makes are put together, needles and feet bought once for all.

    Cloth is not put together here: makes that share a cloth are laid together first, and come as one line.
    """
    left: dict[tuple[str, str], float] = {(s.kind, s.name.lower()): s.amount for s in stash}
    groups: dict[tuple[str, str, str], list[Wanted]] = {}
    for line in wanted:
        groups.setdefault((line.cloth, line.what, line.name), []).append(line)
    lines = [
        _cloth_line(group, shop) if group[0].cloth else _notion_line(group, left, unit, shop)
        for group in groups.values()
    ]
    return sorted(lines, key=lambda line: (AISLES.index(line.aisle), line.what, line.key))


def _cloth_line(group: Sequence[Wanted], shop: Shop | None) -> ListLine:
    first = group[0]
    # What the makes need is added up as it is and brought up to a step once, at the shop, or to the household's own.
    amount = sum(w.amount for w in group)
    text, price, money = first.text, "", None
    if len(group) > 1:
        text = round_up(amount, first.step).text
    if shop is not None and amount:
        amount = cut_length(amount, shop)
        text = say_cut(amount, shop)
        asked = price_of(shop, first.cloth, first.name, first.width_mm)
        if asked is not None:
            money = cost(asked, amount)
            price = say_money(money, shop)
    makes, reasons = _of(group)
    return ListLine(
        f"cloth:{first.cloth}:{first.name}", _CLOTH_AISLE.get(first.cloth, "Cloth"), first.name, text, makes, reasons, "",
        price, money, sources=_sources(group), wanted=tuple(group),
    )  # fmt: skip


def _notion_line(
    group: Sequence[Wanted], left: dict[tuple[str, str], float], unit: Unit, shop: Shop | None
) -> ListLine:
    first = group[0]
    kind: NotionKind = first.what  # type: ignore[assignment]
    once = kind in ("needles", "foot")
    amount = max(w.amount for w in group) if once else sum(w.amount for w in group)
    keys = [k for k in left if k[0] == kind and (k[1] in (first.name.lower(), "") or not first.name)]
    have = sum(left[k] for k in keys)
    used = min(have, amount)
    for k in keys:  # what covers one line is gone for the next
        taken = min(left[k], used)
        left[k], used = left[k] - taken, used - taken
    rest = max(0.0, amount - have)
    text = _says(kind, rest, group, unit) if rest > 0 else ""
    covered = ""
    if have:
        covered = "in the stash" if rest == 0 else f"{_count(kind, min(have, amount), unit)} in the stash"
    price, money = "", None
    asked = price_of(shop, kind, first.name) if shop is not None and rest else None
    if asked is not None and shop is not None:
        money = cost(asked, amount_sold(kind, rest) if asked.per == "each" else rest)
        price = say_money(money, shop)
    makes, reasons = _of(group)
    what = KIND_WORDS[kind] + (f", {first.name}" if first.name else "")
    key = f"{kind}:{first.name}"
    aisle = _AISLE_OF.get(kind, "Elastic, tape and trim")
    return ListLine(key, aisle, what, text, makes, reasons, covered, price, money, once, _sources(group), tuple(group))


def amount_sold(kind: NotionKind, amount: float) -> float:
    """How many are sold of what is asked for singly: a count as it is, thread by the reel, other lengths as one pack."""
    if kind == "thread":
        return _reels(amount)
    return amount if kind in COUNTED or kind == "elastic-thread" else 1.0


def _reels(amount: float) -> int:
    """Reels of 100 m."""
    return max(1, -(-round(amount) // 100_000))


def _says(kind: NotionKind, rest: float, group: Sequence[Wanted], unit: Unit) -> str:
    """What is left to buy in the shop's words: the notion's own where it stands for all of it."""
    if len(group) == 1 and abs(rest - group[0].amount) < 1e-6:
        return group[0].text
    return _count(kind, rest, unit)


def _count(kind: NotionKind, amount: float, unit: Unit) -> str:
    if kind == "thread":
        reels = _reels(amount)
        return f"{reels} reel{'s' if reels > 1 else ''} of 100 m"
    if kind == "overlock-thread":
        return f"{amount / 1000:.0f} m on three cones"
    return f"{round(amount)}" if kind in COUNTED or kind == "elastic-thread" else both(amount, unit)


def _of(group: Sequence[Wanted]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    makes = tuple(dict.fromkeys(w.make for w in group))
    return makes, tuple(dict.fromkeys(w.reason for w in group if w.reason))


def _sources(group: Sequence[Wanted]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(SOURCE_WORDS[w.source] for w in group if w.source))


def total(lines: Iterable[ListLine], got: Mapping[str, object]) -> Decimal:
    """What the lines that are not ticked cost, as far as prices are known."""
    return sum((line.money for line in lines if line.money is not None and line.key not in got), Decimal(0))
