"""The trade's words as the content file has them, each with its picture, in the order of the alphabet."""

import re
import tomllib
from functools import cache
from importlib import resources

from pydantic import BaseModel, ConfigDict

from rowanseed.formats.word_pictures import PICTURES, word_picture


class Word(BaseModel):
    """A word, what it says, and the name of its picture, empty for none."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    word: str
    says: str
    picture: str = ""

    @property
    def key(self) -> str:
        """The word as an address has it."""
        return self.word.lower().replace(" ", "-")

    @property
    def drawn(self) -> str:
        """Its picture, empty for none."""
        return word_picture(self.picture) if self.picture in PICTURES else ""


@cache
def words() -> tuple[Word, ...]:
    """Return every word. Raises ValueError where the file is not as it should be."""
    text = resources.files("rowanseed.content").joinpath("words.toml").read_text(encoding="utf-8")
    return tuple(sorted((Word.model_validate(raw) for raw in tomllib.loads(text)["word"]), key=lambda w: w.word))


@cache
def word_of(label: str) -> Word | None:
    """Return the word that a label speaks of, the longest where it has several; None where it has none."""
    plain = f" {' '.join(re.findall('[a-z]+', label.lower()))} "
    return max((w for w in words() if f" {w.word.lower()} " in plain), key=lambda w: len(w.word), default=None)
