"""Long work for a script ends when the script goes away: the request is answered by nobody, so nothing is worked out for it."""

import asyncio
import json
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from rowanseed.core.errors import IntakeError
from rowanseed.formats import readings
from rowanseed.web import create_app
from tests.patience import LOOK_S, PATIENCE_S, until

LINE = b"--x\r\nContent-Disposition: form-data; name="


def form(name: str) -> bytes:
    part = LINE + f'"{name}"; filename="a.svg"\r\nContent-Type: image/svg+xml\r\n\r\n<svg/>\r\n'.encode()
    return part + b"--x--\r\n"


def asked(app, path: str, kind: str, body: bytes, is_at_it) -> None:
    """Send a request, go away once the server is at it; comes back when the server is done with it."""
    sent = asyncio.Event()

    async def receive():
        if not sent.is_set():
            sent.set()
            return {"type": "http.request", "body": body, "more_body": False}
        while not is_at_it():
            await asyncio.sleep(LOOK_S)
        return {"type": "http.disconnect"}

    async def send(message):
        pass

    headers = [(b"host", b"127.0.0.1"), (b"content-type", kind.encode()), (b"content-length", str(len(body)).encode())]
    scope = {
        "type": "http", "http_version": "1.1", "method": "POST", "path": path, "raw_path": path.encode(), "query_string": b"",
        "headers": headers, "scheme": "http", "server": ("127.0.0.1", 80), "client": ("127.0.0.1", 9), "asgi": {"version": "3.0"},
        "state": {},
    }  # fmt: skip
    # In a thread of its own: a browser's test may have left an event loop running in this one.
    with ThreadPoolExecutor(1) as apart:
        apart.submit(lambda: asyncio.run(app(scope, receive, send))).result(PATIENCE_S)


@pytest.mark.parametrize(("path", "name"), [("/api/v1/intake", "file"), ("/api/v1/trace", "photo")])
def test_reading_stops_when_the_caller_leaves(tmp_path, monkeypatch, path, name):
    begun, stopped = threading.Event(), []

    def slow(reading, head, files, tell=None, stop=lambda: False, most_seconds=60):
        begun.set()
        until(stop)
        stopped.append(reading)
        raise IntakeError("Reading was stopped.", "file")

    monkeypatch.setattr(readings, "run_apart", slow)
    asked(create_app(tmp_path / "h.db", warm=False), path, "multipart/form-data; boundary=x", form(name), begun.is_set)
    assert stopped


def test_a_lay_stops_when_the_caller_leaves(tmp_path):
    app = create_app(tmp_path / "h.db", warm=False)
    outline = [[0, 0], [0, 310], [90, 420], [700, 300], [650, 20]]
    pieces = [{"id": str(k), "outline": [[x + k, y] for x, y in outline], "cut": 4} for k in range(8)]
    body = json.dumps({"cloth": {"width": "140 cm"}, "pieces": pieces, "effort": "best"}).encode()
    seen = []

    def is_at_it():
        seen[:] = app.state.jobs.waiting_for("interface:")
        return any(job.status == "running" for job in seen)

    asked(app, "/api/v1/lay", "application/json", body, is_at_it)
    assert seen and all(job.stop_asked and job.finished.wait(PATIENCE_S) for job in seen)
    assert all(job.status == "stopped" for job in seen)
    app.state.jobs.close()
