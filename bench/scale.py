"""Beyond one machine: cells a second on a scheduler's workers, and what a database holds at the size of a catalogue.

    python -m bench.scale [--workers 1 2 4] [--patterns 10000]

Starts a scheduler and worker processes on this machine. The database is filled with copies of the demo's patterns, invented names
and figures, and asked what the pages ask of it.
"""

import argparse
import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from dataclasses import replace
from pathlib import Path

from rowanseed.core.lay.engine import lay
from rowanseed.core.yardage_table import Cell, cell_request, keys, widths_for
from rowanseed.demo import trousers
from rowanseed.jobs.cluster import ClusterPool
from rowanseed.services.fill_tables import CellWriter, OpenCell
from rowanseed.store import db, patterns, yardage
from rowanseed.store.search import search

CELLS = 96


def on_a_cluster(workers: int, folder: Path) -> float:
    """Cells a second with so many worker processes of a scheduler."""
    run = [sys.executable, "-m"]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "cwd": folder}
    address = f"tcp://127.0.0.1:{18700 + workers}"
    begun = [subprocess.Popen([*run, "distributed.cli.dask_scheduler", "--host", address, "--no-dashboard"], **quiet)]
    time.sleep(3.0)
    command = [*run, "distributed.cli.dask_worker", address, "--nthreads", "1", "--no-dashboard", "--no-nanny"]
    begun += [subprocess.Popen(command, **quiet) for _ in range(workers)]
    try:
        pool = ClusterPool(address)
        end = time.monotonic() + 60
        while pool.workers < workers and time.monotonic() < end:
            time.sleep(0.2)
        pattern = trousers.pattern()
        wanted = keys(pattern.size_names(), widths_for("self", "cm"), ("either-way", "one-way"))
        asked = [r for key in wanted if (r := cell_request(pattern, "A", "self", key, "cm")) is not None]
        for job in [pool.submit(f"warm {n}", asked[n]) for n in range(4 * workers)]:
            job.finished.wait(120)
        asked = (asked * (1 + CELLS // len(asked)))[:CELLS]
        began = time.perf_counter()
        jobs = [pool.submit(f"{n}", request, patient=True) for n, request in enumerate(asked)]
        for job in jobs:
            job.finished.wait(600)
        took = time.perf_counter() - began
        assert all(job.status == "done" for job in jobs)
        pool.close()
        return CELLS / took
    finally:
        for process in reversed(begun):
            process.terminate()
            process.wait(10)


def a_catalogue(path: Path, count: int) -> dict[str, float]:
    """Seconds and megabytes of what a database of so many patterns does."""
    pattern = trousers.pattern()
    told: dict[str, float] = {}
    with closing(db.connect(path)) as conn:
        db.migrate(conn)
        began = time.perf_counter()
        with db.write(conn):
            for n in range(count):
                patterns.add_pattern(conn, replace(pattern, name=f"Catalogue number{n}"))
        told["written, patterns a second"] = count / (time.perf_counter() - began)
        wanted = keys(pattern.size_names(), widths_for("self", "cm"), ("either-way", "one-way"))
        ids = [s.id for s in patterns.patterns(conn)]
        began = time.perf_counter()
        for part in range(0, len(ids), 500):
            with db.write(conn):
                for id_ in ids[part : part + 500]:
                    for key in wanted:
                        yardage.put_cell(conn, id_, "A", "self", key, "x" * 40, Cell(1234.5, "single", 0.8, "", 10, 0))
        told["cells written a second"] = count * len(wanted) / (time.perf_counter() - began)
        told["cells kept as they come back, a second"] = _kept(path, ids[0])
        for what, do in (
            ("list of all patterns, ms", lambda: patterns.patterns(conn)),
            ("one pattern read, ms", lambda: patterns.pattern(conn, ids[len(ids) // 2])),
            ("one table's cells, ms", lambda: yardage.cells(conn, ids[-1], "A", "self")),
            ("found by a word, ms", lambda: search(conn, "number7777")),
        ):
            do()
            began = time.perf_counter()
            do()
            told[what] = (time.perf_counter() - began) * 1000
    told["file, MB"] = path.stat().st_size / 1e6
    return told


def _kept(path: Path, pattern_id: int) -> float:
    """Cells a second that the writer of a filling takes when they come back faster than that."""
    pattern = trousers.pattern()
    cells = [
        OpenCell(pattern_id, "A", "self", key, request)
        for key in keys(pattern.size_names(), widths_for("self", "cm"), ("either-way", "one-way"))
        if (request := cell_request(pattern, "A", "self", key, "cm")) is not None
    ]
    found = lay(cells[0].asked)
    writer = CellWriter(path, lambda kept: None)
    began = time.perf_counter()
    for n in range(5000):
        writer.put(cells[n % len(cells)], found)
    writer.close()
    return 5000 / (time.perf_counter() - began)


def main() -> int:
    """Print the figures."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--workers", type=int, nargs="*", default=[1, 2, 4])
    parser.add_argument("--patterns", type=int, default=10_000)
    asked = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="scale-"))
    try:
        for workers in asked.workers:
            rate = on_a_cluster(workers, folder)
            print(f"{workers} worker processes on {os.cpu_count()} cores: {rate:.1f} cells a second", flush=True)
        if asked.patterns:
            print(
                json.dumps({k: round(v, 1) for k, v in a_catalogue(folder / "c.db", asked.patterns).items()}, indent=1)
            )
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
