"""The numbers a step needs, from the pieces where they are known, else from common practice (no published source)."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.errors import ReckonError
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import MM_PER, Unit, both
from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.core.reckon import bias, hems, seams
from rowanseed.core.reckon.fullness import elastic_length
from rowanseed.core.requirements import (
    ELASTIC_JOIN_MM,
    ELASTIC_SHARE,
    THICK_MORE_MM,
    Ask,
    Figure,
    Requirements,
    requirements,
)
from rowanseed.core.sew.anatomy import edges_of
from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.pieces.model import PiecedGarment, is_foot
from rowanseed.core.sew.pieces.said import names_of_edges

IN = MM_PER["in"]
BOUND_MM = 0.25 * IN  # of a bound edge shows so much: common practice, no source


@dataclass(frozen=True)
class AtThing:
    """Figures typed for one edge or seam: its hem's folds, its allowance; mm."""

    first_mm: float | None = None
    second_mm: float | None = None
    allowance_mm: float | None = None

    @property
    def source(self) -> str:
        """Where they come from, in words."""
        return "typed for this edge"

    def over(self, under: "AtThing | None") -> "AtThing":
        """These figures, and where they say nothing those of another."""
        if under is None:
            return self
        first, second, allowance = (
            own if own is not None else other
            for own, other in (
                (self.first_mm, under.first_mm),
                (self.second_mm, under.second_mm),
                (self.allowance_mm, under.allowance_mm),
            )
        )
        return AtThing(first, second, allowance)


@dataclass(frozen=True)
class OfFate(AtThing):
    """Figures that an edge's fate tells, or that its way of hemming has."""

    why: str = ""

    @property
    def source(self) -> str:
        """Where they come from, in words."""
        return self.why


@dataclass(frozen=True)
class Facts:
    """What is known of this garment: the shell's pieces by name in the size that is cut, body, allowances, what it requires; mm.

    `at`: figures of single edges and seams, by their names.
    """

    unit: Unit = "cm"
    allowance_mm: float = 0.625 * IN
    hem: str = "double"
    lining_pleat: str = "full"
    sleeve: str = "set-in"
    straps: str = "none"
    yoke: str = "none"
    knit: bool = False
    waist_mm: float | None = None
    shapes: Mapping[str, PieceShape] = field(default_factory=dict)
    schools: Mapping[str, str] = field(default_factory=dict)
    required: Requirements = requirements(Ask())
    allowances: str = ""
    at: Mapping[str, AtThing] = field(default_factory=dict)

    def for_things(self, things: Sequence[str]) -> "Facts":
        """The facts for work on these things: a sleeve's hem has its own folds; figures typed for one stand before all others."""
        if any(thing.endswith(".wrist") for thing in things):
            wrist = replace(self.required, hem_first=self.required.wrist_first, hem_second=self.required.wrist_second)
            return replace(self, required=wrist)._typed_for(things)
        return self._typed_for(things)

    def _typed_for(self, things: Sequence[str]) -> "Facts":
        found = next((self.at[name] for thing in things for name in (thing, *edges_of(thing)) if name in self.at), None)
        if found is None:
            return self
        own, required = self, self.required
        if found.first_mm is not None:
            required = replace(required, hem_first=Figure(found.first_mm, found.source))
        if found.second_mm is not None:
            required = replace(required, hem_second=Figure(found.second_mm, found.source))
        if found.allowance_mm is not None:
            own = replace(own, allowance_mm=found.allowance_mm, allowances="")
        return replace(own, required=required)

    @property
    def hem_first_mm(self) -> float:
        """The hem's first fold."""
        return self.required.hem_first.mm

    @property
    def hem_second_mm(self) -> float:
        """The hem's second fold, or its only one."""
        return self.required.hem_second.mm

    def say(self, mm: float) -> str:
        """A length in the user's unit, with its counterpart."""
        return both(mm, self.unit)

    def edge(self, name: str, *pieces: str) -> float | None:
        """The length of a named edge summed over the pieces that have it, matched by words in their names; mm."""
        total = 0.0
        for piece, shape in self.shapes.items():
            if any(word in piece.lower() for word in pieces) and name in shape.edges:
                total += edge_length(shape, name)
        return total or None

    def seam(self, name: str, *pieces: str) -> float | None:
        """The same on the seam line, where the edges are sewn; mm."""
        walker, total = Walker(), 0.0
        for piece, shape in self.shapes.items():
            if any(word in piece.lower() for word in pieces) and name in shape.edges:
                total += walker.edge_mm(AlterPiece(piece, shape), name)
        return total or None


