"""Finding a cloth in the stash by what is needed of it: "at least 1.6 m, 140 wide, opaque, slides"."""

import re
from dataclasses import dataclass, field

from rowanseed.core.cloth.model import CLOTH_KINDS, WEIGHTS, Cloth
from rowanseed.core.errors import LengthError, ReckonError
from rowanseed.core.lengths import Unit, both, parse_length

# What a word asks of a cloth: the fact, and how it has to stand.
_WORDS: dict[str, tuple[str, object]] = {
    "opaque": ("opaque", True),
    "sheer": ("opaque", False),
    "slides": ("slippery", True),
    "slippery": ("slippery", True),
    "knit": ("knit", True),
    "woven": ("knit", False),
    "piled": ("piled", True),
    "prepared": ("prepared", True),
    "firm": ("ravels", False),
    "plain": ("print", "plain"),
    **{weight: ("weight", weight) for weight in WEIGHTS},
    **{kind: ("kind", kind) for kind in CLOTH_KINDS},
}
_SAYS = {
    ("opaque", True): "is not opaque",
    ("opaque", False): "is opaque",
    ("slippery", True): "does not slide",
    ("knit", True): "is no knit",
    ("knit", False): "is a knit",
    ("piled", True): "has no pile",
    ("prepared", True): "is not prepared yet",
    ("ravels", False): "ravels",
    ("print", "plain"): "is printed",
}


@dataclass(frozen=True)
class Wish:
    """What is needed of a cloth. `words`: facts as `_WORDS` names them; `fibres`: words the fibre must have."""

    length_mm: float = 0.0
    width_mm: float = 0.0
    words: tuple[str, ...] = ()
    fibres: tuple[str, ...] = ()
    free: bool = False

    def said(self, unit: Unit) -> str:
        """What was understood of it, in the unit that is used."""
        parts = [f"at least {both(self.length_mm, unit)} long"] if self.length_mm else []
        parts += [f"at least {both(self.width_mm, unit)} wide"] if self.width_mm else []
        parts += [
            *self.words,
            *(f"of {fibre}" for fibre in self.fibres),
            *(["kept for nothing else"] if self.free else []),
        ]
        return ", ".join(parts)


@dataclass(frozen=True)
class Suits:
    """How a cloth answers a wish: what it lacks, nothing when it suits."""

    lacks: tuple[str, ...] = field(default_factory=tuple)


def read_wish(text: str, unit: Unit, fibres: tuple[str, ...] = ()) -> Wish:
    """Read a wish written as a sewist would say it, its parts between commas.

    Args:
        fibres: words that the stash's fibres are named with.
    Raises:
        ReckonError: a part that is neither a length, a width nor a word that is known.

    A comma between two figures is a decimal one: `1,5 m` is a metre and a half.

    >>> read_wish("at least 1,5 m, 140 wide", "cm").length_mm
    1500.0
    >>> read_wish("at least 1.6 m, 140 wide, opaque, slides", "cm")
    Wish(length_mm=1600.0, width_mm=1400.0, words=('opaque', 'slides'), fibres=(), free=False)
    """
    length = width = 0.0
    words: list[str] = []
    asked: list[str] = []
    free = False
    known = {word for name in fibres for word in name.lower().split()}
    for part in (p.strip().lower() for p in re.split(r"(?<!\d),|,(?!\d)|;", text)):
        bare = part.removeprefix("at least ").removesuffix(" long").strip()
        if not bare:
            continue
        if bare in _WORDS:
            words.append(bare)
        elif bare == "free":
            free = True
        elif bare in known:
            asked.append(bare)
        else:
            try:
                if bare.endswith(" wide"):
                    width = parse_length(bare.removesuffix(" wide"), unit).mm
                else:
                    length = parse_length(bare).mm if not bare.isdigit() else parse_length(bare, unit).mm
            except LengthError as error:
                some = ", ".join(sorted(_WORDS))
                raise ReckonError(
                    f"“{part}” is not understood. Write a length, a width such as 140 wide, or one of: {some}, free.",
                    "wish",
                ) from error
    return Wish(length, width, tuple(words), tuple(asked), free)


def suits(cloth: Cloth, wish: Wish, reserved: str, unit: Unit) -> Suits:
    """What a cloth lacks of a wish; `reserved`: the makes that it is kept for, in words."""
    lacks = []
    longest = max((p.mm for p in cloth.lengths), default=0.0)
    if wish.length_mm > longest + 0.5 and cloth.length is not None:
        lacks.append(f"{both(wish.length_mm - longest, unit)} too short")
    if wish.width_mm > cloth.width.mm + 0.5:
        lacks.append(f"{both(wish.width_mm - cloth.width.mm, unit)} too narrow")
    for word in wish.words:
        fact, value = _WORDS[word]
        has = cloth.print.kind if fact == "print" else getattr(cloth, fact)
        if has != value:
            lacks.append(_SAYS.get((fact, value), f"is not {word}"))
    lacks += [f"is not of {name}" for name in wish.fibres if name not in cloth.fibre.lower()]
    if wish.free and reserved:
        lacks.append(f"is kept for {reserved}")
    return Suits(tuple(lacks))
