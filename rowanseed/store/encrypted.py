"""Backups that a passphrase keeps from others: files in the age format, which other programs read too.

Format: C2SP, The age file encryption format, version 1 (scrypt recipient), written and read by a library. Done in a process of its
own, since the library holds a whole file in memory.
"""

import os
import sys
from collections.abc import Sequence
from pathlib import Path

from rowanseed.apart import Limits, Refused, TookTooMuch, run_module
from rowanseed.store.access import PassphraseError, refuse_weak

ENDING = ".age"
HEAD = b"age-encryption.org/v1"
MOST_BYTES = 1_000_000_000
LIMITS = Limits(300.0, 4_000_000_000)


class EncryptionError(Exception):
    """A file that cannot be encrypted or opened; its text says why and what to do."""


def is_encrypted(file: Path) -> bool:
    """Return whether a file is in the age format."""
    try:
        with file.open("rb") as stream:
            return stream.read(len(HEAD)) == HEAD
    except OSError:
        return False


def encrypt(plain: Path, target: Path, passphrase: str) -> None:
    """Write a file encrypted with a passphrase; it stands under its name when it is whole.

    Raises:
        EncryptionError: the passphrase is too weak, the file too large, or the disk full.
    """
    try:
        refuse_weak(passphrase)
    except PassphraseError as error:
        raise EncryptionError(str(error)) from error
    _run("encrypt", plain, target, passphrase)


def decrypt(file: Path, target: Path, passphrase: str) -> None:
    """Write what an encrypted file holds. Raises EncryptionError: it is none, damaged, or the passphrase is another."""
    _run("decrypt", file, target, passphrase)


def _run(how: str, source: Path, target: Path, passphrase: str) -> None:
    if source.stat().st_size > MOST_BYTES:
        raise EncryptionError(
            "Files over 1 GB are not encrypted here: encrypt the disk or the folder they are kept on."
        )
    part = target.with_name(target.name + ".part")
    try:
        run_module(__name__, [how, str(source), str(part)], LIMITS, passphrase)
        part.replace(target)
    except Refused as error:
        raise EncryptionError(str(error)) from error
    except TookTooMuch as error:
        raise EncryptionError("There is not enough memory for this. Close other programs, and try again.") from error
    finally:
        part.unlink(missing_ok=True)


def apart(arguments: Sequence[str]) -> int:
    """Encrypt or decrypt one file into another, by the passphrase in the standard input; how many bytes were written."""
    import pyrage

    how, source, target = arguments
    passphrase = sys.stdin.read()
    data = Path(source).read_bytes()
    try:
        done = (
            pyrage.passphrase.encrypt(data, passphrase)
            if how == "encrypt"
            else pyrage.passphrase.decrypt(data, passphrase)
        )
    except pyrage.DecryptError as error:
        raise Refused("It does not open with this passphrase, or it is damaged.") from error
    try:
        with Path(target).open("wb") as out:
            out.write(done)
            out.flush()
            os.fsync(out.fileno())
    except OSError as error:
        raise Refused(f"It was not written: {error.strerror}.") from error
    return len(done)
