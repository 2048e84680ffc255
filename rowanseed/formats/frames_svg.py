"""The three frames of an alteration, drawn upright beside each other: slash, spread or lap, true."""

from xml.etree.ElementTree import Element

from rowanseed.core.fit.frames import Frames
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.formats.drawing import markup, tag

INK, SOFT, ROWAN, LEAF, PAPER = "#2B2622", "#8A8178", "#B23A1E", "#E9DFC9", "#FFFDF8"
HIGH, GAP = 230.0, 26.0


def frames_svg(shown: Frames, words: tuple[str, str, str], said: str) -> str:
    """Return the frames as one picture.

    Args:
        words: what stands under each frame.
        said: what the picture is, for those who do not see it.
    """
    points = [p for outline in (shown.before, shown.after, *shown.parts) for p in outline]
    top, left = min(x for x, _ in points), max(y for _, y in points)
    long, wide = max(x for x, _ in points) - top, left - min(y for _, y in points)
    scale = HIGH / max(long, 1.5 * wide, 1.0)
    across = max(wide * scale, 150.0) + GAP

    def frame(k: int) -> "_Frame":
        return _Frame(k * across + 4 + (across - GAP - wide * scale) / 2, 6.0, scale, top, left)

    first, second, third = frame(0), frame(1), frame(2)
    parts: list[Element] = [first.shape(shown.before, INK, PAPER)]
    parts += [first.line(cut, ROWAN, 2.2) for cut in shown.cuts]
    parts += [first.dot(hinge) for hinge in shown.hinges]
    parts += [second.shape(part, INK, LEAF) for part in shown.parts]
    if shown.parts == (shown.before,):
        parts.append(second.shape(shown.after, ROWAN, "none", "4 3"))
    parts += [third.shape(shown.after, INK, LEAF), third.shape(shown.before, ROWAN, "none", "2 3")]
    foot = max(long * scale, HIGH * 0.6) + 28
    parts += [
        tag(
            "text",
            text,
            x=f"{k * across + (across - GAP) / 2 + 4:.1f}",
            y=f"{foot:.1f}",
            font_size="14",
            text_anchor="middle",
        )
        for k, text in enumerate(words)
    ]
    box = f"0 0 {3 * across:.0f} {foot + 10:.0f}"
    return markup(tag("svg", *parts, css="frames", viewBox=box, role="img", aria_label=said))


class _Frame:
    """Where a frame stands, and how it draws: the grain upright, the piece as seen from its right side."""

    def __init__(self, x: float, y: float, scale: float, top: float, left: float) -> None:
        self.x, self.y, self.scale, self.top, self.left = x, y, scale, top, left

    def at(self, p: Point) -> Point:
        return self.x + (self.left - p[1]) * self.scale, self.y + (p[0] - self.top) * self.scale

    def _d(self, points: Outline) -> str:
        return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in map(self.at, points))

    def shape(self, points: Outline, stroke: str, fill: str, dashes: str = "none") -> Element:
        return tag(
            "path", d=self._d(points) + "Z", fill=fill, fill_opacity="0.75", stroke=stroke, stroke_width="1.4",
            stroke_dasharray=dashes,
        )  # fmt: skip

    def line(self, points: Outline, stroke: str, width: float) -> Element:
        return tag("path", d=self._d(points), fill="none", stroke=stroke, stroke_width=f"{width:g}")

    def dot(self, p: Point) -> Element:
        x, y = self.at(p)
        return tag("circle", cx=f"{x:.1f}", cy=f"{y:.1f}", r="4", fill=ROWAN)
