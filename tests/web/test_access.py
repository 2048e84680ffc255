"""The home network: passphrase, sessions, waits that grow, guests, addresses, certificate."""

import os
import re
import shutil
import sqlite3
import ssl
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

import httpx2
import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.x509 import verification
from fastapi.testclient import TestClient

from rowanseed.cli import main
from rowanseed.services import restoring
from rowanseed.store import access, backups, db
from rowanseed.web import create_app
from rowanseed.web.answers import Answers, answers_at
from rowanseed.web.certificate import own_certificate
from tests.patience import PATIENCE_S, until
from tests.web.server import free_port

WORDS = "heron bobbin lantern"
LOCKED = Answers(frozenset({"127.0.0.1"}), None, True, False, ("http://127.0.0.1/",))


@pytest.fixture
def locked(demo_path):
    """The demo household, served on the network, nobody in."""
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        access.set_passphrase(conn, WORDS)
    app = create_app(demo_path, warm=False, answers=LOCKED)
    with TestClient(app, base_url="http://127.0.0.1", follow_redirects=False) as client:
        yield client


def log_in(client, words=WORDS):
    return client.post("/login", data={"passphrase": words, "after": "/makes/1/lay"})


def test_without_the_passphrase_nothing_is_shown_and_nothing_answered(locked):
    for url in ("/", "/makes/1/lay", "/settings/backups/new.zip", "/photos/x", "/docs", "/openapi.json"):
        answer = locked.get(url)
        assert answer.status_code == 303 and answer.headers["location"].startswith("/login?after=")
    assert locked.get("/api/v1/features").status_code == 401
    assert (
        locked.post("/settings/clear-demo").status_code == 303
        and locked.post("/api/v1/lay", json={}).status_code == 401
    )
    assert locked.get("/static/theme.css").status_code == 200 and "Makes" not in locked.get("/login").text


def test_the_cookie_is_signed_strict_and_out_of_reach_of_scripts_and_leads_on(locked):
    answer = log_in(locked)
    cookie = answer.headers["set-cookie"].lower()
    assert answer.headers["location"] == "/makes/1/lay" and "httponly" in cookie and "samesite=strict" in cookie
    assert locked.get("/").status_code == 200
    value = locked.cookies["rowanseed"]
    for forged in (value[:-2] + "xx", value.split(".")[0], "", "x.y", "\x00"):
        locked.cookies.clear()
        assert locked.get("/", headers={"Cookie": f"rowanseed={forged}".encode("latin-1")}).status_code == 303


def test_over_tls_the_cookie_is_secure_and_bound_to_the_host(demo_path):
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        access.set_passphrase(conn, WORDS)
    app = create_app(demo_path, warm=False, answers=Answers(frozenset({"127.0.0.1"}), None, True, True))
    with TestClient(app, base_url="https://127.0.0.1", follow_redirects=False) as client:
        answer = log_in(client)
        assert answer.headers["set-cookie"].startswith("__Host-rowanseed=") and "Secure" in answer.headers["set-cookie"]
        assert "max-age" in answer.headers["strict-transport-security"] and client.get("/").status_code == 200


def test_one_goes_on_only_to_a_page_of_ours(locked):
    for after in ("//evil.example", "https://evil.example", "/\\evil.example", "javascript:alert(1)", "/a\nb"):
        locked.cookies.clear()
        assert locked.post("/login", data={"passphrase": WORDS, "after": after}).headers["location"] == "/"


@pytest.fixture
def still(monkeypatch):
    """A clock that stands still, however long the test takes."""
    monkeypatch.setattr("rowanseed.web.rooms.access.time", SimpleNamespace(time=lambda: 1_800_000_000.0))


