"""A half-made garment: what is caught, ended, turned, covered or still temporary, and whether cloth lets the next step be done.

The rules are those of cloth alone (there, free, reach, turn, layers, length, whole); none of them names a garment or an operation.
"""

from collections.abc import Iterator, Sequence
from typing import Any

from rowanseed.core.sew.cloth.acts import (
    BACKING,
    ENDING,
    FROM_OUTSIDE,
    HAND,
    JOINING,
    ON_ALLOWANCE,
    ON_TOP,
    SCISSORS,
    SHAPING,
    TURNING,
    Act,
    Impossible,
)
from rowanseed.core.sew.cloth.rooms import Rooms
from rowanseed.core.sew.cloth.sheets import Sheets, Side

ENDED_WITHOUT = frozenset({"raw", "selvage"})


class HalfMade:
    """The cloth after some steps. `turns`: the lines that some step will turn; until then they are worked inside out."""

    def __init__(self, sheets: Sheets, turns: frozenset[str]) -> None:
        """Begin with cut sheets."""
        self.sheets, self.turns = sheets, turns
        self.caught: dict[str, frozenset[str]] = {}
        self.ended: set[str] = set()
        self.turned: set[str] = set()
        self.covered: set[str] = set()  # lines whose allowances a later row has caught
        self.temporary: set[str] = set()
        self.backed: set[str] = set()
        self.made: set[str] = set()
        self._rooms: Rooms | None = None

    @property
    def rooms(self) -> Rooms:
        """The rooms as they are now."""
        if self._rooms is None:
            self._rooms = Rooms(self.sheets, self.caught)
        return self._rooms

    def do(self, act: Act) -> None:
        """Do a step.

        Raises:
            Impossible: cloth does not allow it; all is as it was before.
        """
        before, rooms = self._copy(), self._rooms
        try:
            if act.verb in JOINING:
                self._join(act)
                return
            for thing in act.on:
                self._one(act, thing)
        except Impossible:
            vars(self).update(before)
            self._rooms = rooms
            raise

    def _copy(self) -> dict[str, Any]:
        """What changes, as it is now."""
        kept = ("caught", "ended", "turned", "covered", "temporary", "backed", "made")
        return {name: vars(self)[name].copy() for name in kept}

    def left(self) -> Iterator[str]:
        """What is not whole: edges without an end, what is temporary, what was to be turned."""
        for edge in self.sheets.every:
            if not self._used(edge) and edge not in self.sheets.left_open:
                yield edge
        yield from sorted(self.temporary)
        yield from sorted(self.turns - self.turned)

    # --- what is asked of the cloth ---

    def _used(self, edge: str) -> bool:
        return edge in self.ended or self.rooms.sewn(edge)

    def _sewn_line(self, line: str) -> bool:
        return len(self.caught.get(line, ())) > 1

    def _enclosed(self, side: Side) -> bool:
        return not self.rooms.outside(side, 0.0)

    def _reached(self, side: Side, need: float) -> bool:
        """Whether a tool of this width comes to a side: from outside, or because it is worked inside out until it is turned."""
        if self._enclosed(side):
            return False
        waiting = [line for line in self.turns - self.turned if self._sewn_line(line)]
        if any(self.rooms.same_room(self.rooms.allowance(line), side) for line in waiting):
            return True
        return self.rooms.outside(side, need)

    def _must_reach(self, side: Side, need: float, thing: str) -> None:
        if not self._reached(side, need):
            raise Impossible("reach", thing, not self.sheets.measured and self._reached(side, 0.0))

    # --- what is done ---

    def _one(self, act: Act, thing: str) -> None:
        if act.verb in ENDING and act.way not in FROM_OUTSIDE:
            self._end(act, thing)
        elif act.verb in SHAPING:
            self._shape(act, thing)
        elif act.verb in ON_ALLOWANCE and act.way not in FROM_OUTSIDE:
            self._on_allowance(act, thing)
        elif act.verb in ON_TOP or act.verb in ENDING or act.verb in ON_ALLOWANCE:
            self._on_top(act, thing)
        elif act.verb == "turn":
            self._turn(act, thing)
        elif act.verb in BACKING:
            self._back(act, thing)
        elif act.verb == "undo":
            self._undo(thing)
        elif act.verb == "cut" and thing.startswith("made:") and thing not in self.made:
            raise Impossible("there", thing)

    def _join(self, act: Act) -> None:
        outside = act.way in FROM_OUTSIDE
        after = dict(self.caught)
        for line in act.on:
            pages = [p.edge for p in self.sheets.lines[line] if not act.catches or p.edge in act.catches]
            before = self.caught.get(line, frozenset())
            self._may_join(act, line, pages, before, outside)
            after[line] = before | frozenset(pages)
        self.caught, self._rooms = after, None
        self._hold(act, act.on[0])
        for line in act.on:
            if not outside and self._enclosed(self.rooms.allowance(line)):
                raise Impossible("turn", line)

    def _may_join(self, act: Act, line: str, pages: Sequence[str], before: frozenset[str], outside: bool) -> None:
        new = [edge for edge in pages if edge not in before]
        if not new:
            raise Impossible("free", line)
        whole = any(edge not in self.ended for edge in pages)
        for edge in pages:
            if edge in self.ended and not (outside and whole):
                raise Impossible("free", edge)  # an edge that is ended can only have a folded one felled onto it
            sheet = edge.rpartition(".")[0]
            if sheet in self.sheets.backed - self.backed:
                raise Impossible("layers", edge)
        second = act.verb == "close" and len(self.sheets.lines[line]) > 2 and len(before) < 2
        if second or len(before | set(pages)) < 2:
            raise Impossible("there", line)
        if len(before) > 1 and (line in self.covered or not self._reached(self.rooms.allowance(line), SCISSORS)):
            raise Impossible("free", line)
        for sheet in {edge.rpartition(".")[0] for edge in new}:
            if self._enclosed((sheet, True)) and self._enclosed((sheet, False)):
                raise Impossible("reach", line)

    def _end(self, act: Act, edge: str) -> None:
        if edge not in self.sheets.line_of and edge not in self.sheets.every:
            raise Impossible("there", edge)
        if self._used(edge):
            raise Impossible("there", edge)
        if self._enclosed((edge.rpartition(".")[0], False)):
            raise Impossible("reach", edge)
        self.ended.add(edge)

    def _shape(self, act: Act, edge: str) -> None:
        caught = self.caught.get(self.sheets.line_of.get(edge, ""), frozenset())
        together = caught if edge in caught else frozenset()
        if edge in self.ended or not together <= set(act.on):
            raise Impossible("length", edge)  # layers that are caught together are shaped as one

    def _on_allowance(self, act: Act, thing: str) -> None:
        line = thing if thing in self.sheets.lines else self.sheets.line_of.get(thing, "")
        if not self._sewn_line(line):
            if thing in self.sheets.every and (act.verb == "press" or thing not in self.ended):
                return  # a raw edge is finished before it is sewn, any is pressed
            raise Impossible("there", thing)
        if line in self.covered:
            raise Impossible("reach", line)
        self._must_reach(self.rooms.allowance(line), ON_ALLOWANCE[act.verb], line)
        self._hold(act, thing)
        if act.verb == "understitch":
            self.turned.add(line)

    def _on_top(self, act: Act, thing: str) -> None:
        sheet = thing if thing in self.sheets.edges else thing.rpartition(".")[0]
        if thing in self.sheets.lines:
            if not self._sewn_line(thing):
                raise Impossible("there", thing)
            sheet = self.rooms.allowance(thing)[0]
            if act.verb == "topstitch" and len(act.holds) > 1:
                self.covered.add(thing)
        elif thing.startswith("made:"):
            if thing not in self.made:
                raise Impossible("there", thing)
            return
        if act.verb in ("make", "buttonhole"):
            self.made.add(f"made:{act.id}")
        self._hold(act, thing)
        if act.way == "inside":  # tacked to the wrong side alone, as a pocket's bag is
            self._must_reach((sheet, False), HAND, thing)
        if self._enclosed((sheet, True)):
            raise Impossible("turn", thing)

    def _hold(self, act: Act, thing: str) -> None:
        if not act.holds and not act.spares:
            return
        sheet = thing if thing in self.sheets.edges else thing.rpartition(".")[0]
        if thing in self.sheets.lines and self.rooms.stacks.get(thing):
            sheet = self.rooms.stacks[thing][0].sheet
        for held in act.holds:
            if held == sheet and held in self.sheets.backed:
                if held not in self.backed:
                    raise Impossible("layers", held)
                continue
            shared = [
                line
                for line, stack in self.rooms.stacks.items()
                if {sheet, held} <= {p.sheet for p in stack} and (thing not in self.sheets.lines or line == thing)
            ]
            if not shared:
                raise Impossible("layers", held)
            if any(line in self.turns for line in shared) and not any(line in self.turned for line in shared):
                raise Impossible("turn", held)
        for spared in act.spares:
            if self.rooms.together(spared, sheet) and not self._reached((sheet, False), HAND):
                raise Impossible("layers", spared)

    def _turn(self, act: Act, line: str) -> None:
        if not self._sewn_line(line):
            raise Impossible("there", line)
        for through in (act.through, *act.channels):
            self._draw_through(through, act.part, line)
        stack = self.rooms.stacks[line]
        inner, other = self.rooms.allowance(line), stack[-1].below
        if self._enclosed(inner) or self._enclosed(other):
            raise Impossible("turn", line)
        need = SCISSORS if act.through or act.channels else self._bulk(line)
        if not self.rooms.passes(inner, other, need):
            raise Impossible("turn", line, not self.sheets.measured)
        self.turned.add(line)

    def _bulk(self, line: str) -> float:
        """The width that a turned part needs: one that is narrow between two short ends, lying double, is no wider than they."""
        ends = (sorted(self.sheets.edges[p.sheet].values())[:2][-1] for p in self.rooms.stacks[line])
        return min(TURNING, min(ends) / 2)

    def _draw_through(self, through: Sequence[str], part: str, line: str) -> None:
        """A part (whatever hangs there, if none is named) is drawn through a channel only if it hangs by its lines alone."""
        without = Rooms(self.sheets, {name: edges for name, edges in self.caught.items() if name not in through})
        ends = [p.sheet for name in through if self._sewn_line(name) for p in self.rooms.stacks[name]]
        if ends and all(without.together(part or ends[0], sheet) for sheet in ends):
            raise Impossible("turn", line)

    def _back(self, act: Act, thing: str) -> None:
        if thing not in self.sheets.edges:
            self.temporary.add(thing)
            return
        if any(self.rooms.sewn(edge) for edge in self.sheets.order[thing]):
            raise Impossible("layers", thing)
        if self._enclosed((thing, False)):
            raise Impossible("reach", thing)
        self.backed.add(thing)

    def _undo(self, thing: str) -> None:
        if thing in self.temporary:
            self.temporary.discard(thing)
            if self._sewn_line(thing):
                self._must_reach(self.rooms.allowance(thing), SCISSORS, thing)
        elif self.caught.get(thing):
            self.caught[thing] = frozenset()
            self.turned.discard(thing)
            self._rooms = None
        else:
            raise Impossible("there", thing)
