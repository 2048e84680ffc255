"""The calculators by name, with their inputs read and worked out."""

from collections.abc import Mapping

from rowanseed.core.errors import LengthError, ReckonError
from rowanseed.core.lengths import Unit, parse_length
from rowanseed.core.reckon import sums_cloth, sums_fastenings, sums_fullness, sums_hems, sums_linings
from rowanseed.core.reckon.model import Calculator, Figure, Input, Result

CALCULATORS: dict[str, Calculator] = {
    c.name: c
    for family in (sums_hems, sums_fullness, sums_fastenings, sums_linings, sums_cloth)
    for c in family.CALCULATORS
}


def figure_of(calculator: Calculator, typed: Mapping[str, object], unit: Unit | None = None) -> Figure:
    """What is drawn of a sum. Raises ReckonError as `reckon` does."""
    values = read_inputs(calculator, typed, unit)
    return calculator.figure(values, {r.key: r.value for r in reckon(calculator.name, typed, unit)})


def read_inputs(calculator: Calculator, typed: Mapping[str, object], unit: Unit | None = None) -> dict[str, float]:
    """Read a calculator's inputs; per cents become shares.

    Raises:
        ReckonError: the first input that is missing or unreadable, named in `field`.
    """
    values: dict[str, float] = {}
    for wanted in calculator.inputs:
        raw = typed.get(wanted.key)
        if (raw is None or raw == "") and wanted.default:
            raw = wanted.default
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
    except ReckonError as error:
        if error.field:
            raise
        raise ReckonError(error.text, calculator.inputs[0].key) from error
