"""Calculators: buttons, zips, elastic and trims."""

from rowanseed.core.reckon import buttons, linings
from rowanseed.core.reckon.model import Calculator, Figure, Input, Result, Values, at_least, length, number


def _buttonhole(v: Values) -> list[Result]:
    return [at_least("length_mm", "Buttonhole", buttons.buttonhole_length(v["diameter"], v["thickness"]))]


def _buttons(v: Values) -> list[Result]:
    plan = buttons.button_plan(v["top"], v["bottom"], round(v["count"]), round(v["per_card"]))
    return [
        length("spacing_mm", "From one to the next", plan.spacing_mm),
        number("cards", "Cards to buy", plan.cards, f"{plan.cards}, with {plan.spare} to spare"),
    ]


def _bust_buttons(v: Values) -> list[Result]:
    plan = buttons.through_bust(v["top"], v["bottom"], v["bust"], round(v["count"]))
    return [
        length("above_mm", "Above the bust, from one to the next", plan.above_mm),
        length("below_mm", "Below it", plan.below_mm),
        number("above", "Of them above the bust", plan.above),
    ]


def _zip(v: Values) -> list[Result]:
    sold = buttons.zip_to_buy(v["opening"], v["step"])
    return [at_least("buy_mm", "Buy a zip of", sold), length("shorten_mm", "Shorten it by", sold - v["opening"])]


def _trim(v: Values) -> list[Result]:
    total = v["edge"] + (round(v["joins"]) * 2 + round(v["ends"])) * v["turn"]
    return [at_least("length_mm", "Buy", total)]


def _neck(v: Values) -> list[Result]:
    return [length("length_mm", "Cut the band", linings.neck_band(v["edge"], v["share"], v["seam"]))]


def _placed(v: Values, r: Values) -> Figure:
    return Figure("row", tuple((str(k + 1), v["top"] + r["spacing_mm"] * k) for k in range(min(40, round(v["count"])))))


CALCULATORS = (
    Calculator(
        "buttonhole",
        "Buttonhole",
        "Long enough for the button and its thickness.",
        (Input("diameter", "Button's diameter", "length", "15 mm"), Input("thickness", "Thickness", "length", "3 mm")),
        _buttonhole,
        lambda v, r: Figure("bars", (("button", v["diameter"]), ("buttonhole", r["length_mm"]))),
        ("sew-buttonholes", "sample-buttonhole"),
    ),
    Calculator(
        "buttons",
        "Spacing buttons",
        "Even between the ends; whole cards, since shops sell no single ones.",
        (
            Input("top", "First, below the top edge", "length", "1.5 cm"),
            Input("bottom", "Last, below the top edge", "length", "61.5 cm"),
            Input("count", "How many", "number", "7"),
            Input("per_card", "On a card", "number", "3"),
        ),
        _buttons,
        _placed,
        ("sew-buttonholes",),
    ),
    Calculator(
        "buttons-at-the-bust",
        "Buttons with one at the bust",
        "The fullest point is where a front gapes: a button there first.",
        (
            Input("top", "First, below the top edge", "length", "1.5 cm"),
            Input("bottom", "Last, below the top edge", "length", "61.5 cm"),
            Input("bust", "Fullest point, below the top edge", "length", "20 cm"),
            Input("count", "How many", "number", "7"),
        ),
        _bust_buttons,
        lambda v, r: Figure(
            "row",
            tuple(
                [(str(k + 1), v["top"] + r["above_mm"] * k) for k in range(int(r["above"]))]
                + [("bust", v["bust"])]
                + [("", v["bust"] + r["below_mm"] * k) for k in range(1, round(v["count"]) - int(r["above"]))]
            ),
        ),
        ("sew-buttonholes",),
    ),
    Calculator(
        "zip",
        "Zip",
        "At least as long as the opening; a longer one is shortened.",
        (Input("opening", "Opening", "length", "18.5 cm"), Input("step", "Sold in steps of", "length", "2 cm")),
        _zip,
        lambda v, r: Figure("bars", (("opening", v["opening"]), ("zip", r["buy_mm"]))),
        ("insert-invisible-zip", "insert-lapped-zip", "insert-centred-zip"),
    ),
    Calculator(
        "trim",
        "Piping, lace or braid",
        "The edges, and a turn at every end and on both sides of every join.",
        (
            Input("edge", "Edges together", "length", "140 cm"),
            Input("joins", "Joins", "number", "1"),
            Input("ends", "Turned ends", "number", "2"),
            Input("turn", "A turn takes", "length", "2.5 cm"),
        ),
        _trim,
        lambda v, r: Figure("bars", (("edges", v["edge"]), ("to buy", r["length_mm"]))),
    ),
    Calculator(
        "neck-band",
        "Neck band of a knit",
        "Cut shorter than the edge, stretched evenly, so that it lies flat.",
        (
            Input("edge", "Neck edge, on the seam line", "length", "50 cm"),
            Input("share", "Share of the edge", "percent", "85"),
            Input("seam", "Seam allowance", "length", "1 cm"),
        ),
        _neck,
        lambda v, r: Figure("bars", (("edge", v["edge"]), ("band", r["length_mm"]))),
        ("sew-neck-band",),
    ),
)
