"""Lengths as they are printed on pattern sheets, in any writing: "10 cm (3.94 in)", "1 1/2 inches", "5,08 Zentimeter", "2½″"."""

import re
from fractions import Fraction

UNITS_MM = (
    (r"mm\b|millim\w*", 1.0),
    (r"cm\b|centim\w*|zentim\w*", 10.0),
    (r"in\b|inch\w*|zoll\b|pouces?\b|pulgadas?\b|duim\b|\"|”|″|''", 25.4),
)
VULGAR = {"¼": "1/4", "½": "1/2", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
_UNIT = "|".join(words for words, _ in UNITS_MM)
_LENGTH = re.compile(rf"(\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)\s*-?\s*({_UNIT})", re.I)


def printed_lengths(text: str) -> list[float]:
    """Return every length that a text gives with its unit, mm.

    >>> printed_lengths('test square 2" (5.08 cm)'), printed_lengths("1 1/2 in"), printed_lengths("2½ inches")
    ([50.8, 50.8], [38.1], [63.5])
    """
    for sign, words in VULGAR.items():
        text = text.replace(sign, f" {words}")
    found = []
    for number, unit in _LENGTH.findall(text):
        whole = sum(Fraction(part.replace(",", ".")) for part in number.split())
        mm = next(mm for words, mm in UNITS_MM if re.match(words, unit, re.I))
        found.append(round(float(whole) * mm, 6))
    return found
