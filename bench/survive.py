"""A household under load that is killed again and again: what was acknowledged is there, pages stay quick, memory does not grow.

    python -m bench.survive [--minutes 30] [--people 20] [--seed 1]

People turn pages and save notes; lays are asked for, folders taken in; each minute a worker is killed, every fifth the server,
which is started again. The server is a process of its own on 127.0.0.1, on a copy of the demo household. Bounded: it ends after
its minutes.
"""

import argparse
import os
import random
import signal
import sqlite3
import subprocess
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from collections.abc import Callable
from contextlib import closing, suppress
from dataclasses import dataclass, field
from pathlib import Path

from bench.history import record
from bench.soak import PAGES, PORT, children, demo_household, laying, percentile, rss_mb, started

BASE = f"http://127.0.0.1:{PORT}"
THINK_S = (1.0, 5.0)
SERVER_EVERY = 5  # minutes
IMPORT_EVERY_S = 40.0
BOUNDARY = "folder-of-a-household"


@dataclass
class Seen:
    """What the people saw: pages' seconds, notes that were acknowledged, pages that failed while the server was there."""

    took: list[float] = field(default_factory=list)
    kept: list[str] = field(default_factory=list)
    failed: list[str] = field(default_factory=list)
    imports: int = 0
    away: threading.Event = field(default_factory=threading.Event)


def person(seed: int, over: threading.Event, seen: Seen) -> None:
    """One of them, turning pages and writing notes until it is over."""
    rng, number = random.Random(seed), 0
    while not over.wait(rng.uniform(*THINK_S)):
        saves = rng.random() < 0.3
        words = f"note {seed} {number}"
        url = "/makes/2/wear/note" if saves else rng.choice(PAGES)
        body = urllib.parse.urlencode({"text": words, "kind": "happened"}).encode() if saves else None
        begun, away = time.monotonic(), seen.away.is_set()
        try:
            urllib.request.urlopen(f"{BASE}{url}", body, timeout=30).read()
        except OSError as error:
            if not away and not seen.away.is_set():
                seen.failed.append(f"{url}: {error}")
            continue
        if not away:
            seen.took.append(time.monotonic() - begun)
        if saves:
            seen.kept.append(words)
            number += 1


def importing(over: threading.Event, seen: Seen) -> None:
    """Take everything out and in again, so that large files are read while pages are turned."""
    while not over.wait(IMPORT_EVERY_S):
        with suppress(OSError):
            folder = urllib.request.urlopen(f"{BASE}/settings/backups/everything.zip", timeout=60).read()
            head = f'--{BOUNDARY}\r\nContent-Disposition: form-data; name="folder"; filename="all.zip"\r\n\r\n'.encode()
            body = head + folder + f"\r\n--{BOUNDARY}--\r\n".encode()
            kind = {"Content-Type": f"multipart/form-data; boundary={BOUNDARY}"}
            asked = urllib.request.Request(f"{BASE}/settings/backups/folder", body, kind)
            urllib.request.urlopen(asked, timeout=120).read()
            seen.imports += 1


def kill_a_worker(server: int, rng: random.Random) -> None:
    """End one of the server's processes that lay."""
    with suppress(OSError, IndexError):
        os.kill(rng.choice(children(server)), signal.SIGKILL)


def lost(database: Path, seen: Seen) -> list[str]:
    """The notes that were acknowledged and are not there."""
    with closing(sqlite3.connect(database)) as conn:
        there = {row[0] for row in conn.execute("select text from note")}
    return [words for words in seen.kept if words not in there]


def run(minutes: int, people: int, seed: int, say: Callable[[str], None] = print) -> None:
    """Load and kill for so long; say each minute how it does, and at the end what was lost."""
    rng, seen, over = random.Random(seed), Seen(), threading.Event()
    with tempfile.TemporaryDirectory() as room:
        database = demo_household(Path(room))
        server = started(database)
        threads = [threading.Thread(target=person, args=(seed + n, over, seen)) for n in range(people)]
        threads += [threading.Thread(target=laying, args=(seed + n, over)) for n in range(2)]
        threads.append(threading.Thread(target=importing, args=(over, seen)))
        sizes = list[float]()
        try:
            for thread in threads:
                thread.start()
            say(f"{'minute':>6} {'pages':>6} {'p99 ms':>7} {'server MB':>9} {'imports':>7} {'saved':>6} failed")
            for minute in range(1, minutes + 1):
                done = len(seen.took)
                time.sleep(30)
                kill_a_worker(server.pid, rng)
                time.sleep(30)
                sizes.append(rss_mb(server.pid))
                high = 1000 * percentile(seen.took[done:], 0.99)
                say(
                    f"{minute:6} {len(seen.took) - done:6} {high:7.0f} {sizes[-1]:9.0f} {seen.imports:7} {len(seen.kept):6} "
                    f"{len(seen.failed)}"
                )
                if minute % SERVER_EVERY == 0:
                    server = killed_and_started(server, database, seen)
        finally:
            over.set()
            for thread in threads:
                thread.join(130)
            server.terminate()
            server.wait(30)
        gone = lost(database, seen)
        every = [1000 * t for t in seen.took]
        p99 = percentile(every, 0.99)
        say(
            f"all: {len(every)} pages, p50 {percentile(every, 0.5):.0f} ms, p99 {p99:.0f} ms, failed {len(seen.failed)}"
        )
        say(
            f"{len(seen.kept)} saved, {len(gone)} lost, {seen.imports} imports, server {min(sizes):.0f} to {max(sizes):.0f} MB"
        )
        for text in (*seen.failed[:5], *gone[:5]):
            say(text)
        figures = {"lost": float(len(gone)), "failed": float(len(seen.failed)), "server, MB": max(sizes)}
        record("survive", {"pages, 99 %": p99 / 1000}, figures)


def killed_and_started(server: "subprocess.Popen[bytes]", database: Path, seen: Seen) -> "subprocess.Popen[bytes]":
    """Kill the server as a power cut would, and start it again on what it left."""
    seen.away.set()
    for worker in children(server.pid):
        with suppress(OSError):
            os.kill(worker, signal.SIGKILL)
    server.kill()
    server.wait()
    again = started(database)
    seen.away.clear()
    return again


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=int, default=30)
    parser.add_argument("--people", type=int, default=20)
    parser.add_argument("--seed", type=int, default=1)
    asked_for = parser.parse_args()
    run(asked_for.minutes, asked_for.people, asked_for.seed)
