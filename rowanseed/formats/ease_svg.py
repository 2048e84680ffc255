"""The ease picture: for bust, waist and hip, what each size would leave around the body."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from html import escape

from rowanseed.core.fit.ease import LEAST_WEARING_MM, Zone
from rowanseed.core.lengths import Length, Unit, format_length

INK, SOFT, SLATE, LEAF, ROWAN = "#2B2622", "#5E554B", "#3F5873", "#33604D", "#B23A1E"
ROW, LEFT, WIDTH = 104.0, 112.0, 860.0


@dataclass(frozen=True)
class EaseLine:
    """One zone: the body's measure and, for each size, what it leaves there in mm (may be negative).

    `finished`: counted from the finished garment; else the chart's body less this body.
    """

    zone: Zone
    body: Length
    finished: bool
    eases: Mapping[str, float]


def ease_svg(lines: list[EaseLine], advised: Mapping[Zone, str], cut: Mapping[Zone, str], unit: Unit) -> str:
    """Rows for the zones on one scale of ease; the body at 0, wearing ease as a band, a line through the chosen sizes."""
    if not lines:
        return ""
    eases = [e for line in lines for e in line.eases.values()]
    low, high = min(-20.0, min(eases) - 15.0), max(70.0, max(eases) + 15.0)
    scale = (WIDTH - LEFT - 30) / (high - low)

    def at(mm: float) -> float:
        return LEFT + (mm - low) * scale

    height = ROW * len(lines) + 46
    parts = [
        f'<svg class="ease-fig" viewBox="0 0 {WIDTH:.0f} {height:.0f}" role="img" aria-label="Ease of every size at '
        f'{", ".join(line.zone for line in lines)}; the table says the same in figures.">',
        f'<path d="M{at(0):.1f} 12V{height - 34:.1f}" stroke="{INK}" stroke-width="3"/>',
        f'<text x="{at(0):.1f}" y="{height - 14:.1f}" font-size="14" text-anchor="middle" font-weight="700">the body</text>',
        _axis(low, high, at, height, unit),
    ]
    path: list[tuple[float, float]] = []
    for k, line in enumerate(lines):
        middle = 14 + ROW * k + ROW / 2
        chosen = cut[line.zone]
        parts.append(_row(line, middle, at, advised.get(line.zone, chosen), chosen, unit))
        if chosen in line.eases:
            path.append((at(line.eases[chosen]), middle))
    if len(path) > 1:
        points = " ".join(f"{x:.1f},{y:.1f}" for x, y in path)
        parts.insert(4, f'<polyline points="{points}" fill="none" stroke="{SLATE}" stroke-width="4" opacity=".45"/>')
    return "".join(parts) + "</svg>"


def _axis(low: float, high: float, at: Callable[[float], float], height: float, unit: Unit) -> str:
    step = 50.0 if unit == "cm" else 50.8
    out = []
    k = int(low // step)
    while k * step <= high:
        if k != 0 and low <= k * step:
            sign = "+" if k > 0 else "−"
            words = f"{sign}{format_length(abs(k * step), unit)}"
            out.append(
                f'<path d="M{at(k * step):.1f} 12V{height - 34:.1f}" stroke="#D8CFBF" stroke-width="1"/>'
                f'<text x="{at(k * step):.1f}" y="{height - 14:.1f}" font-size="13" text-anchor="middle">{words}</text>'
            )
        k += 1
    return "".join(out)


def _row(line: EaseLine, middle: float, at: Callable[[float], float], advised: str, chosen: str, unit: Unit) -> str:
    least = LEAST_WEARING_MM[line.zone]
    out = [
        f'<text x="0" y="{middle - 6:.1f}" font-size="19" font-weight="700">{line.zone}</text>',
        f'<text x="0" y="{middle + 15:.1f}" font-size="13">{escape(line.body.text)}</text>',
    ]
    if line.finished:
        out.append(
            f'<rect class="band" x="{at(0):.1f}" y="{middle - 26:.1f}" width="{at(least) - at(0):.1f}" height="52"/>'
            f'<text x="{at(0) + 5:.1f}" y="{middle + 42:.1f}" font-size="12">least to move in: {format_length(least, unit)}</text>'
        )
    out.append(f'<path d="M{LEFT} {middle:.1f}H{WIDTH - 10}" stroke="#8E8375" stroke-width="1"/>')
    for size, ease in line.eases.items():
        x = at(ease)
        big = size == chosen
        fill = SLATE if big else "#fff"
        ring = LEAF if size == advised else "#8E8375"
        out.append(
            f"<g><title>size {escape(size)}: {format_length(abs(ease), unit)} {'over' if ease >= 0 else 'under'}</title>"
            f'<circle cx="{x:.1f}" cy="{middle:.1f}" r="{16 if big else 13}" fill="{fill}" stroke="{ring}" '
            f'stroke-width="{4 if size == advised else 1.5}"/>'
            f'<text class="{"on" if big else ""}" x="{x:.1f}" y="{middle + 5:.1f}" font-size="{15 if big else 13}" '
            f'text-anchor="middle" font-weight="{700 if big else 400}">{escape(size)}</text></g>'
        )
    return "".join(out)
