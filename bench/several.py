"""Several garments in one lay: what one call with the usual effort finds, against the best of ten in ten times the time.

Run `python -m bench.several`. Four waistcoats in four sizes, ten pinafores in five, ten trousers in four, three overshirts, each on
cloth 150 cm wide, in a single layer and folded lengthwise. Every lay is checked. Ends with 1 where a lay is wrong; the aim is 1.01
at most.
"""

import statistics
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from types import ModuleType

from bench.history import record
from bench.pinafores import ten_pinafores
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayRequest, Spread
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.jobs.worker import warm_up

TIMES = 10
SPREADS: tuple[Spread, ...] = ("single", "lengthwise-fold")


def asked_for(module: ModuleType, sizes: list[str], spread: Spread) -> LayRequest:
    """The lay of a demo pattern's garments in these sizes on one plain cloth."""
    pattern = module.pattern()
    cloth = Cloth("plain", parse_length("150 cm"), parse_length("1 cm"), None)
    pieces, findings = sized_pieces(pattern, "A", "self", sizes)
    if findings:
        raise SystemExit(f"{pattern.name}: {findings[0].text}")
    return lay_request(pieces, cloth, MakePlan(spread=spread, effort="good"))


GARMENTS: tuple[tuple[str, Callable[[Spread], LayRequest]], ...] = (
    ("four waistcoats", partial(asked_for, waistcoat, ["S", "M", "L", "XL"])),
    ("ten pinafores", ten_pinafores),
    ("ten trousers", partial(asked_for, trousers, ["38", "40", "42", "44", "38", "40", "42", "44", "40", "42"])),
    ("three overshirts", partial(asked_for, overshirt, ["10", "14", "18"])),
)


def main() -> int:
    """Print the ratios."""
    warm_up()
    ratios, seconds, sound = [], [], True
    for name, asked in GARMENTS:
        for spread in SPREADS:
            request = asked(spread)
            began = time.perf_counter()
            one = lay(request)
            took = time.perf_counter() - began
            others = [lay(replace(request, seed=seed)) for seed in range(2, TIMES + 2)]
            wrong = [f for found in (one, *others) for f in check_lay(request, found) if f.level == "stop"]
            best = min(each.length_mm for each in (one, *others))
            ratios.append(one.length_mm / best)
            seconds.append(took)
            sound = sound and not wrong
            told = f"{one.length_mm:8.0f} mm in {took:4.1f} s; best of {TIMES + 1}: {best:8.0f}"
            print(f"{name:18}{spread:17}{told}; ratio {ratios[-1]:.4f}")
    print(f"several garments: mean {statistics.mean(ratios):.4f}, worst {max(ratios):.4f} (aim: 1.01 at most)")
    record(
        "several", {"one lay, mean": statistics.mean(seconds)}, {"mean": statistics.mean(ratios), "worst": max(ratios)}
    )
    return 0 if sound else 1


if __name__ == "__main__":
    sys.exit(main())
