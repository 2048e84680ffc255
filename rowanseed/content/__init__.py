"""The sewing library as data that a sewist could read and correct."""

import re
import tomllib
from importlib import resources


def job_words() -> list[str]:
    """Return the words of the job in lower case: plain ones first, then those that the pages explain."""
    told = tomllib.loads(resources.files(__name__).joinpath("words.toml").read_text(encoding="utf-8"))
    explained = [part for entry in told["word"] for part in re.findall(r"[a-z]{3,}", entry["word"].lower())]
    return list(dict.fromkeys([*told["plain"], *explained]))
