"""The units of a garment from its features: body, skirt, sleeves, collar, lining, with their edges and seams."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from rowanseed.core.sew.anatomy import SeamKind, unit_of
from rowanseed.core.sew.choices import RAGLANS
from rowanseed.core.sew.conditions import holds
from rowanseed.core.sew.described import Described, describe
from rowanseed.core.sew.finishing import finish_of_joint, finish_of_seam
from rowanseed.core.sew.model import Layer, Library, SewnGarment


@dataclass(frozen=True)
class Seam:
    """A seam of this garment: the thing's name, the edges it ends on, how its allowances are finished, what runs on from it."""

    thing: str
    id: str
    words: str
    ends: tuple[str, ...]
    method: str
    kind: SeamKind | None = None
    run: tuple[str, ...] = ()

    @property
    def things(self) -> tuple[str, ...]:
        """The seam and what is sewn with it in one run."""
        return (self.thing, *(thing for thing in self.run if thing))


@dataclass
class Unit:
    """What is sewn as one before it is joined to the rest: its features, edges and seams."""

    name: str
    kind: str
    layer: Layer
    features: Mapping[str, str]
    edges: set[str] = field(default_factory=set)
    seams: dict[str, Seam] = field(default_factory=dict)
    openings: set[str] = field(default_factory=set)

    def has(self, name: str) -> bool:
        """Whether it has an edge, a seam or an opening of this name."""
        return name in self.edges or name in self.seams or name in self.openings


@dataclass(frozen=True)
class Assembly:
    """A garment's units in their order, the seams between them, and which seam of a ring is left for last at which edge.

    `taken`: what was taken where the description leaves the garment open, in sentences. `facts`: what `fact:` conditions ask.
    """

    units: Mapping[str, Unit]
    joints: Mapping[str, Seam]
    last: frozenset[tuple[str, str]]
    facts: frozenset[str]
    taken: tuple[str, ...]
    garment: SewnGarment
    top: str
    low: str
    unit_facts: Mapping[str, frozenset[str]]
    opening_ends: Mapping[str, tuple[str, ...]]

    def seams(self) -> Iterator[Seam]:
        """Every seam, within units and between them."""
        for unit in self.units.values():
            yield from unit.seams.values()
        yield from self.joints.values()

    def has(self, thing: str) -> bool:
        """Whether the garment has this unit, edge, seam, opening or seam between units."""
        parts = thing.split("+")
        if len(parts) > 1:
            return all(self.has(part) for part in parts)
        unit = self.units.get(unit_of(thing))
        if unit is None or thing == unit.name:
            return unit is not None
        return unit.has(thing.removeprefix(unit.name + "."))

    def ends(self) -> dict[str, tuple[str, ...]]:
        """For each seam and opening, the edges on which it ends."""
        found = {seam.thing: seam.ends for seam in self.seams()}
        for unit in self.units.values():
            for name in unit.openings & set(self.opening_ends):
                if name == "zip" and unit.layer == "lining":
                    continue  # it is only felled to the tape
                over = self._run_over(name, unit)
                ends = [edge for edge in self.opening_ends[name] if unit.has(edge) and edge not in over]
                found[f"{unit.name}.{name}"] = tuple(f"{unit.name}.{edge}" for edge in ends)
        return found

    def _run_over(self, opening: str, unit: Unit) -> tuple[str, ...]:
        """The edges that an opening of this kind may end on and here does not."""
        if opening == "vent" and unit.kind != "sleeve":
            return ("wrist",)  # of a sleeve that is cut on: a back's vent runs to the hem
        if opening == "slit":
            if unit.features.get("neck-shape") != "slit":
                return ("neck",)
            # Through the neck's own facing the slit is one line of stitches with the neck, and crosses nothing.
            return ("hem", "neck") if self.facts & {"neck-faced", "neck-by-lining"} else ("hem",)
        if opening == "gusset" and self.garment.schools.get("gusset") == "one-piece":
            return ("side",)  # it closes what the side seam left open
        if opening != "zip":
            return ()
        down_front = unit.features.get("closure") == "separating-zip"
        if self.top and unit.features.get("zip-at") == "side" and not down_front:
            return ("neck", "waist")
        # The zip of a garment with a waist seam runs over that seam: it ends at the neck alone.
        return ("waist", "armhole") if self.top != self.low and self.top else ("armhole",)

    def _banded_neck(self) -> tuple[str, ...]:
        return ("neck",) if "banded-front" in self.facts else ()

    def edge_ends(self) -> dict[str, tuple[str, ...]]:
        """Edges that run into another: a front edge into the hem, over a waist seam too, and into the neck where it is banded."""
        found = {}
        for unit in self.units.values():
            if "front-edge" in unit.edges and unit.kind in ("body", "bodice", "skirt"):
                if unit.kind == "skirt" and unit.layer == "lining":
                    continue  # it is felled to the facings once the lining is hemmed
                over = ("waist",) if unit.kind == "skirt" else self._banded_neck()
                if unit.kind == "body" and unit.features.get("closure") != "separating-zip":
                    over += ("waist",)  # a band at the lower edge takes its end in
                down = () if "zip-over-band" in self.facts else ("hem",)  # the zip runs on over the band
                ends = [f"{unit.name}.{e}" for e in (*down, *over) if e in unit.edges]
                if unit.name == self.top and self.low != self.top and down:
                    ends.append(f"{self.low}.hem")
                found[f"{unit.name}.front-edge"] = tuple(ends)
        return found


