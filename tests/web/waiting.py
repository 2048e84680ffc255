"""Waiting for work that goes on in the workers."""

import time


def settled(client, url, words=("working out", "Laying", "Looking for", "Working out"), seconds=90.0):
    """The answer of an address once nothing in it is being worked out any more."""
    end = time.monotonic() + seconds
    while True:
        text = client.get(url).text
        if not any(word in text for word in words):
            return text
        assert time.monotonic() < end, f"{url} was worked out for too long"
        time.sleep(0.1)
