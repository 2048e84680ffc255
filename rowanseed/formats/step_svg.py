"""A drawing for a sewing step, from the step's own numbers where the pieces give them: hems, darts, pleats, rows, clips, zips."""

from collections.abc import Callable

from rowanseed.core.lengths import MM_PER
from rowanseed.core.reckon import hems
from rowanseed.core.reckon.model import Figure
from rowanseed.core.reckon.seams import band_width, waistband_length
from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.numbers import Facts, cap_and_armhole, french_first_mm
from rowanseed.formats import step_sketches as sketches
from rowanseed.formats.bench_svg import INK, LEAF, PAPER, ROWAN, SLATE, bench_figure
from rowanseed.formats.drawing import Drawn, markup, tag

IN = MM_PER["in"]
W, H = 300, 150


def step_svg(operation: Operation, facts: Facts) -> str:
    """The drawing of a step; empty where words say it better."""
    facts = facts.for_things(operation.on)
    for word, draw in _BY_NUMBER.items():
        if word in operation.does.numbers:
            figure = draw(facts)
            if figure is not None:
                return bench_figure(figure, operation.title, facts.unit)
    sketch = _sketch_of(operation)
    if sketch is None:
        return ""
    said = f"{operation.title}, drawn"
    return markup(tag("svg", sketch(), viewBox=f"0 0 {W} {H}", css="bench-fig", role="img", aria_label=said))


def _sketch_of(operation: Operation) -> Callable[[], Drawn] | None:
    """What is drawn: by the words of an operation of the library; of a step on a pattern's own edges, whose names say nothing, by
    its verb.
    """
    if operation.template == operation.verb:
        return _BY_VERB.get(operation.verb)
    return next((sketch for words, sketch in _BY_WORD if any(word in operation.id for word in words)), None)


def _hem(f: Facts) -> Figure:
    if f.hem_first_mm > 0:
        lines = hems.double_hem(min(f.hem_first_mm, f.hem_second_mm), f.hem_second_mm)
        return Figure("lines", (("first line", lines.first_mm), ("second line", lines.second_mm or 0.0)))
    return Figure("lines", (("fold", f.hem_second_mm), ("line", hems.single_hem(f.hem_second_mm).first_mm)))


def _french(f: Facts) -> Figure:
    return Figure("lines", (("first pass", french_first_mm(f.allowance_mm)), ("seam line", f.allowance_mm)))


def _stay(f: Facts) -> Figure:
    return Figure("lines", (("staystitch", max(0.0, f.allowance_mm - 0.125 * IN)), ("seam line", f.allowance_mm)))


def _cap(f: Facts) -> Figure | None:
    measured = cap_and_armhole(f)
    return Figure("bars", (("cap", measured[0]), ("armhole", measured[1]))) if measured else None


def _spacing(f: Facts) -> Figure | None:
    buttons = f.required.buttons
    if buttons is None or not buttons.places_mm:
        return None
    return Figure("row", tuple((str(k + 1), at) for k, at in enumerate(buttons.places_mm)))


def _waistband(f: Facts) -> Figure | None:
    band = f.required.band
    if band is not None:
        wide = band_width(band.finished_mm, f.allowance_mm)
        return Figure("box", (("length", band.length_mm + 2 * f.allowance_mm), ("width", wide)))
    if f.waist_mm is None:
        return None
    length = waistband_length(f.waist_mm, f.required.overlap.mm, f.allowance_mm)
    return Figure("box", (("length", length), ("width", band_width(40.0, f.allowance_mm))))


def _elastic(f: Facts) -> Figure | None:
    return Figure("bars", (("waist", f.waist_mm), ("elastic", 0.9 * f.waist_mm + 25.0))) if f.waist_mm else None


def _clip(f: Facts) -> Figure:
    return Figure("row", tuple((str(k + 1), k * 0.75 * IN) for k in range(8)))


_BY_NUMBER: dict[str, Callable[[Facts], Figure | None]] = {
    "hem": _hem,
    "french-seam": _french,
    "staystitch": _stay,
    "staystitch-waist": _stay,
    "staystitch-armhole": _stay,
    "cap-ease": _cap,
    "buttonhole-spacing": _spacing,
    "waistband": _waistband,
    "elastic": _elastic,
    "lining-pleat": lambda f: Figure("folds", (("visible", 60.0), ("depth", IN), ("count", 1.0))),
    "edge-stitch": lambda f: Figure("lines", (("edge stitch", 0.125 * IN), ("allowance", f.allowance_mm))),
    "blind-hem": lambda f: Figure("lines", (("fold", 0.25 * IN), ("hem", f.hem_second_mm))),
    "clip": _clip,
}


