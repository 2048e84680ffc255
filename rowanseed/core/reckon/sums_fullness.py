"""Calculators: gathers, pleats, shirring, ease."""

from rowanseed.core.lengths import MM_PER, both
from rowanseed.core.reckon import fullness, pleats, round_skirt
from rowanseed.core.reckon.counting import steps_for
from rowanseed.core.reckon.model import GEOMETRY, Calculator, Figure, Input, Result, Values, finely, length, number

IN = MM_PER["in"]


def _gathers(v: Values) -> list[Result]:
    ratio = fullness.gather_ratio(v["loose"], v["finished"])
    return [
        number("ratio", "Ratio", ratio, f"{ratio:.2f} to 1: {fullness.how_full(ratio)}"),
        length("quarter_loose_mm", "Quarter marks on the loose edge every", v["loose"] / 4),
        length("quarter_finished_mm", "and on the joined edge every", v["finished"] / 4),
    ]


def _gather_length(v: Values) -> list[Result]:
    loose = fullness.gather_length(v["finished"], v["ratio"])
    return [
        length("loose_mm", "Loose edge", loose),
        Result("fullness", "That is", v["ratio"], fullness.how_full(v["ratio"])),
        number(
            "widths",
            "Widths of the cloth",
            loose / v["width"],
            f"{loose / v['width']:.2f}, so {steps_for(loose, v['width'])}",
        ),
    ]


def _elastic(v: Values) -> list[Result]:
    return [
        length("length_mm", "Cut the elastic", fullness.elastic_length(v["body"], v["share"], v["join"])),
        length("casing_mm", "Casing between its stitched edges", fullness.casing_width(v["width"], v["more"])),
    ]


def _pleats(v: Values) -> list[Result]:
    row = pleats.pleats(v["finished"], v["visible"], v["depth"])
    return [
        number("count", "Pleats", row.count),
        length("visible_mm", "Each shows, so that they come out even", row.visible_mm),
        length("takes_mm", "Each takes", row.takes_mm),
        length("cloth_mm", "Cloth across, without seams", row.cloth_mm),
        number("density", "Density", row.density, f"{row.density:.2f} to 1"),
    ]


def _density(v: Values) -> list[Result]:
    full = pleats.density(v["cloth"], v["covered"])
    return [number("density", "Density", full, f"{full:.2f} to 1")]


def _cartridge(v: Values) -> list[Result]:
    marks = pleats.cartridge_marks(v["edge"])
    return [
        number("marks", "Marks on each row", marks),
        length("first_row_mm", "First row, from the folded edge", 0.125 * IN),
        length("second_row_mm", "Second row", 1.125 * IN),
    ]


def _shirring(v: Values) -> list[Result]:
    rows = pleats.shirring(v["deep"], v["wide"], v["apart"], v["sample"], v["bobbin"])
    return [
        number("rows", "Rows", rows.rows),
        length("gathered_mm", "Gathered to about", v["wide"] * v["sample"]),
        length("thread_mm", "Elastic thread", rows.thread_mm),
        number("bobbins", "Bobbins to wind by hand", rows.bobbins),
    ]


def _round(v: Values) -> list[Result]:
    skirt = round_skirt.round_skirt(v["waist"], v["long"], v["share"], v["seam"], v["hem"])
    return [
        finely("waist_radius_mm", "Radius at the waist, cut", skirt.waist_mm),
        finely("hem_radius_mm", "Radius at the hem, cut", skirt.hem_mm),
        length("hem_round_mm", "Hem all round", skirt.hem_round_mm),
    ]


def _cap(v: Values) -> list[Result]:
    ease = v["cap"] - v["armhole"]
    usual = fullness.cap_ease_words(ease)
    return [Result("ease_mm", "To ease in", ease, f"{both(ease)}: {usual}")]


