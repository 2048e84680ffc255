"""The ease picture: each size as a band round the body at bust, waist and hip, and the line that is cut through them.

The body's own measure is a straight edge; every size is a line as far from it as the ease it would leave. The chosen line has a
handle at each zone, which the page lets be dragged from size to size.
"""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.garment_kinds import Zone
from rowanseed.core.lengths import Length, Unit, format_length
from rowanseed.formats.drawing import Drawn, markup, tag

INK, SOFT, SLATE, LEAF = "#2B2622", "#5E554B", "#3F5873", "#33604D"
LINE, SHADE = "#B5A894", "#F3EBDA"
ROW, LEFT, WIDTH, TOP, FOOT = 104.0, 124.0, 860.0, 30.0, 46.0


@dataclass(frozen=True)
class EaseLine:
    """One level: the body's measure and, for each size, what it leaves there in mm (may be negative).

    `finished`: counted from the finished garment; else the chart's body less this body. `now`: what the pieces leave as they
    will be cut, measured on them; None where they do not tell. `zone` empty: a level that is not blended, such as the upper arm.
    """

    name: str
    body: Length
    finished: bool
    eases: Mapping[str, float]
    zone: Zone | None = None
    now: float | None = None
    least: float = 0.0


class _Picture:
    """The picture's scale and rows."""

    def __init__(self, lines: Sequence[EaseLine], unit: Unit) -> None:
        self.lines, self.unit = lines, unit
        eases = [e for line in lines for e in (*line.eases.values(), *([line.now] if line.now is not None else []))]
        self.low, self.high = min(-20.0, min(eases) - 15.0), max(70.0, max(eases) + 15.0)
        self.height = TOP + ROW * len(lines) + FOOT

    def x(self, mm: float) -> float:
        return LEFT + (mm - self.low) * (WIDTH - LEFT - 30) / (self.high - self.low)

    def y(self, row: int) -> float:
        return TOP + ROW * row + ROW / 2

    def path_of(self, at: Callable[[EaseLine], float | None]) -> list[tuple[float, float]]:
        """The places of a line through the zones, top to bottom."""
        out = []
        for row, line in enumerate(self.lines):
            mm = at(line) if line.zone else None
            if mm is not None:
                out.append((self.x(mm), self.y(row)))
        return out


def ease_svg(
    lines: Sequence[EaseLine], advised: Mapping[Zone, str], cut: Mapping[Zone, str], unit: Unit, key: str = ""
) -> str:
    """The picture; `advised` and `cut`: a size for each zone; `key`: marks the handles as belonging to one garment."""
    if not lines:
        return ""
    p = _Picture(lines, unit)
    names = ", ".join(line.name for line in lines)
    drawing = tag(
        "svg",
        _bands(p),
        _body(p),
        _axis(p),
        *(_row(p, row, advised, cut) for row in range(len(lines))),
        _chosen(p, cut),
        *(_handle(p, row, cut, key) for row in range(len(lines))),
        css="ease-fig",
        viewBox=f"0 0 {WIDTH:.0f} {p.height:.0f}",
        role="group",
        aria_label=f"Ease of every size at {names}; the table says the same in figures.",
    )
    return markup(drawing)


def _sizes(p: _Picture) -> list[str]:
    return list(dict.fromkeys(size for line in p.lines if line.zone for size in line.eases))


def _bands(p: _Picture) -> Drawn:
    """Every size as a line from zone to zone, the space between two of them shaded by turns, its name at the top."""
    out: list[Drawn] = []
    before: list[tuple[float, float]] = []
    for n, size in enumerate(_sizes(p)):
        path = p.path_of(lambda line, s=size: line.eases.get(s))  # type: ignore[misc]
        if n % 2 and len(path) == len(before) > 1:
            ring = " ".join(f"{x:.1f},{y:.1f}" for x, y in [*before, *reversed(path)])
            out.append(tag("polygon", points=ring, fill=SHADE))
        if len(path) > 1:
            points = " ".join(f"{x:.1f},{y:.1f}" for x, y in path)
            out.append(tag("polyline", points=points, fill="none", stroke=LINE, stroke_width="1.2"))
        before = path
    return out


def _body(p: _Picture) -> Drawn:
    x, foot = p.x(0), p.height - FOOT + 8
    return [
        tag("path", d=f"M{x:.1f} {TOP - 14:.1f}V{foot:.1f}", stroke=INK, stroke_width="4"),
        tag(
            "text",
            "the body",
            x=f"{x:.1f}",
            y=f"{p.height - 14:.1f}",
            font_size="14",
            text_anchor="middle",
            font_weight="700",
        ),
    ]


