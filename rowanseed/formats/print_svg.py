"""A cloth's print as an SVG pattern at its true repeat: bars as typed, a photograph, else marks of its kind."""

from collections.abc import Sequence
from html import escape

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.on_cloth import Affine
from rowanseed.core.prints import Bar

PLAIN_MM = 80.0  # the repeat that marks are drawn at on cloth without one


def print_tile(cloth: Cloth, name: str) -> str:
    """The pattern of one repeat, x along the cloth and y across it, in the cloth's own place."""
    p = cloth.print
    along, across = p.repeat_along_mm or PLAIN_MM, p.repeat_across_mm or PLAIN_MM
    inner = _repeat(cloth, along, across)
    rows = 1
    if p.half_drop:  # the next column is the same, half a repeat further along
        rows = 2
        inner += "".join(
            f'<g transform="translate({shift:.2f} {across:.2f})">{inner}</g>' for shift in (along / 2, -along / 2)
        )
    return (
        f'<pattern id="{escape(name)}" patternUnits="userSpaceOnUse" width="{along:.2f}" height="{across * rows:.2f}" '
        f'patternTransform="translate({p.offset_along_mm:.2f} {p.offset_across_mm:.2f})">{inner}</pattern>'
    )


def moved_tile(cloth: Cloth, name: str, tile: str, way: Affine) -> str:
    """The same pattern carried elsewhere: by a way from the cloth to the drawing."""
    a, b, c, d, e, f = way
    x, y = cloth.print.offset_along_mm, cloth.print.offset_across_mm
    e, f = a * x + c * y + e, b * x + d * y + f
    return (
        f'<pattern id="{escape(name)}" href="#{escape(tile)}" '
        f'patternTransform="matrix({a:.6f} {b:.6f} {c:.6f} {d:.6f} {e:.3f} {f:.3f})"/>'
    )


def _repeat(cloth: Cloth, along: float, across: float) -> str:
    ground, figure = cloth.print_colours
    back = f'<rect width="{along:.2f}" height="{across:.2f}" fill="{escape(ground)}"/>'
    if cloth.tile:
        return back + (
            f'<image href="/photos/{escape(cloth.tile)}" width="{along:.2f}" height="{across:.2f}" preserveAspectRatio="none"/>'
        )
    if cloth.bars_along or cloth.bars_across:
        return back + _bars(cloth.bars_along, True, along, across) + _bars(cloth.bars_across, False, along, across)
    marks = _MARKS.get(cloth.print.kind, "")
    if not marks and cloth.piled:
        marks = "".join(
            f'<path d="M0 {y}H100" stroke="F" stroke-width="2.4" opacity=".55"/>' for y in range(5, 100, 10)
        )
    if cloth.print.kind in ("stripe", "plaid") and not cloth.print.even:
        marks += '<path d="M0 62H100" stroke="F" stroke-width="3" opacity=".6"/>'
    return f'{back}<g transform="scale({along / 100:.4f} {across / 100:.4f})">{marks.replace("F", escape(figure))}</g>'


def _bars(bars: Sequence[Bar], crosswise: bool, along: float, across: float) -> str:
    """Bars over one repeat, those that run past its end going on at its start; where two sets cross both show."""
    out = []
    period = along if crosswise else across
    for bar in bars:
        for start in (bar.at_mm, bar.at_mm - period):
            low, high = max(start, 0.0), min(start + bar.width_mm, period)
            if high <= low:
                continue
            size = (low, 0.0, high - low, across) if crosswise else (0.0, low, along, high - low)
            x, y, width, height = size
            out.append(
                f'<rect x="{x:.2f}" y="{y:.2f}" width="{width:.2f}" height="{height:.2f}" fill="{escape(bar.colour)}" '
                f'opacity="{0.72 if crosswise else 0.9}"/>'
            )
    return "".join(out)


# Marks of each kind of print in a repeat of 100 x 100, F standing for the print's colour; x runs along the cloth.
_LEAF = (
    '<path d="M{x} {y}c14-13 30-12 40 0c-10 12-26 13-40 0z" fill="F"/>'
    '<path d="M{x} {y}m40 0h13" stroke="F" stroke-width="3"/>'
)
_MARKS: dict[str, str] = {
    "one-way": _LEAF.format(x=8, y=26) + _LEAF.format(x=44, y=74),
    "motif": '<circle cx="50" cy="50" r="26" fill="F" opacity=".8"/><path d="M50 50H92" stroke="F" stroke-width="5"/>',
    "two-way": '<path d="M20 28c14-12 28-12 42 0c-14 12-28 12-42 0zM45 74c14-12 28-12 42 0c-14 12-28 12-42 0z" fill="F"/>',
    "tossed": '<circle cx="24" cy="24" r="9" fill="F"/><path d="M70 14l12 22h-24z" fill="F"/><path d="M30 62l20 16l-24 8z" '
    'fill="F"/><circle cx="78" cy="74" r="7" fill="F"/>',
    "stripe": '<path d="M0 25H100M0 75H100" stroke="F" stroke-width="9"/>',
    "plaid": '<path d="M0 30H100M0 44H100M30 0V100M44 0V100" stroke="F" stroke-width="7" opacity=".7"/>',
    "border": '<path d="M0 88H100M0 76H100" stroke="F" stroke-width="6"/>',
    "panel": '<path d="M4 4H96V96H4Z" fill="none" stroke="F" stroke-width="4"/>'
    '<path d="M20 50c20-26 44-24 60 0c-16 24-40 26-60 0z" fill="F"/>',
}
