"""The figure, front and back, of an adult and a child, with a tape for every measurement.

Drawn from a table of heights and half widths as shares of the stature; the proportions (an adult about seven and a half heads
tall, a child of six about six) are common practice in figure drawing, no source.
"""

from dataclasses import dataclass

from rowanseed.core.body import MEASUREMENTS, Side
from rowanseed.core.geometry.types import Point
from rowanseed.formats.drawing import Drawn, markup, tag

HIGH = 320.0  # height of a figure, in its own units
WIDE = 150.0


@dataclass(frozen=True)
class Figure:
    """A figure's levels down the body as shares of its height, and half widths there as shares of its height."""

    chin: float
    neck: float
    shoulder: float
    underarm: float
    bust: float
    under_bust: float
    waist: float
    hip: float
    crotch: float
    knee: float
    ankle: float
    head_half: float
    neck_half: float
    shoulder_half: float
    chest_half: float
    waist_half: float
    hip_half: float


ADULT = Figure(0.13, 0.165, 0.185, 0.245, 0.28, 0.31, 0.385, 0.485, 0.53, 0.735, 0.955,
               0.043, 0.028, 0.112, 0.085, 0.069, 0.096)  # fmt: skip
CHILD = Figure(0.17, 0.20, 0.22, 0.285, 0.315, 0.34, 0.425, 0.515, 0.55, 0.75, 0.95,
               0.066, 0.032, 0.108, 0.085, 0.082, 0.092)  # fmt: skip


def figures_svg(is_child: bool) -> str:
    """Both views side by side; each tape carries its measurement's key, so that the one in focus can be shown."""
    figure = CHILD if is_child else ADULT
    who = "a child" if is_child else "an adult"
    sides: tuple[Side, Side] = ("front", "back")
    views = [
        tag(
            "g",
            _view(figure, side),
            tag("text", side, x="0", y=f"{HIGH + 20:.0f}", font_size="13", text_anchor="middle"),
            transform=f"translate({WIDE * (at + 0.5):.0f} 8)",
        )
        for at, side in enumerate(sides)
    ]
    said = f"Front and back of {who}, with a tape at each measurement"
    return markup(tag("svg", *views, viewBox=f"0 0 {2 * WIDE:.0f} {HIGH + 34:.0f}", role="img", aria_label=said))


def _view(f: Figure, side: Side) -> Drawn:
    parts = [_body(f), _arm(f, 1), _arm(f, -1), _inner_lines(f, side)]
    parts += [_tape(f, m.key, m.label) for m in MEASUREMENTS if m.side == side]
    return parts


def _smooth(points: list[Point], closed: bool = False) -> str:
    """A smooth path through points (Catmull-Rom as Bézier curves), in the figure's own units."""
    p = [(x * HIGH, y * HIGH) for x, y in points]
    n = len(p)
    out = [f"M{p[0][0]:.1f} {p[0][1]:.1f}"]
    for k in range(n if closed else n - 1):
        a, b, c, d = (p[(k + j) % n] if closed else p[min(max(k + j, 0), n - 1)] for j in (-1, 0, 1, 2))
        first = (b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6)
        second = (c[0] - (d[0] - b[0]) / 6, c[1] - (d[1] - b[1]) / 6)
        out.append(f"C{first[0]:.1f} {first[1]:.1f} {second[0]:.1f} {second[1]:.1f} {c[0]:.1f} {c[1]:.1f}")
    return "".join(out) + ("Z" if closed else "")


def _body(f: Figure) -> Drawn:
    """Head, trunk and legs."""
    right = [
        (f.neck_half, f.chin - 0.005),
        (f.neck_half * 1.05, f.neck),
        (f.shoulder_half * 0.62, f.shoulder - 0.008),
        (f.shoulder_half, f.shoulder + 0.012),
        (f.chest_half * 1.04, f.underarm),
        (f.chest_half, f.bust),
        (f.chest_half * 0.94, f.under_bust),
        (f.waist_half, f.waist),
        (f.hip_half * 0.93, (f.waist + f.hip) / 2),
        (f.hip_half, f.hip),
        (f.hip_half * 0.96, f.crotch + 0.03),
        (f.hip_half * 0.70, f.knee),
        (f.hip_half * 0.67, (f.knee + f.ankle) / 2 - 0.02),
        (f.hip_half * 0.45, f.ankle),
        (f.hip_half * 0.62, 0.99),
        (f.hip_half * 0.2, 0.99),
        (f.hip_half * 0.22, f.ankle),
        (f.hip_half * 0.2, (f.knee + f.ankle) / 2),
        (f.hip_half * 0.2, f.knee),
        (0.004, f.crotch),
    ]
    outline = [*right, *[(-x, y) for x, y in reversed(right)]]
    head = f.chin / 2
    return [
        tag("path", css="form", d=_smooth(outline, closed=True)),
        tag(
            "ellipse",
            css="form",
            cx="0",
            cy=f"{head * HIGH:.1f}",
            rx=f"{f.head_half * HIGH:.1f}",
            ry=f"{head * HIGH:.1f}",
        ),
    ]


def _arm_points(f: Figure) -> dict[str, Point]:
    """Places down the middle of an arm: shoulder's end, upper arm, elbow, wrist, fingertips."""
    top = (f.shoulder_half * 0.97, f.shoulder + 0.015)
    return {
        "shoulder": top,
        "upper": (top[0] + 0.018, f.underarm + 0.02),
        "elbow": (top[0] + 0.038, f.waist - 0.01),
        "wrist": (top[0] + 0.052, f.hip + 0.005),
        "hand": (top[0] + 0.054, f.hip + 0.06),
    }