CALCULATORS = (
    Calculator(
        "gathers",
        "Gathers",
        "Quarter both edges first, then draw the threads up.",
        (Input("loose", "Loose edge", "length", "180 cm"), Input("finished", "Edge it joins", "length", "90 cm")),
        _gathers,
        lambda v, r: Figure("bars", (("loose edge", v["loose"]), ("edge it joins", v["finished"]))),
        ("gather-waist", "gather-yoke-edge"),
    ),
    Calculator(
        "gather-length",
        "Cloth to gather",
        "1.5 is soft, 2 is full, 2.5 and more for sheer cloth.",
        (
            Input("finished", "Edge it joins", "length", "72 cm"),
            Input("ratio", "Ratio", "number", "2"),
            Input("width", "Width of the cloth", "length", "140 cm"),
        ),
        _gather_length,
        lambda v, r: Figure("bars", (("loose edge", r["loose_mm"]), ("edge it joins", v["finished"]))),
        ("gather-waist",),
    ),
    Calculator(
        "elastic",
        "Elastic in a casing",
        "A little shorter than the body, so that it holds.",
        (
            Input("body", "Body", "length", "80 cm"),
            Input("share", "Share of the body", "percent", "90"),
            Input("join", "Join", "length", "2.5 cm"),
            Input("width", "Width of the elastic", "length", "2 cm", default="2 cm"),
            Input("more", "Casing wider by (a thick one takes 6 mm)", "length", "3 mm", default="3 mm"),
        ),
        _elastic,
        lambda v, r: Figure("bars", (("body", v["body"]), ("elastic", r["length_mm"]))),
        ("thread-elastic",),
    ),
    Calculator(
        "pleats",
        "Knife pleats",
        "Each pleat takes its visible part and twice its depth.",
        (
            Input("finished", "Finished length", "length", "80 cm"),
            Input("visible", "Visible width", "length", "4 cm"),
            Input("depth", "Depth", "length", "4 cm"),
        ),
        _pleats,
        lambda v, r: Figure(
            "folds", (("visible", v["finished"] / r["count"]), ("depth", v["depth"]), ("count", r["count"]))
        ),
        ("baste-pleats",),
    ),
    Calculator(
        "density",
        "Pleats from the whole width",
        "The cloth's own width is the fullness: less cover, or two widths, change it.",
        (
            Input("cloth", "Cloth, selvage to selvage", "length", "150 cm"),
            Input("covered", "Length it covers", "length", "50 cm"),
        ),
        _density,
        lambda v, r: Figure("bars", (("cloth", v["cloth"]), ("covers", v["covered"]))),
        ("baste-pleats",),
    ),
    Calculator(
        "cartridge-pleats",
        "Cartridge pleats",
        "Marks every 1/2 in on two parallel rows; the rows drawn up together stand the folds on end.",
        (Input("edge", "Edge, flat", "length", "120 cm"),),
        _cartridge,
        lambda v, r: Figure("row", tuple((str(k + 1), k * IN / 2) for k in range(min(60, int(r["marks"]))))),
    ),
    Calculator(
        "shirring",
        "Shirring",
        "A good sample shrinks to about half; steam hovering above shrinks it further.",
        (
            Input("deep", "Depth of the panel", "length", "12 cm"),
            Input("wide", "Width, flat", "length", "90 cm"),
            Input("apart", "Rows apart", "length", "1/2 in"),
            Input("sample", "A sample shrinks to", "percent", "50"),
            Input("bobbin", "A bobbin holds", "length", "12 m"),
        ),
        _shirring,
        lambda v, r: Figure("lines", tuple((f"row {k + 1}", k * v["apart"]) for k in range(min(24, int(r["rows"]))))),
        (),
    ),
    Calculator(
        "circle-skirt",
        "Circle skirt",
        "The waist's seam line is a circle, or a share of one.",
        (
            Input("waist", "Waist", "length", "72 cm"),
            Input("long", "Finished length", "length", "60 cm"),
            Input("share", "Circles (1/2 as 0.5)", "number", "1"),
            Input("seam", "Seam allowance", "length", "1.5 cm"),
            Input("hem", "Hem", "length", "1.5 cm"),
        ),
        _round,
        lambda v, r: Figure("rings", (("waist", r["waist_radius_mm"]), ("hem", r["hem_radius_mm"]))),
        (),
        GEOMETRY,
    ),
    Calculator(
        "cap-ease",
        "Sleeve cap",
        "Set in about 2.5 cm (1 in) longer than its armhole, eased in the upper half; a shirt's flat cap 0.5 to 1 cm.",
        (
            Input("cap", "Cap, on the seam line", "length", "46 cm"),
            Input("armhole", "Armhole, on the seam line", "length", "43.5 cm"),
        ),
        _cap,
        lambda v, r: Figure("bars", (("cap", v["cap"]), ("armhole", v["armhole"]))),
        ("ease-sleeve-cap",),
    ),
)
