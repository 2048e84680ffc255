"""The errors the core raises, and the findings it returns.

RowanseedError
├── LengthError          a length that cannot be read
├── OutlineError         an outline that encloses no area, or crosses itself
├── ShapeError           measurements that give no piece
├── AdviceError          a chart that cannot be compared with a body
├── LayError             a lay that cannot be asked for
├── PatternFileError     a pattern file that cannot be read (raised by formats)
├── AlterationError      an alteration that cannot be made on these pieces
├── IntakeError          a file or photograph that no pieces can be read from
├── FeatureError         a feature or choice the sewing library does not know
└── ReckonError          a sum that cannot be done

Pages and tests read `code`, `field` and the findings' codes, never the text.
"""

from dataclasses import dataclass
from typing import Literal

Level = Literal["note", "care", "stop"]


class RowanseedError(Exception):
    """A request that has no answer.

    `field` names the input that must change, in dotted form, or is empty.
    """

    code = "error"

    def __init__(self, text: str, field: str = "") -> None:
        super().__init__(text)
        self.text = text
        self.field = field


class LengthError(RowanseedError):
    """A length that cannot be read."""

    code = "length-unreadable"


class OutlineError(RowanseedError):
    """An outline that encloses no area or crosses itself."""

    code = "outline-unusable"


class ShapeError(RowanseedError):
    """Measurements that give no piece."""

    code = "shape-impossible"


class AdviceError(RowanseedError):
    """A chart that cannot be compared with a body."""

    code = "advice-impossible"


class LayError(RowanseedError):
    """A lay that cannot be asked for."""

    code = "lay-impossible"


class AlterationError(RowanseedError):
    """An alteration that cannot be made on these pieces."""

    code = "alteration-impossible"


class PatternFileError(RowanseedError):
    """A pattern file that cannot be read."""

    code = "pattern-file-unreadable"


class IntakeError(RowanseedError):
    """A file or photograph that no pieces can be read from."""

    code = "file-unreadable"


class FeatureError(RowanseedError):
    """A feature or choice that the sewing library does not know."""

    code = "feature-unknown"


class ReckonError(RowanseedError):
    """A sum that cannot be done with these figures."""

    code = "reckon-impossible"


@dataclass(frozen=True)
class Finding:
    """Something the user should know: `note` (for information), `care` (look at it), `stop` (do not cut)."""

    level: Level
    code: str
    text: str

    def as_dict(self) -> dict[str, str]:
        """The finding as the JSON interface sends it."""
        return {"level": self.level, "code": self.code, "text": self.text}