def test_failed_attempts_make_one_wait_longer_and_longer_even_after_a_restart(locked, demo_path, still):
    assert [log_in(locked, "no").status_code for _ in range(4)] == [401, 401, 401, 429]
    assert log_in(locked).status_code == 429  # the right one waits too
    with TestClient(create_app(demo_path, warm=False, answers=LOCKED), base_url="http://127.0.0.1") as restarted:
        answer = log_in(restarted)
        assert answer.status_code == 429 and int(answer.headers["retry-after"]) >= 1
    with closing(db.connect(demo_path)) as conn:
        waits, moment = [], 1_900_000_000.0
        with db.write(conn):
            for _ in range(12):
                assert access.attempt(conn, "10.0.0.7", moment) == 0.0
                waits.append(access.attempt(conn, "10.0.0.7", moment) if len(waits) > 1 else 0.0)
                moment += waits[-1]
            assert waits[:3] == [0.0, 0.0, 2.0] and all(a < b or b == 3600.0 for a, b in zip(waits[2:], waits[3:]))
            # One that fails again and again locks nobody else out; many that fail do, but no device that is known.
            assert access.attempt(conn, "10.0.9.9", moment) == 0.0
            for n in range(30):
                access.attempt(conn, f"10.0.1.{n}", moment)
            assert access.attempt(conn, "10.0.9.8", moment) > 0
            assert access.attempt(conn, access.DEVICE + "known", moment) == 0.0


def test_sixty_wrong_ones_at_once_are_three_looked_at(locked, monkeypatch, still):
    looked_at, together = [], threading.Barrier(60)
    monkeypatch.setattr(access, "is_passphrase", lambda conn, text: looked_at.append(text) or False)

    def try_one(n):
        together.wait()
        return log_in(locked, f"guess {n}").status_code

    with ThreadPoolExecutor(60) as pool:
        said = list(pool.map(try_one, range(60)))
    assert len(looked_at) == access.FREE_ATTEMPTS and said.count(401) == access.FREE_ATTEMPTS and said.count(429) == 57


def test_a_known_device_comes_in_though_others_failed_from_the_same_address(locked, still):
    assert log_in(locked).status_code == 303
    locked.post("/logout")
    stranger = TestClient(locked.app, base_url="http://127.0.0.1", follow_redirects=False)
    assert [log_in(stranger, "no").status_code for _ in range(5)] == [401, 401, 401, 429, 429]
    assert log_in(locked).status_code == 303  # the same address, but it was in before
    locked.post("/logout")
    assert [log_in(locked, "no").status_code for _ in range(4)] == [401, 401, 401, 429]  # its own attempts count
    forged = TestClient(
        locked.app, base_url="http://127.0.0.1", follow_redirects=False, cookies={"rowanseed-device": "x.y"}
    )
    assert log_in(forged, "no").status_code == 429


@pytest.mark.parametrize(
    "weak",
    [
        "rowanseed rowanseed", "my sewing room", "Seam Allowance 15", "cotton linen wool silk", "pattern-fabric-thread",
        "needle bobbin thread scissors",
        "qwertyuiop[]", "asdfghjkl;'", "1qaz2wsx3edc", "zxcvbnm,./zxcvbnm", "qwertzuiopasdfgh", "correct horse battery staple",
        "correcthorsebatterystaple", "The quick brown fox jumps", "a stitch in time saves nine", "abcdefghijklmnop",
    ],
)  # fmt: skip
def test_the_words_of_the_job_keys_in_a_row_and_known_examples_are_refused(weak):
    with pytest.raises(access.PassphraseError):
        access.refuse_weak(weak)


@pytest.mark.parametrize(
    "good", ["heron bobbin lantern", "otter kettle pinewood", "Gr8 plum! violin tram", "seven wet umbrellas sing"]
)
def test_words_that_have_nothing_to_do_with_each_other_are_taken(good):
    access.refuse_weak(good)


