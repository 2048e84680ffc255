"""What a server takes while somebody sends it files that unpack to gigabytes, and while large lays are asked for by the dozen.

    python -m bench.hostile

Each bomb is a few megabytes as it is sent. Asked: the server stays under 200 MB, and a small lay waits no more than 3 s behind any
number of large ones. Bounded: a handful of requests on 127.0.0.1, on a copy of the demo household.
"""

import io
import json
import tempfile
import threading
import time
import urllib.error
import urllib.request
import zipfile
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from bench.history import record
from bench.soak import PORT, demo_household, rss_mb, started

BASE = f"http://127.0.0.1:{PORT}"
BOUNDARY = "bombs"
LARGE, SMALL_TRIES = 8, 5
MILLION = b" " * 1_000_000


def packed(names: dict[str, tuple[bytes, int]]) -> bytes:
    """A zip of files: name, a block, how many times it stands there."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as zipped:
        for name, (block, times) in names.items():
            with zipped.open(name, "w", force_zip64=True) as file:
                for _ in range(times):
                    file.write(block)
    return out.getvalue()


def bombs() -> dict[str, tuple[str, str, bytes]]:
    """Each file to send: where to, under which field, what."""
    manifest = {
        "format": "rowanseed-backup", "made_at": "2026", "app": "1", "schema": 12, "counts": {},
        "files": {"household.db": {"bytes": 1_200_000_000, "sha256": "0" * 64}},
    }  # fmt: skip
    folder = json.dumps({"format": "rowanseed-folder", "version": 1, "schema": 12}).encode()
    return {
        "a manifest of 1.2 GB": ("upload", "file", packed({"manifest.json": (MILLION, 1200)})),
        "a database of 1.2 GB": (
            "upload", "file", packed({"manifest.json": (json.dumps(manifest).encode(), 1), "household.db": (MILLION, 1200)}),
        ),
        "a table of 1.2 GB": ("folder", "folder", packed({"manifest.json": (folder, 1), "data/note.json": (MILLION, 1200)})),
        "a picture of 1.2 GB": (
            "folder", "folder", packed({"manifest.json": (folder, 1), f"pictures/{'0' * 40}.jpg": (MILLION, 1200)}),
        ),
    }  # fmt: skip


def sent(where: str, field: str, data: bytes) -> int:
    """Send a file as a form does; the status of the answer."""
    head = f'--{BOUNDARY}\r\nContent-Disposition: form-data; name="{field}"; filename="x.zip"\r\n\r\n'.encode()
    body = head + data + f"\r\n--{BOUNDARY}--\r\n".encode()
    kind = {"Content-Type": f"multipart/form-data; boundary={BOUNDARY}"}
    try:
        with urllib.request.urlopen(
            urllib.request.Request(f"{BASE}/settings/backups/{where}", body, kind), timeout=600
        ) as answer:
            return int(answer.status)
    except urllib.error.HTTPError as error:
        return error.code


def watched(server: int, over: threading.Event, held: list[float]) -> None:
    """Note the most memory that the server held."""
    while not over.wait(0.05):
        held.append(rss_mb(server))


def asked_lay(count: int, sides: int, effort: str) -> float:
    """Ask for a lay of so many pieces; the seconds until it is answered."""
    outline = [[200 * k / sides, 90 * (k % 2) + 3 * k] for k in range(sides)] + [[200, 400], [0, 400]]
    pieces = [{"id": str(k), "outline": [[x + k, y] for x, y in outline], "cut": 1} for k in range(count)]
    body = json.dumps({"cloth": {"width": "140 cm"}, "pieces": pieces, "effort": effort, "spread": "single"}).encode()
    begun = time.monotonic()
    request = urllib.request.Request(f"{BASE}/api/v1/lay", body, {"Content-Type": "application/json"})
    with suppress(OSError):  # one that is stopped for others answers 503: what is measured is how long
        urllib.request.urlopen(request, timeout=900).read()
    return time.monotonic() - begun


def run(say: Callable[[str], None] = print) -> None:
    """Send the bombs, then ask for small lays behind large ones, and say what it took."""
    with tempfile.TemporaryDirectory() as room:
        database = demo_household(Path(room))
        server = started(database)
        held, over = [rss_mb(server.pid)], threading.Event()
        watcher = threading.Thread(target=watched, args=(server.pid, over, held))
        watcher.start()
        slowest = 0.0
        try:
            for name, (where, field, data) in bombs().items():
                begun = time.monotonic()
                status = sent(where, field, data)
                took = time.monotonic() - begun
                slowest = max(slowest, took)
                say(f"{name}, {len(data) / 1e6:.1f} MB sent: {status} after {took:.1f} s, server {max(held):.0f} MB")
            most = max(held)
            alone = min(asked_lay(8, 6, "quick") for _ in range(3))
            large = [threading.Thread(target=asked_lay, args=(120, 24, "best"), daemon=True) for _ in range(LARGE)]
            for thread in large:
                thread.start()
            time.sleep(2.0)
            waits = [asked_lay(8, 6, "quick") for _ in range(SMALL_TRIES)]
            say(f"a small lay: {alone:.2f} s alone, {max(waits):.2f} s at worst behind {LARGE} large ones")
        finally:
            over.set()
            watcher.join()
            server.kill()  # large lays are still asked for
            server.wait()
        record("hostile", {"a bomb": slowest, "a small lay behind large ones": max(waits)}, {"server, MB": most})


if __name__ == "__main__":
    run()
