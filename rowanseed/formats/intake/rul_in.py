"""Grading tables beside a DXF file (the rule tables of ASTM D6673 and of AAMA before it; from memory)."""

import re

from rowanseed.core.errors import IntakeError
from rowanseed.core.geometry.types import Point
from rowanseed.core.intake.grading import RuleTable

MOST_RULES = 5000
_HEAD = re.compile(r"^\s*([A-Z ]+?)\s*:\s*(.*?)\s*$", re.I)
_PAIR = re.compile(r"(-?\d+(?:\.\d+)?)\s*,\s*(-?\d+(?:\.\d+)?)")


def looks_like_rules(data: bytes) -> bool:
    """Whether some bytes are a grading table."""
    return b"RULE" in data[:65_536].upper() and b"SIZE LIST" in data[:65_536].upper()


def read_rules(data: bytes) -> RuleTable:
    """Return a grading table, its moves in mm, y down.

    Raises:
        IntakeError: it names no sizes, or a rule has another number of moves than there are sizes.
    """
    head: dict[str, str] = {}
    rules: dict[int, list[Point]] = {}
    current: list[Point] | None = None
    for line in data.decode("latin-1").splitlines():
        if rule := re.match(r"^\s*RULE\s*:\s*DELTA\s+(\d+)", line, re.I):
            if len(rules) >= MOST_RULES:
                raise IntakeError("This grading table holds more rules than a pattern can have.", "grading")
            current = rules.setdefault(int(rule[1]), [])
        elif current is not None and _PAIR.search(line):
            current += [(float(x), -float(y)) for x, y in _PAIR.findall(line)]
        elif found := _HEAD.match(line):
            head[found[1].upper()] = found[2]
    sizes = tuple(head.get("SIZE LIST", "").split())
    sample = head.get("SAMPLE SIZE", "").strip()
    if not sizes or not rules:
        raise IntakeError("This grading table names no sizes or holds no rules.", "grading")
    unit = 25.4 if head.get("UNITS", "METRIC").upper().startswith(("ENGLISH", "INCH", "IMPERIAL")) else 1.0
    wrong = next((n for n, moves in rules.items() if len(moves) != len(sizes)), None)
    if wrong is not None:
        text = f"Rule {wrong} of the grading table has {len(rules[wrong])} moves; there are {len(sizes)} sizes."
        raise IntakeError(text, "grading")
    return RuleTable(sizes, sample, {n: tuple((x * unit, y * unit) for x, y in moves) for n, moves in rules.items()})
