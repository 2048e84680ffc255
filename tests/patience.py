"""How long a test waits for what must come: no test passes or fails by how fast the machine is, so this is a last resort only."""

import time

PATIENCE_S = 600.0
LOOK_S = 0.05


def until(what, words="waited too long"):
    """Wait until `what()` is true, and return what it returned."""
    end = time.monotonic() + PATIENCE_S
    while not (found := what()):
        assert time.monotonic() < end, words
        time.sleep(LOOK_S)
    return found
