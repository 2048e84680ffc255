"""A piece to be corrected: upright, its points and corners to be pointed at, edges coloured and named, other sizes faint."""

from collections.abc import Mapping
from xml.etree.ElementTree import Element

from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.sizes import corners
from rowanseed.core.geometry.types import Point
from rowanseed.formats.drawing import Drawn, markup, tag

HUES = ("#3F5873", "#B23A1E", "#33604D", "#C98A1B", "#7C6A92", "#A9886B")


def piece_edit_svg(shape: PieceShape, others: Mapping[str, PieceShape], title: str) -> str:
    """Return the drawing; what is clicked is read in the piece's own coordinates, of the group `data-piece`."""
    points = [_upright(p) for s in (shape, *others.values()) for p in s.outline]
    x0, y0 = min(p[0] for p in points), min(p[1] for p in points)
    wide, high = max(p[0] for p in points) - x0, max(p[1] for p in points) - y0
    unit = max(wide, high) / 620
    parts: list[Drawn] = [
        tag("path", css="other", d=_d(s.outline), stroke_width=f"{0.8 * unit:.2f}") for s in others.values()
    ]
    parts.append(tag("path", css="body", d=_d(shape.outline), stroke_width=f"{1.2 * unit:.2f}"))
    if any(shape.side_allowances):
        parts.append(
            tag(
                "path",
                css="seam",
                d=_d(shape.seam_line),
                stroke_width=f"{unit:.2f}",
                stroke_dasharray=f"{5 * unit:.1f} {4 * unit:.1f}",
            )
        )
    for k, (name, edge) in enumerate(shape.edges.items()):
        line = _d(edge_points(shape.outline, edge), False)
        parts.append(
            tag(
                "path",
                tag("title", name),
                css="edge",
                d=line,
                stroke=HUES[k % len(HUES)],
                stroke_width=f"{3.2 * unit:.2f}",
            )
        )
    parts += _marks(shape, unit)
    at = set(corners(shape.outline)) | {k for edge in shape.edges.values() for k in edge}
    for k, (x, y) in enumerate(shape.outline):
        parts.append(_point(k, (x, y), k in at, unit))
    upright = tag("g", *parts, data_piece="", transform="matrix(0 1 -1 0 0 0)")
    names = [_name(shape, name, k, unit) for k, name in enumerate(shape.edges)]
    rim = 26 * unit
    box = f"{x0 - rim:.0f} {y0 - rim:.0f} {wide + 2 * rim:.0f} {high + 2 * rim:.0f}"
    return markup(
        tag(
            "svg",
            upright,
            *names,
            tag("g", data_cursor=""),
            css="piece-edit",
            viewBox=box,
            role="application",
            tabindex="0",
            aria_label=title,
        )
    )


def _upright(p: Point) -> Point:
    return (-p[1], p[0])


def _d(points: object, closed: bool = True) -> str:
    return "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in points) + ("Z" if closed else "")  # type: ignore[attr-defined]


def _point(k: int, at: Point, corner: bool, unit: float) -> Element:
    size = 5.0 if corner else 2.0
    css = "corner" if corner else "point"
    more = {"tabindex": "0", "role": "button", "aria_label": f"Corner {k}"} if corner else {}
    return tag(
        "circle",
        css=css,
        cx=f"{at[0]:.2f}",
        cy=f"{at[1]:.2f}",
        r=f"{size * unit:.2f}",
        data_point=str(k),
        stroke_width=f"{1.4 * unit:.2f}",
        **more,
    )


def _marks(shape: PieceShape, unit: float) -> list[Drawn]:
    parts: list[Drawn] = []
    for line in shape.lines:
        parts.append(
            tag(
                "path", tag("title", line.kind), css="inner", d=_d(line.points, False), stroke_width=f"{1.2 * unit:.2f}"
            )
        )
    if shape.fold_edge:
        parts.append(
            tag(
                "path",
                css="fold",
                d=_d(shape.fold_edge, False),
                stroke_width=f"{5 * unit:.2f}",
                stroke_dasharray=f"{12 * unit:.1f} {6 * unit:.1f}",
            )
        )
    else:
        parts.append(tag("path", css="grain", d=_d(shape.grain_or_default(), False), stroke_width=f"{1.8 * unit:.2f}"))
    for notch in shape.notches:
        for n in range(notch.count):
            parts.append(
                tag(
                    "circle",
                    css="notch",
                    cx=f"{notch.at[0] + 7 * unit * n:.2f}",
                    cy=f"{notch.at[1]:.2f}",
                    r=f"{4 * unit:.2f}",
                )
            )
    for mark in shape.marks:
        parts.append(
            tag(
                "circle",
                tag("title", mark.name),
                css="dot",
                cx=f"{mark.at[0]:.2f}",
                cy=f"{mark.at[1]:.2f}",
                r=f"{4 * unit:.2f}",
                stroke_width=f"{1.4 * unit:.2f}",
            )
        )
    return parts


def _name(shape: PieceShape, name: str, k: int, unit: float) -> Element:
    """Return an edge's name beside its middle, toward the piece's inside."""
    line = edge_points(shape.outline, shape.edges[name])
    middle = _upright(
        line[len(line) // 2] if len(line) > 2 else ((line[0][0] + line[-1][0]) / 2, (line[0][1] + line[-1][1]) / 2)
    )
    points = [_upright(p) for p in shape.outline]
    cx, cy = sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)
    away = max(((cx - middle[0]) ** 2 + (cy - middle[1]) ** 2) ** 0.5, 1.0)
    x, y = middle[0] + 24 * unit * (cx - middle[0]) / away, middle[1] + 24 * unit * (cy - middle[1]) / away
    anchor = "start" if cx > middle[0] + 30 * unit else "end" if cx < middle[0] - 30 * unit else "middle"
    return tag(
        "text",
        name,
        x=f"{x:.1f}",
        y=f"{y:.1f}",
        font_size=f"{14 * unit:.1f}",
        text_anchor=anchor,
        css="edge-name",
        fill=HUES[k % len(HUES)],
    )
