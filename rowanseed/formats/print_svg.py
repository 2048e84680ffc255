"""A cloth's print as an SVG pattern at its true repeat: bars as typed, a photograph, else marks of its kind."""

from collections.abc import Callable, Sequence
from xml.etree.ElementTree import Element

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.on_cloth import Affine
from rowanseed.core.prints import Bar
from rowanseed.formats.drawing import Drawn, markup, tag

PLAIN_MM = 80.0  # the repeat that marks are drawn at on cloth without one


def print_tile(cloth: Cloth, name: str) -> Element:
    """The pattern of one repeat, x along the cloth and y across it, in the cloth's own place."""
    p = cloth.print
    along, across = p.repeat_along_mm or PLAIN_MM, p.repeat_across_mm or PLAIN_MM
    one = _repeat(cloth, along, across)
    inner = [one]
    rows = 1
    if p.half_drop:  # the next column is the same, half a repeat further along
        rows = 2
        inner += [tag("g", one, transform=f"translate({shift:.2f} {across:.2f})") for shift in (along / 2, -along / 2)]
    return tag(
        "pattern",
        inner,
        id=name,
        patternUnits="userSpaceOnUse",
        width=f"{along:.2f}",
        height=f"{across * rows:.2f}",
        patternTransform=f"translate({p.offset_along_mm:.2f} {p.offset_across_mm:.2f})",
    )


def moved_tile(cloth: Cloth, name: str, tile: str, way: Affine) -> Element:
    """The same pattern carried elsewhere: by a way from the cloth to the drawing."""
    a, b, c, d, e, f = way
    x, y = cloth.print.offset_along_mm, cloth.print.offset_across_mm
    e, f = a * x + c * y + e, b * x + d * y + f
    return tag(
        "pattern", id=name, href=f"#{tile}", patternTransform=f"matrix({a:.6f} {b:.6f} {c:.6f} {d:.6f} {e:.3f} {f:.3f})"
    )


def _repeat(cloth: Cloth, along: float, across: float) -> Drawn:
    ground, figure = cloth.print_colours
    back = tag("rect", width=f"{along:.2f}", height=f"{across:.2f}", fill=ground)
    if cloth.tile:
        picture = tag("image", href=f"/photos/{cloth.tile}", width=f"{along:.2f}", height=f"{across:.2f}")
        picture.set("preserveAspectRatio", "none")
        return [back, picture]
    if cloth.bars_along or cloth.bars_across:
        return [back, _bars(cloth.bars_along, True, along, across), _bars(cloth.bars_across, False, along, across)]
    draw = _MARKS.get(cloth.print.kind)
    marks = [draw(figure)] if draw else []
    if not marks and cloth.piled:
        marks += [
            tag("path", d=f"M0 {y}H100", stroke=figure, stroke_width="2.4", opacity=".55") for y in range(5, 100, 10)
        ]
    if cloth.print.kind in ("stripe", "plaid") and not cloth.print.even:
        marks.append(tag("path", d="M0 62H100", stroke=figure, stroke_width="3", opacity=".6"))
    return [back, tag("g", *marks, transform=f"scale({along / 100:.4f} {across / 100:.4f})")]


def _bars(bars: Sequence[Bar], crosswise: bool, along: float, across: float) -> Drawn:
    """Bars over one repeat, those that run past its end going on at its start; where two sets cross both show."""
    out: list[Drawn] = []
    period = along if crosswise else across
    for bar in bars:
        for start in (bar.at_mm, bar.at_mm - period):
            low, high = max(start, 0.0), min(start + bar.width_mm, period)
            if high <= low:
                continue
            size = (low, 0.0, high - low, across) if crosswise else (0.0, low, along, high - low)
            x, y, width, height = size
            out.append(
                tag(
                    "rect",
                    x=f"{x:.2f}",
                    y=f"{y:.2f}",
                    width=f"{width:.2f}",
                    height=f"{height:.2f}",
                    fill=bar.colour,
                    opacity=0.72 if crosswise else 0.9,
                )
            )
    return out


def _leaf(x: int, y: int, colour: str) -> Drawn:
    return [
        tag("path", d=f"M{x} {y}c14-13 30-12 40 0c-10 12-26 13-40 0z", fill=colour),
        tag("path", d=f"M{x} {y}m40 0h13", stroke=colour, stroke_width="3"),
    ]


# Marks of each kind of print in a repeat of 100 x 100, in the print's colour; x runs along the cloth.
_MARKS: dict[str, Callable[[str], Drawn]] = {
    "one-way": lambda c: [_leaf(8, 26, c), _leaf(44, 74, c)],
    "motif": lambda c: [
        tag("circle", cx="50", cy="50", r="26", fill=c, opacity=".8"),
        tag("path", d="M50 50H92", stroke=c, stroke_width="5"),
    ],
    "two-way": lambda c: tag(
        "path", d="M20 28c14-12 28-12 42 0c-14 12-28 12-42 0zM45 74c14-12 28-12 42 0c-14 12-28 12-42 0z", fill=c
    ),
    "tossed": lambda c: [
        tag("circle", cx="24", cy="24", r="9", fill=c),
        tag("path", d="M70 14l12 22h-24z", fill=c),
        tag("path", d="M30 62l20 16l-24 8z", fill=c),
        tag("circle", cx="78", cy="74", r="7", fill=c),
    ],
    "stripe": lambda c: tag("path", d="M0 25H100M0 75H100", stroke=c, stroke_width="9"),
    "plaid": lambda c: tag("path", d="M0 30H100M0 44H100M30 0V100M44 0V100", stroke=c, stroke_width="7", opacity=".7"),
    "border": lambda c: tag("path", d="M0 88H100M0 76H100", stroke=c, stroke_width="6"),
    "panel": lambda c: [
        tag("path", d="M4 4H96V96H4Z", fill="none", stroke=c, stroke_width="4"),
        tag("path", d="M20 50c20-26 44-24 60 0c-16 24-40 26-60 0z", fill=c),
    ],
}


def patch(cloth: Cloth, name: str, css: str = "chip", along: float = 256.0, across: float = 160.0) -> str:
    """A patch of a cloth, `along` by `across` mm of it, head to the left as on the table, its print at its own repeat.

    `name`: of the patch on its page, where no other has it.
    """
    drawing = tag(
        "svg",
        tag("defs", print_tile(cloth, name)),
        tag("rect", width=f"{along:.0f}", height=f"{across:.0f}", fill=f"url(#{name})"),
        css=css,
        viewBox=f"0 0 {along:.0f} {across:.0f}",
        preserveAspectRatio="xMidYMid slice",
        role="img",
        aria_label=f"{cloth.print.kind} cloth",
    )
    return markup(drawing)


def swatch(cloth: Cloth) -> str:
    """A swatch of a cloth, head to the left as on the table: two repeats and a half each way, or as much as there is."""
    along = (cloth.print.repeat_along_mm or PLAIN_MM) * 2.5
    across = (cloth.print.repeat_across_mm or PLAIN_MM) * 2.5
    drawing = tag(
        "svg",
        tag("defs", print_tile(cloth, "sett-tile")),
        tag("rect", width=f"{along:.0f}", height=f"{across:.0f}", fill="url(#sett-tile)"),
        css="sett",
        viewBox=f"0 0 {along:.0f} {across:.0f}",
        role="img",
        aria_label="The print, two repeats and a half each way; the cloth runs from left to right",
    )
    return markup(drawing)