def units_of(library: Library, garment: SewnGarment) -> Assembly:
    """The units of a completed garment with their edges, seams and the seams between them."""
    described = describe(garment)
    units = {
        name: Unit(
            name, kind, "lining" if name.startswith("lining.") else "shell", features, set(edges), {}, set(openings)
        )
        for name, kind, features, edges, openings in described.units
    }
    for unit in units.values():
        _give_seams(library, unit, described)
        _give_declared(library, unit, described)
    _join_runs(units, described)
    joints = {}
    for thing, id_, words, ends, curved in described.joints(library.anatomy):
        method = finish_of_joint(described, thing, curved)
        joints[thing] = Seam(thing, id_, words, ends, method)
    facts = {name: described.facts_of(name) for name in units}
    return Assembly(
        units, joints, described.last, described.facts | frozenset(_facts_of_seams(units, described)), described.taken,
        described.garment, described.top, described.low, facts,
        dict(library.anatomy.openings),
    )  # fmt: skip


def _facts_of_seams(units: Mapping[str, Unit], described: Described) -> Iterator[str]:
    """Facts that are known once each seam has its method."""
    pocketed = units.get(described.low if "pocket-low" in described.facts else described.top or described.low)
    side = pocketed.seams.get("side") if pocketed else None
    if side is not None and side.method == "french":
        yield "pocket-french"


def _give_seams(library: Library, unit: Unit, described: Described) -> None:
    own = replace(described.garment, features=unit.features)
    facts = described.facts_of(unit.name)
    kinds: dict[str, SeamKind] = {}
    for kind in library.anatomy.seams:
        wanted = kind.name not in kinds and (unit.name, kind.name) not in described.without
        if wanted and unit.kind in kind.units and all(holds(c, own, facts) for c in kind.when):
            kinds[kind.name] = kind
    for name, kind in kinds.items():
        named = _that_hold(kind.ends, own, facts)
        ends = tuple(f"{unit.name}.{edge}" for edge in named if edge in unit.edges or edge in kinds)
        finish = finish_of_seam(described, unit, kind)
        unit.seams[name] = Seam(f"{unit.name}.{name}", kind.id, kind.words, ends, finish, kind)


def _that_hold(ends: Iterable[str], garment: SewnGarment, facts: frozenset[str]) -> Iterator[str]:
    """The edges on which a kind of seam ends here: `edge if condition & condition` is limited to some garments."""
    for entry in ends:
        edge, _, condition = entry.partition(" if ")
        if not condition or all(holds(c, garment, facts) for c in condition.split(" & ")):
            yield edge


def _give_declared(library: Library, unit: Unit, described: Described) -> None:
    """Seams that the pattern declares and such a unit does not usually have, with what the library knows of their like."""
    shell = unit.name.removeprefix("lining.")
    wanted = {"top" if shell == described.top else "", "low" if shell == described.low else "", shell} - {""}
    for seam in described.garment.declared:
        known = seam.name in (unit.edges | unit.seams.keys() | (unit.openings - {"panel"}))
        at_zip = {"back": "centre-back", "front": "centre-front"}.get(described.zip_place)
        opened = unit.name in described.zip_units and seam.name == at_zip
        if seam.unit not in wanted or known or opened or (unit.layer == "lining" and seam.name == "yoke"):
            continue
        alike = (k for k in library.anatomy.seams if k.name == seam.name and unit.kind in k.units and not k.apart)
        kind = next(alike, None) or SeamKind(seam.name, (unit.kind,), f"{seam.name}-seam", seam.words, minutes=15)
        usual = _that_hold(kind.ends, described.garment, described.facts_of(unit.name))
        ends = (f"{unit.name}.{e}" for e in (*seam.ends, *usual) if e in unit.edges or e in unit.seams)
        unit.seams[seam.name] = Seam(
            f"{unit.name}.{seam.name}", kind.id, kind.words, tuple(dict.fromkeys(ends)),
            finish_of_seam(described, unit, kind), kind,
        )  # fmt: skip


def _join_runs(units: Mapping[str, Unit], described: Described) -> None:
    """A sleeve set flat is closed with the side in one run, facings sewn apart with the shoulder."""
    runs = []
    for layer in ("", "lining."):
        if "sleeves-flat" in described.facts or described.has("sleeve", *RAGLANS):
            runs.append((f"{layer}{described.top}", "side", f"{layer}sleeve", "underarm"))
    if "facing-apart" in described.facts:
        runs.append((described.top, "shoulder", "facing", "shoulder"))
    if described.has("neck", "combined-facing") and "sleeves-flat" not in described.facts:
        runs.append((described.top, "side", "facing", "side"))
    for unit, name, other, further in runs:
        if unit in units and other in units and name in units[unit].seams and further in units[other].seams:
            first, second = units[unit].seams[name], units[other].seams[further]
            units[unit].seams[name] = replace(first, run=(second.thing,))
            units[other].seams[further] = replace(second, run=("",))


def runs_on(seam: Seam) -> bool:
    """Whether a seam is sewn in one run with another, which has its operations."""
    return seam.run == ("",)
