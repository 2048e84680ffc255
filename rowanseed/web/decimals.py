"""Numbers as this household writes them: decimal commas where one reads or types them, inches first where it measures in inches.

Lengths, shares and money are written with a point by all that works them out, so that pictures, addresses, hidden fields and data
stay what they are; what is typed is read with either sign.
"""

import re
from collections.abc import Callable

PARTS = re.compile(r"<!--.*?-->|<(?P<tag>/?[a-zA-Z]+)[^>]*>|[^<]+", re.S)
NUMBER = re.compile(r"(?<![\w.:/])(\d+)\.(\d+)(?![\w:/]|\.\d)")
METRIC_FIRST = re.compile(r"(?<![\w./])(\d+(?:\.\d+)? (?:cm|m|mm)) \(((?:\d+ )?(?:\d+/)?\d+ (?:in|yd))\)")
READ_ALOUD = re.compile(r'((?:aria-label|aria-valuetext|alt|title|placeholder)=")([^"]*)(")')
TYPED = re.compile(r'(\bvalue=")([^"]*)(")')
AS_IT_IS = ("pre", "code", "script", "style")  # what is inside is data
FIELD_TYPES = re.compile(r'type="(?!text|search)')


def with_commas(page: str) -> str:
    """A page of HTML with commas in the numbers that are shown, read aloud or stand in a field to be typed over.

    >>> with_commas('<b title="1.5 cm">9.7 cm</b> <input value="2.5 in"><input type="hidden" value="2.5"> v1.2.3')
    '<b title="1,5 cm">9,7 cm</b> <input value="2,5 in"><input type="hidden" value="2.5"> v1.2.3'
    """
    return _as_read(page, _commas, typed=True)


def with_inches_first(page: str) -> str:
    """A page of HTML for a household that measures in inches: where both are told, inches stand first.

    >>> with_inches_first('<b title="2 cm (3/4 in)">takes 96.6 cm (38 in)</b> <input value="2 cm (3/4 in)"> 4 cm')
    '<b title="3/4 in (2 cm)">takes 38 in (96.6 cm)</b> <input value="2 cm (3/4 in)"> 4 cm'
    """
    return _as_read(page, lambda text: METRIC_FIRST.sub(r"\2 (\1)", text), typed=False)


def _as_read(page: str, change: Callable[[str], str], typed: bool) -> str:
    """A page with what is shown and read aloud changed; what stands in a field only where `typed` says so."""
    out, inside = [], ""
    kept = AS_IT_IS if typed else (*AS_IT_IS, "textarea")
    for part in PARTS.finditer(page):
        text, tag = part[0], (part["tag"] or "").lower()
        if inside:
            inside = "" if tag == f"/{inside}" else inside
        elif tag in kept:
            inside = tag
        elif not tag:
            text = text if text.startswith("<!--") else change(text)
        else:
            text = READ_ALOUD.sub(lambda found: f"{found[1]}{change(found[2])}{found[3]}", text)
            if typed and tag == "input" and not FIELD_TYPES.search(text):
                text = TYPED.sub(lambda found: f"{found[1]}{change(found[2])}{found[3]}", text)
        out.append(text)
    return "".join(out)


def _commas(text: str) -> str:
    return NUMBER.sub(r"\1,\2", text)
