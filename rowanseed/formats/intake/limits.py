"""How much a pattern file may hold."""

from rowanseed.core.errors import IntakeError

MOST_BYTES = 40_000_000
MOST_STROKES = 60_000
MOST_POINTS = 1_500_000
MOST_PAGES = 200
FARTHEST_MM = 100_000.0


class Counted:
    """Counts what is taken in of a file. Raises IntakeError beyond what a pattern can hold."""

    def __init__(self) -> None:
        self.strokes = 0
        self.points = 0

    def add(self, points: int) -> None:
        """Count one more line with so many points."""
        self.strokes += 1
        self.points += points
        if self.strokes > MOST_STROKES or self.points > MOST_POINTS:
            raise IntakeError(
                "This file holds more lines than a pattern can have. Send the pattern's pages alone.", "file"
            )


def within(x: float, y: float) -> bool:
    """Whether a place is one that a pattern can have; also false for what is no number."""
    return abs(x) < FARTHEST_MM and abs(y) < FARTHEST_MM
