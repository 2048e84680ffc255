"""Calculators: cloth, binding and thread."""

from rowanseed.core.reckon import bias, thread
from rowanseed.core.reckon.buying import length_to_buy
from rowanseed.core.reckon.counting import steps_for
from rowanseed.core.reckon.model import (
    GEOMETRY,
    Calculator,
    Figure,
    Input,
    Result,
    Values,
    at_least,
    length,
    metres,
    number,
)
from rowanseed.core.reckon.shrinkage import MarkedSquare, shrinkage


def _buy(v: Values) -> list[Result]:
    buy = length_to_buy(v["lay"], v["shrinkage"], v["straighten"], "10 cm")
    yards = length_to_buy(v["lay"], v["shrinkage"], v["straighten"], "1/8 yd")
    return [
        Result("buy_mm", "Buy, in steps of 10 cm", buy.mm, buy.text),
        Result("buy_yards_mm", "Buy, in eighths of a yard", yards.mm, yards.text),
    ]


def _square(v: Values) -> list[Result]:
    along, across = shrinkage(MarkedSquare(v["before_along"], v["before_across"], v["after_along"], v["after_across"]))
    return [
        number("along", "Lost along", along, f"{along:.1%}"),
        number("across", "Lost across", across, f"{across:.1%}"),
        length("metre_mm", "A metre becomes", 1000 * (1 - along)),
    ]


def _width(v: Values) -> list[Result]:
    area = v["length"] * v["from_width"]
    return [length("length_mm", "About as much of the other width", area / v["to_width"])]


def _strips(v: Values) -> list[Result]:
    cut = bias.strips_from(v["long"], v["wide"], v["strip"], v["seam"])
    tube = bias.continuous_length(v["long"], v["wide"], v["strip"], v["seam"])
    return [
        number("strips", "Strips", len(cut.lengths_mm)),
        length("joined_mm", "Joined, in all", cut.joined_mm),
        length("continuous_mm", "Cut round and round from a tube", tube),
    ]


def _binding(v: Values) -> list[Result]:
    strip = bias.strip_width(v["finished"], "single")
    wanted = v["edge"] + v["turns"]
    return [
        length("strip_mm", "Cut the strip wide", strip),
        length("length_mm", "and long", wanted),
        at_least("square_mm", "From a square of", bias.square_for(wanted, strip, v["seam"])),
    ]


def _thread(v: Values) -> list[Result]:
    seams = thread.thread_for(v["seams"], "lockstitch")
    edges = thread.thread_for(v["edges"], "overlock-3")
    return [
        metres("machine_mm", "Machine and bobbin together", seams),
        metres("overlocker_mm", "Three overlocker cones together", edges),
        number("reels", "Reels", steps_for(seams, v["reel"]), f"{steps_for(seams, v['reel'])}"),
    ]


CALCULATORS = (
    Calculator(
        "buy",
        "Length to buy",
        "What the lay takes, what straightening and washing lose, up to the shop's step.",
        (
            Input("lay", "Lay", "length", "2.15 m"),
            Input("straighten", "Loss in straightening", "length", "5 cm"),
            Input("shrinkage", "Shrinkage along", "percent", "3"),
        ),
        _buy,
        lambda v, r: Figure("bars", (("lay", v["lay"]), ("to buy", r["buy_mm"]))),
    ),
    Calculator(
        "square",
        "Shrinkage from a square",
        "Measured before and after; along and across differ.",
        (
            Input("before_along", "Before, along", "length", "25 cm"),
            Input("before_across", "Before, across", "length", "25 cm"),
            Input("after_along", "After, along", "length", "24.2 cm"),
            Input("after_across", "After, across", "length", "24.7 cm"),
        ),
        _square,
        lambda v, r: Figure("box", (("along", v["after_along"]), ("across", v["after_across"]))),
    ),
    Calculator(
        "width",
        "Another width, roughly",
        "The same area; a lay of the pieces says it exactly.",
        (
            Input("length", "Length given", "length", "2.20 m"),
            Input("from_width", "For a width of", "length", "115 cm"),
            Input("to_width", "Other width", "length", "150 cm"),
        ),
        _width,
        lambda v, r: Figure("bars", (("given", v["length"]), ("other width", r["length_mm"]))),
    ),
    Calculator(
        "bias-strips",
        "Bias strips from a piece",
        "Longest from the middle; a tube gives one strip with two seams only, in whole turns.",
        (
            Input("long", "Piece, along", "length", "50 cm"),
            Input("wide", "Piece, across", "length", "50 cm"),
            Input("strip", "Strip, wide", "length", "4 cm"),
            Input("seam", "Seam allowance of the joins", "length", "6 mm"),
        ),
        _strips,
        lambda v, r: Figure("strips", (("along", v["long"]), ("across", v["wide"]), ("strip", v["strip"]))),
        ("bind-neck",),
        GEOMETRY,
    ),
    Calculator(
        "binding",
        "Binding for an edge",
        "Folded in four: cut four times as wide as it shows.",
        (
            Input("edge", "Edge", "length", "120 cm"),
            Input("finished", "Shows", "length", "1 cm"),
            Input("turns", "Joins and turned ends", "length", "8 cm"),
            Input("seam", "Seam allowance of the joins", "length", "6 mm"),
        ),
        _binding,
        lambda v, r: Figure("box", (("length", r["length_mm"]), ("width", r["strip_mm"]))),
        ("bind-neck",),
    ),
    Calculator(
        "thread",
        "Thread",
        "What a stitch takes, by its type, and a seventh more for ends and samples.",
        (
            Input("seams", "Seams and hems together", "length", "18 m"),
            Input("edges", "Edges overlocked", "length", "14 m"),
            Input("reel", "A reel holds", "length", "100 m"),
        ),
        _thread,
        lambda v, r: Figure("bars", (("machine", r["machine_mm"]), ("overlocker", r["overlocker_mm"]))),
        (),
        "Ratios by stitch type (ISO 4915 names the types); the figures from memory of apparel handbooks.",
    ),
)
