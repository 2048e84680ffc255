"""A cloth in the stash, with the facts that decide how it is laid, sewn and cared for."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, get_args

from rowanseed.core.lay.model import LayCloth, Nap
from rowanseed.core.lengths import Length
from rowanseed.core.prints import Bar, Print

ClothKind = Literal["main", "lining", "interfacing", "underlining"]
CLOTH_KINDS: tuple[ClothKind, ...] = get_args(ClothKind)
PileRuns = Literal["up", "down"]
PILE_RUNS: tuple[PileRuns, ...] = get_args(PileRuns)
Weight = Literal["light", "medium", "heavy"]
WEIGHTS: tuple[Weight, ...] = get_args(Weight)


@dataclass(frozen=True)
class Cloth:
    """One length of cloth. `shrink_along` and `shrink_across` are shares; None while no square was washed.

    `length` None: as much as is needed can be bought. `stretch`: the share by which a knit gives across, 0.25 for a quarter.
    `others`: further lengths of the same cloth. `done`: tasks of its preparation and their days (ISO).
    `pictures`: names of photographs.
    `flaws`: rectangles to keep off, (from the cut end, from the first edge) to (the same of the far corner), mm.
    """

    name: str
    width: Length
    selvage: Length
    length: Length | None = None
    kind: ClothKind = "main"
    fibre: str = ""
    weight: Weight = "medium"
    nap: Nap = "none"
    pile_note: str = ""
    print: Print = Print()
    print_colours: tuple[str, str] = ("#E9DFC9", "#A9886B")
    knit: bool = False
    piled: bool = False
    slippery: bool = False
    ravels: bool = False
    opaque: bool = True
    care: str = ""
    price: str = ""
    bought: str = ""
    shrink_along: float = 0.0
    shrink_across: float = 0.0
    prepared: bool = False
    note: str = ""
    stiff: bool = False
    stretch: float = 0.0
    flaws: tuple[tuple[float, float, float, float], ...] = ()
    bars_along: tuple[Bar, ...] = ()
    bars_across: tuple[Bar, ...] = ()
    tile: str = ""
    others: tuple[Length, ...] = ()
    done: Mapping[str, str] = field(default_factory=dict)
    pictures: tuple[str, ...] = ()
    loose: bool = False
    fur: bool = False
    pile_runs: PileRuns = "up"

    @property
    def lengths(self) -> tuple[Length, ...]:
        """Every length in hand, the first one that which is laid on."""
        return ((self.length,) if self.length else ()) + self.others

    @property
    def takes_room(self) -> tuple[str, ...]:
        """What makes the cloth itself take up some of the ease."""
        thick = self.piled or self.weight == "heavy"
        return tuple(name for name, is_so in (("stiff", self.stiff), ("thick", thick)) if is_so)

    def for_lay(self, length_in_hand: bool = True) -> LayCloth:
        """The cloth as the lay engine needs it, on the width and length left after shrinkage when still unwashed."""
        across = 1.0 if self.prepared else 1.0 - self.shrink_across
        along = 1.0 if self.prepared else 1.0 - self.shrink_along
        length = self.length.mm * along if self.length is not None and length_in_hand else None
        selvages = (self.selvage.mm * across, self.selvage.mm * across)
        flaws = tuple((x0 * along, y0 * across, x1 * along, y1 * across) for x0, y0, x1, y1 in self.flaws)
        return LayCloth(self.width.mm * across, selvages, length, self.nap, self.print.shrunk(along, across), flaws)

    @property
    def pile_words(self) -> str:
        """How the pile runs on the garment and on the table, empty for cloth without one.

        Source: hairs of fur hang down; short pile is cut pile up for depth of colour (common practice, no source).
        """
        if self.fur:
            return "The hairs hang down: stroke them smooth away from the cut end, where the heads of all pieces lie."
        if not self.piled or self.nap != "one-way":
            return ""
        if self.pile_runs == "up":
            return (
                "Pile up, for depth of colour: stroke it smooth toward the cut end, where the heads of all pieces lie. "
                "All pieces the same."
            )
        return (
            "Pile down: stroke it smooth away from the cut end, where the heads of all pieces lie. All pieces the same."
        )

    @property
    def fur_words(self) -> str:
        """How fur and other deep pile is laid and cut, empty for other cloth."""
        if not self.fur:
            return ""
        return (
            "One layer, the back up; draw round the pattern there. Cut the backing only, from behind, with the points of the "
            "scissors or a blade, so that no hair is cut. No iron. Wear a mask: it sheds."
        )
