"""Tables as CSV (RFC 4180) whose cells no spreadsheet takes for a formula."""

import csv
import io
from collections.abc import Iterable, Sequence

STARTS = ("=", "+", "-", "@", "\t", "\r")


def harmless(cell: object) -> object:
    """A cell as it may be opened in a spreadsheet: text that would begin a formula has an apostrophe before it; numbers stay.

    >>> harmless("=HYPERLINK(1)"), harmless("- 2 cm"), harmless(-2.5), harmless("linen")
    ("'=HYPERLINK(1)", "'- 2 cm", -2.5, 'linen')
    """
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(STARTS) else cell


def as_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A table with its head."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([harmless(cell) for cell in head])
    writer.writerows([harmless(cell) for cell in row] for row in rows)
    return out.getvalue()
