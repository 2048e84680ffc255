"""Notions worked out from the pieces: thread by seam length, zip, buttons, elastic, tape, pads, trims, needle and foot.

How much of each is common practice without a published source, save where a line names one.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, get_args

from rowanseed.core.errors import ReckonError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Unit, both, format_length
from rowanseed.core.make.plan import Trim
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.core.reckon.bias import square_for, strip_width, strips_needed
from rowanseed.core.reckon.buttons import zip_to_buy
from rowanseed.core.reckon.fullness import elastic_length
from rowanseed.core.reckon.thread import thread_for
from rowanseed.core.requirements import BANDED_CUFFS, Ask, Requirements, requirements
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.settings import needle_for

MATCHING_THREAD = "to match the cloth"

NotionKind = Literal[
    "thread", "overlock-thread", "zip", "buttons", "elastic", "elastic-thread", "hooks", "snaps", "stay-tape", "bias-tape",
    "shoulder-pads", "trim", "boning", "ribbon", "stiffener", "cord", "needles", "foot",
]  # fmt: skip
NOTION_KINDS: tuple[NotionKind, ...] = get_args(NotionKind)
KIND_WORDS: dict[NotionKind, str] = {
    "thread": "Sewing thread",
    "overlock-thread": "Overlocker thread",
    "zip": "Zip",
    "buttons": "Buttons",
    "elastic": "Elastic",
    "elastic-thread": "Elastic thread",
    "hooks": "Hooks and eyes",
    "snaps": "Snaps",
    "stay-tape": "Stay tape",
    "bias-tape": "Bias binding",
    "shoulder-pads": "Shoulder pads",
    "trim": "Piping, lace or braid",
    "boning": "Boning",
    "ribbon": "Ribbon",
    "stiffener": "Band stiffener",
    "cord": "Cord",
    "needles": "Machine needles",
    "foot": "Machine foot",
}
COUNTED: frozenset[NotionKind] = frozenset({"buttons", "hooks", "snaps", "needles", "foot", "zip", "shoulder-pads"})
ZIP_STEP_MM = {"cm": 20.0, "in": 25.4}
SNAPS = 7
PER_CARD = 3
JOIN_SEAM_MM = 6.0
USUAL_WAIST_MM, USUAL_WRIST_MM = 760.0, 170.0  # where no body is known
USUAL_LEG_END_MM = 240.0  # round an adult's ankle, common practice
NECK_ELASTIC_MM = 700.0  # from shoulder to shoulder round an adult, common practice
BONES, BONE_MM = 6, 250.0
BONED = ("princess", "side", "panel", "centre back")
# How many hooks a step sews on.
FRONT_HOOKS = 5
HOOK_STEPS = {"sew-hook": 1, "sew-front-hooks": FRONT_HOOKS}


@dataclass(frozen=True)
class Notion:
    """Something to have: an amount (mm, or a count), how it reads in the shop, and how it was worked out."""

    kind: NotionKind
    name: str
    amount: float
    text: str
    reason: str

    @property
    def key(self) -> str:
        """What tells it from the others of a make."""
        return f"{self.kind}:{self.name}"


@dataclass(frozen=True)
class NotionsAsk:
    """What notions are worked out from: one garment's pieces in its size, its seams, features, the body and the cloth.

    `per_card`: buttons sold together. `count`: garments that are made alike. `in_make`, `with_pattern`, `envelope`: what was typed.
    `steps`: ids of the sewing steps, so that nothing that a step sews on is missing.
    """

    pieces: tuple[tuple[Piece, PieceShape], ...]
    seams: tuple[Seam, ...]
    features: Mapping[str, str]
    tools: frozenset[str] = frozenset()
    waist_mm: float | None = None
    unit: Unit = "cm"
    weight: str = "medium"
    knit: bool = False
    piled: bool = False
    wrist_mm: float | None = None
    cloth: ClothTraits | None = None
    per_card: int = PER_CARD
    count: int = 1
    in_make: Figures = Figures()
    with_pattern: Figures = Figures()
    envelope: str = ""
    garment: str = ""
    steps: tuple[str, ...] = ()

    @cached_property
    def required(self) -> Requirements:
        """What one garment requires."""
        return requirements(
            Ask(self.pieces, self.features, self.in_make, self.with_pattern, self.envelope, self.garment, self.weight,
                self.waist_mm, self.unit)
        )  # fmt: skip


def notions(need: NotionsAsk) -> list[Notion]:
    """Everything beside cloth that the garment takes, in shop order."""
    found: list[Notion] = []
    for rule in _RULES:
        found += rule(need)
    order = {kind: k for k, kind in enumerate(NOTION_KINDS)}
    return sorted(found, key=lambda notion: order[notion.kind])


def seam_length(need: NotionsAsk) -> float:
    """All seams and hems of one garment on the cutting line, each seam once, pairs twice, mm."""
    shapes = {piece.number: (piece, shape) for piece, shape in need.pieces}
    total, seen = 0.0, set[tuple[str, str]]()
    for seam in need.seams:
        for number, edge in seam.sides[0]:
            if number in shapes:
                piece, shape = shapes[number]
                total += _edge(shape, edge) * _times(piece, shape)
        seen |= set(seam.edges)
    for piece, shape in need.pieces:
        if piece.role in ("self", "contrast", "lining"):
            hems = sum(_edge(shape, name) for name in shape.edges if "hem" in name or name == "foot")
            total += hems * _times(piece, shape)
            total += _sewn_to_itself(need, piece, shape, seen)
            if not any(number == piece.number for number, _ in seen):
                total += (
                    _round(shape) * _times(piece, shape) / 2
                )  # a piece whose seams are not declared: about half of its edge
    return total


def _sewn_to_itself(need: NotionsAsk, piece: Piece, shape: PieceShape, seen: set[tuple[str, str]]) -> float:
    """What is sewn on a piece beside its declared seams, mm: a crotch or a centre to its mirror image, darts, a casing's row."""
    total = sum(
        math.dist(line.points[0], line.points[1]) * _times(piece, shape) for line in shape.lines if line.kind == "dart"
    )
    if not any(number == piece.number for number, _ in seen):
        return total  # about half of all its edges is counted already
    if need.features.get("waist") == "casing" and piece.role == "self":
        total += _edge(shape, "waist") * _times(piece, shape)
    if piece.cut < 2 or shape.fold_edge is not None:
        return total
    closed_apart = need.features.get("closure", "none") in (
        "buttons",
        "snaps",
        "hook",
        "separating-zip",
        "ties",
        "wrap",
    )
    opens = need.features.get("opening-at", "front") if closed_apart else ""
    for edge in shape.edges:
        name = edge.lower()
        half = next((part for part in ("front", "back") if part in f"{piece.name} {edge}".lower()), "")
        if (piece.number, edge) not in seen and (name == "crotch" or (name.startswith("centre") and half != opens)):
            total += _edge(shape, edge) * piece.cut / 2
    return total


