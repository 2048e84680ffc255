"""A garment by its pieces and fates, as the sewing interface takes it."""

from math import dist
from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from rowanseed.core.errors import FeatureError
from rowanseed.core.geometry.outline import edge_sides
from rowanseed.core.pattern.fates import EdgeFate, Ending, Shaping
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam, pieced
from rowanseed.web.api.types import In, Mm, OutlineIn

Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^.+\s][^.+]*$")]


class GarmentPieceIn(In):
    """A piece of the garment: its unit and layer, how often it is cut, its edges in order round it."""

    model_config = ConfigDict(extra="forbid")

    id: Name
    unit: Annotated[str, Field(min_length=1, max_length=60)]
    layer: Annotated[str, Field(max_length=40)] = "shell"
    cut: Annotated[int, Field(ge=1, le=40)] = 1
    edges: (
        Annotated[list[Name], Field(min_length=1, max_length=60)]
        | Annotated[dict[Name, tuple[int, int]], Field(min_length=1, max_length=60)]
    )
    outline: OutlineIn | None = None
    name: str = ""
    on_fold: bool = False

    def core(self) -> SewnPiece:
        """The core's piece."""
        names = list(self.edges)
        if len(set(names)) != len(names):
            raise FeatureError(f"Two edges of “{self.id}” have one name.", "pieces")
        if isinstance(self.edges, dict):
            names.sort(key=lambda name: self.edges[name][0])  # type: ignore[call-overload]
        return SewnPiece(self.id, self.unit, self.layer, self.cut, tuple(names), self.on_fold, self._lengths())

    def _lengths(self) -> dict[str, float] | None:
        """The edges' lengths in cm, where the piece is drawn and its edges are places of its outline."""
        if self.outline is None or not isinstance(self.edges, dict):
            return None
        count = len(self.outline)
        wrong = next((n for n, at in self.edges.items() if not all(0 <= k < count for k in at)), None)
        if wrong is not None:
            raise FeatureError(f"The edge “{self.id}.{wrong}” is not on its outline.", "pieces")
        sides = {name: edge_sides(count, at) for name, at in self.edges.items()}
        points = self.outline
        return {
            name: sum(dist(points[k], points[(k + 1) % count]) for k in some) / 10.0 for name, some in sides.items()
        }


class GarmentSeamIn(In):
    """A seam: `a` to `b`, or a `stack` of pages, each `+piece.edge` right side up or `-piece.edge` right side down."""

    model_config = ConfigDict(extra="forbid")

    a: Annotated[list[str], Field(max_length=20)] = []
    b: Annotated[list[str], Field(max_length=20)] = []
    stack: Annotated[list[str], Field(max_length=12)] = []

    def core(self) -> StackedSeam:
        """The core's seam. Raises FeatureError where it names no edges, or a page lies neither way."""
        if bool(self.stack) == bool(self.a or self.b):
            raise FeatureError("A seam has a stack, or a and b.", "seams")
        if self.stack:
            wrong = next((page for page in self.stack if page[:1] not in "+-" or len(page) < 2), None)
            if wrong is not None:
                raise FeatureError(f"The page “{wrong}” begins with + (right side up) or - (right side down).", "seams")
            return StackedSeam(tuple(((page[1:],), page[0] == "+") for page in self.stack))
        return StackedSeam(tuple((tuple(side), up) for side, up in ((self.a, True), (self.b, False)) if side))


class FateIn(In):
    """What becomes of an edge, and how it is shaped before."""

    model_config = ConfigDict(extra="forbid")

    fate: Ending | None = None
    way: Literal["", "single", "double", "narrow", "blind", "hand", "rolled", "faced", "twin-needle"] = ""
    first: Mm | None = None
    second: Mm | None = None
    width: Mm | None = None
    shaping: Shaping | list[Shaping] | None = None
    sides: Literal["left", "right"] | None = None

    def core(self, joined: bool) -> EdgeFate:
        """The core's fate; an edge that is only shaped is joined where a seam names it."""
        shaping = (
            () if self.shaping is None else (self.shaping,) if isinstance(self.shaping, str) else tuple(self.shaping)
        )
        ending: Ending = self.fate or ("joined" if joined else "open")
        return EdgeFate(ending, self.way, self.first, self.second, self.width, shaping, self.sides or "")


def garment_of(pieces: list[GarmentPieceIn], seams: list[GarmentSeamIn], fates: dict[str, FateIn]) -> PiecedGarment:
    """Return the garment that pieces, seams and fates tell. Raises FeatureError."""
    stacks = [seam.core() for seam in seams]
    sewn = {edge for stack in stacks for edge in stack.edges}
    return pieced([p.core() for p in pieces], stacks, {e: fate.core(e in sewn) for e, fate in fates.items()})
