"""What a cloth's name tells of it: a pile or a sheen that lies one way, a knit, its fibre; taken until somebody says otherwise.

Which cloths lie one way and which are knitted is common practice, no source.
"""

import re
from dataclasses import dataclass

from rowanseed.core.cloth.fibres import parts_of

PILES = (
    "corduroy", "needlecord", "babycord", "velvet", "velveteen", "velour", "moleskin", "plush", "fleece", "sherpa", "fur",
)  # fmt: skip
SHEENS = ("satin", "sateen", "charmeuse")
KNITS = ("jersey", "knit", "knitted", "interlock", "sweatshirting", "ponte", "ribbing", "velour", "fleece")


@dataclass(frozen=True)
class Named:
    """What a name tells: the word of a pile or sheen that lies one way, of a knit, the fibres; empty where it tells nothing."""

    pile: str = ""
    sheen: str = ""
    knit: str = ""
    fibre: str = ""

    @property
    def one_way(self) -> bool:
        """Whether pieces are never turned head to tail on it."""
        return bool(self.pile or self.sheen)

    @property
    def fur(self) -> bool:
        """Whether its hairs hang."""
        return self.pile == "fur"

    def said(self) -> str:
        """What is taken from the name, as a sentence; empty for nothing.

        >>> told_by_name("Cotton corduroy").said()
        'Taken from its name: corduroy lies one way; cotton. Under “More” you may say otherwise.'
        """
        found = [f"{self.pile or self.sheen} lies one way"] if self.one_way else []
        found += [f"{self.knit} is a knit"] if self.knit else []
        found += [self.fibre] if self.fibre else []
        return f"Taken from its name: {'; '.join(found)}. Under “More” you may say otherwise." if found else ""


def told_by_name(name: str) -> Named:
    """Read what a cloth's name tells of it.

    >>> told_by_name("Rust velvet").one_way, told_by_name("Oat canvas").one_way
    (True, False)
    """
    words = name.lower()
    fibres = [part.fibre.name for part in parts_of(name) if part.fibre.name in words]  # corduroy need not be cotton
    return Named(_first(PILES, words), _first(SHEENS, words), _first(KNITS, words), " and ".join(fibres))


def _first(known: tuple[str, ...], words: str) -> str:
    return next((word for word in known if re.search(rf"\b{word}s?\b", words)), "")
