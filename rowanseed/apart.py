"""Run a module of ours as a process of its own, with limits on its time and memory: for whatever a stranger may have written.

The module's `main` takes its arguments, calls `limit_self`, and prints one line of JSON, `{"answer": ...}` or
`{"refused": "..."}`. Nothing that goes wrong in it, and nothing that it takes, reaches the server.
"""

import json
import subprocess
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Limits:
    """What a process apart may take: seconds on the clock and of the processor, bytes of memory."""

    seconds: float = 120.0
    memory: int = 1_200_000_000


class Refused(Exception):
    """What was read is no good; the text says why and what to do."""


class TookTooMuch(Exception):
    """The process ended without an answer: it took too long or too much memory, or broke."""


def run_module(module: str, arguments: Sequence[str], limits: Limits) -> Any:
    """Return what a module answers.

    Raises:
        Refused: with the module's own words. TookTooMuch: it was ended, or ended without a word.
    """
    command = [sys.executable, "-m", module, json.dumps([limits.seconds, limits.memory]), *arguments]
    try:
        done = subprocess.run(
            command, capture_output=True, timeout=limits.seconds, check=False, stdin=subprocess.DEVNULL
        )
    except subprocess.TimeoutExpired as error:
        raise TookTooMuch(f"over {limits.seconds:.0f} s") from error
    try:
        said = json.loads(done.stdout.splitlines()[-1])
    except (IndexError, ValueError) as error:
        raise TookTooMuch(done.stderr.decode("utf-8", "replace")[-400:]) from error
    if "refused" in said:
        raise Refused(said["refused"])
    return said["answer"]


def answer(argv: Sequence[str], work: Callable[[Sequence[str]], Any]) -> int:
    """Be such a process: limit this one, do the work with the arguments, print its answer or refusal."""
    seconds, memory = json.loads(argv[0])
    limit_self(Limits(seconds, memory))
    try:
        said = {"answer": work(argv[1:])}
    except Refused as error:
        said = {"refused": str(error)}
    except (MemoryError, RecursionError):
        return 1
    print(json.dumps(said))
    return 0


def limit_self(limits: Limits) -> None:
    """Bound this process's memory and processor time."""
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (limits.memory, limits.memory))
    seconds = max(1, round(2 * limits.seconds))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