def at_edges(g: PiecedGarment, typed: Mapping[str, AtThing]) -> dict[str, AtThing]:
    """Figures of single edges and seams: those of the fates, and before them what was typed for an edge, its unit or its seam."""
    told = {edge: _folds(edge, fate) for edge, fate in g.fates.items() if fate.ending == "hem"}
    for edge in g.fates:
        own = next((typed[name] for name in names_of_edges(g, [edge]) if name in typed), None)
        if own is not None:
            told[edge] = own.over(told.get(edge))
    return {**told, **{name: own for name, own in typed.items() if name not in told}}


ONCE = frozenset({"single", "blind", "hand", "twin-needle", "circular"})  # turned once: there is no first fold
NARROW_MM = 0.25 * IN


def _folds(edge: str, fate: EdgeFate) -> AtThing:
    """A hem's folds as its fate has them; an edge that is not at the foot, and a narrow hem, are turned twice by 1/4 in."""
    if fate.first_mm is not None or fate.second_mm is not None:
        return OfFate(
            0.0 if fate.way in ONCE and not fate.first_mm else fate.first_mm,
            fate.second_mm,
            why="told for this edge",
        )
    if fate.way == "pointed":
        return OfFate(0.5 * IN, 0.5 * IN, why="so that its points survive")
    if fate.way in ("narrow", "rolled") or not is_foot(edge)[0]:
        return OfFate(0.0 if fate.way in ONCE else NARROW_MM, NARROW_MM, why="common practice")
    return AtThing(0.0 if fate.way in ONCE else None)


ALIKE_MM = 1.0  # edges that differ by less are sewn as they are
STRAPPED = ("buttoned", "sewn")  # then there is no shoulder


def edge_length(shape: PieceShape, name: str) -> float:
    """Length of a named edge along the cutting line, mm."""
    return path_length(edge_points(shape.outline, shape.edges[name]))


def numbers_for(operation: Operation, facts: Facts) -> dict[str, str]:
    """The numbers of an operation, by name, in words."""
    own = facts.for_things(operation.on)
    return {name: text for name in operation.does.numbers if (text := SUMS[name](own))}


def _staystitch(f: Facts, from_: str = "shoulder", to: str = "centre") -> str:
    place = {
        "quarter": f"{f.say(0.25 * IN)} from the edge",
        "inside": "just inside the seam line, within the allowance",
        "on-line": "on the seam line",
    }.get(f.schools.get("staystitch-place", ""), f"{f.say(0.125 * IN)} outside the seam line")
    stitch = "stitches of about 3 mm" if f.schools.get("staystitch-stitch") == "long" else "the stitch of the seams"
    if from_ == "shoulder" and f.straps in STRAPPED:
        from_ = "the straps' places"
    way = "through in one run" if f.schools.get("staystitch-way") == "through" else f"from {from_} to {to} in two runs"
    return f"{place[0].upper()}{place[1:]}, {way}, with {stitch}."


def _interfacing(f: Facts) -> str:
    cut = {
        "all": "with all its allowances",
        "none": "without any allowance",
    }.get(f.schools.get("interfacing-allowance", ""), "without its allowance on the outer edges")
    on = {"shell": "on the shell", "facing": "on the facing"}.get(f.schools.get("interfacing-on", ""), "")
    return f"Cut {cut}{', fused ' + on if on else ''}."


def _hem(f: Facts) -> str:
    first, second = f.required.hem_first, f.required.hem_second
    if first.mm > 0:
        lines = hems.double_hem(min(first.mm, second.mm), second.mm)
        return (
            f"Folds of {f.say(first.mm)} and {f.say(second.mm)} ({second.source}): chalk lines {f.say(lines.first_mm)} and "
            f"{f.say(lines.second_mm or 0.0)} from the raw edge."
        )
    lines = hems.single_hem(second.mm)
    return f"One fold of {f.say(second.mm)} ({second.source}): chalk line {f.say(lines.first_mm)} from the raw edge."


