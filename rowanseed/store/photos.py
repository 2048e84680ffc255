"""Photographs on disk beside the database, named by what they contain."""

import hashlib
import re
from pathlib import Path

from rowanseed.store.db import NotFound

NAME = re.compile(r"^[0-9a-f]{40}\.(jpg|png)$")
NAMED = re.compile(r"(?<![0-9a-f])[0-9a-f]{40}\.(?:jpg|png)")  # in a longer text


def folder(database: Path) -> Path:
    """Where a database's photographs lie."""
    return database.parent / "photos"


def keep(database: Path, data: bytes, kind: str) -> str:
    """Keep a picture (`jpg` or `png`); its name."""
    name = f"{hashlib.sha256(data).hexdigest()[:40]}.{kind}"
    place = folder(database)
    place.mkdir(parents=True, exist_ok=True)
    whole = place / name
    if not whole.exists():
        part = place / f"{name}.part"
        part.write_bytes(data)
        part.replace(whole)
    return name


def keep_file(database: Path, picture: Path) -> None:
    """Keep a picture that has its name already, unless it is there."""
    if NAME.match(picture.name):
        keep_named(database, picture.name, picture.read_bytes())


def keep_named(database: Path, name: str, data: bytes) -> None:
    """Keep a picture under its name, unless it is there, or the name is not of what it holds."""
    if hashlib.sha256(data).hexdigest().startswith(name.split(".")[0]):
        keep(database, data, name.rsplit(".", 1)[1])


def path_of(database: Path, name: str) -> Path:
    """A picture's file. Raises NotFound."""
    place = folder(database) / name
    if not NAME.match(name) or not place.is_file():
        raise NotFound("There is no such picture.")
    return place