def _arm(f: Figure, sign: int) -> Drawn:
    at = _arm_points(f)
    widths = {"shoulder": 0.022, "upper": 0.026, "elbow": 0.02, "wrist": 0.014, "hand": 0.012}
    outer = [(sign * (at[k][0] + widths[k]), at[k][1]) for k in at]
    inner = [(sign * (at[k][0] - widths[k]), at[k][1]) for k in reversed(at)][:-1]
    return tag(
        "path", css="form", d=_smooth([*outer, *inner, (sign * (at["upper"][0] - 0.03), f.underarm - 0.005)], True)
    )


def _inner_lines(f: Figure, side: Side) -> Drawn:
    """A few lines that tell the sides apart: neckline and bust in front, blades, spine and seat behind."""
    if side == "front":
        lines = [
            [(-f.neck_half, f.neck), (0.0, f.neck + 0.02), (f.neck_half, f.neck)],
            [(-0.055, f.bust + 0.01), (-0.03, f.bust + 0.02), (-0.006, f.bust + 0.008)],
            [(0.055, f.bust + 0.01), (0.03, f.bust + 0.02), (0.006, f.bust + 0.008)],
        ]
    else:
        lines = [
            [(0.0, f.neck), (0.0, f.waist + 0.03)],
            [(-0.05, f.underarm - 0.02), (-0.028, f.bust), (-0.045, f.bust + 0.015)],
            [(0.05, f.underarm - 0.02), (0.028, f.bust), (0.045, f.bust + 0.015)],
            [
                (-0.06, f.crotch - 0.008),
                (-0.03, f.crotch),
                (0.0, f.crotch - 0.02),
                (0.03, f.crotch),
                (0.06, f.crotch - 0.008),
            ],
        ]
    return [tag("path", css="inner", d=_smooth(line)) for line in lines]


def _tape(f: Figure, key: str, label: str) -> Drawn:
    girth = _girths(f).get(key)
    if girth is not None:
        (x, y), half = girth
        return tag(
            "ellipse",
            tag("title", label),
            css="tape",
            data_tape=key,
            cx=f"{x * HIGH:.1f}",
            cy=f"{y * HIGH:.1f}",
            rx=f"{half * HIGH:.1f}",
            ry=f"{max(2.0, half * HIGH * 0.2):.1f}",
        )
    points = " ".join(f"{x * HIGH:.1f},{y * HIGH:.1f}" for x, y in _lengths(f)[key])
    return tag("polyline", tag("title", label), css="tape", data_tape=key, points=points)


def _girths(f: Figure) -> dict[str, tuple[Point, float]]:
    """Girths: the middle of the tape and its half width."""
    arm = _arm_points(f)
    return {
        "bust": ((0.0, f.bust), f.chest_half * 1.03),
        "high_bust": ((0.0, f.underarm + 0.006), f.chest_half * 1.05),
        "under_bust": ((0.0, f.under_bust + 0.004), f.chest_half * 0.96),
        "waist": ((0.0, f.waist), f.waist_half * 1.03),
        "hip": ((0.0, f.hip), f.hip_half * 1.03),
        "neck": ((0.0, f.neck - 0.006), f.neck_half * 1.1),
        "head": ((0.0, f.chin * 0.38), f.head_half * 1.03),
        "upper_arm": (arm["upper"], 0.029),
        "wrist": (arm["wrist"], 0.018),
        "thigh": ((f.hip_half * 0.51, f.crotch + 0.03), f.hip_half * 0.48),
        "knee": ((f.hip_half * 0.48, f.knee), f.hip_half * 0.36),
        "calf": ((f.hip_half * 0.47, f.knee + (f.ankle - f.knee) * 0.35), f.hip_half * 0.34),
    }


def _lengths(f: Figure) -> dict[str, list[Point]]:
    """Lengths: the line of the tape."""
    arm = _arm_points(f)
    side = f.hip_half * 1.06
    return {
        "hip_depth": [(f.waist_half * 1.12, f.waist), (side, f.hip)],
        "back_waist": [(0.0, f.neck), (0.0, f.waist)],
        "front_waist": [(-f.neck_half, f.neck + 0.006), (-0.05, f.bust), (-0.05, f.waist)],
        "bust_point": [(-f.neck_half, f.neck + 0.006), (-0.05, f.bust)],
        "bust_span": [(-0.05, f.bust), (0.05, f.bust)],
        "across_back": [(-f.chest_half, (f.shoulder + f.underarm) / 2), (f.chest_half, (f.shoulder + f.underarm) / 2)],
        "across_front": [(-f.chest_half, (f.shoulder + f.underarm) / 2), (f.chest_half, (f.shoulder + f.underarm) / 2)],
        "height": [(-0.205, 0.0), (-0.205, 0.99)],
        "shoulder": [(f.neck_half, f.neck + 0.006), (f.shoulder_half * 0.97, f.shoulder + 0.004)],
        "arm_length": [arm["shoulder"], arm["elbow"], arm["wrist"]],
        "crotch_depth": [(-f.waist_half * 1.12, f.waist), (-side, f.hip), (-side, f.crotch)],
        "crotch_length": [(-0.006, f.waist), (-0.003, f.crotch), (0.003, f.crotch), (0.006, f.waist)],
        "inseam": [(0.004, f.crotch + 0.005), (f.hip_half * 0.2, f.knee), (f.hip_half * 0.2, f.ankle)],
        "waist_to_knee": [(-f.waist_half * 0.55, f.waist), (-f.hip_half * 0.48, f.knee)],
        "waist_to_floor": [(f.waist_half * 1.25, f.waist), (f.hip_half * 1.2, f.hip), (f.hip_half * 1.2, 0.99)],
    }
