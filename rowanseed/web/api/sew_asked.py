"""What the sewing interface is asked: a garment by its features or by its pieces, with figures and steps of one's own."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Annotated, Any, Self

from pydantic import ConfigDict, Field, field_validator, model_validator

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.cloth.model import Weight
from rowanseed.core.errors import FeatureError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.garment import settled_features
from rowanseed.core.sew.model import ClothTraits, OwnStep, Place, SewnGarment, joined, several
from rowanseed.core.sew.numbers import AtThing, Facts
from rowanseed.core.sew.pieces.model import PiecedGarment
from rowanseed.core.sew.planner import Objective
from rowanseed.formats.sewing import library
from rowanseed.web.api.pieces import FateIn, GarmentPieceIn, GarmentSeamIn, garment_of
from rowanseed.web.api.types import In, Mm, OutlineIn


class SewClothIn(In):
    """What of the cloth matters at the machine."""

    weight: Weight = "medium"
    knit: bool = False
    piled: bool = False
    slippery: bool = False
    ravels: bool = False
    sheer: bool = False
    loose: bool = False
    fur: bool = False
    leather: bool = False
    dense: bool = False
    stretch: Annotated[float, Field(ge=0, le=3)] = 0.0
    fibre: Annotated[str, Field(max_length=120)] = ""

    def traits(self) -> ClothTraits:
        """The core's traits, the iron by the fibre."""
        given = self.model_dump(exclude={"fibre"})
        return ClothTraits(**given, iron=care_of(self.fibre).iron_words() if self.fibre else "")


class SewPieceIn(In):
    """A piece the numbers may be taken from: its name, outline and named edges."""

    name: str = ""
    id: str = ""
    outline: OutlineIn
    edges: dict[str, tuple[int, int]] = {}


class HemIn(In):
    """The folds of a hem; `second` is the only one of a hem turned once."""

    first: Mm | None = None
    second: Mm | None = None


class AtThingIn(In):
    """Figures of one edge or seam."""

    first: Mm | None = None
    second: Mm | None = None
    allowance: Mm | None = None

    def figures(self) -> AtThing:
        """The core's figures."""
        return AtThing(self.first, self.second, self.allowance)


class NumbersIn(In):
    """Figures typed for this garment: they stand in the steps before the pattern's and the practice's.

    Figures of one edge or seam are typed by its name: `"skirt.hem": {"second": "2 in"}`, `"skirt.side": {"allowance": "1 in"}`.
    """

    model_config = ConfigDict(extra="allow")

    hem: HemIn = HemIn()
    allowance: Mm | None = None
    buttons: Annotated[int, Field(ge=0, le=200)] | None = None
    button: Mm | None = None
    overlap: Mm | None = None
    zip: Mm | None = None

    @model_validator(mode="after")
    def _things(self) -> "NumbersIn":
        for name, own in (self.model_extra or {}).items():
            if "." not in name:
                known = ", ".join(type(self).model_fields)
                raise ValueError(f"There is no figure called “{name}”. Known: {known}, or an edge such as skirt.hem.")
            AtThingIn.model_validate(own)
        return self

    def each_left_out(self) -> Iterator[tuple[str, Self]]:
        """The same without each figure that was typed, with its name."""
        for name in self.model_fields_set & set(type(self).model_fields):
            own = getattr(self, name)
            if isinstance(own, HemIn):
                for fold in own.model_fields_set:
                    yield f"hem.{fold}", self.model_copy(update={"hem": own.model_copy(update={fold: None})})
            else:
                yield name, self.model_copy(update={name: None})
        extra = self.model_extra or {}
        for name, own in extra.items():
            for figure in own:
                yield f"{name}.{figure}", self._typed_at({**extra, name: _without(own, figure)})

    def _typed_at(self, extra: dict[str, Any]) -> Self:
        return type(self).model_validate(
            {**self.model_dump(include=self.model_fields_set - set(self.model_extra or {})), **extra}
        )

    def at(self) -> dict[str, AtThing]:
        """The figures of single edges and seams."""
        return {name: AtThingIn.model_validate(own).figures() for name, own in (self.model_extra or {}).items()}

    def figures(self) -> Figures:
        """The core's figures."""

        def length(mm: float | None) -> Length | None:
            return None if mm is None else Length(mm, f"{mm:g} mm", "mm")

        return Figures(
            self.buttons,
            length(self.button),
            None,
            length(self.hem.first),
            length(self.hem.second),
            length(self.overlap),
            length(self.zip),
        )


def _without(given: dict[str, Any], name: str) -> dict[str, Any]:
    return {key: value for key, value in given.items() if key != name}


Choice = str | list[str]


class OwnStepIn(In):
    """A step in the sewist's own words; `after` and `before` name steps by id."""

    text: Annotated[str, Field(min_length=1, max_length=300)]
    id: Annotated[str, Field(max_length=60)] = ""
    place: Place = "table"
    minutes: Annotated[int, Field(ge=0, le=600)] = 10
    after: Annotated[list[str], Field(max_length=50)] = []
    before: Annotated[list[str], Field(max_length=50)] = []
    verb: str | None = None
    on: Annotated[list[str], Field(max_length=20)] = []


