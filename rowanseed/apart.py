"""Run a module of ours as a process of its own, with limits on its time and memory: for whatever a stranger may have written.

The module has a function `apart` that takes a list of words and returns what JSON can hold, or raises `Refused`. Nothing that goes
wrong in it, and nothing that it takes, reaches the server.
"""

import gc
import importlib
import json
import subprocess
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

PATIENCE = 5  # on a busy machine a process gets a share of the processor only


@dataclass(frozen=True)
class Limits:
    """What a process apart may take: seconds of the processor, five times as many by the clock, bytes of memory."""

    seconds: float = 120.0
    memory: int = 1_200_000_000


class Refused(Exception):
    """What was read is no good; the text says why and what to do."""


class TookTooMuch(Exception):
    """The process ended without an answer: it took too long or too much memory, or broke."""


def run_module(module: str, arguments: Sequence[str], limits: Limits, secret: str = "") -> Any:
    """Return what a module answers.

    Args:
        secret: what stands in its standard input, since whoever lists processes reads their arguments.
    Raises:
        Refused: with the module's own words. TookTooMuch: it was ended, or ended without a word.
    """
    said = _said_by_a_process(module, arguments, limits, secret)
    if "refused" in said:
        raise Refused(said["refused"])
    return said["answer"]


def _said_by_a_process(module: str, arguments: Sequence[str], limits: Limits, secret: str) -> dict[str, Any]:
    command = [sys.executable, "-m", "rowanseed.apart", json.dumps([limits.seconds, limits.memory]), module, *arguments]
    try:
        done = subprocess.run(
            command, capture_output=True, timeout=PATIENCE * limits.seconds, check=False, input=secret.encode()
        )
    except subprocess.TimeoutExpired as error:
        raise TookTooMuch(f"over {limits.seconds:.0f} s") from error
    try:
        said: dict[str, Any] = json.loads(done.stdout.splitlines()[-1])
    except (IndexError, ValueError) as error:
        raise TookTooMuch(done.stderr.decode("utf-8", "replace")[-400:]) from error
    return said


def limit_self(limits: Limits) -> None:
    """Bound this process's memory and processor time."""
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (limits.memory, limits.memory))
    seconds = max(1, round(limits.seconds))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))


def main(argv: Sequence[str]) -> int:
    """Be such a process: limit this one, load the module, do its work, print its answer or refusal as a line of JSON."""
    seconds, memory = json.loads(argv[0])
    limit_self(Limits(seconds, memory))
    gc.disable()  # nothing that is imported is garbage, and looking for it takes a quarter of the time
    work = importlib.import_module(argv[1]).apart
    gc.freeze()
    gc.enable()
    try:
        said = {"answer": work(argv[2:])}
    except Refused as error:
        said = {"refused": str(error)}
    except (MemoryError, RecursionError):
        return 1
    print(json.dumps(said))
    return 0


if __name__ == "__main__":
    # This file runs as `__main__`; what the module raises is the `Refused` of the module by its own name.
    from rowanseed import apart

    sys.exit(apart.main(sys.argv[1:]))
