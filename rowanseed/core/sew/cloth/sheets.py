"""The garment as the cloth has it: sheets with their edges in order, lines along which edges are stacked page on page."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property

Side = tuple[str, bool]  # a sheet, and whether it is its right side


@dataclass(frozen=True)
class Page:
    """An edge in a stack, `sheet.edge`, with its right side up or down."""

    edge: str
    up: bool

    @property
    def sheet(self) -> str:
        """The sheet that the edge belongs to."""
        return self.edge.rpartition(".")[0]

    @property
    def above(self) -> Side:
        """The side of the sheet that looks up in the stack."""
        return self.sheet, self.up

    @property
    def below(self) -> Side:
        """The side of the sheet that looks down in the stack."""
        return self.sheet, not self.up


@dataclass(frozen=True)
class Sheets:
    """Cut cloth: each sheet's edges, counter-clockwise on its right side, with their lengths in cm; a line's pages from the bottom.

    Sheets stand in the order of who shows: of what hangs together, the first sheet's right side is the outside.
    `backed` are the sheets with a layer that every one of their seams must hold. `left_open`: edges that are in no line and need no
    ending. `measured`: whether the lengths are those of drawn pieces, not the usual ones.
    """

    edges: Mapping[str, Mapping[str, float]]
    lines: Mapping[str, tuple[Page, ...]]
    backed: frozenset[str] = frozenset()
    left_open: frozenset[str] = frozenset()
    measured: bool = False
    order: Mapping[str, tuple[str, ...]] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        """Keep each sheet's edges in their order, as full names."""
        order = {sheet: tuple(f"{sheet}.{name}" for name in names) for sheet, names in self.edges.items()}
        object.__setattr__(self, "order", order)

    @cached_property
    def line_of(self) -> dict[str, str]:
        """The line that each edge lies in, where it lies in one."""
        return {page.edge: line for line, pages in self.lines.items() for page in pages}

    @cached_property
    def every(self) -> tuple[str, ...]:
        """Every edge by its full name."""
        return tuple(edge for names in self.order.values() for edge in names)

    @cached_property
    def rank(self) -> dict[str, int]:
        """The place of each sheet in the order of who shows."""
        return {sheet: at for at, sheet in enumerate(self.edges)}

    def length(self, edge: str) -> float:
        """The length of an edge in cm."""
        sheet, _, name = edge.rpartition(".")
        return self.edges[sheet][name]

    def beside(self, edge: str, step: int) -> str:
        """The next edge of the sheet, counter-clockwise for 1, clockwise for -1."""
        names = self.order[edge.rpartition(".")[0]]
        return names[(names.index(edge) + step) % len(names)]

    def sheets_of(self, line: str) -> Iterator[str]:
        """The sheets that a line catches."""
        return (page.sheet for page in self.lines[line])