def edge_length(need: NotionsAsk) -> float:
    """All raw edges of shell and contrast, mm, without folds."""
    return sum(_round(shape) * _times(p, shape) for p, shape in need.pieces if p.role in ("self", "contrast"))


def _times(piece: Piece, shape: PieceShape) -> int:
    """How often an edge of a piece is sewn: once for each piece of cloth, twice where half of it lies on the fold."""
    return piece.cut * (2 if shape.fold_edge is not None else 1)


def _edge(shape: PieceShape, name: str) -> float:
    if name not in shape.edges:
        return 0.0
    return Walker().edge_mm(AlterPiece("", shape, allowance_mm=0.0), name)


def _round(shape: PieceShape) -> float:
    points = (*shape.outline, shape.outline[0])
    whole = sum(math.dist(a, b) for a, b in zip(points, points[1:]))
    return whole - (math.dist(*shape.fold_edge) if shape.fold_edge else 0.0)


def _thread(need: NotionsAsk) -> list[Notion]:
    seams = seam_length(need) * need.count
    stitch = "zigzag" if need.knit and "overlocker" not in need.tools else "lockstitch"
    # Topstitching and hems run beside seams that were counted once.
    passes = 1.5 if need.features.get("topstitching") == "edges" else 1.15
    takes = thread_for(seams * passes, stitch)
    reels = max(1, math.ceil(takes / 100_000))
    text = f"{reels} reel{'s' if reels > 1 else ''} of 100 m"
    reason = f"{format_length(seams, 'm')} of seams and hems, {stitch}; about {takes / 1000:.0f} m of thread with ends and samples."
    out = [Notion("thread", MATCHING_THREAD, takes, text, reason)]
    if "overlocker" in need.tools and need.features.get("seam-finish", "overlocked") == "overlocked":
        edges = edge_length(need) * need.count
        much = thread_for(edges, "overlock-3")
        out.append(
            Notion("overlock-thread", "three cones", much, f"{much / 1000:.0f} m on three cones",
                   f"{format_length(edges, 'm')} of raw edges, three threads.")
        )  # fmt: skip
    return out


