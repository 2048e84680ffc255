"""The calculators by name, with their inputs, results and the practice behind each."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from rowanseed.core.errors import LengthError, ReckonError
from rowanseed.core.lay.yardage import length_to_buy
from rowanseed.core.lengths import Unit, both, parse_length
from rowanseed.core.reckon import buttons, fullness, hems, seams

COMMON = "Common practice, no published source."


@dataclass(frozen=True)
class Input:
    """One figure a calculator asks for: a length, a plain number, or a share in per cent."""

    key: str
    label: str
    kind: Literal["length", "number", "percent"]
    example: str


@dataclass(frozen=True)
class Result:
    """One figure answered: mm for lengths, plain otherwise, and how it reads."""

    key: str
    label: str
    value: float
    text: str


@dataclass(frozen=True)
class Calculator:
    """A sum with a name, its inputs, the practice behind it, and the reason in a sentence."""

    name: str
    title: str
    reason: str
    inputs: tuple[Input, ...]
    work: Callable[[Mapping[str, float]], list[Result]]
    source: str = COMMON


def _length(key: str, label: str, mm: float) -> Result:
    return Result(key, label, mm, both(mm))


def _double_hem(v: Mapping[str, float]) -> list[Result]:
    lines = hems.double_hem(v["first_fold"], v["second_fold"])
    return [
        _length("first_line_mm", "First chalk line, from the raw edge", lines.first_mm),
        _length("second_line_mm", "Second chalk line, from the raw edge", lines.second_mm or 0.0),
        _length("takes_mm", "The hem takes", lines.takes_mm),
    ]


def _single_hem(v: Mapping[str, float]) -> list[Result]:
    return [_length("line_mm", "Chalk line, from the raw edge", hems.single_hem(v["fold"]).first_mm)]


def _french(v: Mapping[str, float]) -> list[Result]:
    return [
        _length(
            "second_pass_mm", "Second pass, right sides together", seams.french_seam(v["allowance"], v["first_pass"])
        )
    ]


def _waistband(v: Mapping[str, float]) -> list[Result]:
    return [
        _length("length_mm", "Cut length", seams.waistband_length(v["waist"], v["overlap"], v["allowance"])),
        _length("width_mm", "Cut width", seams.band_width(v["width"], v["allowance"])),
    ]


def _panel(v: Mapping[str, float]) -> list[Result]:
    return [_length("length_mm", "Cut length", seams.panel_length(v["finished"], v["top"], v["hem"]))]


def _gathers(v: Mapping[str, float]) -> list[Result]:
    ratio = fullness.gather_ratio(v["loose"], v["finished"])
    return [
        Result("ratio", "Ratio", ratio, f"{ratio:.2f} to 1"),
        _length("quarter_loose_mm", "Quarter marks on the loose edge every", v["loose"] / 4),
        _length("quarter_finished_mm", "and on the joined edge every", v["finished"] / 4),
    ]


def _elastic(v: Mapping[str, float]) -> list[Result]:
    return [_length("length_mm", "Cut the elastic", fullness.elastic_length(v["body"], v["share"], v["join"]))]


def _buttonhole(v: Mapping[str, float]) -> list[Result]:
    return [_length("length_mm", "Buttonhole", buttons.buttonhole_length(v["diameter"], v["thickness"]))]


def _buttons(v: Mapping[str, float]) -> list[Result]:
    plan = buttons.button_plan(v["top"], v["bottom"], round(v["count"]), round(v["per_card"]))
    return [
        _length("spacing_mm", "From one to the next", plan.spacing_mm),
        Result("cards", "Cards to buy", plan.cards, f"{plan.cards}, with {plan.spare} to spare"),
    ]


def _buy(v: Mapping[str, float]) -> list[Result]:
    buy = length_to_buy(v["lay"], v["shrinkage"], v["straighten"], "10 cm")
    yards = length_to_buy(v["lay"], v["shrinkage"], v["straighten"], "1/8 yd")
    return [
        Result("buy_mm", "Buy, in steps of 10 cm", buy.mm, buy.text),
        Result("buy_yards_mm", "Buy, in eighths of a yard", yards.mm, yards.text),
    ]


CALCULATORS: dict[str, Calculator] = {
    c.name: c
    for c in (
        Calculator(
            "double-hem",
            "Hem turned twice",
            "Folded to a chalk line, both folds come out even without measuring twice.",
            (
                Input("first_fold", "First fold", "length", "1/4 in"),
                Input("second_fold", "Second fold", "length", "1 in"),
            ),
            _double_hem,
        ),
        Calculator(
            "single-hem",
            "Hem turned once",
            "The raw edge meets a line at twice the fold.",
            (Input("fold", "Fold", "length", "1 1/2 in"),),
            _single_hem,
        ),
        Calculator(
            "french-seam",
            "French seam",
            "The two passes together take the seam allowance.",
            (
                Input("allowance", "Seam allowance", "length", "5/8 in"),
                Input("first_pass", "First pass, wrong sides together", "length", "1/4 in"),
            ),
            _french,
        ),
        Calculator(
            "waistband",
            "Waistband",
            "Waist, overlap and an allowance at each end.",
            (
                Input("waist", "Waist", "length", "72 cm"),
                Input("overlap", "Overlap", "length", "3 cm"),
                Input("width", "Finished width", "length", "4 cm"),
                Input("allowance", "Seam allowance", "length", "1.5 cm"),
            ),
            _waistband,
        ),
        Calculator(
            "panel",
            "Straight panel or apron",
            "Finished length, top allowance, hem.",
            (
                Input("finished", "Finished length", "length", "60 cm"),
                Input("top", "Top allowance", "length", "1.5 cm"),
                Input("hem", "Hem", "length", "5 cm"),
            ),
            _panel,
        ),
        Calculator(
            "gathers",
            "Gathers",
            "Quarter both edges first, then draw the threads up.",
            (Input("loose", "Loose edge", "length", "180 cm"), Input("finished", "Edge it joins", "length", "90 cm")),
            _gathers,
        ),
        Calculator(
            "elastic",
            "Elastic in a casing",
            "A little shorter than the body, so that it holds.",
            (
                Input("body", "Body", "length", "80 cm"),
                Input("share", "Share of the body", "percent", "90"),
                Input("join", "Join", "length", "2.5 cm"),
            ),
            _elastic,
        ),
        Calculator(
            "buttonhole",
            "Buttonhole",
            "Long enough for the button and its thickness.",
            (
                Input("diameter", "Button's diameter", "length", "15 mm"),
                Input("thickness", "Thickness", "length", "3 mm"),
            ),
            _buttonhole,
        ),
        Calculator(
            "buttons",
            "Spacing buttons",
            "Even between the ends; whole cards, since shops sell no single ones.",
            (
                Input("top", "First, below the top edge", "length", "1.5 cm"),
                Input("bottom", "Last, below the top edge", "length", "61.5 cm"),
                Input("count", "How many", "number", "7"),
                Input("per_card", "On a card", "number", "3"),
            ),
            _buttons,
        ),
        Calculator(
            "buy",
            "Length to buy",
            "What the lay takes, what straightening and washing lose, up to the shop's step.",
            (
                Input("lay", "Lay", "length", "2.15 m"),
                Input("straighten", "Loss in straightening", "length", "5 cm"),
                Input("shrinkage", "Shrinkage along", "percent", "3"),
            ),
            _buy,
        ),
    )
}


def read_inputs(calculator: Calculator, typed: Mapping[str, object], unit: Unit | None = None) -> dict[str, float]:
    """Read a calculator's inputs; per cents become shares.

    Raises:
        ReckonError: the first input that is missing or unreadable, named in `field`.
    """
    values: dict[str, float] = {}
    for wanted in calculator.inputs:
        raw = typed.get(wanted.key)
        if raw is None or raw == "":
            raise ReckonError(f"{wanted.label}: a figure is needed, such as {wanted.example}.", wanted.key)
        values[wanted.key] = _read(wanted, raw, unit)
    return values


def _read(wanted: Input, raw: object, unit: Unit | None) -> float:
    if wanted.kind == "length":
        try:
            return parse_length(raw if isinstance(raw, (int, float)) else str(raw), unit).mm
        except LengthError as error:
            raise ReckonError(f"{wanted.label}: {error.text}", wanted.key) from error
    try:
        number = float(str(raw).replace(",", ".").rstrip(" %"))
    except ValueError as error:
        raise ReckonError(f"{wanted.label}: “{raw}” is not a number.", wanted.key) from error
    if not 0 <= number <= 1000:
        raise ReckonError(f"{wanted.label}: {number:g} is out of reach.", wanted.key)
    return number / 100 if wanted.kind == "percent" else number


def reckon(name: str, typed: Mapping[str, object], unit: Unit | None = None) -> list[Result]:
    """Work out a calculator by name.

    Raises:
        ReckonError: no such calculator, or figures it cannot work with.
    """
    if name not in CALCULATORS:
        raise ReckonError(f"There is no calculator called {name}.", "name")
    calculator = CALCULATORS[name]
    values = read_inputs(calculator, typed, unit)
    try:
        return calculator.work(values)
    except ZeroDivisionError as error:
        raise ReckonError("A figure must not be 0 here.", calculator.inputs[-1].key) from error
