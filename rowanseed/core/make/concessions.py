"""The concessions people make when cloth is short, in the order of least harm, and one of them as an object.

Source of the list and its order: common practice, no published source.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from rowanseed.core.lengths import both

ConcessionKind = Literal[
    "seam", "crosswise", "elsewhere", "face-hem", "shallow-hem", "join", "sleeve-seam", "shorten", "view"
]
CONCESSION_KINDS: tuple[ConcessionKind, ...] = get_args(ConcessionKind)
FACED_ALLOWANCE_MM = 10.0  # what a faced hem keeps for its seam
HEM_KINDS: frozenset[ConcessionKind] = frozenset({"face-hem", "shallow-hem", "shorten"})


@dataclass(frozen=True)
class KindWords:
    """How a kind of concession is called, what it costs the garment, and how much harm it does: 1 is least."""

    title: str
    cost: str
    harm: int


KINDS: dict[ConcessionKind, KindWords] = {
    "seam": KindWords(
        "A seam in place of the fold",
        "One more seam to sew and press, down the middle; its allowance is added to both halves.",
        2,
    ),
    "crosswise": KindWords(
        "Cut on the crosswise grain",
        "Woven cloth gives a little more that way; sheen and fine ribs show the other way round.",
        3,
    ),
    "elsewhere": KindWords(
        "Cut from another cloth", "Another cloth must be found: an offcut will do, of like weight and care.", 3
    ),
    "shallow-hem": KindWords("A shallower hem", "The hem hangs lighter, and leaves less to let down.", 4),
    "face-hem": KindWords(
        "The hem faced, not turned", "A strip of another cloth is sewn on and turned inside: one more seam.", 5
    ),
    "join": KindWords(
        "A join in a facing or band",
        "One short seam more, where it does not show; press it open, it adds some bulk.",
        5,
    ),
    "sleeve-seam": KindWords("A seam down the sleeve", "A seam along the back of each sleeve; it shows.", 7),
    "shorten": KindWords("Shorter", "The finished garment is shorter than planned.", 9),
    "view": KindWords("A narrower view", "Another garment than the one planned.", 12),
}


FEATURES: dict[ConcessionKind, tuple[str, str]] = {
    "seam": ("centre-seam", "sewn"),
    "join": ("joins", "sewn"),
    "sleeve-seam": ("joins", "sewn"),
    "face-hem": ("hem", "faced"),
}


# The sewing step that a concession changes, where the sewist must be told of it.
STEP_OF: dict[ConcessionKind, str] = {
    "seam": "sew-centre-seam",
    "crosswise": "mark-pieces",
    "elsewhere": "mark-pieces",
    "shallow-hem": "press-hem",
    "face-hem": "sew-hem-facing",
    "join": "join-parts",
    "sleeve-seam": "join-parts",
    "shorten": "try-length",
}


@dataclass(frozen=True)
class Concession:
    """One thing given up: its kind, the pieces it touches by number, by how much (mm, at hems), or which view instead.

    `harm`: how much harm it does, beside its kind's own where a place shows more.
    """

    kind: ConcessionKind
    pieces: tuple[str, ...] = ()
    by_mm: float = 0.0
    view: str = ""
    extra_harm: int = 0

    @property
    def harm(self) -> int:
        """How much harm it does; sets are compared by the sum."""
        return KINDS[self.kind].harm + self.extra_harm


def harm_of(concessions: tuple[Concession, ...]) -> int:
    """The harm of several together."""
    return sum(c.harm for c in concessions)


def describe_concession(concession: Concession, names: Mapping[str, str]) -> str:
    """A concession in words; `names`: piece numbers to names."""
    if concession.kind == "view":
        return f"{KINDS['view'].title}: {concession.view}"
    which = ", ".join(f"{number} {names.get(number, '')}".strip() for number in concession.pieces)
    much = f", {both(concession.by_mm)} less length" if concession.by_mm else ""
    return f"{KINDS[concession.kind].title}{much}: {which}"


def conceded_features(concessions: Iterable[Concession]) -> dict[str, str]:
    """The features a garment has because of what was conceded: the sewing steps follow from them."""
    return dict(FEATURES[c.kind] for c in concessions if c.kind in FEATURES)
