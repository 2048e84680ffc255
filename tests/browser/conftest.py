"""A real server and Debian's Chromium; every request a page makes is watched."""

import os
import subprocess
import sys

import pytest
from playwright.sync_api import expect, sync_playwright

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
def demo_server(demo_path):
    """A server on the demo household."""
    server = Server(demo_path)
    server.start()
    yield server
    server.kill()


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
            lambda m: troubles.append(f"console: {m.text}") if m.type == "error" and "422" not in m.text else None,
        )
        page.set_default_timeout(WAIT_MS)
        return page

    yield open_
    for context in contexts:
        context.close()
    assert troubles == []


def _ours(url, server):
    return url.startswith((server.base + "/", "data:", "blob:", "about:"))
