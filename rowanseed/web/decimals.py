"""Numbers as this household writes them: a page's decimal points become commas where one reads or types them, nowhere else.

Lengths, shares and money are written with a point by all that works them out, so that pictures, addresses, hidden fields and data
stay what they are; what is typed is read with either sign.
"""

import re

PARTS = re.compile(r"<!--.*?-->|<(?P<tag>/?[a-zA-Z]+)[^>]*>|[^<]+", re.S)
NUMBER = re.compile(r"(?<![\w.:/])(\d+)\.(\d+)(?![\w:/]|\.\d)")
READ_ALOUD = re.compile(r'((?:aria-label|aria-valuetext|alt|title|placeholder)=")([^"]*)(")')
TYPED = re.compile(r'(\bvalue=")([^"]*)(")')
AS_IT_IS = ("pre", "code", "script", "style")  # what is inside is data
FIELD_TYPES = re.compile(r'type="(?!text|search)')


def with_commas(page: str) -> str:
    """A page of HTML with commas in the numbers that are shown, read aloud or stand in a field to be typed over.

    >>> with_commas('<b title="1.5 cm">9.7 cm</b> <input value="2.5 in"><input type="hidden" value="2.5"> v1.2.3')
    '<b title="1,5 cm">9,7 cm</b> <input value="2,5 in"><input type="hidden" value="2.5"> v1.2.3'
    """
    out, inside = [], ""
    for part in PARTS.finditer(page):
        text, tag = part[0], (part["tag"] or "").lower()
        if inside:
            inside = "" if tag == f"/{inside}" else inside
        elif tag in AS_IT_IS:
            inside = tag
        elif not tag:
            text = text if text.startswith("<!--") else _commas(text)
        else:
            text = READ_ALOUD.sub(_in_attribute, text)
            if tag == "input" and not FIELD_TYPES.search(text):
                text = TYPED.sub(_in_attribute, text)
        out.append(text)
    return "".join(out)


def _in_attribute(found: re.Match[str]) -> str:
    return f"{found[1]}{_commas(found[2])}{found[3]}"


def _commas(text: str) -> str:
    return NUMBER.sub(r"\1,\2", text)
