"""A piece with each of its edges numbered and marked by what becomes of it: sewn, ended, or nothing said yet."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from rowanseed.formats.drawing import Drawn, markup, tag
from rowanseed.formats.piece_svg import path

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class EdgeDrawn:
    """An edge to draw: its number on the page, its points in mm, how it stands (`sewn`, `ended`, `open`, `fold`), its words."""

    number: int
    points: Points
    state: str
    words: str


def edges_svg(outline: Sequence[tuple[float, float]], edges: Sequence[EdgeDrawn], title: str) -> str:
    """A piece upright with its edges; each is a link to its field, `#edge-number`."""
    body = [_upright(p) for p in outline]
    xs, ys = [x for x, _ in body], [y for _, y in body]
    long = max(max(xs) - min(xs), max(ys) - min(ys))
    unit, room = long / 100, long * 0.11
    middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    parts: list[Drawn] = [tag("path", css="paper-fill", d=path(body), stroke="none")]
    for edge in edges:
        line = [_upright(p) for p in edge.points]
        d = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in line)
        drawn: list[Drawn] = [tag("path", css=f"edge {edge.state}", d=d, fill="none", stroke_width=f"{unit * 1.6:.2f}")]
        if edge.state != "fold":
            x, y = _beside(line, middle, unit * 5)
            drawn.append(tag("path", css="grip", d=d, fill="none", stroke_width=f"{unit * 9:.2f}"))
            drawn.append(
                tag("circle", css=f"edge-mark {edge.state}", cx=f"{x:.1f}", cy=f"{y:.1f}", r=f"{unit * 3.6:.1f}")
            )
            drawn.append(
                tag(
                    "text",
                    str(edge.number),
                    x=f"{x:.1f}",
                    y=f"{y + unit * 1.6:.1f}",
                    font_size=f"{unit * 4.6:.1f}",
                    text_anchor="middle",
                )
            )
            parts.append(tag("a", tag("title", edge.words), drawn, href=f"#edge-{edge.number}", aria_label=edge.words))
        else:
            parts.extend(drawn)
    box = f"{min(xs) - room:.0f} {min(ys) - room:.0f} {max(xs) - min(xs) + 2 * room:.0f} {max(ys) - min(ys) + 2 * room:.0f}"
    return markup(tag("svg", *parts, css="edges", viewBox=box, role="group", aria_label=title))


def _upright(p: tuple[float, float]) -> tuple[float, float]:
    return (-p[1], p[0])


def _beside(line: Sequence[tuple[float, float]], middle: tuple[float, float], away: float) -> tuple[float, float]:
    """A place outside the piece beside the middle of an edge."""
    total = sum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(line, line[1:], strict=False))
    gone = 0.0
    for a, b in zip(line, line[1:], strict=False):
        long = hypot(b[0] - a[0], b[1] - a[1])
        if gone + long >= total / 2 and long > 0:
            t = (total / 2 - gone) / long
            x, y = a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])
            nx, ny = (b[1] - a[1]) / long, -(b[0] - a[0]) / long
            side = 1.0 if nx * (x - middle[0]) + ny * (y - middle[1]) >= 0 else -1.0
            return x + side * nx * away, y + side * ny * away
        gone += long
    return line[0]
