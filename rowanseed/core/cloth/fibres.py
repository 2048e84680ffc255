"""Fibres and constructions: how each is washed, shrinks, is straightened and pressed; blends by their most delicate part.

Iron heat by the care symbols of ISO 3758:2012 (one dot 110 °C, two 150 °C, three 200 °C; from memory); the rest is common practice
without a published source.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

Washing = Literal["dry-clean", "hand", "cool", "warm", "hot"]
WASHING: tuple[Washing, ...] = ("dry-clean", "hand", "cool", "warm", "hot")  # the most delicate first
Heat = Literal["low", "medium", "high"]
HEATS: tuple[Heat, ...] = ("low", "medium", "high")
SOLE_C: dict[Heat, int] = {"low": 110, "medium": 150, "high": 200}
LITTLE = 0.10  # a share of elastane or the like under this sets the heat, but not how the cloth is washed or shrinks


@dataclass(frozen=True)
class Fibre:
    """A fibre: the words it goes by, how its cloth is washed and shrinks, whether it tears true, how hot it is pressed."""

    name: str
    words: tuple[str, ...]
    washing: Washing
    shrinks: str
    tears: bool
    heat: Heat
    pressing: str


FIBRES: tuple[Fibre, ...] = (
    Fibre("acetate", ("acetate", "triacetate"), "hand", "its finish goes once", False, "low",
          "from the wrong side, no steam spots"),
    Fibre("silk", ("silk", "tussah", "habotai"), "hand", "a little", False, "low", "low to medium, from the wrong side, dry"),
    Fibre("wool", ("wool", "merino", "cashmere", "mohair", "alpaca", "angora", "tweed", "lambswool", "worsted"), "hand",
          "under heat, steam and rubbing", True, "medium", "with steam and a press cloth"),
    Fibre("elastane", ("elastane", "spandex"), "cool", "hardly", False, "low", "with little heat, or it goes limp"),
    Fibre("viscose", ("viscose", "rayon", "modal", "lyocell", "cupro", "bamboo"), "cool", "most along, and it is weak while wet",
          False, "medium", "from the wrong side"),
    Fibre("acrylic", ("acrylic", "modacrylic"), "cool", "hardly", False, "low", "with a cloth, never steam held on it"),
    Fibre("nylon", ("nylon", "polyamide"), "warm", "hardly, but its finish and loose colour come out", False, "low",
          "with a press cloth"),
    Fibre("polyester", (r"poly(?:ester|cotton)?\b", "microfibre", "microfiber", "fleece"), "warm",
          "hardly, but its finish and loose colour come out", False, "low", "with a press cloth and steam"),
    Fibre("linen", ("linen", "flax"), "hot", "and goes on shrinking: do it twice", False, "high", "damp, with steam"),
    Fibre("hemp", ("hemp", "ramie", "jute"), "hot", "and goes on shrinking: do it twice", False, "high", "damp, with steam"),
    Fibre("cotton", ("cotton", "polycotton", "denim", "chambray", "muslin", "calico", "poplin", "batiste", "corduroy", "drill"),
          "hot", "most in its first wash", True, "high", "with steam"),
    Fibre("leather", ("leather", "suede"), "dry-clean", "it is not washed", False, "low", "hardly: finger and roller"),
)  # fmt: skip
# What nobody has said: treated so that no fibre is harmed, and tried first (common practice, no source).
UNKNOWN = Fibre(
    "unknown", (), "cool", "nobody knows how much: wash a measured square first", False, "low",
    "with a press cloth; its fibre is not known, so try a scrap before every heat above this",
)  # fmt: skip
BY_NAME = {fibre.name: fibre for fibre in FIBRES}
# Words of a construction that say the fibre only where nothing else does.
CONSTRUCTIONS: dict[str, str] = {
    "flannel": "wool",
    "canvas": "cotton",
    "jersey": "cotton",
    "satin": "polyester",
    "velvet": "viscose",
    "tulle": "nylon",
    "netting": "nylon",
}
SHARES = {"half": 0.5, "quarter": 0.25, "third": 1 / 3}
# A share as it is written: 95 %, 95 percent, half.
SHARE = re.compile(r"(\d{1,3})(?:[.,]\d+)?\s*(?:%|percent\b|per cent\b|pct\b)|\b(half|quarter|third)\b")


@dataclass(frozen=True)
class Part:
    """A part of a blend and its share, 1 where no share is said."""

    fibre: Fibre
    share: float


def parts_of(text: str) -> tuple[Part, ...]:
    """Read the fibres that a cloth is named with, with their shares, written before or behind them; unknown where nothing is said.

    >>> [(p.fibre.name, p.share) for p in parts_of("95 % cotton, 5 % elastane")]
    [('cotton', 0.95), ('elastane', 0.05)]
    >>> parts_of("cotton flannel")[0].fibre.name, parts_of("bamboo jersey")[0].fibre.name
    ('cotton', 'viscose')
    """
    words = text.lower()
    at = {
        fibre.name: min(found)
        for fibre in FIBRES
        if (found := [m.start() for w in fibre.words for m in re.finditer(rf"\b{w}", words)])
    }
    if not at:
        constructions = [BY_NAME[name] for word, name in CONSTRUCTIONS.items() if word in words][:1]
        return tuple(Part(fibre, 1.0) for fibre in constructions) or (Part(UNKNOWN, 1.0),)
    said = _shares(words, at)
    return tuple(sorted((Part(BY_NAME[name], said.get(name, 1.0)) for name in at), key=lambda part: -part.share))


def understood(text: str) -> str:
    """What a cloth's fibres were understood as, and how hot the iron may be; asked again where none is known.

    >>> understood("95 % cotton, 5 % elastane")
    'Understood: 95 % cotton, 5 % elastane. Iron: low (about 110 °C), with little heat, or it goes limp; try a scrap.'
    """
    parts, care = parts_of(text), care_of(text)
    if parts[0].fibre is UNKNOWN:
        asked = "No fibre is known in this: write such as cotton, or 95 % linen 5 % elastane."
        return f"{asked} Until then the iron is {care.iron_words()}."
    said = ", ".join(p.fibre.name if p.share >= 1.0 else f"{round(100 * p.share)} % {p.fibre.name}" for p in parts)
    return f"Understood: {said}. Iron: {care.iron_words()}."


def _shares(words: str, at: Mapping[str, int]) -> dict[str, float]:
    """The share that belongs to each fibre: those before their fibres where the first of all is a share, else those behind them."""
    figures = [(m.start(), min(1.0, int(m[1]) / 100) if m[1] else SHARES[m[2]]) for m in SHARE.finditer(words)]
    if not figures:
        return {}
    before = figures[0][0] < min(at.values())
    shares: dict[str, float] = {}
    for place, share in figures:
        near = {name: where - place if before else place - where for name, where in at.items() if name not in shares}
        ahead = {name: off for name, off in near.items() if off > 0}
        if ahead:
            shares[min(ahead, key=lambda name: ahead[name])] = share
    return shares


@dataclass(frozen=True)
class Care:
    """How a cloth is treated: washing, by what it shrinks, whether its ends tear true, the iron; each by its most delicate part."""

    parts: tuple[Part, ...]
    washing: Washing
    shrinks: str
    tears: bool
    heat: Heat
    pressing: str

    @property
    def delicate(self) -> Fibre:
        """The part that decides the washing."""
        return min(self._weighty, key=lambda f: WASHING.index(f.washing))

    @property
    def _weighty(self) -> list[Fibre]:
        return [p.fibre for p in self.parts if p.share >= LITTLE] or [self.parts[0].fibre]

    def iron_words(self) -> str:
        """The iron for this cloth, in words."""
        return f"{self.heat} (about {SOLE_C[self.heat]} °C), {self.pressing}; try a scrap"


@lru_cache(maxsize=512)
def care_of(fibre: str, care: str = "") -> Care:
    """How a cloth of these fibres is treated; what its care label says of washing goes before the fibre.

    A little elastane does not make cotton a cloth that hardly shrinks; it does ask for less heat.
    """
    parts = parts_of(fibre)
    weighty = [p.fibre for p in parts if p.share >= LITTLE] or [parts[0].fibre]
    delicate = min(weighty, key=lambda f: WASHING.index(f.washing))
    coolest = min((p.fibre for p in parts), key=lambda f: HEATS.index(f.heat))
    washing: Washing = delicate.washing
    label = care.lower()
    if any(word in label for word in ("dry clean", "dry-clean", "no wash", "steam")):
        washing = "dry-clean"
    shrinker = next((f for f in weighty if not f.shrinks.startswith("hardly")), weighty[0])
    return Care(parts, washing, shrinker.shrinks, all(f.tears for f in weighty), coolest.heat, coolest.pressing)
