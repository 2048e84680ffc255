"""Many random garments held against the laws: the planner's order, and an order that keeps the laws alone, replayed by the checker.

    python -m bench.orders [--count 5000] [--seed 1]

Prints how many garments were planned, what was found, how near the orders' prices lie to what no order can cost less than, and
how long planning takes by the number of steps. Ends with 1 where anything above a note was found.
"""

import argparse
import random
import statistics
import sys
import time

from bench.history import record
from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.garment import operations_for
from rowanseed.core.sew.planner import in_phases, plan
from rowanseed.formats.sewing import library
from tests.core.sew.test_laws import any_sound_order
from tests.core.sew.test_library import random_garment


def main() -> int:
    """Plan and check, and print what came of it."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--count", type=int, default=5000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    rng = random.Random(asked.seed)
    faults: list[str] = []
    steps, seconds, ratios, proved = [], [], [], 0
    for number in range(asked.count):
        garment = random_garment(rng)
        try:
            items = operations_for(library(), garment)
        except FeatureError as error:
            faults.append(f"{number}: {error.text}")
            continue
        began = time.perf_counter()
        planned = plan(in_phases(items))
        seconds.append(time.perf_counter() - began)
        steps.append(len(items))
        ratios.append(planned.cost / max(planned.bound, 1.0))
        proved += planned.proved
        for order in ([op.id for op, _ in planned.items], any_sound_order(items, rng)):
            found = [f for f in check_order(library(), garment, order) if f.level != "note"]
            faults += [f"{number}: {f.law} {f.step or f.text} before {f.needs}" for f in found]
    print(f"{asked.count} garments of {min(steps)} to {max(steps)} steps; faults: {len(faults)}")
    print(f"price to bound: median {statistics.median(ratios):.2f}, worst {max(ratios):.2f}; proved least: {proved}")
    print(f"planning: median {statistics.median(seconds) * 1000:.0f} ms, slowest {max(seconds) * 1000:.0f} ms")
    record(
        "orders",
        {"planning, median": statistics.median(seconds)},
        {"price to bound, median": statistics.median(ratios)},
    )
    for fault in faults[:40]:
        print("  ", fault)
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
