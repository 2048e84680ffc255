"""A garment by its pieces and fates, as the sewing interface takes it."""

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, ConfigDict, Field

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.pieces.model import (
    EdgeFate,
    Ending,
    PiecedGarment,
    SewnPiece,
    Shaping,
    StackedSeam,
    pieced,
)
from rowanseed.web.api.types import In, Mm, OutlineIn


def _in_order(edges: Any) -> Any:
    """Edges as a list in order; a dictionary of index pairs is read in the order of its first indexes."""
    if isinstance(edges, dict):
        return [name for name, at in sorted(edges.items(), key=lambda item: item[1][0] if item[1] else 0)]
    return edges


Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^.+\s][^.+]*$")]


class GarmentPieceIn(In):
    """A piece of the garment: its unit and layer, how often it is cut, its edges in order round it."""

    model_config = ConfigDict(extra="forbid")

    id: Name
    unit: Annotated[str, Field(min_length=1, max_length=60)]
    layer: Annotated[str, Field(max_length=40)] = "shell"
    cut: Annotated[int, Field(ge=1, le=40)] = 1
    edges: Annotated[list[Name], BeforeValidator(_in_order), Field(min_length=1, max_length=60)]
    outline: OutlineIn | None = None
    name: str = ""
    on_fold: bool = False

    def core(self) -> SewnPiece:
        """The core's piece."""
        if len(set(self.edges)) != len(self.edges):
            raise FeatureError(f"Two edges of “{self.id}” have one name.", "pieces")
        return SewnPiece(self.id, self.unit, self.layer, self.cut, tuple(self.edges))


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
            return StackedSeam(tuple((page[1:], page[0] == "+") for page in self.stack))
        return StackedSeam((*((e, True) for e in self.a), *((e, False) for e in self.b)))


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
        return EdgeFate(ending, self.way, self.first, self.second, self.width, shaping)


def garment_of(pieces: list[GarmentPieceIn], seams: list[GarmentSeamIn], fates: dict[str, FateIn]) -> PiecedGarment:
    """Return the garment that pieces, seams and fates tell. Raises FeatureError."""
    stacks = [seam.core() for seam in seams]
    sewn = {edge for stack in stacks for edge in stack.edges}
    return pieced([p.core() for p in pieces], stacks, {e: fate.core(e in sewn) for e, fate in fates.items()})
