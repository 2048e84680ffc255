"""A day's load in minutes: many users turn pages while both workers lay; how long pages take, and whether memory grows.

    python -m bench.soak [--minutes 10] [--users 50] [--seed 1]

The server is a process of its own on 127.0.0.1, on a copy of the demo household. Bounded: it ends after its minutes.
"""

import argparse
import json
import random
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from collections.abc import Callable
from datetime import date
from pathlib import Path

from bench.history import record
from rowanseed.demo.load import load_demo
from rowanseed.store import db

PAGES = (
    "/", "/people/1", "/patterns", "/patterns/1", "/cloths", "/cloths/1", "/find?q=overshirt", "/settings", "/bench",
    *(f"/makes/{make}/{stage}" for make in (1, 2, 3, 4) for stage in ("fit", "cloth", "lay", "cut", "sew", "wear")),
)  # fmt: skip
THINK_S = (2.0, 8.0)  # between two pages of one user
PORT = 8931


def rss_mb(pid: int) -> float:
    """Resident memory of a process, MB."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS"):
            return int(line.split()[1]) / 1024
    return 0.0


def children(pid: int) -> list[int]:
    """The processes that a process started."""
    return [int(c) for c in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]


def started(database: Path) -> subprocess.Popen[bytes]:
    """A server that answers."""
    command = [sys.executable, "-m", "rowanseed", "serve", "--port", str(PORT), "--database", str(database)]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    for _ in range(600):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}/settings", timeout=5).read()
            return server
        except OSError:
            time.sleep(0.1)
    server.terminate()
    raise TimeoutError("the server did not start")


def user(seed: int, over: threading.Event, took: list[float], failed: list[str]) -> None:
    """One user, turning pages until it is over."""
    rng = random.Random(seed)
    while not over.wait(rng.uniform(*THINK_S)):
        url = rng.choice(PAGES)
        begun = time.monotonic()
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}{url}", timeout=30).read()
            took.append(time.monotonic() - begun)
        except OSError as error:
            failed.append(f"{url}: {error}")


def laying(seed: int, over: threading.Event) -> None:
    """Lay after lay, so that a worker never rests."""
    rng = random.Random(seed)
    while not over.is_set():
        pieces = [
            {
                "id": str(k),
                "outline": [[0, 0], [0, rng.randint(80, 300)], [rng.randint(100, 700), rng.randint(80, 300)], [400, 0]],
                "cut": 2,
            }
            for k in range(12)
        ]
        body = json.dumps({"cloth": {"width": "140 cm"}, "pieces": pieces, "effort": "good"}).encode()
        asked = urllib.request.Request(
            f"http://127.0.0.1:{PORT}/api/v1/lay", body, {"Content-Type": "application/json"}
        )
        try:
            urllib.request.urlopen(asked, timeout=60).read()
        except OSError:
            over.wait(0.5)


def percentile(values: list[float], share: float) -> float:
    """The value below which a share of them lies."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(share * len(ordered)))] if ordered else 0.0


def demo_household(room: Path) -> Path:
    """The invented household in a file of its own, laid quickly."""
    database = room / "home.db"
    conn = db.connect(database)
    db.migrate(conn)
    load_demo(conn, date.today(), "quick")
    conn.execute("pragma wal_checkpoint(truncate)")
    conn.close()
    return database


def run(minutes: float, users: int, seed: int, say: Callable[[str], None] = print) -> None:
    """Load a server for so long and say, each minute, how it does."""
    with tempfile.TemporaryDirectory() as room:
        database = demo_household(Path(room))
        server = started(database)
        over, took, failed = threading.Event(), list[float](), list[str]()
        held = {"server, MB": 0.0, "a worker, MB": 0.0}
        threads = [threading.Thread(target=user, args=(seed + n, over, took, failed)) for n in range(users)]
        threads += [threading.Thread(target=laying, args=(seed + n, over)) for n in range(2)]
        try:
            for thread in threads:
                thread.start()
            say(f"{'minute':>6} {'pages':>6} {'median ms':>9} {'p95 ms':>7} {'server MB':>9} {'workers MB':>14} failed")
            for minute in range(1, max(1, round(minutes)) + 1):
                done = len(took)
                time.sleep(60 * min(1.0, minutes))
                last = [1000 * t for t in took[done:]]
                workers = [rss_mb(c) for c in children(server.pid)]
                own = " ".join(f"{mb:.0f}" for mb in workers)
                held = {"server, MB": rss_mb(server.pid), "a worker, MB": max(workers, default=0.0)}
                figures = f"{percentile(last, 0.5):9.0f} {percentile(last, 0.95):7.0f} {held['server, MB']:9.0f}"
                say(f"{minute:6} {len(last):6} {figures} {own:>14} {len(failed)}")
        finally:
            over.set()
            for thread in threads:
                thread.join(70)
            server.terminate()
            server.wait(30)
        every = [1000 * t for t in took]
        median, high = percentile(every, 0.5), percentile(every, 0.95)
        say(f"all: {len(every)} pages, median {median:.0f} ms, p95 {high:.0f} ms, failed {len(failed)}")
        for text in failed[:5]:
            say(text)
        record("soak", {"pages, 95 %": high / 1000}, {**held, "failed": len(failed)})


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--users", type=int, default=50)
    parser.add_argument("--seed", type=int, default=1)
    asked_for = parser.parse_args()
    run(asked_for.minutes, asked_for.users, asked_for.seed)
