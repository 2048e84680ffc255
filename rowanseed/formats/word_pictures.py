"""Small pictures beside the trade's words, each 120 by 84, drawn with the page's inks."""

from collections.abc import Callable, Mapping
from xml.etree.ElementTree import Element

from rowanseed.formats.drawing import Drawn, markup, tag

INK, SOFT, SLATE, LEAF, ROWAN, CLOTH, PAPER = (
    "#2B2622",
    "#8E8375",
    "#3F5873",
    "#33604D",
    "#B23A1E",
    "#E9DFCC",
    "#FDFAF3",
)


def _line(points: str, colour: str = INK, width: float = 1.4, dashes: str = "none", fill: str = "none") -> Element:
    return tag("path", d=points, stroke=colour, stroke_width=width, stroke_dasharray=dashes, fill=fill)


def _cloth(x: float = 8, y: float = 10, wide: float = 104, high: float = 64) -> Element:
    return tag("rect", x=x, y=y, width=wide, height=high, fill=CLOTH, stroke=SOFT)


def _arrow(x1: float, y1: float, x2: float, y2: float, colour: str = LEAF) -> Drawn:
    long = ((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5
    ux, uy = (x2 - x1) / long, (y2 - y1) / long
    head = "".join(
        f"M{x:.1f} {y:.1f}L{x - s * (6 * ux - 3 * uy):.1f} {y - s * (6 * uy + 3 * ux):.1f}"
        f"M{x:.1f} {y:.1f}L{x - s * (6 * ux + 3 * uy):.1f} {y - s * (6 * uy - 3 * ux):.1f}"
        for x, y, s in ((x2, y2, 1), (x1, y1, -1))
    )
    return _line(f"M{x1} {y1}L{x2} {y2}{head}", colour, 1.6)


def _piece(x: float, y: float, turned: bool = False, mirrored: bool = False) -> Element:
    across, along = (-1 if mirrored else 1), (-1 if turned else 1)
    place = f"translate({x + (30 if mirrored else 0)} {y + (40 if turned else 0)}) scale({across} {along})"
    outline = _line("M0 4Q6 8 10 0L22 4Q20 14 30 16L28 40L0 40Z", INK, 1.2, fill=PAPER)
    outline.set("transform", place)
    return outline


def _bias() -> Drawn:
    return [_cloth(), _arrow(30, 70, 90, 14, ROWAN), _arrow(16, 16, 16, 68), _arrow(24, 74, 104, 74, SOFT)]


def _grain() -> Drawn:
    selvages = [_line(f"M8 {y}H112", SLATE, 3) for y in (11, 73)]
    return [_cloth(), selvages, _piece(42, 22), _arrow(20, 64, 100, 64)]


def _crosswise() -> Drawn:
    selvages = [_line(f"M8 {y}H112", SLATE, 3) for y in (11, 73)]
    return [_cloth(), selvages, _arrow(60, 18, 60, 66)]


def _allowance() -> Drawn:
    outer, inner = "M20 12H96L104 72H14Z", "M28 20H89L96 64H23Z"
    return [_line(outer, INK, 1.8, fill=PAPER), _line(inner, SOFT, 1.2, "5 3")]


def _dart() -> Drawn:
    return [
        _line("M14 12H106V74H74L62 34L50 74H14Z", INK, 1.4, fill=PAPER),
        tag("circle", cx=62, cy=24, r=2.5, fill=ROWAN),
    ]


def _ease() -> Drawn:
    body = tag("ellipse", cx=60, cy=42, rx=34, ry=22, fill=CLOTH, stroke=SOFT)
    return [tag("ellipse", cx=60, cy=42, rx=46, ry=31, fill=PAPER, stroke=INK), body, _arrow(94, 42, 106, 42, ROWAN)]


def _fold() -> Drawn:
    bracket = _line("M30 18V10H90V18", SLATE, 1.6)
    return [_line("M22 20H98", SLATE, 2.4, "8 4"), bracket, _line("M30 20H90L96 70H24Z", INK, 1.4, fill=PAPER)]


def _lay() -> Drawn:
    return [_cloth(), [_piece(x, y, turned) for x, y, turned in ((14, 14, False), (44, 26, True), (76, 14, False))]]


def _mirror() -> Drawn:
    return [_piece(20, 22), _line("M60 10V76", SOFT, 1.2, "4 4"), _piece(70, 22, mirrored=True)]


def _nap() -> Drawn:
    strokes = [
        _line(f"M{x} {y}l8 0M{x + 5} {y - 3}l3 3l-3 3", SOFT, 1) for x in range(16, 104, 18) for y in (20, 42, 64)
    ]
    return [_cloth(), strokes, _piece(20, 22), _piece(66, 22)]


def _notch() -> Drawn:
    notches = _line("M57 32l3 -8l3 8M34 38l1 -8l5 6M42 34l1 -8l5 6", ROWAN, 1.8)
    return [_line("M10 54Q60 10 110 54V78H10Z", INK, 1.4, fill=PAPER), notches]


def _repeat() -> Drawn:
    leaves = [tag("circle", cx=x, cy=y, r=5, fill=LEAF) for x in (22, 58, 94) for y in (28, 58)]
    return [_cloth(), leaves, _arrow(22, 43, 58, 43, ROWAN)]


def _sizes() -> Drawn:
    def size(k: int) -> str:
        return f"M14 74V{26 - 4 * k}Q{40 + 8 * k} {20 - 4 * k} {64 + 12 * k} {46 - 6 * k}V74"

    return [_line(size(k), INK if k == 1 else SOFT) for k in range(3)]


def _stretch() -> Drawn:
    held = tag("rect", x=10, y=16, width=60, height=18, fill=CLOTH, stroke=SOFT)
    drawn = tag("rect", x=10, y=48, width=92, height=18, fill=CLOTH, stroke=SOFT)
    return [held, drawn, _arrow(70, 40, 102, 40, ROWAN)]


PICTURES: Mapping[str, Callable[[], Drawn]] = {
    "bias": _bias,
    "grain": _grain,
    "crosswise": _crosswise,
    "allowance": _allowance,
    "dart": _dart,
    "ease": _ease,
    "fold": _fold,
    "lay": _lay,
    "mirror": _mirror,
    "nap": _nap,
    "notch": _notch,
    "repeat": _repeat,
    "sizes": _sizes,
    "stretch": _stretch,
}


def word_picture(name: str) -> str:
    """Return the picture of that name; its words stand beside it, so it says nothing to who can not see it.

    Raises:
        KeyError: there is none.
    """
    return markup(tag("svg", PICTURES[name](), css="word-picture", viewBox="0 0 120 84", aria_hidden="true"))