def _seam_open() -> Drawn:
    """A seam from its end: two layers, both allowances open."""
    return [
        tag("path", d="M20 90H148V60M152 60V90H280", fill="none", stroke=INK, stroke_width="5"),
        tag(
            "path",
            d="M148 58C120 46 100 60 84 78M152 58C180 46 200 60 216 78",
            fill="none",
            stroke=SLATE,
            stroke_width="5",
        ),
        tag("path", d="M150 60V100", stroke=ROWAN, stroke_width="3", stroke_dasharray="4 3"),
    ]


def _dart() -> Drawn:
    return [
        tag("path", d="M40 20H260V130H40Z", fill=PAPER),
        tag("path", d="M110 20L150 118L190 20", fill="none", stroke=INK, stroke_width="2"),
        tag("path", d="M112 22L146 104", stroke=ROWAN, stroke_width="3", stroke_dasharray="9 4"),
        tag("path", d="M146 104L150 118", stroke=ROWAN, stroke_width="3", stroke_dasharray="2 2"),
        tag("path", d="M150 20V118", stroke=SLATE, stroke_dasharray="3 4"),
    ]


def _rows() -> Drawn:
    wave = "".join("q9 -16 18 0t18 0" for _ in range(6))
    return [
        tag("path", d=f"M40 40{wave}V120H40Z", fill=PAPER, stroke=INK),
        tag("path", d="M40 62H256M40 76H256", stroke=ROWAN, stroke_width="2", stroke_dasharray="7 4"),
        *(tag("path", d=f"M{40 + 54 * k} 52V88", stroke=LEAF, stroke_width="3") for k in range(5)),
    ]


def _zip() -> Drawn:
    teeth = [tag("path", d=f"M146 {y}h8", stroke=INK, stroke_width="3") for y in range(18, 116, 7)]
    return [
        tag("path", d="M60 12H150V138H60Z M150 12H240V138H150Z", fill=PAPER, stroke=INK),
        teeth,
        tag("path", d="M138 14V116H162V14", fill="none", stroke=ROWAN, stroke_width="2", stroke_dasharray="6 4"),
    ]


def _pocket() -> Drawn:
    return [
        tag("path", d="M80 18H220V112L150 138L80 112Z", fill=PAPER, stroke=INK, stroke_width="2"),
        tag(
            "path",
            d="M86 24V110L150 132L214 110V24",
            fill="none",
            stroke=ROWAN,
            stroke_width="2",
            stroke_dasharray="6 4",
        ),
        tag("path", d="M86 24L100 24L86 44M214 24L200 24L214 44", fill="none", stroke=ROWAN, stroke_width="2"),
    ]


def _collar() -> Drawn:
    return [
        tag(
            "path",
            d="M40 110C100 96 200 96 260 110L284 40C200 22 100 22 16 40Z",
            fill=PAPER,
            stroke=INK,
            stroke_width="2",
        ),
        tag(
            "path",
            d="M46 102C104 89 196 89 254 102M250 100L274 46M50 100L26 46M30 46C104 30 196 30 270 46",
            fill="none",
            stroke=ROWAN,
            stroke_width="2",
            stroke_dasharray="6 4",
        ),
    ]


def _corner() -> Drawn:
    return [
        tag("path", d="M50 20H250V130H160V70H140V130H50Z", fill=PAPER, stroke=INK, stroke_width="2"),
        tag("path", d="M128 130V58H172V130", fill="none", stroke=ROWAN, stroke_width="2", stroke_dasharray="4 3"),
        tag("path", d="M140 70L128 58M160 70L172 58", stroke=SLATE, stroke_width="3"),
    ]


def _pleat() -> Drawn:
    path = "M20 84" + "h44l-3 14h-34l3 14h38" + "h40l-3 -14h-34l3 -14h64" + "h90"
    return tag("path", d=path, fill="none", stroke=INK, stroke_width="4")


def _sleeve() -> Drawn:
    return [
        tag(
            "path",
            d="M20 110C60 110 90 20 150 20S240 110 280 110L250 140H50Z",
            fill=PAPER,
            stroke=INK,
            stroke_width="2",
        ),
        tag(
            "path",
            d="M70 82C92 48 118 30 150 30S208 48 230 82",
            fill="none",
            stroke=ROWAN,
            stroke_width="2",
            stroke_dasharray="7 4",
        ),
        tag("path", d="M62 88l8 10M232 90l-8 8M240 96l-8 8", stroke=SLATE, stroke_width="3"),
    ]