def french_first_mm(allowance_mm: float) -> float:
    """The first pass of a French seam in an allowance: 1/4 in where there is room, else two fifths."""
    return 0.25 * IN if allowance_mm > 0.55 * IN else 0.4 * allowance_mm


def _french(f: Facts) -> str:
    first = french_first_mm(f.allowance_mm)
    try:
        second = seams.french_seam(f.allowance_mm, first)
    except ReckonError:
        return ""
    return f"For a French seam: {f.say(first)} wrong sides together, then {f.say(second)} right sides together."


def _waistband(f: Facts) -> str:
    overlap, band = f.required.overlap, f.required.band
    if band is not None:
        drawn = f"The band as drawn: {f.say(band.length_mm)} between its ends, {f.say(band.finished_mm)} wide finished"
        if f.waist_mm is None:
            return f"{drawn}; {f.say(overlap.mm)} of it overlap ({overlap.source})."
        ease = band.length_mm - overlap.mm - f.waist_mm
        left = f"{f.say(abs(ease))} {'of ease' if ease >= 0 else 'too short: measure again'}"
        return f"{drawn}: waist {f.say(f.waist_mm)}, overlap {f.say(overlap.mm)} ({overlap.source}), {left}."
    if f.waist_mm is None:
        return (
            "The waist is not measured yet. Length: waist + ease + overlap + two seam allowances; width: twice the finished width "
            "+ two allowances."
        )
    length = seams.waistband_length(f.waist_mm, overlap.mm, f.allowance_mm)
    return f"Waist {f.say(f.waist_mm)} + overlap {f.say(overlap.mm)} + two allowances: cut {f.say(length)} long, and its ease."


def _elastic(f: Facts) -> str:
    elastic = f.required.elastic
    wide = f"{f.say(elastic.width.mm)} wide ({elastic.width.source})"
    length = elastic.length_mm
    if length is None and f.waist_mm is not None:
        length = elastic_length(f.waist_mm, ELASTIC_SHARE, ELASTIC_JOIN_MM)
    if length is None:
        return f"Elastic {wide}: about nine tenths of the waist, plus 2.5 cm (1 in) to join."
    return f"Cut the elastic, {wide}, {f.say(length)} long: nine tenths of the waist and a join."


def _casing(f: Facts, before: str, after: str = "") -> str:
    """A casing's depth for its elastic: `before` and `after` stand round it."""
    elastic = f.required.elastic
    why = f"the elastic's {f.say(elastic.width.mm)} ({elastic.width.source}) and {f.say(elastic.more_mm)} more"
    thick = "" if elastic.thick else f"; a thick elastic takes {f.say(THICK_MORE_MM)}"
    return f"{before} {f.say(elastic.casing_mm)}{after}: {why}{thick}."


def cap_and_armhole(f: Facts) -> tuple[float, float] | None:
    """The sleeve's cap and the armhole it is sewn into, both on the seam line, mm; None where the pieces do not say."""
    front, back = f.seam("armhole", "front"), f.seam("armhole", "back", "yoke")
    cap_front, cap_back = f.seam("cap front", "sleeve"), f.seam("cap back", "sleeve")
    if not (front and back and cap_front and cap_back):
        return None
    return cap_front + cap_back, front + back


def _cap_ease(f: Facts) -> str:
    gathered = f.sleeve == "gathered"
    place = "in the upper half of the cap"
    if gathered or f.schools.get("ease-place") == "between-notches":
        place = "between the notches"
    rows = _ease_rows(f).removesuffix(".")
    measured = cap_and_armhole(f)
    if measured is None:
        return f"{rows}; {'drawn up' if gathered else 'ease of about 2.5 cm (1 in),'} {place}."
    cap, armhole = measured
    ease = cap - armhole
    told = f"Cap {f.say(cap)}, armhole {f.say(armhole)} on the seam line"
    if ease < 0:
        return f"{told}: {f.say(-ease)} too short, measure again."
    return f"{told}: {f.say(ease)} to {'gather' if gathered else 'ease in'}, {place}. {rows}."


