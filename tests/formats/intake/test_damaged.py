"""Damaged files: read, or refused in words. `python -m bench.fuzz` does the same for ten thousand."""

import json

import pytest

from bench.fuzz import damaged, seeds
from rowanseed.core.errors import IntakeError
from rowanseed.core.intake.model import IntakeOptions
from rowanseed.formats import apart
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.readings import take_in


@pytest.mark.parametrize("first", range(0, 90, 30))
def test_damaged_files_are_read_or_refused_in_words(first: int) -> None:
    """Thirty files at a time, taken apart by a known seed."""
    import random

    files = seeds()
    names = sorted(files)
    for seed in range(first, first + 30):
        try:
            read_intake(damaged(files[names[seed % len(names)]], random.Random(seed)))
        except IntakeError as error:
            assert error.text and error.field


def test_a_file_that_takes_too_long_is_ended() -> None:
    """The process apart is killed when its time is over."""
    with pytest.raises(IntakeError) as refused:
        apart.run_apart("intake", json.loads("{}"), [b"<svg" + b" " * 10], most_seconds=0.05)
    assert "longer than" in refused.value.text


def test_a_reading_that_is_stopped_ends() -> None:
    """Stop is answered while it reads."""
    with pytest.raises(IntakeError) as refused:
        take_in(b"<svg/>", IntakeOptions(), stop=lambda: True)
    assert "stopped" in refused.value.text


def test_progress_is_told() -> None:
    """What is being done, and a share that grows."""
    told: list[float] = []
    take_in(seeds()["svg"], IntakeOptions(), lambda text, share: told.append(share))
    assert told == sorted(told) and len(told) > 3
