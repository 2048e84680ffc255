"""Calculators: hems, seams and bands."""

from rowanseed.core.lengths import MM_PER
from rowanseed.core.reckon import hems, seams
from rowanseed.core.reckon.counting import steps_for
from rowanseed.core.reckon.model import Calculator, Figure, Input, Result, Values, length, number

IN = MM_PER["in"]


def _double_hem(v: Values) -> list[Result]:
    lines = hems.double_hem(v["first_fold"], v["second_fold"])
    return [
        length("first_line_mm", "First chalk line, from the raw edge", lines.first_mm),
        length("second_line_mm", "Second chalk line, from the raw edge", lines.second_mm or 0.0),
        length("takes_mm", "The hem takes", lines.takes_mm),
    ]


def _single_hem(v: Values) -> list[Result]:
    return [length("line_mm", "Chalk line, from the raw edge", hems.single_hem(v["fold"]).first_mm)]


def _lose(v: Values) -> list[Result]:
    return [
        length("first_fold_mm", "Folded: first fold", v["lose"] / 2),
        length("second_fold_mm", "Folded: second fold", v["lose"] / 2),
        length("trim_mm", "Rolled: trim off", v["lose"] - v["roll"]),
    ]


def _french(v: Values) -> list[Result]:
    second = seams.french_seam(v["allowance"], v["first_pass"])
    trim = seams.french_trim(v["allowance"], v["first_pass"])
    done = [length("second_pass_mm", "Second pass, right sides together", second)]
    return [*done, length("trim_mm", "Before it, trim the first seam to", trim)] if trim is not None else done


def _waistband(v: Values) -> list[Result]:
    return [
        length("length_mm", "Cut length", seams.waistband_length(v["waist"], v["overlap"], v["allowance"], v["ease"])),
        length("width_mm", "Cut width", seams.band_width(v["width"], v["allowance"])),
    ]


def _panel(v: Values) -> list[Result]:
    return [length("length_mm", "Cut length", seams.panel_length(v["finished"], v["top"], v["hem"]))]


def _ties(v: Values) -> list[Result]:
    return [
        length("length_mm", "Cut each tie long", v["long"] + v["allowance"] * 2),
        length("width_mm", "and wide", seams.band_width(v["width"], v["allowance"])),
    ]


def _dart(v: Values) -> list[Result]:
    last = 0.75 * IN
    return [
        length("short_from_mm", "Shorten the stitch to 1.5 mm, from the wide end", max(0.0, v["long"] - last)),
        length("trim_mm", "A wide dart: trim to", 0.625 * IN),
        number(
            "trim",
            "Trim and press open",
            float(v["wide"] > 1.5 * IN),
            "yes" if v["wide"] > 1.5 * IN else "no, it is narrow",
        ),
    ]


NEARLY_STRAIGHT_MM = 1000.0  # a curve of this radius lies flat without clips (common practice, no source)


def _clips(v: Values) -> list[Result]:
    if v["radius"] >= NEARLY_STRAIGHT_MM:
        return [number("count", "Clips", 0.0, "none: it is nearly straight, and lies flat as it is")]
    every = (0.5 if v["radius"] < 100 else 1.0) * IN
    return [
        length("every_mm", "Clip every", every),
        number("count", "Clips", steps_for(v["curve"], every)),
    ]


def _chalk(v: Values, r: Values) -> Figure:
    return Figure("lines", (("first line", r["first_line_mm"]), ("second line", r["second_line_mm"])))


CALCULATORS = (
    Calculator(
        "double-hem",
        "Hem turned twice",
        "Folded to a chalk line, both folds come out even without measuring twice.",
        (Input("first_fold", "First fold", "length", "1/4 in"), Input("second_fold", "Second fold", "length", "1 in")),
        _double_hem,
        _chalk,
        ("press-hem", "sew-hem"),
    ),
    Calculator(
        "single-hem",
        "Hem turned once",
        "The raw edge meets a line at twice the fold.",
        (Input("fold", "Fold", "length", "1 1/2 in"),),
        _single_hem,
        lambda v, r: Figure("lines", (("fold", v["fold"]), ("line", r["line_mm"]))),
        ("press-hem", "sew-hem"),
    ),
    Calculator(
        "hem-that-loses",
        "Hem that must lose exactly so much",
        "Two equal folds; or trimmed by as much less what the roll takes, and the edge rolled.",
        (Input("lose", "To lose", "length", "1 in"), Input("roll", "A roll takes", "length", "3 mm", "0 mm")),
        _lose,
        lambda v, r: Figure("lines", (("first fold", r["first_fold_mm"]), ("lost", v["lose"]))),
        ("sew-hem",),
    ),
    Calculator(
        "french-seam",
        "French seam",
        "The two passes together take the seam allowance.",
        (
            Input("allowance", "Seam allowance", "length", "5/8 in"),
            Input("first_pass", "First pass, wrong sides together", "length", "1/4 in"),
        ),
        _french,
        lambda v, r: Figure("lines", (("first pass", v["first_pass"]), ("seam line", v["allowance"]))),
        ("french-side-seams", "sew-side-seams"),
    ),
    Calculator(
        "waistband",
        "Waistband",
        "Waist and its ease, overlap and an allowance at each end.",
        (
            Input("waist", "Waist", "length", "72 cm"),
            Input("overlap", "Overlap", "length", "3 cm"),
            Input("width", "Finished width", "length", "4 cm"),
            Input("allowance", "Seam allowance", "length", "1.5 cm"),
            Input("ease", "Wearing ease, 0 to 2.5 cm (1 in)", "length", "1 cm", "0 cm"),
        ),
        _waistband,
        lambda v, r: Figure("box", (("length", r["length_mm"]), ("width", r["width_mm"]))),
        ("make-waistband", "attach-waistband"),
    ),
    Calculator(
        "panel",
        "Straight panel or apron",
        "Finished length, top allowance, hem.",
        (
            Input("finished", "Finished length", "length", "60 cm"),
            Input("top", "Top allowance", "length", "1.5 cm"),
            Input("hem", "Hem", "length", "5 cm"),
        ),
        _panel,
        lambda v, r: Figure("box", (("length", r["length_mm"]), ("width", 0.7 * v["finished"]))),
    ),
    Calculator(
        "ties",
        "Ties and straps",
        "Folded along the middle: twice the width, an allowance at every edge.",
        (
            Input("long", "Finished length", "length", "90 cm"),
            Input("width", "Finished width", "length", "3 cm"),
            Input("allowance", "Seam allowance", "length", "1 cm"),
        ),
        _ties,
        lambda v, r: Figure("box", (("length", r["length_mm"]), ("width", r["width_mm"]))),
    ),
    Calculator(
        "dart",
        "Dart",
        "Fine stitches toward the point hold without a backstitch.",
        (Input("long", "Length", "length", "10 cm"), Input("wide", "Width at its wide end", "length", "3 cm")),
        _dart,
        lambda v, r: Figure("lines", (("1.5 mm stitches", r["short_from_mm"]), ("point", v["long"]))),
        ("sew-darts",),
    ),
    Calculator(
        "clips",
        "Clipping a curve",
        "More on tighter curves, to the stitching and not through it; none if it lies flat.",
        (
            Input("curve", "Length of the curve", "length", "40 cm"),
            Input("radius", "Its radius, about", "length", "12 cm"),
        ),
        _clips,
        lambda v, r: Figure("row", tuple((str(k + 1), r["every_mm"] * k) for k in range(min(40, int(r["count"]))))),
        ("sew-neck-facing", "bind-neck"),
    ),
)