def _zip(need: NotionsAsk) -> list[Notion]:
    closure = need.features.get("closure", "none")
    kinds = {"invisible-zip": "invisible", "lapped-zip": "skirt", "centred-zip": "skirt", "exposed-zip": "with a metal face",
             "fly": "trouser", "open-edge-zip": "skirt", "separating-zip": "separating"}  # fmt: skip
    if closure not in kinds:
        return []
    required, unit = need.required, need.unit
    length = required.zip.mm
    if not required.zip_is_given:
        length = zip_to_buy(length, ZIP_STEP_MM["in" if unit == "in" else "cm"])
    text = f"{need.count} of {format_length(length, unit)}"
    why = f"{required.opening.source.capitalize()}: {format_length(required.opening.mm, unit)}"
    why += (
        "; an invisible one 2.5 cm (1 in) longer, since it is sewn from above its stop"
        if closure == "invisible-zip"
        else ""
    )
    if required.zip_is_given:
        why = f"{required.zip.source.capitalize()}"
    return [Notion("zip", f"{kinds[closure]}, {format_length(length, unit)}", need.count, text,
                   f"{why}; a longer one is shortened.")]  # fmt: skip


def _buttons(need: NotionsAsk) -> list[Notion]:
    buttons = need.required.buttons
    if buttons is None or not buttons.total:
        return []
    total = buttons.total * need.count
    cards = math.ceil(total / need.per_card)
    spare = cards * need.per_card - total
    text = f"{cards} card{'s' if cards > 1 else ''} of {need.per_card}"
    size = format_length(buttons.across.mm, "in" if need.unit == "in" else "mm", 16)
    each = f" for each of {need.count}" if need.count > 1 else ""
    many = f"{total} button{'s' if total != 1 else ''}"
    reason = f"{many}: {buttons.words()}{each}; {size}: {buttons.across.source}; {spare} to spare."
    return [Notion("buttons", size, total, text, reason)]


def _elastic(need: NotionsAsk) -> list[Notion]:
    out = []
    elastic = need.required.elastic
    wide = f"{both(elastic.width.mm, need.unit)} wide"
    if need.features.get("waist") in ("casing", "elastic-sewn") and elastic.length_mm is not None:
        length = elastic.length_mm * need.count
        out.append(
            Notion("elastic", "for the waist", length, f"{both(length, need.unit)}, {wide}",
                   f"Nine tenths of {both(need.waist_mm or 0.0, need.unit)} of waist and the join; {wide}: {elastic.width.source}.")
        )  # fmt: skip
    if need.features.get("neck") == "casing":
        length = NECK_ELASTIC_MM * need.count
        out.append(
            Notion("elastic", "for the neck", length, both(length, need.unit),
                   "Enough to try on: it is cut where it sits well and goes over the head.")
        )  # fmt: skip
    if need.features.get("hem") == "casing":
        legs = need.features.get("legs", "none") != "none"
        each = USUAL_LEG_END_MM + 25.0 if legs else elastic_length(need.waist_mm or USUAL_WAIST_MM, 1.0, 25.0)
        length = each * (1 + legs) * need.count
        out.append(
            Notion("elastic", "for the lower edge", length, both(length, need.unit),
                   ("Twice the leg's end and a join each" if legs else "The body there and the join") + ", to be tried on.")
        )  # fmt: skip
    out += _edge_elastic(need)
    if need.features.get("cuff") == "elastic":
        wrist = (need.wrist_mm or USUAL_WRIST_MM) + 25.0
        length = 2 * wrist * need.count
        out.append(
            Notion("elastic", "for the sleeve ends", length, both(length, need.unit),
                   f"Twice {both(wrist, need.unit)}: the wrist and the join; an upper arm's end by the arm there.")
        )  # fmt: skip
    if need.features.get("shirring", "none") != "none":
        out.append(
            Notion("elastic-thread", "", 1, "1 spool", "Wound by hand on several bobbins; the Bench counts them.")
        )
    return out


