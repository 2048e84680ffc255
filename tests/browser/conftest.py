"""A real server and Debian's Chromium; every request a page makes is watched."""

import os
import shutil
import sqlite3
import subprocess
import sys
import threading
from contextlib import closing

import pytest
import uvicorn
from playwright.sync_api import expect, sync_playwright

from rowanseed.services import worked_pieces
from rowanseed.web import create_app
from tests.patience import PATIENCE_S, until
from tests.web.server import free_port, wait_for

WAIT_MS = 300_000  # a last resort: how fast the machine is decides nothing
expect.set_options(timeout=WAIT_MS)
FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


class Server:
    """The application as a process of its own, which can be killed and started again."""

    def __init__(self, database):
        self.database = database
        self.port = free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        self.process = None

    def start(self):
        command = [
            sys.executable,
            "-m",
            "rowanseed",
            "serve",
            "--port",
            str(self.port),
            "--database",
            str(self.database),
        ]
        self.process = subprocess.Popen(
            command, env={**os.environ, "ROWANSEED_WARM": "no"}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        wait_for(self.port)

    def kill(self):
        self.process.kill()
        self.process.wait()


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def server(tmp_path):
    """A server on an empty database."""
    server = Server(tmp_path / "own.db")
    server.start()
    yield server
    server.kill()


@pytest.fixture
def own_demo(demo_file, tmp_path):
    """A server on the demo household that can be killed."""
    server = Server(shutil.copy(demo_file, tmp_path / "home.db"))
    server.start()
    yield server
    server.kill()


class Here:
    """The application in a thread of this process, for tests that neither kill it nor begin with nothing: started once."""

    def __init__(self, demo_file, folder):
        self.demo_file, self.database = demo_file, shutil.copy(demo_file, folder / "demo.db")
        self.app = create_app(self.database, warm=False)
        self.port = free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        config = uvicorn.Config(self.app, port=self.port, log_level="warning", access_log=False)
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        until(lambda: self.server.started)

    def begin_again(self):
        """Let the household be the demo's, with nothing worked out and nothing under way."""
        for job in self.app.state.jobs.waiting_for(""):
            self.app.state.jobs.stop(job.id)
            assert job.finished.wait(PATIENCE_S)
        self.app.state.jobs._jobs.clear()  # what an earlier test began at the same place is not this one's
        with closing(sqlite3.connect(self.demo_file)) as source, closing(sqlite3.connect(self.database)) as target:
            source.backup(target)
        worked_pieces.forget()
        self.app.state.results.clear()

    def end(self):
        """End it, its workers too."""
        self.server.should_exit = True
        self.thread.join(PATIENCE_S)


@pytest.fixture(scope="session")
def here(demo_file, tmp_path_factory):
    """One such for all tests of this process."""
    here = Here(demo_file, tmp_path_factory.mktemp("here"))
    yield here
    here.end()


@pytest.fixture
def demo_server(here):
    """A server on the demo household as it is first."""
    here.begin_again()
    return here


def _expected(words):
    """Whether a page may say so: a form was refused, or a question was given up since the page was left before its answer.

    A request that found nobody says `htmx:sendError` beside `htmx:afterRequest`, which is not expected.
    """
    return "422" in words or words.startswith(("htmx:sendAbort", "htmx:afterRequest"))


@pytest.fixture
def open_page(browser):
    """Opens pages that fail the test on a script error, a policy violation, or a request that leaves the machine."""
    troubles, contexts = [], []

    def open_(server, **options):
        context = browser.new_context(viewport={"width": 1280, "height": 800}, **options)
        contexts.append(context)
        page = context.new_page()
        page.on(
            "request", lambda r: troubles.append(f"left the machine: {r.url}") if not _ours(r.url, server) else None
        )
        page.on("pageerror", lambda error: troubles.append(f"script: {error}"))
        page.on(
            "console",
            lambda m: troubles.append(f"console: {m.text}") if m.type == "error" and not _expected(m.text) else None,
        )
        page.set_default_timeout(WAIT_MS)
        return page

    yield open_
    for context in contexts:
        context.close()
    assert troubles == []


def _ours(url, server):
    return url.startswith((server.base + "/", "data:", "blob:", "about:"))
