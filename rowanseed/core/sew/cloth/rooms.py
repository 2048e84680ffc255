"""The rooms between the sheets: what sides lie in one, by which unsewn edges one comes from room to room, and how wide these are.

Pages that lie on one another in a row of stitching have the sides that face each other in one room; the allowances lie between the last
page and the first. An edge in no row is an opening between the two sides of its sheet, half as wide as the loop that it lies in.
"""

from collections.abc import Mapping
from functools import cached_property
from itertools import pairwise

from scipy.cluster.hierarchy import DisjointSet

from rowanseed.core.sew.cloth.sheets import Page, Sheets, Side


class Rooms:
    """The rooms of a half-made garment, by the edges that are caught in each line."""

    def __init__(self, sheets: Sheets, caught: Mapping[str, frozenset[str]]) -> None:
        """Work out the rooms of what is caught so far."""
        self.sheets = sheets
        self.stacks: dict[str, tuple[Page, ...]] = {
            line: tuple(p for p in sheets.lines[line] if p.edge in edges) for line, edges in caught.items() if edges
        }
        self._page: dict[str, tuple[tuple[Page, ...], int]] = {
            page.edge: (stack, at) for stack in self.stacks.values() for at, page in enumerate(stack)
        }
        self._room = DisjointSet([(sheet, right) for sheet in sheets.edges for right in (True, False)])
        self._hung = DisjointSet(sheets.edges)
        for stack in self.stacks.values():
            if len(stack) > 1:
                for low, high in pairwise((*stack, stack[0])):
                    self._room.merge(low.above, high.below)
                    self._hung.merge(low.sheet, high.sheet)
        self._passed: dict[float, DisjointSet] = {}

    def sewn(self, edge: str) -> bool:
        """Whether an edge is caught in a row."""
        return edge in self._page

    @cached_property
    def openings(self) -> dict[str, float]:
        """How wide the opening at each unsewn edge is, in cm."""
        wide: dict[str, float] = {}
        for right in (True, False):
            seen: set[str] = set()
            for edge in self.sheets.every:
                if edge in seen or edge in self._page:
                    continue
                loop = self.loop(edge, right)
                seen.update(loop)
                half = sum(map(self.sheets.length, loop)) / 2
                for each in loop:
                    wide[each] = min(half, wide.get(each, half))
        return wide

    def loop(self, edge: str, right: bool = True) -> tuple[str, ...]:
        """The unsewn edges that one passes, walking along the rim from this one on one side of the cloth."""
        found, at = [edge], edge
        for _ in range(6 * len(self.sheets.every)):
            at = self.sheets.beside(at, 1 if right else -1)
            if at == edge:
                break
            if at in self._page:
                at, right = self._across(at, right)
            else:
                found.append(at)
        return tuple(found)

    def _across(self, edge: str, right: bool) -> tuple[str, bool]:
        """The edge and side that one comes to over a row of stitching."""
        stack, at = self._page[edge]
        if stack[at].up == right:  # this side looks up
            over = stack[(at + 1) % len(stack)]
            return over.edge, over.below[1]
        over = stack[at - 1]
        return over.edge, over.above[1]

    def hangs_with(self, sheet: str) -> list[str]:
        """The sheets that hang together with one, in the order of who shows."""
        return [each for each in self.sheets.edges if self._hung[each] == self._hung[sheet]]

    def together(self, one: str, other: str) -> bool:
        """Whether two sheets hang together."""
        return self._hung[one] == self._hung[other]

    @cached_property
    def _first(self) -> dict[str, str]:
        first: dict[str, str] = {}
        for sheet in self.sheets.edges:
            first.setdefault(self._hung[sheet], sheet)
        return first

    def shown(self, sheet: str) -> Side:
        """The side that looks outside, of what hangs together with a sheet."""
        return self._first[self._hung[sheet]], True

    def passed(self, need: float) -> DisjointSet:
        """The sides between which a thing of this width (cm) passes, through rooms and openings."""
        if need not in self._passed:
            classes = DisjointSet([(sheet, right) for sheet in self.sheets.edges for right in (True, False)])
            for sheet in self.sheets.edges:
                for right in (True, False):
                    classes.merge((sheet, right), self._room[sheet, right])
            for edge, wide in self.openings.items():
                if wide >= need:
                    sheet = edge.rpartition(".")[0]
                    classes.merge((sheet, True), (sheet, False))
            self._passed[need] = classes
        return self._passed[need]

    def same_room(self, one: Side, other: Side) -> bool:
        """Whether two sides lie in one room."""
        return self._room[one] == self._room[other]

    def outside(self, side: Side, need: float) -> bool:
        """Whether a thing of this width comes from the outside to a side."""
        classes = self.passed(need)
        return classes[side] == classes[self.shown(side[0])]

    def allowance(self, line: str) -> Side:
        """A side that looks into the gap where a line's allowances lie."""
        return self.stacks[line][-1].above
