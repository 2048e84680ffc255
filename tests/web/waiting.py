"""Waiting for work that goes on in the workers."""

from tests.patience import until


def settled(client, url, words=("working out", "Laying", "Looking for", "Working out")):
    """The answer of an address once nothing in it is being worked out any more."""
    seen = {}

    def is_done():
        seen["text"] = client.get(url).text
        return not any(word in seen["text"] for word in words)

    until(is_done, f"{url} was worked out for too long")
    return seen["text"]
