"""Two edges walked together: each side of a seam laid out straight, one above the other, with its notches."""

from collections.abc import Mapping
from html import escape

from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.pattern.seamwalk import TOLERANCE_MM, WalkedSeam

INK, SOFT, SLATE, LEAF, ROWAN, STRAW = "#2B2622", "#5E554B", "#3F5873", "#33604D", "#B23A1E", "#C98A1B"
WIDTH, HEIGHT, LEFT, RIGHT = 760.0, 124.0, 8.0, 150.0


def walk_svg(walked: WalkedSeam, names: Mapping[str, str], unit: Unit) -> str:
    """Both sides of a seam as bars from the same start, notches as ticks joined where they should meet, the rest hatched.

    Args:
        names: piece number to its name.
    """
    longest = max(walked.a_mm, walked.b_mm, 1.0)
    scale = (WIDTH - LEFT - RIGHT) / longest
    sound = abs(walked.off_mm) <= TOLERANCE_MM
    label = f"{_side(walked.seam.sides[0], names)} against {_side(walked.seam.sides[1], names)}"
    parts = [f'<svg class="walk-fig" viewBox="0 0 {WIDTH:.0f} {HEIGHT:.0f}" role="img" aria-label="{escape(label)}">']
    for side, y, words in (
        (walked.a, 32.0, _side(walked.seam.sides[0], names)),
        (walked.b, 84.0, _side(walked.seam.sides[1], names)),
    ):
        parts.append(
            f'<path d="M{LEFT} {y}H{LEFT + side.mm * scale:.1f}" stroke="{INK}" stroke-width="5"/>'
            f'<text x="{LEFT}" y="{y - 10 if y < 50 else y + 22}" font-size="14">{escape(words)}</text>'
            f'<text x="{LEFT + longest * scale + 12:.1f}" y="{y + 5}" font-size="15" font-weight="700">'
            f"{format_length(side.mm, unit)}</text>"
        )
        parts += [
            f'<path d="M{LEFT + at * scale:.1f} {y - 7}V{y + 7}" stroke="{ROWAN}" stroke-width="3"/>'
            for at in side.notches
        ]
    for p, q in walked.notch_pairs:
        out = abs(p - q) - abs(walked.seam.meant_mm) > TOLERANCE_MM
        parts.append(
            f'<path d="M{LEFT + p * scale:.1f} 39L{LEFT + q * scale:.1f} 77" stroke="{ROWAN if out else SOFT}" '
            f'stroke-width="{2 if out else 1}" stroke-dasharray="4 3"/>'
        )
    parts.append(_rest(walked, scale, sound, unit))
    return "".join(parts) + "</svg>"


def _side(edges: tuple[tuple[str, str], ...], names: Mapping[str, str]) -> str:
    return " and ".join(
        f"{number} {names.get(number, '')}, {edge}".replace(" ,", ",") for number, edge in dict.fromkeys(edges)
    )


def _rest(walked: WalkedSeam, scale: float, sound: bool, unit: Unit) -> str:
    """By how much one side is longer, shaded, and whether that is meant."""
    short, long = sorted((walked.a_mm, walked.b_mm))
    if long - short < 0.05:
        return ""
    y = 32.0 if walked.a_mm > walked.b_mm else 84.0
    colour = LEAF if sound else ROWAN
    size = max((long - short) * scale, 2.0)
    words = format_length(long - short, unit) if long - short >= 1 else ""
    meant = " meant" if sound and walked.seam.meant_mm else ""
    return (
        f'<rect x="{LEFT + short * scale:.1f}" y="{y - 9}" width="{size:.1f}" height="18" fill="{colour}" opacity=".35"/>'
        f'<text x="{LEFT + short * scale - 6:.1f}" y="62" font-size="13" text-anchor="end" fill="{colour}">{words}{meant}</text>'
    )
