"""Long work for a script ends when the script goes away: the request is answered by nobody, so nothing is worked out for it."""

import asyncio
import json
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from rowanseed.core.errors import IntakeError
from rowanseed.formats import readings
from rowanseed.web import create_app

LINE = b"--x\r\nContent-Disposition: form-data; name="


def form(name: str) -> bytes:
    part = LINE + f'"{name}"; filename="a.svg"\r\nContent-Type: image/svg+xml\r\n\r\n<svg/>\r\n'.encode()
    return part + b"--x--\r\n"


def asked(app, path: str, kind: str, body: bytes, leaves_after: float) -> float:
    """Send a request, go away after so many seconds; how long the server was at it, s."""
    sent = asyncio.Event()

    async def receive():
        if not sent.is_set():
            sent.set()
            return {"type": "http.request", "body": body, "more_body": False}
        while time.monotonic() < begun + leaves_after:
            await asyncio.sleep(0.05)
        return {"type": "http.disconnect"}

    async def send(message):
        pass

    headers = [(b"host", b"127.0.0.1"), (b"content-type", kind.encode()), (b"content-length", str(len(body)).encode())]
    scope = {
        "type": "http", "http_version": "1.1", "method": "POST", "path": path, "raw_path": path.encode(), "query_string": b"",
        "headers": headers, "scheme": "http", "server": ("127.0.0.1", 80), "client": ("127.0.0.1", 9), "asgi": {"version": "3.0"},
        "state": {},
    }  # fmt: skip
    begun = time.monotonic()
    # In a thread of its own: a browser's test may have left an event loop running in this one.
    with ThreadPoolExecutor(1) as apart:
        apart.submit(lambda: asyncio.run(app(scope, receive, send))).result()
    return time.monotonic() - begun


@pytest.mark.parametrize(("path", "name"), [("/api/v1/intake", "file"), ("/api/v1/trace", "photo")])
def test_reading_stops_when_the_caller_leaves(tmp_path, monkeypatch, path, name):
    stopped = []

    def slow(reading, head, files, tell=None, stop=lambda: False, most_seconds=60):
        ends = time.monotonic() + 20
        while time.monotonic() < ends and not stopped:
            if stop():
                stopped.append(reading)
            time.sleep(0.02)
        raise IntakeError("Reading was stopped.", "file")

    monkeypatch.setattr(readings, "run_apart", slow)
    took = asked(create_app(tmp_path / "h.db"), path, "multipart/form-data; boundary=x", form(name), 0.5)
    assert stopped and took < 10


def test_a_lay_stops_when_the_caller_leaves(tmp_path):
    app = create_app(tmp_path / "h.db")
    outline = [[0, 0], [0, 310], [90, 420], [700, 300], [650, 20]]
    pieces = [{"id": str(k), "outline": [[x + k, y] for x, y in outline], "cut": 4} for k in range(8)]
    body = json.dumps({"cloth": {"width": "140 cm"}, "pieces": pieces, "effort": "best"}).encode()
    took = asked(app, "/api/v1/lay", "application/json", body, 1.0)
    under_way = app.state.jobs.waiting_for("interface:")
    assert took < 10 and all(job.stop_asked and job.finished.wait(20) for job in under_way)
    app.state.jobs.close()
