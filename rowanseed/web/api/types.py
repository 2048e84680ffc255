"""Types of the JSON interface: lengths in, millimetres out."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema

from rowanseed.core.errors import Finding, LengthError
from rowanseed.core.lengths import parse_length


def _mm(value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise ValueError("Write a length: a number of millimetres, or words with a unit such as 5/8 in.")
    try:
        return parse_length(value).mm
    except LengthError as error:
        raise ValueError(error.text) from error


MOST_MM = 1_000_000
# What fits it is taken: a figure, or a whole one and a fraction, with its unit.
LENGTH_NUMBER = r"[0-9]{1,4}(?:\.[0-9]{1,3}|,[0-9]{1,2})?|(?:[0-9]{1,4} )?[1-9][0-9]?/(?:2|3|4|5|8|10|16|32|64)"
LENGTH_PATTERN = rf"^(?:{LENGTH_NUMBER}) ?(?:mm|cm|in|\")$"
LENGTH_SCHEMA = {
    "anyOf": [{"type": "number", "minimum": 0, "maximum": MOST_MM}, {"type": "string", "pattern": LENGTH_PATTERN}],
    "description": 'Millimetres, or words with a unit: `38 in`, `1 1/4"`, `97 cm`.',
}
Mm = Annotated[float, BeforeValidator(_mm), WithJsonSchema(LENGTH_SCHEMA, mode="validation")]
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]
PointIn = tuple[Coordinate, Coordinate]
SegmentIn = tuple[PointIn, PointIn]
OutlineIn = Annotated[list[PointIn], Field(min_length=3, max_length=4000)]


class In(BaseModel):
    """A request's part. Fields that later versions add are not refused."""

    model_config = ConfigDict(extra="ignore")


class FindingOut(BaseModel):
    """Something to know: `note`, `care` or `stop`."""

    level: Literal["note", "care", "stop"]
    code: str
    text: str

    @staticmethod
    def of(finding: Finding) -> "FindingOut":
        """A finding of the core."""
        return FindingOut(level=finding.level, code=finding.code, text=finding.text)
