"""Fixtures: an empty database, the demo household, an application on either."""

import importlib
import io
import json
import shutil
import sys
from datetime import date

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, settings

from rowanseed import apart
from rowanseed.demo.load import load_demo
from rowanseed.store import db
from rowanseed.web import app as web_app
from rowanseed.web import create_app
from tests.costs import function_of, heavy
from tests.shared_pool import Pools

TODAY = date(2026, 11, 24)
# How long an example takes says how busy the machine is, not whether it is right.
settings.register_profile("anywhere", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("anywhere")


def pytest_addoption(parser):
    """Let `--quick` leave out what takes its time."""
    parser.addoption(
        "--quick", action="store_true", help="only what costs less than a quarter of a second, without a browser"
    )


def pytest_collection_modifyitems(config, items):
    """Leave out the browser's tests and the dear ones where a quick look was asked for."""
    if not config.getoption("--quick"):
        return
    dear = heavy()
    left_out = [item for item in items if "browser" in item.keywords or function_of(item.nodeid) in dear]
    config.hook.pytest_deselected(items=left_out)
    items[:] = [item for item in items if item not in set(left_out)]


@pytest.fixture(scope="session", autouse=True)
def pools():
    """All applications of this process share their workers."""
    pools, own = Pools(), web_app.executor
    web_app.executor = pools.executor
    yield pools
    web_app.executor = own
    pools.end()


@pytest.fixture(autouse=True)
def read_here(request, monkeypatch):
    """What a process of its own would do is done in this one, but for tests marked `apart`: a process takes a second to start."""
    if "apart" in request.keywords:
        return

    def said(module, arguments, limits, secret):
        monkeypatch.setattr(sys, "stdin", io.StringIO(secret))
        try:
            return json.loads(json.dumps({"answer": importlib.import_module(module).apart(list(arguments))}))
        except apart.Refused as error:
            return {"refused": str(error)}

    monkeypatch.setattr(apart, "_said_by_a_process", said)


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory):
    """The demo household, laid quickly, made once."""
    path = tmp_path_factory.mktemp("demo") / "demo.db"
    conn = db.connect(path)
    db.migrate(conn)
    load_demo(conn, TODAY, "quick")
    conn.execute("pragma wal_checkpoint(truncate)")
    conn.close()
    return path


@pytest.fixture
def demo_path(demo_file, tmp_path):
    """A copy of the demo household of the test's own."""
    return shutil.copy(demo_file, tmp_path / "demo.db")


@pytest.fixture
def conn(tmp_path):
    """A connection to an empty, migrated database."""
    conn = db.connect(tmp_path / "test.db")
    db.migrate(conn)
    yield conn
    conn.close()


@pytest.fixture
def client(demo_path):
    """The application on the demo household."""
    with TestClient(create_app(demo_path, warm=False), base_url="http://127.0.0.1") as client:
        yield client


@pytest.fixture
def empty(tmp_path):
    """The application on an empty database."""
    with TestClient(create_app(tmp_path / "empty.db", warm=False), base_url="http://127.0.0.1") as client:
        yield client