def _edge_elastic(need: NotionsAsk) -> list[Notion]:
    """Elastic that is sewn on and turned in, as long as the edges of the pieces; what the hollows take less is its stretch."""
    closed = need.features.get("between-legs", "none") != "none"
    named = (("neck", "neck"), ("armhole", "armholes"), ("hem", "leg openings" if closed else "lower edge"))
    out = []
    for edge, words in named:
        length = sum(_edge(s, edge) * _times(p, s) for p, s in need.pieces if p.role == "self")
        if need.features.get(edge) == "elastic" and length:
            length = (length + 50.0) * need.count
            why = "The edges as they are drawn and the joins: it is cut shorter by what it is stretched."
            out.append(Notion("elastic", f"for the {words}", length, both(length, need.unit), why))
    return out


def _small(need: NotionsAsk) -> list[Notion]:
    out = []
    hooks = sum(HOOK_STEPS.get(step, 0) for step in need.steps)
    if not need.steps and (need.features.get("closure") == "hook" or need.features.get("waist") in ("band", "facing")):
        hooks = 1
    if hooks:
        count = hooks * need.count
        out.append(
            Notion(
                "hooks", "", count, f"{count}", "One for each place where a step sews one on, above zip or band's end."
            )
        )
    if need.features.get("closure") == "snaps":
        cuffed = need.features.get("cuff") in BANDED_CUFFS
        snaps = (SNAPS + 2 * cuffed) * need.count
        why = "One every 9 cm (3 1/2 in)" + (", and one on each cuff." if cuffed else ".")
        out.append(Notion("snaps", "", snaps, f"{snaps}", why))
    out += _inside(need)
    shoulders = [_edge(s, "shoulder") for p, s in need.pieces if p.role == "self" and "shoulder" in s.edges]
    if shoulders and (need.knit or (need.features.get("sleeve", "none") != "none" and need.weight == "light")):
        length = 2 * min(shoulders) * need.count
        out.append(
            Notion(
                "stay-tape", "for the shoulders", length, both(length, need.unit), "The shoulder carries the garment."
            )
        )
    for edge, feature, name in (
        ("neck", "neck", "neck"),
        ("front-edge", "front", "fronts"),
        ("armhole", "armhole", "armholes"),
    ):
        if need.features.get(feature) in ("binding", "binding-ring"):
            length = sum(_edge(s, edge) * _times(p, s) for p, s in need.pieces if p.role == "self") + 40.0
            out.append(Notion("bias-tape", f"for the {name}", length * need.count, both(length * need.count, need.unit),
                              "The edge, a join and its ends; the Bench cuts it from the cloth instead."))  # fmt: skip
    if need.features.get("shoulder-pads", "none") != "none":
        out.append(Notion("shoulder-pads", "", need.count, f"{need.count} pair", "One pair for each garment."))
    return out


