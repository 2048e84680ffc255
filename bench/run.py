"""The lay bench: lengths against the bounds and against a peer on the same pieces, in one run.

Run `make bench`, or `python -m bench.run --efforts quick good best --peer-seconds 20`. Every lay is checked; a wrong one ends
the run with status 1. The peer is spyrrow (strip packing of free pieces in one layer, no folds): it takes the single lays,
mirror images as items of their own. Ratios are to the shorter of both for a single lay, to the bound for every lay.
"""

import argparse
import statistics
import subprocess
import sys
import time
from dataclasses import replace

from bench.history import record
from bench.instances import ALL, Instance
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.tables import grow
from rowanseed.jobs.pool import JobPool
from rowanseed.jobs.worker import warm_up


def peer_length(instance: Instance, seconds: int) -> float | None:
    """The length spyrrow finds for a single lay in whole seconds; None when it cannot take the instance."""
    import spyrrow

    items, one_way = [], instance.nap == "one-way"
    for piece in instance.pieces:
        for number, item in enumerate(items_for(piece, "single", one_way)):
            pose = item.poses[0]
            shape = [(float(x), float(y)) for x, y in grow(pose.cut, instance.gap_mm)]
            turns = [0.0] if one_way else [0.0, 180.0]
            items.append(spyrrow.Item(f"{piece.id}-{number}", shape, 1, turns))
    # The gap is kept between pieces only, so that the strip is wider, and the lay shorter, by one gap.
    height = instance.width_mm + instance.gap_mm
    try:
        problem = spyrrow.StripPackingInstance(instance.name, height, items)
        config = spyrrow.StripPackingConfig(total_computation_time=seconds, num_workers=1, seed=1)
        return float(problem.solve(config).width) - instance.gap_mm
    except BaseException as error:  # it panics with a BaseException on items as tall as the strip
        print(f"  spyrrow cannot take {instance.name}: {type(error).__name__}")
        return None


def lay_table(efforts: list[str], peer_seconds: int) -> bool:
    """Print the table; whether every lay was sound."""
    sound, ratios, filled = True, {e: [] for e in efforts}, {e: [] for e in efforts}
    print(f"{'instance':16}{'spread':17}{'bound':>7}{'peer':>7}" + "".join(f"{e:>17}" for e in efforts))
    for make in ALL:
        instance = make()
        peer = peer_length(instance, peer_seconds) if peer_seconds else None
        for spread in instance.spreads:
            cells, bound, lengths = [], 0.0, {}
            for effort in efforts:
                request = instance.request(spread, effort)
                began = time.perf_counter()
                found = lay(request)
                took = time.perf_counter() - began
                wrong = check_lay(request, found)
                sound = sound and not wrong
                bound = instance.optimum_mm or max(found.bound_mm, found.fold_bound_mm)
                lengths[effort] = found.length_mm
                cells.append(f"{found.length_mm:8.0f}{took:6.2f} s" + (" !" if wrong else "  "))
            shown = peer if spread == "single" else None
            best = min([*lengths.values(), *([shown] if shown else [])])
            for effort in efforts:
                if instance.optimum_mm is None:
                    ratios[effort].append(lengths[effort] / best)
                else:
                    filled[effort].append(instance.optimum_mm / lengths[effort])
            peer_text = f"{shown:7.0f}" if shown else "      -"
            print(f"{instance.name:16}{spread:17}{bound:7.0f}{peer_text}" + "".join(f"{c:>17}" for c in cells))
    record("lay", {}, {f"{e}, mean against the best known": statistics.mean(ratios[e]) for e in efforts})
    record("lay", {}, {f"{e}, jigsaws, mean against the optimum": 1 / statistics.mean(filled[e]) for e in efforts})
    for effort in efforts:
        mean, worst = statistics.mean(ratios[effort]), max(ratios[effort])
        print(f"{effort}: garments against the best known in this run: mean {mean:.4f}, worst {worst:.4f}; "
              f"jigsaws filled {statistics.mean(filled[effort]):.3f}")  # fmt: skip
    return sound


def first_drawable() -> None:
    """How long the first drawable lay of fifteen pieces takes through a warm worker, and the answer to a stop."""
    pool = JobPool(1)
    pool.warm()
    request = ALL[0]().request("single", "best")
    pool.submit("warm", replace(request, effort="quick"), lambda lay: None).finished.wait(120)
    times, stops = [], []
    for trial in range(7):
        began = time.perf_counter()
        job = pool.submit(f"bench {trial}", replace(request, seed=trial), lambda lay: None)
        while job.best is None:
            time.sleep(0.001)
        times.append(time.perf_counter() - began)
        time.sleep(0.3)
        began = time.perf_counter()
        pool.stop(job.id)
        job.finished.wait(30)
        stops.append(time.perf_counter() - began)
    pool.close()
    record("lay", {"first drawable lay": statistics.median(times), "answer to a stop": max(stops)})
    print(f"first drawable lay, warm worker, {len(request.pieces)} pieces: median {statistics.median(times) * 1000:.0f} ms, "
          f"worst {max(times) * 1000:.0f} ms; answer to a stop: worst {max(stops) * 1000:.0f} ms")  # fmt: skip


def main() -> int:
    """Run the bench; status 1 when a lay is wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--efforts", nargs="+", default=["quick", "good"], choices=["quick", "good", "best"])
    parser.add_argument("--peer-seconds", type=int, default=10, help="0 leaves the peer out")
    parser.add_argument("--no-pages", action="store_true", help="leave the page times out")
    asked = parser.parse_args()
    warm_up()
    sound = lay_table(asked.efforts, asked.peer_seconds)
    first_drawable()
    if not asked.no_pages:
        # In a process of its own: what the peer's threads leave behind would stall the pages.
        subprocess.run([sys.executable, "-m", "bench.pages"], check=True)
    return 0 if sound else 1


if __name__ == "__main__":
    sys.exit(main())
