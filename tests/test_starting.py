"""What keeps the server from starting is said before anything that it would need is imported."""

import socket
import subprocess
import sys

import pytest

from rowanseed.starting import CannotStart, has_passphrase, host_of, is_here, refuse_taken
from rowanseed.store import access, db
from rowanseed.web.answers import Answers, answers_at

HEAVY = ("numpy", "fastapi", "uvicorn", "pydantic", "shapely", "rowanseed.web", "rowanseed.demo.load")


@pytest.fixture
def listening():
    """A port that another program listens on."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        yield taken.getsockname()[1]


def started(*arguments):
    """Start the server as the command does; its status, what it said, and the heavy modules that it had imported by then."""
    code = (
        "import sys\nfrom rowanseed.cli import main\nstatus = main(sys.argv[1:])\n"
        f"print([m for m in {HEAVY!r} if m in sys.modules])\nsys.exit(status)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, "serve", *map(str, arguments)],
        capture_output=True,
        text=True,
        stdin=subprocess.DEVNULL,
    )
    return done.returncode, done.stderr, done.stdout.strip()


def test_a_server_that_cannot_start_says_why_before_it_imports_what_it_will_not_need(tmp_path, listening):
    foreign = tmp_path / "letter.db"
    foreign.write_bytes(b"%PDF-1.4 a letter, and more of it")
    none = tmp_path / "none.db"
    for arguments, status, words in (
        (("--database", foreign), 3, "another kind of file"),
        (("--database", none, "--port", listening), 1, "is taken"),
        (("--database", none, "--port", 70_000), 1, "no port"),
        (("--database", none, "--host", "0.0.0.0"), 2, "only with a passphrase"),
        (("--database", none, "--host", ""), 2, "Name a host"),
        (("--database", none, "--host", "no such host"), 2, "no address"),
    ):
        code, said, imported = started(*arguments)
        assert (code, imported) == (status, "[]") and words in said, (arguments, code, said, imported)
    assert not none.exists()


@pytest.mark.parametrize(
    ("written", "host", "here"),
    [
        ("127.1", "127.0.0.1", True), ("localhost.", "localhost", True), ("LOCALHOST", "localhost", True), ("[::1]", "::1", True),
        ("0x7f.1", "127.0.0.1", True), ("127.0.0.53", "127.0.0.53", True), ("::ffff:127.0.0.1", "127.0.0.1", True),
        ("0", "0.0.0.0", False), ("::", "::", False),
    ],
)  # fmt: skip
def test_hosts_written_oddly_are_read_as_the_system_reads_them(written, host, here):
    assert (host_of(written), is_here(host_of(written))) == (host, here)
    if here:
        answers = answers_at(host, 8765)
        assert not answers.locked and answers.takes(f"[{host}]:8765" if ":" in host else f"{host}:8765")


@pytest.mark.parametrize(
    "written", ["", " ", ".", "no such host", "256.256.256.256.1", "a" * 300, "exa mple", "http://x"]
)
def test_what_is_no_host_is_refused_at_once(written):
    with pytest.raises(CannotStart):
        host_of(written)


def test_a_host_header_with_the_dot_of_a_whole_name_is_understood_and_odd_ones_are_refused():
    answers = Answers(port=8765)
    assert answers.takes("localhost.:8765") and answers.takes("LOCALHOST:8765")
    for odd in (
        "",
        "127.1:8765",
        ".:8765",
        "localhost..:8765",
        "localhost:8765.",
        "127.0.0.1:8765@evil.example",
        "evil.example:8765",
    ):
        assert not answers.takes(odd), odd


def test_a_port_that_is_free_is_no_hindrance_and_another_machines_address_is(listening):
    refuse_taken("127.0.0.1", 0)
    with pytest.raises(CannotStart, match="taken"):
        refuse_taken("127.0.0.1", listening)
    with pytest.raises(CannotStart, match="no address of this machine"):
        refuse_taken("192.0.2.7", 0)  # an address for documentation


def test_whether_there_is_a_passphrase_is_read_without_what_judges_one(tmp_path):
    path = tmp_path / "home.db"
    assert not has_passphrase(path)
    conn = db.connect(path)
    db.migrate(conn)
    assert not has_passphrase(path)
    with db.write(conn):
        access.set_passphrase(conn, "heron bobbin lantern")
    conn.close()
    assert has_passphrase(path)