def _binding() -> Drawn:
    return [
        tag("path", d="M20 84H180", stroke=INK, stroke_width="6"),
        tag("path", d="M120 66H196C216 66 216 102 196 102H120", fill="none", stroke=SLATE, stroke_width="5"),
        tag("path", d="M132 56V112", stroke=ROWAN, stroke_width="3", stroke_dasharray="4 3"),
    ]


_BY_WORD: tuple[tuple[tuple[str, ...], Callable[[], Drawn]], ...] = (
    (("face-slit", "cut-slit", "turn-slit"), sketches.slit_faced),
    (("gusset",), sketches.gusset_in_slash),
    (("roll-armholes", "rolled-armholes"), sketches.rolled_armhole),
    (("tack-vent",), sketches.vent_top),
    (("tie-slit", "band-slit"), sketches.tie_slit),
    (("crotch-seams",), sketches.crotch_flat),
    (("continuous-lap",), sketches.continuous_lap),
    (("face-waist", "turn-waist", "turn-lined-edges"), sketches.facing_turned),
    (("zigzag-finish", "hand-overcast", "pink"), sketches.raw_edges),
    (("thread-loop", "slit-loop", "french-tacks"), sketches.thread_chain),
    (("channel", "bones"), sketches.bone_in_channel),
    (("crotch", "seat"), sketches.leg_in_leg),
    (("trim-hem-allowance",), sketches.less_in_the_hem),
    (("sew-buttons", "buttons-on", "placket-buttons", "vent-buttons"), sketches.button_on_shank),
    (("hook",), sketches.hook_and_eye),
    (("shoulder-pads", "sleeve-heads"), sketches.pad_at_the_shoulder),
    (("draw-cartridge",), sketches.cartridge_rows),
    (("turn-cartridge", "two-row-hem", "hem-lining", "slit-edges"), sketches.turned_twice),
    (("casing", "thread-elastic", "thread-drawcord", "elastic-sleeve", "eyelets"), sketches.elastic_in_casing),
    (("-elastic",), sketches.elastic_at_the_edge),
    (("hood",), sketches.hood),
    (("narrow-hem", "roll-hem"), sketches.narrow_hem),
    (("pip",), sketches.piping),
    (("slant-bags", "stay-slant"), sketches.slant_bag),
    (("exposed-opening",), sketches.window),
    (("mitre",), sketches.mitre),
    (("buttonholes",), sketches.buttonhole),
    (("fell-", "close-lining", "close-bagged", "tack-facing", "tack-lining"), sketches.hand_felled),
    (("hand-hem", "tack-hem", "tack-wrists", "catch-"), sketches.caught_hem),
    (("bag-lining", "join-edge-to-edge", "join-bagged", "turn-bagged", "join-lining"), sketches.layers_bagged),
    (("waistband", "stiff-band", "cartridge-band", "hem-band"), sketches.waistband_closed),
    (("strap", "loops", "ties", "belt"), sketches.tube_and_loops),
    (("rib", "neck-band"), sketches.knit_band),
    (("raw-edges", "facing-edge", "hem-edge"), sketches.raw_edges),
    (("facing",), sketches.facing_turned),
    (("dart",), _dart),
    (("zip", "fly"), _zip),
    (("gather", "shirr", "ease"), _rows),
    (("pleat", "tuck"), _pleat),
    (("pocket", "flap", "welt"), _pocket),
    (("collar", "stand", "lapel", "notched"), _collar),
    (("square", "clip-v", "reinforce", "corner", "placket"), _corner),
    (("bind", "hong-kong"), _binding),
    (("sleeve", "cuff", "armhole"), _sleeve),
    (("seam", "shoulders", "panels", "press"), _seam_open),
    (
        (
            "sew-yoke",
            "tiers",
            "between-legs",
            "front-bands",
            "first-side",
            "last-side",
            "close-yoke",
            "yoke",
            "waist-lining",
        ),
        sketches.layers_joined,
    ),
)
_BY_VERB: dict[str, Callable[[], Drawn]] = {
    "buttonhole": sketches.buttonhole,
    "button": sketches.button_on_shank,
    "dart": _dart,
    "gather": _rows,
    "ease": _rows,
    "shirr": _rows,
    "pleat": _pleat,
    "tuck": _pleat,
    "bind": _binding,
    "understitch": sketches.facing_turned,
    "pad": sketches.pad_at_the_shoulder,
}
