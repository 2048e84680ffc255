"""kill -9 between two writes: nothing that was acknowledged is lost, and the next start is sound."""

import os
import signal
import subprocess
import sys
import urllib.error
import urllib.parse
import urllib.request

import pytest

from rowanseed.store import db, makes
from tests.patience import PATIENCE_S
from tests.web.server import free_port, wait_for


@pytest.mark.parametrize("kill_after", [1, 5, 12])
def test_what_was_acknowledged_before_a_kill_is_there_afterwards(demo_path, kill_after):
    port = free_port()
    command = [sys.executable, "-m", "rowanseed", "serve", "--port", str(port), "--database", str(demo_path)]
    env = {**os.environ, "ROWANSEED_WARM": "no"}
    server = subprocess.Popen(command, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    acknowledged = []
    try:
        base = wait_for(port)
        for number in range(kill_after):
            note = f"note {number}"
            body = urllib.parse.urlencode({"text": note, "kind": "happened"}).encode()
            urllib.request.urlopen(f"{base}/makes/2/wear/note", body, timeout=PATIENCE_S).read()
            acknowledged.append(note)
    finally:
        os.kill(server.pid, signal.SIGKILL)
        server.wait()
    conn = db.connect(demo_path)
    db.migrate(conn)
    assert [n.text for n in makes.notes(conn, 2) if n.text.startswith("note ")] == acknowledged
    assert conn.execute("pragma integrity_check").fetchone()[0] == "ok"
    with db.write(conn):
        makes.add_note(conn, 2, "happened", "still writable", makes.make(conn, 2).started_on)
    conn.close()