def _inside(need: NotionsAsk) -> list[Notion]:
    """What lies inside a garment: boning, waist ribbon, a band's stiffener, cord."""
    out = []
    if need.features.get("boning", "none") != "none":
        seams = sum(
            _edge(s, e) * _times(p, s) for p, s in need.pieces if p.role == "lining" for e in s.edges if e in BONED
        )
        length = max(seams, BONES * BONE_MM) * need.count
        out.append(Notion("boning", "", length, both(length, need.unit, up=True),
                          "Every seam of the boned part, stopping 3 mm (1/8 in) short of its edges."))  # fmt: skip
    waist = need.waist_mm or USUAL_WAIST_MM
    if need.features.get("waist-stay") == "ribbon":
        length = (waist + 60.0) * need.count
        out.append(
            Notion("ribbon", "for the waist", length, both(length, need.unit), "The waist, and its ends turned.")
        )
    if need.features.get("waist") == "stiff-band":
        length = (waist + need.required.overlap.mm) * need.count
        out.append(Notion("stiffener", "for the waistband", length, both(length, need.unit),
                          "As long as the finished band, 3 to 4 cm (1 1/4 to 1 1/2 in) wide."))  # fmt: skip
    if "thread-drawcord" in need.steps or need.features.get("waist") == "drawcord":
        length = (waist + 600.0) * need.count
        out.append(Notion("cord", "for the casing", length, both(length, need.unit), "The waist, and enough to tie."))
    if need.features.get("gathers") == "corded" or need.features.get("decoration") == "piping":
        edges = sum(
            _edge(s, e) * _times(p, s) for p, s in need.pieces if p.role == "self" for e in s.edges if e == "neck"
        )
        length = max(edges, 1000.0) * need.count
        out.append(
            Notion("cord", "for piping", length, both(length, need.unit), "The piped edges; a join and its ends.")
        )
    return out


def _machine(need: NotionsAsk) -> list[Notion]:
    cloth = ClothTraits(need.weight if need.weight in ("light", "heavy") else "medium", need.knit, need.piled)  # type: ignore[arg-type]
    size, _, kind = needle_for(need.cloth or cloth).partition(" ")
    out = [
        Notion("needles", f"{kind} {size}", 1, "1 packet", "A new needle for every garment: an old one skips stitches.")
    ]
    if need.features.get("hem") == "twin-needle" or "twin-needle-hem" in need.steps:
        wide = "4.0/75 stretch" if need.knit else "4.0/80"
        out.append(Notion("needles", f"twin {wide}", 1, "1", "Two parallel rows above, a zigzag below that gives."))
    feet = {
        "invisible-zip": "invisible-zip foot",
        "lapped-zip": "zip foot",
        "centred-zip": "zip foot",
        "open-edge-zip": "zip foot",
        "exposed-zip": "zip foot",
        "separating-zip": "zip foot",
        "fly": "zip foot",
    }
    closure = need.features.get("closure", "none")
    if closure in feet:
        out.append(Notion("foot", feet[closure], 1, "1", "The stitches lie close to the teeth."))
    if closure == "buttons" and "buttonhole-foot" not in need.tools:
        out.append(Notion("foot", "buttonhole foot", 1, "1, or sew them by hand", "Every buttonhole the same length."))
    if need.piled and "walking-foot" not in need.tools:
        out.append(
            Notion("foot", "walking foot", 1, "1, or baste every seam", "Piled layers creep against each other.")
        )
    return out


_RULES: Sequence[Callable[[NotionsAsk], list[Notion]]] = (_thread, _zip, _buttons, _elastic, _small, _machine)


def trim_for(need: NotionsAsk, trim: Trim, joins: int = 1, ends: int = 2, turn_mm: float = 25.0) -> Notion:
    """Piping, lace or braid along edges: their length, joins and turned ends; a binding with the square it is cut from.

    Raises:
        ReckonError: no edge was chosen, or none of them is on a piece.
    """
    shapes = {piece.number: (piece, shape) for piece, shape in need.pieces}
    total = sum(
        _edge(shapes[number][1], edge) * _times(*shapes[number]) for number, edge in trim.edges if number in shapes
    )
    if total <= 0:
        raise ReckonError("Choose at least one edge.", "edges")
    length = (total + (2 * joins + ends) * turn_mm) * need.count
    reason = f"{both(total, need.unit)} of edge, {joins} join, {ends} turned ends."
    if trim.finished_mm > 0:
        strip = strip_width(trim.finished_mm, "single")
        side = square_for(length, strip, JOIN_SEAM_MM)
        strips, squares = strips_needed(length, strip, JOIN_SEAM_MM)
        reason += (
            f" Cut from the cloth: bias strips {both(strip, need.unit)} wide, from a square of {both(side, need.unit, up=True)} "
            f"sewn to a tube, or {strips} strips from {squares} square{'s' if squares > 1 else ''} of 50 cm (19 3/4 in), joined."
        )
        return Notion("bias-tape", trim.name, length, both(length, need.unit), reason)
    return Notion("trim", trim.name, length, both(length, need.unit), reason)
