"""The links that the laws make between the operations of one garment, each with its law and reason."""

from collections.abc import Sequence

from rowanseed.core.sew.anatomy import edges_of
from rowanseed.core.sew.circles import Link
from rowanseed.core.sew.model import Need, Operation
from rowanseed.core.sew.stages import CONSUMING, JOINED
from rowanseed.core.sew.units import Assembly


class Laws:
    """The links between the operations of a garment, each with its law and reason; the first one said stands."""

    def __init__(self, assembly: Assembly, operations: Sequence[Operation]) -> None:
        self.assembly = assembly
        self.operations = operations
        self.links: dict[Link, Need] = {}
        self.on: dict[str, list[Operation]] = {}
        self.touching: dict[str, list[Operation]] = {}
        for op in operations:
            for thing in op.on:
                self.on.setdefault(thing, []).append(op)
                for edge in edges_of(thing):
                    known = self.touching.setdefault(edge, [])
                    if op not in known:
                        known.append(op)

    def need(self, later: Operation, earlier: Operation, law: str, words: str) -> None:
        """Say that an operation needs another; a law stands before the method's wish."""
        link = (later.id, earlier.id)
        turned = self.links.get((earlier.id, later.id))
        if later.id == earlier.id or (turned is not None and (turned.law != "method" or law == "method")):
            return
        if turned is not None:
            del self.links[(earlier.id, later.id)]
        known = self.links.get(link)
        if known is None or (known.law == "method" and law != "method"):
            self.links[link] = Need(earlier.id, words, law)

    def consumers(self, edge: str) -> list[Operation]:
        """What uses an edge up: joins, bands, binds, faces or hems it."""
        touching = self.touching.get(edge, [])
        return [op for op in touching if (op.verb in CONSUMING and op.stage >= JOINED) or _sews_zip(op, edge)]


def _sews_zip(op: Operation, edge: str) -> bool:
    """Whether a zip is sewn to the edge itself, over the ends of the seams there."""
    return op.verb == "insert" and edge in op.on and not edge.endswith(".zip")
