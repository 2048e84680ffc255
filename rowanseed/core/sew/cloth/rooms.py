"""The rooms between the sheets: what sides lie in one, by which unsewn edges one comes from room to room, and how wide these are.

Pages that lie on one another in a row of stitching have the sides that face each other in one room; the allowances lie between the
last page and the first. An edge in no row is an opening between the two sides of its sheet,
half as wide as the loop that it lies in.
"""

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from itertools import pairwise

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
        self._facing = [
            (self._side(low.above), self._side(high.below))
            for stack in self.stacks.values() if len(stack) > 1
            for low, high in pairwise((*stack, stack[0]))
        ]  # fmt: skip
        self._hung = _classes(len(sheets.edges), [(a // 2, b // 2) for a, b in self._facing])
        self._room = _classes(2 * len(sheets.edges), self._facing)
        self._passed: dict[float, list[int]] = {}

    def _side(self, side: Side) -> int:
        return 2 * self.sheets.rank[side[0]] + side[1]

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
        return [each for each in self.sheets.edges if self.together(each, sheet)]

    def together(self, one: str, other: str) -> bool:
        """Whether two sheets hang together."""
        rank = self.sheets.rank
        return self._hung[rank[one]] == self._hung[rank[other]]

    @cached_property
    def _first(self) -> dict[int, str]:
        first: dict[int, str] = {}
        for sheet, at in self.sheets.rank.items():
            first.setdefault(self._hung[at], sheet)
        return first

    def shown(self, sheet: str) -> Side:
        """The side that looks outside, of what hangs together with a sheet."""
        return self._first[self._hung[self.sheets.rank[sheet]]], True

    def passes(self, one: Side, other: Side, need: float) -> bool:
        """Whether a thing of this width (cm) comes from side to side, through rooms and openings."""
        if need not in self._passed:
            through = [
                (self._side((s, True)), self._side((s, False)))
                for s in {e.rpartition(".")[0] for e in self._open(need)}
            ]
            self._passed[need] = _classes(2 * len(self.sheets.edges), [*self._facing, *through])
        classes = self._passed[need]
        return classes[self._side(one)] == classes[self._side(other)]

    def _open(self, need: float) -> Iterable[str]:
        """The unsewn edges that are wide enough; without a need any is, and no loop has to be walked."""
        if need <= 0.0:
            return (edge for edge in self.sheets.every if edge not in self._page)
        return (edge for edge, wide in self.openings.items() if wide >= need)

    def same_room(self, one: Side, other: Side) -> bool:
        """Whether two sides lie in one room."""
        return self._room[self._side(one)] == self._room[self._side(other)]

    def outside(self, side: Side, need: float) -> bool:
        """Whether a thing of this width comes from the outside to a side."""
        return self.passes(side, self.shown(side[0]), need)

    def allowance(self, line: str) -> Side:
        """A side that looks into the gap where a line's allowances lie."""
        return self.stacks[line][-1].above


def _classes(count: int, pairs: Sequence[tuple[int, int]]) -> list[int]:
    """The class of each of `count` things, where these pairs are together."""
    found = list(range(count))
    for one, other in pairs:
        kept, gone = found[one], found[other]
        if kept != gone:
            found = [kept if each == gone else each for each in found]
    return found
