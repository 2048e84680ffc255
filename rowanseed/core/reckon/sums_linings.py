"""Calculators: linings, facings and collars."""

from rowanseed.core.lengths import MM_PER
from rowanseed.core.reckon import linings
from rowanseed.core.reckon.model import Calculator, Figure, Input, Result, Values, length

IN = MM_PER["in"]


def _beside(v: Values) -> list[Result]:
    return [
        length("width_mm", "Lining as cut, there", linings.lining_beside_facing(v["piece"], v["facing"], v["seam"])),
        length("seam_line_mm", "Beyond the facing's seam line", v["seam"]),
    ]


def _pleat(v: Values) -> list[Result]:
    whole, neck, hem = linings.ease_pleat(v["beyond"])
    return [
        length("whole_mm", "The pleat, in all", whole),
        length("neck_mm", "Stitched from the neck", neck),
        length("hem_mm", "and from the hem", hem),
    ]


def _hem(v: Values) -> list[Result]:
    least, most = linings.lining_hem(v["finished"], True)
    return [
        length("free_least_mm", "Hanging free, finished: at least", least),
        length("free_most_mm", "at most", most),
        length("sewn_mm", "Sewn in, cut", linings.lining_hem(v["finished"], False)[0]),
    ]


def _pad(v: Values) -> list[Result]:
    return [
        length("point_mm", "Lower the shoulder point and the cap by", v["pad"]),
        length(
            "middle_mm", "Half way along the shoulder", linings.pad_lowering(v["pad"], v["shoulder"] / 2, v["shoulder"])
        ),
    ]


def _collar(v: Values) -> list[Result]:
    smaller = 0.125 * IN
    return [
        length("depth_mm", "Under collar, depth", v["depth"] - smaller),
        length("length_mm", "Under collar, length", v["long"] - 2 * smaller),
    ]


CALCULATORS = (
    Calculator(
        "lining-at-facing",
        "Lining beside a facing",
        "Coat piece less the facing as cut and two seam allowances: both seams must be there.",
        (
            Input("piece", "Piece as cut, there", "length", "30 cm"),
            Input("facing", "Facing as cut, there", "length", "10 cm"),
            Input("seam", "Seam allowance", "length", "5/8 in"),
        ),
        _beside,
        lambda v, r: Figure("bars", (("piece", v["piece"]), ("facing", v["facing"]), ("lining", r["width_mm"]))),
        ("join-lining-facing", "fell-lining-by-hand"),
    ),
    Calculator(
        "ease-pleat",
        "Ease pleat of a lining",
        "Arms reach forward: fitted things always need it, wide ones not.",
        (Input("beyond", "Beyond the centre", "length", "1 in"),),
        _pleat,
        lambda v, r: Figure("folds", (("visible", 60.0), ("depth", v["beyond"]), ("count", 1.0))),
        ("pleat-lining",),
    ),
    Calculator(
        "lining-hem",
        "Length of a lining",
        "Free it must not show; sewn in it needs a fold of ease, or the hem pulls up.",
        (Input("finished", "Garment, finished length", "length", "100 cm"),),
        _hem,
        lambda v, r: Figure(
            "bars", (("garment", v["finished"]), ("free", r["free_most_mm"]), ("sewn in", r["sewn_mm"]))
        ),
        ("hem-lining",),
    ),
    Calculator(
        "shoulder-pad",
        "Lining under a shoulder pad",
        "The pad takes up room at the point, none at the neck.",
        (Input("pad", "Thickness", "length", "12 mm"), Input("shoulder", "Shoulder length", "length", "13 cm")),
        _pad,
        lambda v, r: Figure("lines", (("half way", r["middle_mm"]), ("point", r["point_mm"]))),
        ("sew-shoulder-pads",),
    ),
    Calculator(
        "under-collar",
        "Under collar",
        "A little smaller on its outer edges, so that the seam rolls under.",
        (Input("long", "Collar, length", "length", "42 cm"), Input("depth", "Collar, depth", "length", "9 cm")),
        _collar,
        lambda v, r: Figure("box", (("length", r["length_mm"]), ("depth", r["depth_mm"]))),
        ("make-collar",),
    ),
)
