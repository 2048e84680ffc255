"""The lengths of cloth that an envelope prints, read as people type or paste them: a line each, or a table with widths on top.

`A; 12, 14; 115 cm; 2.10 m; with nap`, `A, 14-18, 45 in, 2 1/4 yd`, or rows of a table parted by tabs. What cannot be read is said.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import Length, Unit, both, parse_length
from rowanseed.core.pattern.model import Printed

ALL = frozenset({"all", "all sizes", "every size", "one size"})
NAP = re.compile(r"^(?P<no>without|no)?\s*(?:with)?\s*nap$|^with(?: or without)? nap$|^one[ -]way$")
UNIT_WORDS = re.compile(r"\b(yards?|yds?|metres?|meters?|inches|cm|mm|in|m)\b|[\"”]", re.I)
BETWEEN = re.compile(r"\s*(?:–|—|-|\bto\b)\s*")
HEAD_WORDS = frozenset(
    {"view", "views", "size", "sizes", "width", "widths", "fabric", "cloth", "fabric width", "cloth width"}
)
LEAST_WIDTH_MM, MOST_WIDTH_MM = 300.0, 3300.0
MOST_LENGTH_MM = 20_000.0


@dataclass
class PrintedText:
    """What was understood of the lines, and what was not: each a sentence for beside the field."""

    printed: list[Printed] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)

    def echo(self, unit: Unit) -> str:
        """What was understood, in words."""
        return "; ".join(
            f"view {p.view}, {_sizes_said(p.sizes)}, {both(p.width.mm, unit)} wide: {both(p.length.mm, unit)}"
            f"{', with nap' if p.one_way else ''}"
            for p in self.printed
        )


def _sizes_said(sizes: Sequence[str]) -> str:
    return f"size {sizes[0]}" if len(sizes) == 1 else f"sizes {', '.join(sizes)}"


@dataclass
class _Row:
    """What the parts of one line are."""

    views: list[str] = field(default_factory=list)
    sizes: list[str] = field(default_factory=list)
    lengths: list[Length] = field(default_factory=list)
    one_way: bool = False
    head: bool = False


def read_printed(text: str, views: Sequence[str], sizes: Sequence[str], unit: Unit) -> PrintedText:
    """Read the printed lengths of an envelope.

    Args:
        views: the pattern's views; a line without one is for all of them.
        sizes: the pattern's sizes, smallest first; ranges go by this order.
        unit: of figures without one.
    """
    read = PrintedText()
    widths: list[Length] = []
    last = _Row()
    for line in text.splitlines():
        parts = _parts(line)
        if not parts:
            continue
        try:
            row = _row(parts, views, sizes, unit)
        except _Unread as unread:
            read.problems.append(f"“{line.strip()[:60]}”: {unread}")
            continue
        if row.head or (not row.sizes and not row.views and row.lengths and all(_is_width(w) for w in row.lengths)):
            widths = row.lengths
            continue
        row.views = row.views or last.views or list(views)
        problem = _taken(read, row, widths)
        if problem:
            read.problems.append(f"“{line.strip()[:60]}”: {problem}")
        else:
            last = row
    return read


class _Unread(Exception):
    """What a part of a line should have been."""


def _parts(line: str) -> list[str]:
    """The parts of a line: between tabs, else semicolons, else commas that stand in no figure."""
    for sign in ("\t", ";", "|"):
        if sign in line:
            return [part.strip() for part in line.split(sign) if part.strip()]
    return [part.strip() for part in re.split(r",(?!\d)|(?<!\d),|,(?=\s)", line) if part.strip()]


def _row(parts: Sequence[str], views: Sequence[str], sizes: Sequence[str], unit: Unit) -> _Row:
    row = _Row()
    for part in parts:
        low = part.lower()
        if low in HEAD_WORDS:
            row.head = True
        elif NAP.match(low):
            row.one_way = not low.startswith(("without", "no")) and "or without" not in low
        elif (view := _views_in(part, views)) and not (row.views and _sizes_in(part, sizes)):
            row.views += view
        elif (found := _sizes_in(part, sizes)) is not None:
            row.sizes += [size for size in found if size not in row.sizes]
        else:
            row.lengths.append(_length(part, () if row.sizes else sizes, unit))
    return row


def _views_in(part: str, views: Sequence[str]) -> list[str]:
    """The views that a part names: `A`, `View A`, `A/B`, `A and B`; none where it names something else."""
    words = re.sub(r"^views?\s+", "", part.strip(), flags=re.I)
    by_name = {v.lower(): v for v in views}
    if words.lower() in by_name:
        return [by_name[words.lower()]]
    named = [w for w in re.split(r"\s*(?:/|&|\+|,|\band\b|\s)\s*", words) if w]
    return [by_name[w.lower()] for w in named] if named and all(w.lower() in by_name for w in named) else []


def _sizes_in(part: str, sizes: Sequence[str]) -> list[str] | None:
    """The sizes that a part names; None where it is something else.

    Raises:
        _Unread: it names a size that the pattern has not.
    """
    words = re.sub(r"^sizes?\s+", "", part.strip(), flags=re.I)
    said = words != part.strip()
    if words.lower() in ALL:
        return list(sizes)
    by_name = {s.lower(): s for s in sizes}
    found: list[str] = []
    for item in _listed(words, by_name):
        ends = [item] if item.lower() in by_name else BETWEEN.split(item)
        if not all(end.lower() in by_name for end in ends) or len(ends) > 2:
            if said or any(end.lower() in by_name for end in ends) or (found and _like_a_size(item)):
                missing = next((end for end in ends if end.lower() not in by_name), item)
                raise _Unread(f"the pattern has no size {missing}; it has {', '.join(sizes) or 'none yet'}.")
            return None
        at = [sizes.index(by_name[end.lower()]) for end in ends]
        found += [s for s in sizes[min(at) : max(at) + 1] if s not in found]
    return found or None


def _listed(words: str, by_name: dict[str, str]) -> list[str]:
    """The items of a list of sizes: by commas and slashes, and by blanks where that leaves sizes of the pattern."""
    items = [w.strip() for w in re.split(r"[,/&]|\band\b", words) if w.strip()]
    return [
        piece
        for item in items
        for piece in (
            item.split() if len(item.split()) > 1 and all(w.lower() in by_name for w in item.split()) else [item]
        )
    ]


def _like_a_size(item: str) -> bool:
    return bool(re.fullmatch(r"\d{1,3}|[2-6]?x{0,4}[sml]", item.lower()))


def _length(part: str, sizes: Sequence[str], unit: Unit) -> Length:
    if sizes and not UNIT_WORDS.search(part) and _like_a_size(part):
        raise _Unread(f"the pattern has no size {part}; it has {', '.join(sizes) or 'none yet'}.")
    try:
        read = parse_length(part, unit)
    except LengthError as error:
        raise _Unread(f"“{part[:30]}” is no view, no size and no length. {error.text}") from error
    return read if not part[-1].isdecimal() else Length(read.mm, f"{part} {unit}", unit)


def _is_width(length: Length) -> bool:
    return LEAST_WIDTH_MM <= length.mm <= MOST_WIDTH_MM


def _taken(read: PrintedText, row: _Row, widths: Sequence[Length]) -> str:
    """Take a row's lengths; what is wrong with it, or nothing."""
    if not row.sizes:
        return "for which sizes? Write them, such as 12, 14-18 or all."
    if not row.lengths:
        return "how wide is the cloth, and how long? Write view; sizes; width; length."
    if widths and len(row.lengths) == len(widths):
        pairs = list(zip(widths, row.lengths, strict=True))
    elif len(row.lengths) == 2:
        pairs = [(row.lengths[0], row.lengths[1])]
    else:
        return "a width and a length are needed, or as many lengths as the table has widths on top."
    for width, length in pairs:
        if not _is_width(width):
            return f"a cloth {both(width.mm, width.unit)} wide is not sold: is that its length, or another unit?"
        if not 0 < length.mm <= MOST_LENGTH_MM:
            return f"{both(length.mm, length.unit)} is more than a garment takes. Check the unit."
    read.printed += [
        Printed(view, tuple(row.sizes), width, length, row.one_way) for view in row.views for width, length in pairs
    ]
    return ""
