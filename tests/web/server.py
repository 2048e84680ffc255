"""A real server on 127.0.0.1 for tests that need one."""

import socket
import time
import urllib.request


def free_port():
    """A port nothing listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def wait_for(port, seconds=90.0):
    """The server's address once it answers."""
    base = f"http://127.0.0.1:{port}"
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            urllib.request.urlopen(base + "/settings", timeout=5).read()
            return base
        except OSError:  # refused, reset, or too slow to answer yet
            time.sleep(0.1)
    raise TimeoutError("the server did not start")
