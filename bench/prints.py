"""What matching costs: the demo garments on a check of 100 x 100 mm, each lay matched and unmatched in one run.

Run `python -m bench.prints --effort good`. Every match must be kept within tolerance, no lay may take more than the rule of
thumb (one repeat for each matched row of pieces), and on the mean not more than 0.7 of it; else the run ends with status 1.
"""

import argparse
import sys
import time
from dataclasses import replace

from bench.history import record
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Effort, LayRequest, Spread
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.prints import Print
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.jobs.worker import warm_up

REPEAT = 100.0
SHARE = 0.7
SPREADS: tuple[Spread, ...] = ("single", "lengthwise-fold")
GARMENTS = (("overshirt", overshirt, "14"), ("trousers", trousers, "42"), ("waistcoat", waistcoat, "M"))


def asked(module: object, size: str, spread: Spread, effort: Effort) -> LayRequest:
    """A garment's lay on the check, with every match its seams propose."""
    pattern = module.pattern()  # type: ignore[attr-defined]
    check = Print("plaid", True, REPEAT, REPEAT)
    cloth = Cloth("check", parse_length("150 cm"), parse_length("1 cm"), print=check)
    pieces, _ = sized_pieces(pattern, "A", "self", [size])
    return lay_request(pieces, cloth, MakePlan(spread=spread, effort=effort), seams=pattern.seams)


def rows_of(request: LayRequest) -> int:
    """Matched rows of pieces: pairs that match along the cloth, pockets laid on not counted."""
    return len({frozenset((m.a[0], m.b[0])) for m in request.matches if m.along and not m.onto})


def main() -> int:
    """Print the table; 0 when every match was kept and no lay took more than its share."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--effort", default="good", choices=("quick", "good", "best"))
    effort = parser.parse_args().effort
    warm_up()
    sound, shares = True, []
    print(f"{'garment':11}{'spread':17}{'unmatched':>10}{'matched':>9}{'rows':>5}{'repeats a row':>15}{'seconds':>9}")
    for name, module, size in GARMENTS:
        for spread in SPREADS:
            request = asked(module, size, spread, effort)
            plain = lay(replace(request, matches=(), centres=()))
            began = time.perf_counter()
            found = lay(request)
            took = time.perf_counter() - began
            rows = rows_of(request)
            each = (found.length_mm - plain.length_mm) / REPEAT / max(rows, 1)
            wrong = check_lay(request, found)
            good = not wrong and not found.failed and not found.unmatched and each <= 1.0
            sound = sound and good
            shares.append(each)
            print(
                f"{name:11}{spread:17}{plain.length_mm:10.0f}{found.length_mm:9.0f}{rows:5d}{each:15.2f}{took:9.2f}"
                + ("" if good else f"  WRONG {wrong[:1]} {found.unmatched}")
            )
    mean = sum(shares) / len(shares)
    print(f"mean {mean:.2f} of a repeat for each matched row, at most {max(shares):.2f}")
    record("prints", {}, {"repeats a matched row, mean": mean})
    return 0 if sound and mean <= SHARE else 1


if __name__ == "__main__":
    sys.exit(main())