class SequenceIn(In):
    """A garment by its features, or by its pieces; `units`: what one of its units, or one seam, has otherwise than the rest."""

    model_config = ConfigDict(extra="forbid")  # a key that nobody knows would be taken and do nothing

    features: dict[str, Choice] = {}
    units: dict[str, dict[str, Choice]] = {}
    equipment: list[str] = []
    schools: dict[str, str] = {}
    sitting_minutes: Annotated[int, Field(ge=10, le=600)] = 60
    cloth: SewClothIn | None = None
    pieces: Annotated[list[GarmentPieceIn | SewPieceIn], Field(max_length=200)] = []
    seams: Annotated[list[GarmentSeamIn], Field(max_length=400)] = []
    fates: Annotated[dict[str, FateIn], Field(max_length=800)] = {}
    numbers: NumbersIn = NumbersIn()
    own_steps: Annotated[list[OwnStepIn], Field(max_length=200)] = []
    objective: Objective | None = None

    @field_validator("features", "units")
    @classmethod
    def _not_empty(cls, given: dict[str, object]) -> dict[str, object]:
        for own in given.values():
            if own == [] or (isinstance(own, dict) and [] in own.values()):
                raise ValueError("A list of choices names at least one; “none” where there is none.")
        return given

    @model_validator(mode="after")
    def _told(self) -> Self:
        if "features" not in self.model_fields_set and not any(isinstance(p, GarmentPieceIn) for p in self.pieces):
            raise ValueError("Give features, or pieces with their units.")
        return self

    def pieced(self) -> PiecedGarment | None:
        """The garment by its pieces, where any piece says its unit. Raises FeatureError."""
        own = [p for p in self.pieces if isinstance(p, GarmentPieceIn)]
        if not own:
            if self.seams or self.fates:
                raise FeatureError("Seams and fates speak of pieces: give pieces with their units.", "pieces")
            return None
        return garment_of(own, self.seams, self.fates)

    def garment(self) -> SewnGarment:
        """The core's garment."""
        cloth = self.cloth.traits() if self.cloth else ClothTraits()
        features = {name: one_word(choice) for name, choice in self.features.items()}
        units = {unit: {name: one_word(choice) for name, choice in own.items()} for unit, own in self.units.items()}
        own = tuple(
            OwnStep(
                s.id or f"own-{k}",
                s.text,
                s.place,
                s.minutes,
                tuple(s.after),
                tuple(s.before),
                s.verb or "",
                tuple(s.on),
            )
            for k, s in enumerate(self.own_steps, 1)
        )
        return SewnGarment(features, frozenset(self.equipment), self.schools, cloth, units, own)

    def drawn(self) -> dict[str, PieceShape]:
        """The pieces that are drawn, by name, with their named edges."""
        allowance = self.numbers.allowance or 0.0
        some = [
            (p.name or p.id, p.outline, p.edges)
            for p in self.pieces
            if p.outline is not None and isinstance(p.edges, dict)
        ]
        return {
            name: PieceShape(tuple(outline), edges=edges, allowance_mm=allowance)
            for name, outline, edges in some
            if all(0 <= i < len(outline) for edge in edges.values() for i in edge)
        }

    def each_left_out(self) -> Iterator[tuple[str, Self]]:
        """The same without each choice, school, tool and figure in turn, with its name."""
        for part in ("features", "schools"):
            given = getattr(self, part)
            for name in given:
                yield f"{part}.{name}", self._with(**{part: _without(given, name)})
        for unit, own in self.units.items():
            for name in own:
                yield f"units.{unit}.{name}", self._with(units={**self.units, unit: _without(own, name)})
        for tool in self.equipment:
            yield f"equipment.{tool}", self._with(equipment=[t for t in self.equipment if t != tool])
        for name, less in self.numbers.each_left_out():
            yield f"numbers.{name}", self._with(numbers=less)

    def _with(self, **changed: object) -> Self:
        return self.model_copy(update=changed)

    def facts(self) -> Facts:
        """What the numbers are worked out from, by the features."""
        settled = {n: several(c)[0] for n, c in settled_features(library(), self.garment()).items()}
        return self.facts_for(settled, self.numbers.at())

    def facts_for(self, features: Mapping[str, str], at: Mapping[str, AtThing], kind: str = "") -> Facts:
        """The same for a garment of these features, one choice each; `kind` where its pieces say it."""
        shapes = self.drawn()
        pieces = tuple((Piece(str(k), name, 1, shapes={"": s}), s) for k, (name, s) in enumerate(shapes.items()))
        weight = self.cloth.weight if self.cloth else "medium"
        required = requirements(Ask(pieces, features, self.numbers.figures(), garment=kind, weight=weight))
        allowance = self.numbers.allowance
        facts = Facts(
            hem=features["hem"],
            lining_pleat=features["lining-pleat"],
            sleeve=features["sleeve"],
            straps=features["straps"],
            yoke=features["yoke"],
            knit=bool(self.cloth and self.cloth.knit),
            shapes=shapes,
            schools=self.schools,
            required=required,
            at=at,
        )
        return facts if allowance is None else replace(facts, allowance_mm=allowance)


def one_word(choice: Choice) -> str:
    """A choice, or several, as the core writes them."""
    return choice if isinstance(choice, str) else joined(choice)


class CheckIn(SequenceIn):
    """A garment and an order of its step ids."""

    order: Annotated[list[str], Field(max_length=1000)]
