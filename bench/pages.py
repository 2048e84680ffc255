"""Server time of the pages with a full workroom: 200 makes, 300 patterns of 15 pieces in 12 sizes, 500 cloths."""

import statistics
import tempfile
import time
from dataclasses import replace
from datetime import date
from pathlib import Path

from fastapi.testclient import TestClient

from bench.history import record
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import EnvelopeSize, Pattern
from rowanseed.demo import overshirt
from rowanseed.demo.load import lay_make
from rowanseed.store import cloths, db, makes, patterns, people
from rowanseed.web import create_app

PAGES = (
    "/",
    "/people",
    "/patterns",
    "/patterns/150",
    "/cloths",
    "/makes/100/fit",
    "/makes/100/lay",
    "/makes/100/cut",
    "/makes/100/sew",
)


def big_pattern(number: int) -> Pattern:
    """A pattern of 15 pieces in 12 sizes, from the demo's outlines."""
    base = overshirt.pattern()
    names = [str(6 + 2 * k) for k in range(12)]
    sizes = tuple(
        EnvelopeSize(n, base.sizes[min(k, 6)].body, base.sizes[min(k, 6)].finished) for k, n in enumerate(names)
    )
    own = [p for p in base.pieces if p.role == "self"]
    pieces = tuple(
        replace(
            own[k % len(own)], number=str(k + 1), views=(), shapes=dict.fromkeys(names, own[k % len(own)].shapes["14"])
        )
        for k in range(15)
    )
    return replace(base, name=f"Pattern {number}", sizes=sizes, pieces=pieces)


def fill(path: Path) -> None:
    """The full workroom."""
    conn = db.connect(path)
    db.migrate(conn)
    with db.write(conn):
        who = people.add_person(conn, "Ada", False)
        people.add_set(
            conn, who, date(2026, 1, 1), {k: parse_length(v) for k, v in (("bust", "37 in"), ("hip", "39 in"))}
        )
        for number in range(500):
            cloths.add_cloth(
                conn, Cloth(f"Cloth {number}", parse_length("150 cm"), parse_length("1 cm"), parse_length("9 m"))
            )
        for number in range(300):
            patterns.add_pattern(conn, big_pattern(number))
        for number in range(200):
            make_id = makes.add_make(
                conn, f"Make {number}", 1 + number, "A", [who], date(2026, 1, 1), MakePlan(effort="quick")
            )
            makes.put_size(conn, make_id, makes.make(conn, make_id).garments[0].id, "14")
            makes.put_cloth(conn, make_id, "self", 1 + number)
    lay_make(conn, 100)
    conn.close()


def page_times(rounds: int = 25) -> None:
    """Print each page's median and 95th percentile of server time."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "big.db"
        fill(path)
        with TestClient(create_app(path, warm=False), base_url="http://127.0.0.1") as client:
            found = {}
            for url in PAGES:
                times = []
                for _ in range(rounds):
                    began = time.perf_counter()
                    assert client.get(url).status_code == 200
                    times.append((time.perf_counter() - began) * 1000)
                p95 = statistics.quantiles(times[2:], n=20)[-1]
                print(f"page {url:18} median {statistics.median(times):6.1f} ms, 95 % {p95:6.1f} ms")
                found[f"{url}, 95 %"] = p95 / 1000
            record("pages", found)


if __name__ == "__main__":
    page_times()
