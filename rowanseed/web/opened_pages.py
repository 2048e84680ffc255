"""Open every page of every make of a household once, in a process of its own: what does not open is named before it is restored.

Run as a module with a database's file; its answer is a sentence for each page that failed.
"""

import asyncio
import logging
from collections.abc import Iterable, Sequence
from contextlib import closing
from pathlib import Path
from typing import Any

from starlette.types import Message

from rowanseed.jobs.pool import JobPool
from rowanseed.store import db
from rowanseed.web.app import create_app

ROOMS = ("/", "/people", "/patterns", "/cloths", "/supplies", "/shops", "/shopping", "/settings", "/away")
STAGES = ("fit", "cloth", "lay", "cut", "sew", "sew/machine", "wear")
THINGS = (("person", "/people/{}"), ("pattern", "/patterns/{}"), ("cloth", "/cloths/{}"))
MOST_TOLD = 20
SOUND = (200, 303, 307)  # a stage may lead on to the one that comes before it


class _NoWorkers(JobPool):
    """Long work is not begun for a look at the pages."""

    def warm(self) -> None:
        """Start no worker."""


def pages_of(database: Path) -> list[tuple[str, str]]:
    """Return every page to open, as its path and what to call it."""
    with closing(db.connect(database)) as conn:
        pages = [(path, f"The page {path}") for path in ROOMS]
        for table, path in THINGS:
            for row in conn.execute(f"select id, name from {table} order by id"):
                pages.append((path.format(row["id"]), f"The page of the {table} “{row['name']}”"))
        for row in conn.execute("select id, name from make order by id"):
            pages += [(f"/makes/{row['id']}/{stage}", f"{stage.title()} of “{row['name']}”") for stage in STAGES]
    return pages


async def status_of(app: Any, path: str) -> int:
    """Ask the application for a page as a browser on this machine does; the status it answers."""
    status = [500]

    async def send(message: Message) -> None:
        if message["type"] == "http.response.start":
            status[0] = message["status"]

    async def receive() -> Message:
        return {"type": "http.request", "body": b"", "more_body": False}

    scope = {
        "type": "http", "asgi": {"version": "3.0"}, "http_version": "1.1", "method": "GET", "scheme": "http", "path": path,
        "raw_path": path.encode(), "query_string": b"", "root_path": "", "headers": [(b"host", b"127.0.0.1")],
        "client": ("127.0.0.1", 1), "server": ("127.0.0.1", 80),
    }  # fmt: skip
    try:
        await app(scope, receive, send)
    except Exception:  # whatever a page raises, it does not open
        return 500
    return status[0]


async def failing(database: Path) -> list[str]:
    """Return a sentence for each page that does not open, the first of them."""
    app = create_app(database, warm=False)
    app.state.jobs = _NoWorkers()
    told = list[str]()
    for path, words in pages_of(database):
        if len(told) < MOST_TOLD and await status_of(app, path) not in SOUND:
            told.append(f"{words} does not open.")
    return told


def apart(arguments: Sequence[str]) -> Iterable[str]:
    """Open the pages of the database that is named; a sentence for each that fails."""
    logging.disable(logging.CRITICAL)
    return asyncio.run(failing(Path(arguments[0])))
