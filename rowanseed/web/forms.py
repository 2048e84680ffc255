"""Reading forms: every field keeps what was typed, errors and echoes stand beside it."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import TypeVar

from fastapi import Request

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import Length, Unit, parse_length

T = TypeVar("T", bound=str)


@dataclass
class Form:
    """A submitted form: `typed` as it came, `errors` by field, `echoes` of what was understood."""

    typed: Mapping[str, str]
    unit: Unit = "cm"
    errors: dict[str, str] = field(default_factory=dict)
    echoes: dict[str, str] = field(default_factory=dict)

    @property
    def sound(self) -> bool:
        """Whether nothing was wrong."""
        return not self.errors

    def text(self, name: str, what: str = "", most: int = 2000) -> str:
        """A text field, trimmed; with `what` it must not be empty."""
        value = self.typed.get(name, "").strip()
        if what and not value:
            self.errors[name] = f"{what} is needed."
        if len(value) > most:
            self.errors[name] = f"Keep this under {most} characters."
        return value

    def length(self, name: str, what: str = "", most_mm: float = 100_000) -> Length | None:
        """A length field; None when it is empty or unreadable. With `what` it must not be empty."""
        value = self.typed.get(name, "").strip()
        if not value:
            if what:
                self.errors[name] = f"{what} is needed, such as 5/8 in or 97 cm."
            return None
        try:
            length = parse_length(value, self.unit)
        except LengthError as error:
            self.errors[name] = error.text
            return None
        if length.mm > most_mm:
            self.errors[name] = f"{length.echo()} is more than this can be. Check the unit."
            return None
        self.echoes[name] = length.echo()
        return length if not length.text[-1:].isdecimal() else _with_unit(length)

    def choice(self, name: str, choices: tuple[T, ...]) -> T:
        """One of the choices; the first one when the field is missing, an error when it is none of them."""
        value = self.typed.get(name, choices[0])
        for choice in choices:
            if value == choice:
                return choice
        self.errors[name] = f"Choose one of: {', '.join(choices)}."
        return choices[0]

    def percent(self, name: str, most: float = 0.5) -> float:
        """A share typed as a percentage, empty for 0; less than `most`."""
        value = self.typed.get(name, "").strip().rstrip("%").replace(",", ".")
        if not value:
            return 0.0
        try:
            share = float(value) / 100
        except ValueError:
            self.errors[name] = "Write a percentage, such as 3."
            return 0.0
        if not 0 <= share < most:
            self.errors[name] = f"Between 0 and {most:.0%}."
            return 0.0
        return share

    def number(self, name: str, what: str, least: int, most: int) -> int:
        """A whole number within limits."""
        value = whole_number(self.typed.get(name, ""))
        if value is None or not least <= value <= most:
            self.errors[name] = f"{what}: a whole number from {least} to {most}."
            return least
        return value

    def day(self, name: str, needed: bool = False, latest: date | None = None) -> date | None:
        """A day written year-month-day, not after `latest`; None when it is empty."""
        value = self.typed.get(name, "").strip()
        if not value and not needed:
            return None
        try:
            day = date.fromisoformat(value)
        except ValueError:
            self.errors[name] = "Write the day as year-month-day."
            return None
        if latest is not None and day > latest:
            self.errors[name] = "This day is still to come."
        return day

    def version(self) -> int:
        """The version of what was opened; 0, which is never stored, when the form does not say."""
        return whole_number(self.typed.get("version", "")) or 0

    def opened(self, now: int) -> int:
        """The version of the page that was filled in; the present one where the form is of a page without versions."""
        return self.version() or now

    def flag(self, name: str) -> bool:
        """A tick box."""
        return self.typed.get(name) in ("on", "true", "1", "yes")


def typed_length(text: str, unit: Unit) -> Length:
    """A length as typed, with its unit written behind it where it was a bare number. Raises LengthError."""
    length = parse_length(text.strip(), unit)
    return length if not length.text[-1:].isdecimal() else _with_unit(length)


def whole_number(text: str) -> int | None:
    """A number written in plain digits, small enough for an id; None for anything else."""
    text = text.strip()
    return int(text) if text.isascii() and text.isdigit() and len(text) <= 15 else None


def _with_unit(length: Length) -> Length:
    """A length typed as a bare number, with the unit that was understood written behind it."""
    return Length(length.mm, f"{length.text} {length.unit}", length.unit)


def stamp(text: str) -> str:
    """A short mark of a text, by which a form says which state of it was shown; for what has no version of its own."""
    return hashlib.sha256(text.encode()).hexdigest()[:16]


async def read_form(request: Request, unit: Unit = "cm") -> Form:
    """The submitted form's text fields (a field given more than once keeps its last value)."""
    data = await request.form()
    typed = {key: str(value) for key, value in data.items() if isinstance(value, str)}
    request.state.typed = typed  # shown again where it could not be saved
    return Form(typed, unit)
