"""The figures that are typed once, with a pattern or in a make: buttons, hem folds, overlap, zip, elastic; and what an envelope's
notions say in words."""

import re
from dataclasses import dataclass, fields, replace

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import Length, parse_length


@dataclass(frozen=True)
class Figures:
    """Figures of one garment; None where nothing was typed.

    `buttons`: of the whole garment, cuffs and plackets too. `button`: across, `button_thick` its thickness. `hem_first`: a hem's
    first fold, `hem_second` its second, or the only one. `overlap`: of a waistband. `elastic`: its width.
    """

    buttons: int | None = None
    button: Length | None = None
    button_thick: Length | None = None
    hem_first: Length | None = None
    hem_second: Length | None = None
    overlap: Length | None = None
    zip: Length | None = None
    elastic: Length | None = None

    def over(self, under: "Figures") -> "Figures":
        """These figures, and where they say nothing those of another."""
        own = {f.name: getattr(self, f.name) for f in fields(self) if getattr(self, f.name) is not None}
        return replace(under, **own)


def understood(text: str) -> str:
    """What an envelope's notions were understood as, in words; empty where no figure is read in them.

    >>> understood("7 buttons of 15 mm, thread, a zip of 22 cm")
    'Understood: 7 buttons, 15 mm across, zip 22 cm.'
    """
    read = read_notions(text)
    parts = [f"{read.buttons} button{'s' if read.buttons != 1 else ''}"] if read.buttons is not None else []
    parts += [f"{read.button.text} across"] if read.button else []
    parts += [f"zip {read.zip.text}"] if read.zip else []
    parts += [f"elastic {read.elastic.text} wide"] if read.elastic else []
    return f"Understood: {', '.join(parts)}." if parts else ""


_LENGTH = r"(\d+(?:[.,]\d+)?(?:\s+\d+/\d+)?|\d+/\d+)\s*(mm|cm|in|inch|inches|\")"
_NUMBERS = {
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "seven": 7,
    "eight": 8,
    "nine": 9,
    "ten": 10,
}


def read_notions(text: str) -> Figures:
    """Read what an envelope's notions say: how many buttons of which size, how long a zip, how wide an elastic.

    >>> read_notions("7 buttons of 15 mm, thread, a zip of 22 cm").buttons
    7
    """
    words = text.lower()
    found = Figures()
    count = re.search(r"\b(\d{1,3}|" + "|".join(_NUMBERS) + r")\s+(?:[a-z-]+\s+)?buttons?\b", words)
    if count:
        found = replace(found, buttons=_NUMBERS.get(count[1]) or int(count[1]))
    for part in re.split(r"[,;\n]", words):
        length = re.search(_LENGTH, part)
        if length is None:
            continue
        try:
            read = parse_length(f"{length[1]} {length[2]}")
        except LengthError:
            continue
        if "button" in part:
            found = replace(found, button=read)
        elif "zip" in part:
            found = replace(found, zip=read)
        elif "elastic" in part and "thread" not in part:
            found = replace(found, elastic=read)
    return found
