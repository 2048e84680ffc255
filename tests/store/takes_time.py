"""A process that never ends by itself."""

import threading


def apart(arguments):
    return threading.Event().wait()
