"""A piece as large as a file may mean it, beside a bank card and a tape, so that one sees which scale is meant."""

from rowanseed.core.geometry.types import Outline
from rowanseed.formats.drawing import markup, tag

CARD_MM = (85.6, 53.98)  # ID-1 of ISO/IEC 7810
TAPE_MM = 500.0
BOX = (150.0, 92.0)
INK, FILL, SOFT = "#2B2622", "#FDFAF3", "#8A8177"


def scale_choice_svg(outline: Outline, factor: float) -> str:
    """The drawing of a piece scaled by a factor, beside a card and half a metre of tape; its words stand beside it."""
    xs, ys = [x for x, _ in outline], [y for _, y in outline]
    wide, high = (max(xs) - min(xs)) * factor, (max(ys) - min(ys)) * factor
    whole = (max(wide, TAPE_MM) if wide > 60 else max(wide, CARD_MM[0])) + CARD_MM[0] + 20
    tall = max(high, CARD_MM[1]) + 30
    by = min(BOX[0] / whole, BOX[1] / tall)
    points = " ".join(f"{(x - min(xs)) * factor * by:.1f},{(y - min(ys)) * factor * by:.1f}" for x, y in outline)
    beside = (wide + 20) * by
    card_wide, card_high = (f"{mm * by:.1f}" for mm in CARD_MM)
    card = tag("rect", x=f"{beside:.1f}", y="0", width=card_wide, height=card_high, rx=f"{3 * by:.1f}", fill=SOFT)
    piece = tag("polygon", points=points, fill=FILL, stroke=INK, stroke_width="1")
    base = (tall - 14) * by
    ticks = "".join(f"M{k * 100 * by:.1f} {base:.1f} v{4 if k % 5 else 7}" for k in range(6))
    tape = tag("path", d=f"M0 {base:.1f} h{TAPE_MM * by:.1f} {ticks}", fill="none", stroke=INK, stroke_width="1")
    box = f"-2 -2 {BOX[0] + 4:g} {BOX[1] + 4:g}"
    drawing = tag("svg", piece, card, tape, css="scale-fig", viewBox=box, aria_hidden="true", focusable="false")
    return markup(drawing)
