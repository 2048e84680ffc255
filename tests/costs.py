"""What each test costs in processor time, as a plugin of pytest (`-p tests.costs`); which are too dear for `make quick`.

`make heavy` writes `heavy.txt` anew: the functions of which a run takes more than a quarter of a second, their processes with them.
"""

import os
import resource
from collections.abc import Iterable
from pathlib import Path

import pytest

HERE = Path(__file__).parent
HEAVY = HERE / "heavy.txt"
MOST_S = 0.25
COSTS = "ROWANSEED_COSTS"  # the file that costs are gathered in


def function_of(node: str) -> str:
    """A test's function, whatever its parameters: `core/test_lengths.py::test_a`."""
    return node.split("[")[0].removeprefix("tests/")


def heavy() -> frozenset[str]:
    """The functions that are too dear."""
    return frozenset(HEAVY.read_text().split())


def _spent() -> float:
    return sum(
        used.ru_utime + used.ru_stime
        for used in map(resource.getrusage, (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN))
    )


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item):
    """Note what a test has cost."""
    before = _spent()
    yield
    if COSTS in os.environ:
        with open(os.environ[COSTS], "a") as kept:
            kept.write(f"{_spent() - before:.3f} {function_of(item.nodeid)}\n")


def dear(lines: Iterable[str]) -> list[str]:
    """The functions of which one run cost too much, in order."""
    costs = [line.split(maxsplit=1) for line in lines if line.strip()]
    return sorted({name.strip() for cost, name in costs if float(cost) > MOST_S})


if __name__ == "__main__":
    HEAVY.write_text("".join(f"{name}\n" for name in dear(Path(os.environ[COSTS]).read_text().splitlines())))