def test_a_device_is_logged_out_here_elsewhere_and_by_a_change_of_the_passphrase(locked, demo_path):
    other = TestClient(locked.app, base_url="http://127.0.0.1", follow_redirects=False)
    assert log_in(locked).status_code == 303 and log_in(other).status_code == 303
    page = locked.get("/settings/access").text
    assert page.count("Log it out") == 2 and "(this one)" in page
    locked.post("/settings/access/end", data={"all": "on"})
    assert other.get("/").status_code == 303 and locked.get("/").status_code == 200
    assert log_in(other).status_code == 303
    wrong = locked.post(
        "/settings/access/passphrase",
        data={"now": "no", "new": "otter kettle pinewood", "again": "otter kettle pinewood"},
    )
    assert wrong.status_code == 422 and "not the passphrase of now" in wrong.text
    uneven = locked.post(
        "/settings/access/passphrase", data={"now": WORDS, "new": "otter kettle pinewood", "again": "otter"}
    )
    assert "not the same" in uneven.text
    changed = locked.post(
        "/settings/access/passphrase",
        data={"now": WORDS, "new": "otter kettle pinewood", "again": "otter kettle pinewood"},
    )
    assert changed.status_code == 303 and locked.get("/").status_code == 200 and other.get("/").status_code == 303
    locked.post("/logout")
    assert locked.get("/").status_code == 303 and log_in(locked).status_code == 401


def test_a_session_that_is_not_used_for_thirty_days_ends(locked, demo_path):
    log_in(locked)
    old = (datetime.now() - timedelta(days=31)).isoformat(timespec="seconds")
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        conn.execute("update session set seen_at = ?", (old,))
    assert locked.get("/").status_code == 303


@pytest.mark.parametrize(
    "weak", ["short", "aaaaaaaaaaaaaa", "passwordpassword", "Rowanseed12345", "x" * 129, "1234 1234 1234"]
)
def test_a_weak_passphrase_is_refused_with_the_reason(weak, conn):
    with pytest.raises(access.PassphraseError):
        access.set_passphrase(conn, weak)
    assert not access.has_passphrase(conn)


def test_the_file_holds_neither_passphrase_nor_cookie_nor_link(locked, demo_path):
    log_in(locked)
    link = guest_link(locked)
    locked.app.state.jobs.close()
    with closing(db.connect(demo_path)) as conn:
        conn.execute("pragma wal_checkpoint(truncate)")
    data = demo_path.read_bytes()
    token = locked.cookies["rowanseed"].split(".")[0]
    assert WORDS.encode() not in data and token.encode() not in data and link.rsplit("/", 1)[1].encode() not in data


def guest_link(client, make="1"):
    page = client.post("/settings/access/guests", data={"guest": "Ola", "make": make}).text
    return re.search(r'href="(http://127\.0\.0\.1/guest/[^"]+)"', page)[1]


def test_a_guest_sees_one_make_changes_nothing_and_is_out_when_the_link_is_withdrawn(locked):
    log_in(locked)
    link = guest_link(locked)
    guest = TestClient(locked.app, base_url="http://127.0.0.1", follow_redirects=False)
    assert "change nothing" in guest.get(link).text
    assert guest.post(link).headers["location"] == "/makes/1/lay"
    lay = guest.get("/makes/1/lay")
    assert lay.status_code == 200 and "You are a guest" in lay.text and 'aria-label="Rooms"' not in lay.text
    for url in (
        "/",
        "/makes/2/lay",
        "/makes/10",
        "/settings",
        "/settings/backups/new.zip",
        "/people",
        "/api/v1/features",
    ):
        assert guest.get(url).status_code == 403, url
    assert guest.post("/makes/1/cut/tick", data={}).status_code == 403
    locked.post("/settings/access/guests/1/withdraw")
    assert guest.get("/makes/1/lay").status_code == 303 and guest.get(link).status_code == 404


