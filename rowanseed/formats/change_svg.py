"""A small chart of how a body's measures changed from set to set."""

from collections.abc import Mapping, Sequence
from datetime import date

from rowanseed.core.lengths import Length, Unit, format_length
from rowanseed.formats.drawing import Drawn, markup, tag

INK, HAIR, SLATE = "#2B2622", "#D8CFBF", "#3F5873"
SAME_MM = 1.0  # within what a tape tells
WIDTH, ROW, LEFT, RIGHT = 420.0, 46.0, 120.0, 96.0


def change_svg(measures: Sequence[tuple[str, Mapping[date, Length]]], unit: Unit) -> str:
    """A row for each measure that was taken on two days or more: its line over time, and by how much it changed in all.

    Args:
        measures: each measure's label and its figures by day.
    """
    rows = [(label, sorted(taken.items())) for label, taken in measures if len(taken) > 1]
    if not rows:
        return ""
    first, last = min(t[0][0] for _, t in rows), max(t[-1][0] for _, t in rows)
    days = max((last - first).days, 1)
    height = ROW * len(rows) + 26
    parts = [_row(label, taken, ROW * k, first, days, unit) for k, (label, taken) in enumerate(rows)]
    for day, x, anchor in ((first, LEFT, "start"), (last, WIDTH - RIGHT, "end")):
        parts.append(
            tag("text", f"{day:%-d %b %Y}", x=f"{x:.0f}", y=f"{height - 6:.0f}", font_size="12", text_anchor=anchor)
        )
    names = ", ".join(label.lower() for label, _ in rows)
    said = f"Change of {names} over time; the table says the same in figures."
    box = f"0 0 {WIDTH:.0f} {height:.0f}"
    return markup(tag("svg", *parts, css="change-fig", viewBox=box, role="img", aria_label=said))


def _row(label: str, taken: list[tuple[date, Length]], top: float, first: date, days: int, unit: Unit) -> Drawn:
    values = [length.mm for _, length in taken]
    low, high = min(values), max(values)
    span = max(high - low, 10.0)
    points = []
    for day, length in taken:
        x = LEFT + (WIDTH - LEFT - RIGHT) * (day - first).days / days
        y = top + ROW - 12 - (length.mm - low) / span * (ROW - 22)
        points.append((x, y))
    line = " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
    change = values[-1] - values[0]
    same = abs(change) < SAME_MM
    words = "the same" if same else ("+" if change > 0 else "−") + format_length(abs(change), unit)
    dots = [
        tag(
            "circle",
            tag("title", f"{day:%-d %b %Y}: {length.told(unit)}"),
            cx=f"{x:.1f}",
            cy=f"{y:.1f}",
            r="3.5",
            fill=SLATE,
        )
        for (x, y), (day, length) in zip(points, taken, strict=True)
    ]
    return [
        tag("path", d=f"M0 {top + ROW - 3:.1f}H{WIDTH:.0f}", stroke=HAIR),
        tag("text", label, x="0", y=f"{top + ROW - 16:.1f}", font_size="13"),
        tag("polyline", points=line, fill="none", stroke=SLATE, stroke_width="2"),
        dots,
        tag(
            "text",
            words,
            x=f"{WIDTH:.0f}",
            y=f"{top + ROW - 16:.1f}",
            font_size="13",
            text_anchor="end",
            fill=INK,
        ),
    ]
