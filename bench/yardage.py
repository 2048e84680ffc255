"""The yardage table: cells a second, on one core and on all of them, in one run.

Run `python -m bench.yardage`. Every cell is a lay that was checked before it was kept; the ratio is what a second core brings.
"""

import os
import statistics
import time
from dataclasses import replace

from bench.history import record
from rowanseed.core.lay.engine import lay
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.yardage_table import cell_request, keys, widths_for
from rowanseed.demo import overshirt, trousers
from rowanseed.jobs.pool import JobPool


def rate(workers: int, cells: int = 24) -> float:
    """Cells a second through warm workers."""
    pattern = trousers.pattern()
    wanted = keys(pattern.size_names(), widths_for("self", "cm"), ("either-way", "one-way"))[:cells]
    asked = [cell_request(pattern, "A", "self", key, "cm") for key in wanted]
    pool = JobPool(workers)
    warm = [pool.submit(f"warm {n}", request) for n, request in enumerate(asked[:workers]) if request is not None]
    for job in warm:
        job.finished.wait(180)
    began = time.perf_counter()
    jobs = [pool.submit(fingerprint(request), request, patient=True) for request in asked if request is not None]
    for job in jobs:
        job.finished.wait(600)
    took = time.perf_counter() - began
    good = sum(job.status == "done" for job in jobs)
    pool.close()
    if good < len(jobs):
        raise SystemExit(f"{len(jobs) - good} cells failed")
    return good / took


def against_every_spread() -> tuple[float, float]:
    """How much longer a table's cells are than the shortest of all spreads worked out: mean and worst, over both demo tables."""
    ratios = []
    for module, every in ((trousers, 3), (overshirt, 7)):
        pattern = module.pattern()
        for key in keys(pattern.size_names(), widths_for("self", "cm"), ("either-way", "one-way"))[::every]:
            asked = cell_request(pattern, "A", "self", key, "cm")
            if asked is not None:
                ratios.append(lay(asked).length_mm / lay(replace(asked, table=False)).length_mm)
    return statistics.mean(ratios), max(ratios)


def main() -> int:
    """Print the rates."""
    cores = max(2, os.cpu_count() or 2)
    one, all_ = rate(1), rate(cores)
    print(f"yardage table: {one:.2f} cells a second on one core, {all_:.2f} on {cores}: {all_ / one:.2f} times")
    mean, worst = against_every_spread()
    print(f"a cell against the shortest of all spreads: mean {mean:.4f}, worst {worst:.4f} (aim: 1.005 at most)")
    times = {"a cell, one core": 1 / one, f"a cell, {cores} cores": 1 / all_}
    record("yardage", times, {"against every spread, mean": mean, "against every spread, worst": worst})
    return 0 if worst <= 1.005 else 1


if __name__ == "__main__":
    raise SystemExit(main())