def _cap_stretched(f: Facts) -> str:
    measured = cap_and_armhole(f)
    told = f"Cap {f.say(measured[0])}, armhole {f.say(measured[1])} on the seam line. " if measured else ""
    return f"{told}Stretch the shorter edge to the longer one between quarters: a knit needs no rows."


def _shoulder_ease(f: Facts) -> str:
    own = replace(
        f, shapes={n: s for n, s in f.shapes.items() if not any(w in n.lower() for w in ("facing", "lining"))}
    )
    back, front = own.seam("shoulder", "back") or own.seam("shoulder", "yoke"), own.seam("shoulder", "front")
    if back and front and abs(back - front) < ALIKE_MM:
        return ""
    if back and front:
        longer, other = ("back", "front") if back > front else ("front", "back")
        told = f"Back {f.say(back)}, front {f.say(front)} on the seam line"
        return f"{told}: ease the {longer}'s {f.say(abs(back - front))} to the {other}."
    if f.knit or f.yoke != "none":
        return ""  # a knit's shoulders are cut alike, a yoke's seam lies away from the shoulder that needs the ease
    return "Often the back shoulder is a little longer: ease it to the front."


def _ease_rows(f: Facts) -> str:
    inner = max(0.6 * f.allowance_mm, f.allowance_mm - 0.25 * IN)
    return f"Two rows {f.say(inner)} and {f.say(f.allowance_mm)} from the edge."


def _spacing(f: Facts) -> str:
    way = "Crosswise. " if f.schools.get("buttonhole-direction") == "crosswise" else "Upright. "
    if f.straps == "buttoned":
        return "Along the strap, as it pulls. From the marks of your size, tried on the body."
    buttons = f.required.buttons
    if buttons is None or not buttons.places_mm or buttons.front_mm is None:
        return f"{way}From the marks of your size, or even between the first and the last."
    return (
        f"{way}{buttons.front} on a {buttons.side} of {f.say(buttons.front_mm)} ({buttons.source}): the first "
        f"{f.say(buttons.places_mm[0])} below the neck edge, then every {f.say(buttons.spacing_mm)}."
    )


def _buttonhole(f: Facts) -> str:
    buttons = f.required.buttons
    if buttons is None:
        return "Button's diameter + its thickness."
    hole = both(buttons.hole_mm, f.unit, 16, up=True)
    return f"{hole} long: a button of {f.say(buttons.across.mm)} ({buttons.across.source}) and its thickness."


def _gathers(f: Facts) -> str:
    del f
    return "Two rows of 4 to 5 mm stitches inside the allowance; quarter both edges; draw the bobbin threads."


def _binding(f: Facts) -> str:
    if f.knit:
        return "About a tenth shorter than the edge, stretched on evenly between quarters (common practice; try it on a scrap)."
    return "Follow the crease; ease on outward curves, pull straight on inward ones."


def _binding_strip(f: Facts) -> str:
    strip = f.say(bias.strip_width(BOUND_MM, "single"))
    return f"Strips {strip} wide, four times the {f.say(BOUND_MM)} that show (common practice); wider where more is to show."


def _binding_trim(f: Facts) -> str:
    return f"To {f.say(BOUND_MM)}, as wide as the binding shows: its first row then lies on the seam line."


def _overlocked_gathers(f: Facts) -> str:
    del f
    return "Differential at its highest, stitch length at its longest, needle tension turned up; a tail of 15 cm at each end."


def _gather_ratio(f: Facts) -> str:
    loose, held = f.seam("waist", "skirt"), f.seam("waist", "bodice", "waistband")
    if not (loose and held):
        return "Quarter both edges and mark the quarters; ratio = loose edge : finished edge."
    return f"Loose edge {f.say(loose)}, drawn up to {f.say(held)}: {loose / held:.1f} to 1; a quarter is {f.say(held / 4)}."


def _armhole_trim(f: Facts) -> str:
    left = f.allowance_mm - 0.25 * IN
    if left < 0.25 * IN:
        return f"Its allowance of {f.say(f.allowance_mm)} stays as it is."
    return f"Trim from {f.say(f.allowance_mm)} to {f.say(left)}."