def test_addresses_are_checked_whole():
    here = Answers(frozenset({"127.0.0.1", "::1", "loft.local"}), 8844)
    for host in ("127.0.0.1:8844", "[::1]:8844", "LOFT.local:8844"):
        assert here.takes(host), host
    for host in (
        "127.0.0.1:8844@evil.example", "127.0.0.1", "127.0.0.1:80", "testserver:8844", "loft.local.evil.example:8844",
        "127.0.0.1:8844, evil.example", "", "[::1:8844", "127.0.0.1:", "127.0.0.1:8844/x", "localhost.:8844",
    ):  # fmt: skip
        assert not here.takes(host), host


@pytest.mark.parametrize(
    "headers",
    [
        {"Host": "127.0.0.1:8844@evil.example"},
        {"Host": "testserver"},
        {"Referer": "http://evil.example/page"},
        {"Referer": "http://127.0.0.1.evil.example/page"},
        {"Origin": "https://127.0.0.1"},
    ],
)
def test_a_write_that_names_another_site_in_any_header_is_refused(client, headers):
    assert client.post("/makes/2/wear/note", data={"text": "x", "kind": "happened"}, headers=headers).status_code == 403


def test_every_address_means_this_machine_s_own_and_asks_for_the_passphrase():
    found = answers_at("0.0.0.0", 8765)
    assert found.locked and found.takes("127.0.0.1:8765") and all(url.endswith(":8765/") for url in found.shown)
    assert not answers_at("127.0.0.1", 8765).locked and not found.takes("example.com:8765")


def test_beyond_this_machine_it_starts_only_with_a_passphrase(tmp_path, capsys, monkeypatch):
    path = tmp_path / "home.db"
    args = ["serve", "--host", "0.0.0.0", "--port", "1", "--database", str(path)]
    assert main(args) == 2 and "only with a passphrase" in capsys.readouterr().err
    run = [sys.executable, "-m", "rowanseed", "passphrase", "--database", str(path)]
    assert subprocess.run(run, input="short\n", text=True, capture_output=True).returncode == 1
    assert subprocess.run(run, input=WORDS + "\n", text=True, capture_output=True).returncode == 0
    with closing(db.connect(path)) as conn:
        assert access.is_passphrase(conn, WORDS) and not access.is_passphrase(conn, WORDS + "x")


def test_the_certificate_names_every_address_and_is_kept_until_it_must_be_renewed(tmp_path):
    names = {"127.0.0.1", "loft.local"}
    own = own_certificate(tmp_path, names)
    assert re.fullmatch(r"([0-9A-F]{2}:){31}[0-9A-F]{2}", own.fingerprint)
    assert all(key.stat().st_mode & 0o077 == 0 for key in (own.key, tmp_path / "authority-key.pem"))
    shown = own.chain.read_bytes()
    assert own_certificate(tmp_path, names).chain.read_bytes() == shown
    # another address at home, and time: the server's certificate is made anew, the one that devices trust stays
    assert own_certificate(tmp_path, names | {"192.168.7.7"}).fingerprint == own.fingerprint
    assert own.chain.read_bytes() != shown
    later = datetime.now(UTC) + timedelta(days=720)
    assert own_certificate(tmp_path, names, later).fingerprint == own.fingerprint
    assert own_certificate(tmp_path, names, later + timedelta(days=3000)).fingerprint != own.fingerprint
    # outside the home it was not made for it
    assert own_certificate(tmp_path, {"203.0.113.9"}).fingerprint != own.fingerprint
    ssl.create_default_context().load_cert_chain(own.chain, own.key)


def test_a_device_gets_the_authority_before_it_is_in(locked, tmp_path):
    assert locked.get("/certificate").status_code == 404  # shown with no certificate of its own: there is none to trust
    locked.app.state.authority = own = own_certificate(tmp_path / "tls", {"127.0.0.1"})
    given = locked.get("/certificate")
    assert given.status_code == 200 and given.content == own.authority.read_bytes() and b"PRIVATE" not in given.content


