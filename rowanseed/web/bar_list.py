"""A print as it is typed: its bars read from a form's rows."""

from collections.abc import Sequence

from starlette.datastructures import FormData

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import Unit, parse_length
from rowanseed.core.prints import PRINT_KINDS, Bar, Print, mirror_axis
from rowanseed.web.forms import Form

MOST_BARS = 40
WAYS = ("across", "along")


def rows_of(cloth: Cloth) -> list[dict[str, str]]:
    """A cloth's bars as the form's rows."""
    return [
        {"way": way, "at": f"{bar.at_mm:g} mm", "width": f"{bar.width_mm:g} mm", "colour": bar.colour}
        for way, bars in (("across", cloth.bars_across), ("along", cloth.bars_along))
        for bar in bars
    ]


def typed_rows(data: FormData) -> list[dict[str, str]]:
    """The rows of a submitted form, as they were typed."""
    fields = [[str(v) for v in data.getlist(f"bar_{name}")] for name in ("way", "at", "width", "colour")]
    return [dict(zip(("way", "at", "width", "colour"), row, strict=True)) for row in zip(*fields, strict=False)]


def read_bars(
    rows: Sequence[dict[str, str]], form: Form, along_mm: float, across_mm: float
) -> dict[str, tuple[Bar, ...]]:
    """The bars of the rows by their way; a row that cannot be read sets the form's error `bars`."""
    found: dict[str, list[Bar]] = {way: [] for way in WAYS}
    for number, row in enumerate(rows, start=1):
        if not row["at"].strip() and not row["width"].strip():
            continue
        way = row["way"] if row["way"] in WAYS else "across"
        repeat = across_mm if way == "across" else along_mm
        bar = _bar(row, form.unit)
        if bar is None:
            form.errors["bars"] = f"Bar {number}: write where it begins and how wide it is, such as 2 cm and 5 mm."
        elif not repeat:
            form.errors["bars"] = f"Bar {number}: give the repeat {way} first; bars are counted within it."
        elif bar.at_mm >= repeat or bar.width_mm > repeat or bar.width_mm <= 0:
            form.errors["bars"] = f"Bar {number} does not lie within one repeat {way}."
        else:
            found[way].append(bar)
    if sum(map(len, found.values())) > MOST_BARS:
        form.errors["bars"] = f"At most {MOST_BARS} bars."
    return {way: tuple(bars) for way, bars in found.items()}


def _bar(row: dict[str, str], unit: Unit) -> Bar | None:
    colour = row["colour"].strip()
    try:
        at, width = (parse_length(row[k].strip() or "0", unit).mm for k in ("at", "width"))
    except LengthError:
        return None
    sound = len(colour) == 7 and colour[0] == "#" and all(c in "0123456789abcdefABCDEF" for c in colour[1:])
    return Bar(at, width, colour if sound else "#6E7F63")


def read_print(form: Form, bars: dict[str, tuple[Bar, ...]]) -> Print:
    """The print a form describes. Where bars are given, they say whether it is even, and about which of them it mirrors itself."""
    along, across = form.length("repeat_along", most_mm=5000), form.length("repeat_across", most_mm=5000)
    off_along, off_across = form.length("offset_along", most_mm=10_000), form.length("offset_across", most_mm=5000)
    along_mm, across_mm = (length.mm if length else 0.0 for length in (along, across))
    axis, lengthwise, even = 0.0, 0.0, not form.flag("uneven")
    if bars["across"] or bars["along"]:
        mirror, other = mirror_axis(bars["across"], across_mm), mirror_axis(bars["along"], along_mm)
        even = mirror is not None and other is not None
        axis, lengthwise = mirror or 0.0, other or 0.0
    return Print(
        form.choice("print_kind", PRINT_KINDS),
        even,
        along_mm,
        across_mm,
        off_along.mm if off_along else 0.0,
        off_across.mm if off_across else 0.0,
        form.flag("half_drop"),
        axis,
        lengthwise,
    )