def _lining_pleat(f: Facts) -> str:
    if f.lining_pleat == "tapering":
        return (
            f"Ease pleat: {f.say(IN)} beyond the centre at the neck, {f.say(2 * IN)} in all, to nothing at the waist; "
            f"stitched {f.say(2 * IN)} from the neck."
        )
    return (
        f"Ease pleat: {f.say(IN)} beyond the centre, {f.say(2 * IN)} in all, stitched {f.say(2 * IN)} "
        f"from the neck and {f.say(3 * IN)} from the hem."
    )


def _fixed(text: str) -> Callable[[Facts], str]:
    return lambda facts: text


SUMS: dict[str, Callable[[Facts], str]] = {
    "hem": _hem,
    "french-seam": _french,
    "waistband": _waistband,
    "elastic": _elastic,
    "cap-ease": _cap_ease,
    "ease-rows": _ease_rows,
    "buttonhole-spacing": _spacing,
    "gathers": _gathers,
    "gathers-overlocked": _overlocked_gathers,
    "gather-ratio": _gather_ratio,
    "cartridge": lambda f: (
        f"Marks every {f.say(0.5 * IN)}; two parallel rows {f.say(0.125 * IN)} and {f.say(1.125 * IN)} from the folded edge."
    ),
    "seam": lambda f: f"Seam allowance {f.allowances or f.say(f.allowance_mm)}.",
    "staystitch": _staystitch,
    "staystitch-panel": lambda f: _staystitch(f, "above the bust", "below it").replace(" in two runs", " in one run"),
    "staystitch-waist": lambda f: _staystitch(f, "side"),
    "staystitch-armhole": lambda f: _staystitch(f, "shoulder", "side"),
    "interfacing-cut": _interfacing,
    "fuse-time": _fixed("10 to 15 seconds on each spot, overlapping."),
    "diagonal-basting": lambda f: f"Stitches of {f.say(0.5 * IN)}, {f.say(3 * IN)} to {f.say(4 * IN)} apart, no knot.",
    "zigzag": _fixed("3 mm wide, 2 mm long, the needle falling just off the edge."),
    "dart": lambda f: f"From the wide end to the point; 1.5 mm stitches over the last {f.say(0.75 * IN)}.",
    "dart-pressing": _fixed("Vertical darts toward the centre, horizontal ones down."),
    "pocket-corner": _fixed("A small triangle of stitches, begun 2 cm (3/4 in) down."),
    "edge-stitch": lambda f: f"{f.say(0.125 * IN)} or less from the edge.",
    "shoulder-ease": _shoulder_ease,
    "clip": lambda f: f"Clip curves every {f.say(0.5 * IN)} to {f.say(IN)}, to the stitching and not through it.",
    "binding": _binding,
    "binding-strip": _binding_strip,
    "binding-trim": _binding_trim,
    "neck-band": lambda f: f"Band shorter than the edge, {f.say(0.375 * IN)} seam; stretch it evenly.",
    "collar-point": _fixed("Shorter stitches, two across the point."),
    "collar-stand": lambda f: f"The stand runs {f.say(f.allowance_mm)} beyond the front edge.",
    "armhole-trim": _armhole_trim,
    "zip": lambda f: (
        f"Opening {f.say(f.required.opening.mm)}, {f.required.opening.source}; the zip {f.say(f.required.zip.mm)} or "
        "longer, then shortened."
    ),
    "casing-seam": lambda f: _casing(f, "Allowances of"),
    "casing-strip": lambda f: _casing(
        f, "The strip's finished width is", f", and two folds of {f.say(0.25 * IN)} beside it"
    ),
    "casing": lambda f: _casing(f, f"Fold {f.say(0.25 * IN)}, then"),
    "lining-gap": lambda f: f"Leave {f.say(6 * IN)} to {f.say(8 * IN)} open for turning.",
    "lining-pleat": _lining_pleat,
    "lining-hem": lambda f: f"{f.say(0.5 * IN)} to {f.say(0.75 * IN)} shorter than the garment.",
    "lining-fold": lambda f: (
        f"Cut {f.say(0.5 * IN)} longer than it will hang: a fold of ease, its edge {f.say(0.5 * IN)} to "
        f"{f.say(0.75 * IN)} above the garment's."
    ),
    "cap-stretched": _cap_stretched,
    "blind-hem": lambda f: f"{f.say(0.25 * IN)} beyond the fold.",
    "buttonhole": _buttonhole,
}
