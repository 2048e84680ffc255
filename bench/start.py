"""How long the invented household takes to its first answer: the very first start, later ones, and the shelf after that.

    python -m bench.start [--times 3]

Each start is a server process of its own on 127.0.0.1.
"""

import argparse
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from bench.history import record

PORT = 8933
FIRST_AIM_S, LATER_AIM_S = 4.0, 1.5
PATIENCE_S = 120.0


def answered(url: str) -> float:
    """Seconds until an address answers."""
    began = time.perf_counter()
    while time.perf_counter() - began < PATIENCE_S:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}{url}", timeout=PATIENCE_S).read()
        except OSError:
            time.sleep(0.02)
        else:
            return time.perf_counter() - began
    raise TimeoutError(url)


def started(database: Path) -> tuple[float, float]:
    """Seconds from the command to the first answer, and of the shelf after it."""
    command = [sys.executable, "-m", "rowanseed", "demo", "--port", str(PORT), "--database", str(database)]
    # As on a sewist's machine, where what a start compiles is kept for the next one.
    usual = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=usual)
    try:
        return answered("/words"), answered("/")
    finally:
        server.terminate()
        server.wait(30)


def main(times: int) -> None:
    """Print the first start and the least of some later ones."""
    with tempfile.TemporaryDirectory() as room:
        database = Path(room) / "demo.db"
        first, first_shelf = started(database)
        later = [started(database) for _ in range(times)]
    least, shelf = min(t for t, _ in later), min(s for _, s in later)
    print(f"first start {first:.2f} s to an answer (aim {FIRST_AIM_S:g}), the shelf {first_shelf:.2f} s more")
    print(f"later starts {least:.2f} s (aim {LATER_AIM_S:g}), the shelf {shelf:.2f} s more")
    record("start", {"first": first, "later": least, "shelf": shelf})


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--times", type=int, default=3)
    main(parser.parse_args().times)
