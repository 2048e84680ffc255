"""The eases a household goes by: one table, each figure with where it is from, and what the household has put in its place.

The usual figures are from memory of general handbooks (marked so in the trade notes) unless their source says otherwise; a
household's own stand before them. Millimetres, or parts of a hundred where `unit` says so.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from rowanseed.core.garment_kinds import GARMENT_KINDS, GarmentKind, Zone

Unit = Literal["mm", "%"]
HANDBOOKS = "from memory of general handbooks"
PRACTICE = "common practice, no published source"
KNITS = "from memory: a knit that stretches by a quarter needs half the ease, swimwear is a tenth smaller than the body"
SIZES = "from memory of EN 13402-3: a child's sizes rise by 6 cm of height and about 2 cm round the chest"
GROWTH = "from memory of published growth charts: the middle of girls and boys"
_WANTED: Mapping[GarmentKind, Mapping[Zone, float]] = {
    "top": {"bust": 100, "waist": 90, "hip": 70},
    "dress": {"bust": 90, "waist": 50, "hip": 70},
    "skirt": {"waist": 20, "hip": 60},
    "trousers": {"waist": 20, "hip": 70},
    "jacket": {"bust": 130, "waist": 110, "hip": 100},
    "coat": {"bust": 165, "waist": 150, "hip": 135},
}


@dataclass(frozen=True)
class EaseFigure:
    """One figure of the table: its key, in which group it stands, its words, what is usual, and the source of that."""

    key: str
    group: str
    words: str
    usual: float
    source: str
    unit: Unit = "mm"
    most: float = 600.0
    least: float = 0.0


@dataclass(frozen=True)
class Look:
    """A look by its bust ease: from (inclusive) to (exclusive), mm, woven cloth, dresses and tops."""

    name: str
    low_mm: float
    high_mm: float


LOOKS: tuple[Look, ...] = (  # from memory
    Look("close", 0, 75),
    Look("fitted", 75, 100),
    Look("semi-fitted", 100, 130),
    Look("loose", 130, 200),
    Look("very loose", 200, 2000),
)
GROUPS: Mapping[str, str] = {
    "wanted": "Ease to look for, by garment",
    "least": "Least to move and breathe in",
    "at": "Where body and pieces are compared besides",
    "over": "Over other clothes",
    "takes": "What a cloth's own body takes up",
    "stretch": "Knits",
    "growth": "A child's growth",
}


def _figures() -> Iterator[EaseFigure]:
    for garment in GARMENT_KINDS:
        for zone, mm in _WANTED[garment].items():
            yield EaseFigure(f"wanted.{garment}.{zone}", "wanted", f"{garment}, {zone}", mm, HANDBOOKS)
    for name, mm in (("bust", 50.0), ("waist", 15.0), ("hip", 40.0)):
        yield EaseFigure(f"least.{name}", "least", name, mm, HANDBOOKS)
    yield EaseFigure("least-bust.jacket", "least", "bust of a jacket", 80.0, HANDBOOKS)
    yield EaseFigure("least-bust.coat", "least", "bust of a coat", 120.0, HANDBOOKS)
    for key, words, mm in (
        ("back_waist", "back, from neck to waist", 8.0),
        ("neck", "neck, below a collar that is closed", 15.0),
        ("head", "head, through a neck without an opening", 20.0),
        ("across_back", "across the back", 20.0),
        ("across_front", "across the front", 10.0),
        ("upper_arm", "upper arm", 45.0),
        ("wrist", "wrist, of a cuff that is closed", 20.0),
        ("arm_length", "arm, for the bent elbow", 5.0),
        ("crotch_depth", "crotch depth", 15.0),
        ("crotch_length", "crotch length", 30.0),
        ("thigh", "thigh", 45.0),
        ("knee", "knee", 50.0),
        ("calf", "calf", 40.0),
    ):
        yield EaseFigure(f"at.{key}", "at", words, mm, PRACTICE)
    yield EaseFigure("over.jacket", "over", "a jacket has more at the bust, by look", 30.0, HANDBOOKS)
    yield EaseFigure("over.coat", "over", "a coat has more at the bust, by look", 70.0, HANDBOOKS)
    yield EaseFigure("over.loose-coat", "over", "a very loose coat, more again", 100.0, HANDBOOKS)
    for key, words, mm in (
        ("stiff", "stiff", 20.0),
        ("thick", "thick", 25.0),
        ("underlined", "underlined", 10.0),
    ):
        yield EaseFigure(f"takes.{key}", "takes", f"cloth that is {words}", mm, PRACTICE)
    for key, words, share in (
        ("moderate", "a stable knit stretches by at most", 25.0),
        ("swim", "stretch at which swimwear and leggings are cut smaller than the body", 60.0),
        ("smaller", "how much smaller they are then, of the girth", 10.0),
    ):
        yield EaseFigure(f"stretch.{key}", "stretch", words, share, KNITS, "%", 100.0, 1.0)
    for age, mm in (("2", 85.0), ("4", 70.0), ("10", 60.0), ("14", 65.0), ("16", 25.0)):
        yield EaseFigure(
            f"growth.height.{age}", "growth", f"in height in a year, up to {age} years", mm, GROWTH, least=0.0
        )
    yield EaseFigure(
        "growth.girth", "growth", "round the body, of what is grown in height", 33.0, SIZES, "%", 100.0, 0.0
    )


FIGURES: Mapping[str, EaseFigure] = {f.key: f for f in _figures()}


@dataclass(frozen=True)
class EaseTable:
    """The usual figures with a household's own in their place (`changed`, by key, in the figure's unit), and its looks."""

    changed: Mapping[str, float] = field(default_factory=dict)
    looks: tuple[Look, ...] = LOOKS

    def __getitem__(self, key: str) -> float:
        """A figure, mm or parts of a hundred. Raises KeyError where there is none of that key."""
        return self.changed.get(key, FIGURES[key].usual)

    def get(self, key: str) -> float:
        """A figure, nothing where the table has none."""
        return self[key] if key in FIGURES else 0.0

    def source(self, key: str) -> str:
        """Where a figure is from."""
        return "your own" if key in self.changed else FIGURES[key].source


USUAL = EaseTable()


@dataclass(frozen=True)
class Growth:
    """What a child grows while a garment is to be worn: in height and round the body, mm."""

    months: int
    height_mm: float
    girth_mm: float


NO_GROWTH = Growth(0, 0.0, 0.0)


def growth(age: float | None, months: int, table: EaseTable = USUAL) -> Growth:
    """What a child of an age grows in so many months; of an unknown age as one between five and ten does.

    >>> growth(7.5, 6).height_mm
    30.0
    """
    if months <= 0:
        return NO_GROWTH
    bands = [float(key.rpartition(".")[2]) for key in FIGURES if key.startswith("growth.height.")]
    band = next((b for b in bands if (age if age is not None else 7.0) <= b), None)
    if band is None:
        return NO_GROWTH
    height = table[f"growth.height.{band:g}"] * months / 12
    return Growth(months, height, height * table["growth.girth"] / 100)
