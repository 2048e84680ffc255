"""A real server on 127.0.0.1 for tests that need one."""

import socket
import urllib.request

from tests.patience import PATIENCE_S, until


def free_port():
    """A port nothing listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def wait_for(port):
    """The server's address once it answers."""
    base = f"http://127.0.0.1:{port}"

    def answers():
        try:
            return urllib.request.urlopen(base + "/settings", timeout=PATIENCE_S).read()
        except OSError:  # refused or reset: it is not there yet
            return False

    until(answers, "the server did not start")
    return base
