"""What the benches measured, kept from run to run, and what became worse.

A time says little of another day or machine: it is kept as so many of the machine's own yardsticks, a fixed piece of work that is
timed in the same run. Figures that are no times (a length against a bound) are kept as they are. Less is better for every figure.
`history.csv`: day, commit, bench, figure, value, unit (`yard` or empty).
"""

import csv
import statistics
import subprocess
import time
from collections.abc import Mapping
from datetime import date
from functools import cache
from pathlib import Path

import numpy as np

FILE = Path(__file__).with_name("history.csv")
WORSE = 1.15  # of the middle of the last runs: less is noise
LOOKED_AT = 5
HEAD = ("day", "commit", "bench", "figure", "value", "unit")


@cache
def yardstick() -> float:
    """Seconds that this machine takes for a fixed piece of work: numbers in Python and in numpy, the least of five."""
    numbers = np.random.default_rng(1).random(200_000)

    def work() -> float:
        began = time.perf_counter()
        total = 0.0
        for n in range(400_000):
            total += (n * 7919 % 1013) ** 0.5
        for _ in range(20):
            total += float(np.sort(numbers)[::7].cumsum()[-1])
        assert total > 0
        return time.perf_counter() - began

    return min(work() for _ in range(5))


def record(
    bench: str, times: Mapping[str, float], others: Mapping[str, float] | None = None, file: Path = FILE
) -> list[str]:
    """Add a run's figures to the history; what became worse, in sentences, which are printed too.

    Args:
        times: seconds by figure.
        others: figures that are no times.
    """
    yard = yardstick()
    new = [(name, seconds / yard, "yard") for name, seconds in times.items()]
    new += [(name, value, "") for name, value in (others or {}).items()]
    known = _known(file)
    worse = []
    for name, value, unit in new:
        before = known.get((bench, name, unit), [])[-LOOKED_AT:]
        usual = statistics.median(before) if before else value
        if value > usual * WORSE:
            worse.append(f"{bench}: {name} is {value / usual:.2f} times what it was, {value:.4g} against {usual:.4g}.")
    first = not file.exists()
    with file.open("a", newline="", encoding="utf-8") as out:
        writer = csv.writer(out, lineterminator="\n")
        if first:
            writer.writerow(HEAD)
        for name, value, unit in new:
            writer.writerow((date.today().isoformat(), _commit(), bench, name, f"{value:.5g}", unit))
    print(
        f"{bench}: one yardstick is {yard * 1000:.0f} ms here; {', '.join(f'{n} {v:.3g} {u}'.strip() for n, v, u in new)}"
    )
    for text in worse:
        print("  WORSE", text)
    return worse


def _known(file: Path) -> dict[tuple[str, str, str], list[float]]:
    found: dict[tuple[str, str, str], list[float]] = {}
    if file.exists():
        with file.open(newline="", encoding="utf-8") as rows:
            for row in csv.DictReader(rows):
                found.setdefault((row["bench"], row["figure"], row["unit"]), []).append(float(row["value"]))
    return found


def _commit() -> str:
    try:
        asked = ["git", "rev-parse", "--short", "HEAD"]
        return subprocess.run(asked, capture_output=True, text=True, check=True, cwd=FILE.parent).stdout.strip()
    except (OSError, subprocess.CalledProcessError):
        return ""