def test_the_household_s_authority_can_vouch_for_nobody_else(tmp_path):
    own = own_certificate(tmp_path, {"127.0.0.1", "loft"})
    limits = x509.load_pem_x509_certificate(own.authority.read_bytes()).extensions.get_extension_for_class(
        x509.NameConstraints
    )
    assert limits.critical
    signing = serialization.load_pem_private_key((tmp_path / "authority-key.pem").read_bytes(), None)
    authority = x509.load_pem_x509_certificate(own.authority.read_bytes())
    at = datetime.now(UTC)
    store = verification.Store([authority])
    for name, right in (("loft", True), ("tablet.local", True), ("bank.example", False)):
        leaf = (
            x509.CertificateBuilder().subject_name(x509.Name([])).issuer_name(authority.subject).public_key(signing.public_key())
            .serial_number(7).not_valid_before(at - timedelta(days=1)).not_valid_after(at + timedelta(days=9))
            .add_extension(x509.SubjectAlternativeName([x509.DNSName(name)]), critical=True)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()), critical=False)
            .add_extension(x509.ExtendedKeyUsage([x509.oid.ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .sign(signing, hashes.SHA256())
        )  # fmt: skip
        verifier = verification.PolicyBuilder().store(store).time(at).build_server_verifier(x509.DNSName(name))
        if right:
            assert verifier.verify(leaf, [])
        else:
            with pytest.raises(verification.VerificationError):
                verifier.verify(leaf, [])


def test_over_tls_on_a_real_socket_one_logs_in_and_reads(demo_file, tmp_path):
    path, port = shutil.copy(demo_file, tmp_path / "home.db"), free_port()
    with closing(db.connect(path)) as conn, db.write(conn):
        access.set_passphrase(conn, WORDS)
    start = "import sys; from rowanseed.cli import main; sys.exit(main(sys.argv[1:]))"
    args = ["serve", "--host", "127.0.0.1", "--tls", "--port", str(port), "--database", str(path)]
    env = {**os.environ, "ROWANSEED_WARM": "no"}
    server = subprocess.Popen([sys.executable, "-c", start, *args], stdout=subprocess.PIPE, text=True, env=env)
    try:
        assert "SHA-256" in server.stdout.readline() and "https://127.0.0.1" in server.stdout.readline()
        trusted = ssl.create_default_context(cafile=str(tmp_path / "tls" / "authority.pem"))
        with httpx2.Client(verify=trusted, base_url=f"https://127.0.0.1:{port}", timeout=PATIENCE_S) as http:

            def answers():
                try:
                    return http.get("/settings").status_code == 200
                except httpx2.TransportError:
                    return False

            until(answers)
            given = http.get("/certificate")
            assert given.headers["content-type"] == "application/x-x509-ca-cert"
            assert given.content == (tmp_path / "tls" / "authority.pem").read_bytes()
    finally:
        server.terminate()
        server.wait()


def test_a_restored_backup_keeps_the_passphrase_of_now(demo_path, tmp_path):
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        access.set_passphrase(conn, "older words of ours")
    backups.backup_to(tmp_path / "demo.db", tmp_path / "b.zip")
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        access.set_passphrase(conn, WORDS)
    restoring.restore(tmp_path / "b.zip", tmp_path / "demo.db")
    with closing(db.connect(demo_path)) as conn:
        assert access.is_passphrase(conn, WORDS) and access.sessions(conn) == []


def test_a_household_whose_disk_cannot_be_written_still_lets_devices_read(locked, demo_path):
    log_in(locked)
    old = (datetime.now() - timedelta(days=2)).isoformat(timespec="seconds")
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        conn.execute("update session set seen_at = ?", (old,))
    blocker = sqlite3.connect(demo_path)
    blocker.execute("begin exclusive")
    try:
        assert locked.get("/static/theme.css").status_code == 200
    finally:
        blocker.rollback()
        blocker.close()
    assert locked.get("/").status_code == 200
