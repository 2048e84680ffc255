"""Two edges walked together: each side of a seam laid out straight, one above the other, with its notches."""

from collections.abc import Mapping
from functools import lru_cache

from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.pattern.seamwalk import TOLERANCE_MM, WalkedSeam
from rowanseed.formats.drawing import Drawn, markup, tag

INK, SOFT, SLATE, LEAF, ROWAN, STRAW = "#2B2622", "#5E554B", "#3F5873", "#33604D", "#B23A1E", "#C98A1B"
WIDTH, HEIGHT, LEFT, RIGHT = 760.0, 124.0, 8.0, 150.0


def walk_svg(walked: WalkedSeam, names: Mapping[str, str], unit: Unit) -> str:
    """Both sides of a seam as bars from the same start, notches as ticks joined where they should meet, the rest hatched.

    Args:
        names: piece number to its name.
    """
    a, b = walked.seam.sides
    return _drawn(walked, (_side(a, names), _side(b, names)), unit)


@lru_cache(maxsize=512)  # a seam is drawn once, not for each page of its make
def _drawn(walked: WalkedSeam, said: tuple[str, str], unit: Unit) -> str:
    longest = max(walked.a_mm, walked.b_mm, 1.0)
    scale = (WIDTH - LEFT - RIGHT) / longest
    sound = abs(walked.off_mm) <= TOLERANCE_MM
    label = f"{said[0]} against {said[1]}"
    parts: list[Drawn] = []
    for side, y, words in (
        (walked.a, 32.0, said[0]),
        (walked.b, 84.0, said[1]),
    ):
        parts.append(
            [
                tag("path", d=f"M{LEFT} {y}H{LEFT + side.mm * scale:.1f}", stroke=INK, stroke_width="5"),
                tag("text", words, x=LEFT, y=y - 10 if y < 50 else y + 22, font_size="14"),
                tag(
                    "text",
                    format_length(side.mm, unit),
                    x=f"{LEFT + longest * scale + 12:.1f}",
                    y=y + 5,
                    font_size="15",
                    font_weight="700",
                ),
            ]
        )
        parts += [
            tag("path", d=f"M{LEFT + at * scale:.1f} {y - 7}V{y + 7}", stroke=ROWAN, stroke_width="3")
            for at in side.notches
        ]
    for p, q in walked.notch_pairs:
        out = abs(p - q) - abs(walked.seam.meant_mm) > TOLERANCE_MM
        parts.append(
            tag(
                "path",
                d=f"M{LEFT + p * scale:.1f} 39L{LEFT + q * scale:.1f} 77",
                stroke=ROWAN if out else SOFT,
                stroke_width=2 if out else 1,
                stroke_dasharray="4 3",
            )
        )
    parts.append(_rest(walked, scale, sound, unit))
    box = f"0 0 {WIDTH:.0f} {HEIGHT:.0f}"
    return markup(tag("svg", *parts, css="walk-fig", viewBox=box, role="img", aria_label=label))


def _side(edges: tuple[tuple[str, str], ...], names: Mapping[str, str]) -> str:
    return " and ".join(
        f"{number} {names.get(number, '')}, {edge}".replace(" ,", ",") for number, edge in dict.fromkeys(edges)
    )


def _rest(walked: WalkedSeam, scale: float, sound: bool, unit: Unit) -> Drawn:
    """By how much one side is longer, shaded, and whether that is meant."""
    short, long = sorted((walked.a_mm, walked.b_mm))
    if long - short < 0.05:
        return []
    y = 32.0 if walked.a_mm > walked.b_mm else 84.0
    colour = LEAF if sound else ROWAN
    size = max((long - short) * scale, 2.0)
    words = format_length(long - short, unit) if long - short >= 1 else ""
    meant_mm = abs(walked.seam.meant_mm)
    off = abs(long - short - meant_mm) >= 1.0
    meant = (f", {format_length(meant_mm, unit)} meant" if off else " meant") if sound and meant_mm else ""
    return [
        tag(
            "rect",
            x=f"{LEFT + short * scale:.1f}",
            y=y - 9,
            width=f"{size:.1f}",
            height="18",
            fill=colour,
            opacity=".35",
        ),
        tag(
            "text",
            words,
            meant,
            x=f"{LEFT + short * scale - 6:.1f}",
            y="62",
            font_size="13",
            text_anchor="end",
            fill=colour,
        ),
    ]