def _axis(p: _Picture) -> Drawn:
    step = 50.0 if p.unit == "cm" else 50.8
    out: list[Drawn] = []
    for k in range(int(p.low // step), int(p.high // step) + 1):
        if k == 0 or k * step < p.low:
            continue
        words = f"{'+' if k > 0 else '−'}{format_length(abs(k * step), p.unit)}"
        out.append(
            [
                tag(
                    "path",
                    d=f"M{p.x(k * step):.1f} {TOP - 10:.1f}V{p.height - FOOT + 8:.1f}",
                    stroke="#D8CFBF",
                    stroke_width="1",
                    stroke_dasharray="2 5",
                ),
                tag(
                    "text",
                    words,
                    x=f"{p.x(k * step):.1f}",
                    y=f"{p.height - 14:.1f}",
                    font_size="13",
                    text_anchor="middle",
                ),
            ]
        )
    return out


def _row(p: _Picture, row: int, advised: Mapping[Zone, str], cut: Mapping[Zone, str]) -> Drawn:
    """A level's name and body measure, its least ease as a band, and a circle for every size."""
    line, y = p.lines[row], p.y(row)
    out: list[Drawn] = [
        tag("text", line.name, x="0", y=f"{y - 6:.1f}", font_size="19", font_weight="700"),
        tag("text", format_length(line.body.mm, p.unit), x="0", y=f"{y + 15:.1f}", font_size="13"),
    ]
    if line.finished and line.zone:
        least = line.least
        out.append(
            [
                tag(
                    "rect",
                    css="band",
                    x=f"{p.x(0):.1f}",
                    y=f"{y - 28:.1f}",
                    width=f"{p.x(least) - p.x(0):.1f}",
                    height="56",
                ),
                tag(
                    "text",
                    f"least to move in: {format_length(least, p.unit)}",
                    x=f"{p.x(0) + 6:.1f}",
                    y=f"{y + 44:.1f}",
                    font_size="12",
                ),
            ]
        )
    out.append(tag("path", d=f"M{LEFT} {y:.1f}H{WIDTH - 10}", stroke="#8E8375", stroke_width="1"))
    best = advised.get(line.zone, "") if line.zone else ""
    for size, ease in line.eases.items():
        ring = LEAF if size == best else "#8E8375"
        out.append(
            tag(
                "g",
                tag("title", f"size {size}: {_said(ease, p.unit)}"),
                tag(
                    "circle",
                    cx=f"{p.x(ease):.1f}",
                    cy=f"{y:.1f}",
                    r="13",
                    fill="#fff",
                    stroke=ring,
                    stroke_width=4 if size == best else 1.5,
                ),
                tag(
                    "text",
                    size,
                    x=f"{p.x(ease):.1f}",
                    y=f"{y + 5:.1f}",
                    font_size=12 if len(size) > 2 else 13,
                    text_anchor="middle",
                ),
            )
        )
    if line.zone is None and line.now is not None:
        x, said = p.x(line.now), _said(line.now, p.unit)
        out.append(
            tag(
                "g",
                tag("title", f"as it will be cut: {said}"),
                tag("circle", cx=f"{x:.1f}", cy=f"{y:.1f}", r="8", fill=SLATE),
                tag("text", said, x=f"{x + 16:.1f}", y=f"{y - 8:.1f}", font_size="13"),
            )
        )
    return out


def _said(ease: float, unit: Unit) -> str:
    return f"{format_length(abs(ease), unit)} {'over' if ease >= 0 else 'under'}"


def _at(line: EaseLine, cut: Mapping[Zone, str]) -> float | None:
    """Where the line that is cut lies: as measured on the pieces, else as its size says."""
    if line.zone is None:
        return None
    return line.now if line.now is not None else line.eases.get(cut[line.zone])


def _chosen(p: _Picture, cut: Mapping[Zone, str]) -> Drawn:
    path = p.path_of(lambda line: _at(line, cut))
    if len(path) < 2:
        return []
    points = " ".join(f"{x:.1f},{y:.1f}" for x, y in path)
    return tag("polyline", css="chosen-line", points=points, fill="none", stroke=SLATE, stroke_width="5", opacity=".55")


def _handle(p: _Picture, row: int, cut: Mapping[Zone, str], key: str) -> Drawn:
    line, y = p.lines[row], p.y(row)
    at = _at(line, cut)
    if at is None or line.zone is None:
        return []
    size = cut[line.zone]
    stops = json.dumps([[s, round(p.x(e), 1)] for s, e in line.eases.items()])
    said = f"{line.name}: size {size}, {_said(at, p.unit)}"
    return tag(
        "g",
        tag("title", f"{said}. Drag it, or use the arrow keys."),
        tag("circle", r="17", fill=SLATE, stroke="#fff", stroke_width="2"),
        tag(
            "text",
            size,
            css="on",
            y="5",
            font_size=13 if len(size) > 2 else 15,
            text_anchor="middle",
            font_weight="700",
        ),
        css="handle",
        id=f"handle-{line.zone}-{key}",
        tabindex="0",
        role="slider",
        aria_valuenow=f"{at:.0f}",
        aria_valuetext=said,
        aria_label=line.name,
        data_zone=line.zone,
        data_stops=stops,
        transform=f"translate({p.x(at):.1f} {y:.1f})",
    )
