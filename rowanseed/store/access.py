"""Who may come in over the home network: the passphrase, sessions of devices, guests' links, attempts that failed.

The passphrase is kept as an Argon2id hash, a session and a guest's link as the digest of a random token: whoever reads the file
finds none of them.
"""

import hashlib
import re
import secrets
import sqlite3
from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from itsdangerous import BadSignature, Signer

from rowanseed.content import job_words
from rowanseed.lazily import lazily
from rowanseed.store.db import NotFound

if TYPE_CHECKING:
    from zxcvbn import zxcvbn
else:
    zxcvbn = lazily("zxcvbn", "zxcvbn")

LEAST, MOST = 12, 128  # characters of a passphrase: ASVS 2.1.1 and 2.1.2
LEAST_SCORE = 3  # of 4: over 10**8 guesses, safe where attempts are slowed
SESSION_DAYS = 30
FREE_ATTEMPTS = 3
FIRST_WAIT_S, LONGEST_WAIT_S = 2.0, 3600.0
EVERYONE, EVERYONE_FREE = "*", 20  # attempts from all addresses together
FORGET_S = 24 * 3600.0
DEVICE = "device:"  # before the name of a known device, among the addresses that attempts are counted for
_HASHER = PasswordHasher()

GET = "select value from setting where key = :key"
PUT = "insert into setting (key, value) values (:key, :value) on conflict (key) do update set value = excluded.value"
SESSION = "select digest, device, guest_id, made_at, seen_at from session where digest = :digest and seen_at >= :since"
SESSIONS = "select digest, device, guest_id, made_at, seen_at from session where guest_id is null order by seen_at desc"
ADD_SESSION = """
insert into session (digest, device, guest_id, made_at, seen_at) values (:digest, :device, :guest_id, :at, :at)
"""
SEEN = "update session set seen_at = :at where digest = :digest"
END = "delete from session where digest like :start || '%'"
END_ALL = "delete from session where guest_id is null and digest <> :but"
END_OLD = "delete from session where seen_at < :since"
GUESTS = "select g.id, g.name, g.make_id, g.made_at, m.name as make from guest g join make m on m.id = g.make_id order by g.id desc"
GUEST = "select id, name, make_id, made_at from guest where digest = :digest"
GUEST_BY_ID = "select id, name, make_id, made_at from guest where id = :id"
ADD_GUEST = "insert into guest (name, make_id, digest, made_at) values (:name, :make_id, :digest, :at)"
DROP_GUEST = "delete from guest where id = :id"
ATTEMPT = "select failed, until, at from attempt where address = :address"
FAILED = """
insert into attempt (address, failed, until, at) values (:address, :failed, :until, :at)
on conflict (address) do update set failed = excluded.failed, until = excluded.until, at = excluded.at
"""
FORGIVEN = "delete from attempt where address = :address"
FORGET = "delete from attempt where at < :before"


class PassphraseError(Exception):
    """A passphrase that is not taken; its text says why."""


@dataclass(frozen=True)
class Session:
    """A device that is in; `guest`: the guest whose link it came by, None for the household itself."""

    digest: str
    device: str
    guest: int | None
    made_at: str
    seen_at: str


@dataclass(frozen=True)
class Guest:
    """A link by which someone sees one make and changes nothing."""

    id: int
    name: str
    make_id: int
    made_at: str
    make: str = ""


def _get(conn: sqlite3.Connection, key: str) -> str:
    row = conn.execute(GET, {"key": key}).fetchone()
    return str(row["value"]) if row else ""


def has_passphrase(conn: sqlite3.Connection) -> bool:
    """Whether a passphrase was set."""
    return bool(_get(conn, "passphrase"))


def refuse_weak(passphrase: str) -> None:
    """Raise PassphraseError where a passphrase is too short, too long, or soon guessed from words, names, dates and keyboard rows.

    Source of the judgement: D. Wheeler, zxcvbn: low-budget password strength estimation, USENIX Security 2016.
    """
    if len(passphrase) < LEAST:
        raise PassphraseError(f"At least {LEAST} characters: three or four words are easily kept in mind.")
    if len(passphrase) > MOST:
        raise PassphraseError(f"At most {MOST} characters.")
    judged = zxcvbn(passphrase, user_inputs=_tried_first(), max_length=MOST)
    words = re.findall(r"[^\W\d_]+", passphrase.lower())
    known = set(_tried_first())
    guessed = all(_is_tried_first(part, known) for part in judged["sequence"]) or (
        bool(words) and all(word in known or len(word) <= SEPARATOR for word in words)
    )
    if judged["score"] < LEAST_SCORE or guessed:
        reason = judged["feedback"]["warning"] or (
            "It is made of this program's words, keys in a row, or an example that everybody knows"
            if guessed
            else "It is among the first that anybody would try"
        )
        raise PassphraseError(
            f"{reason.rstrip('.')}. Choose three or four words that have nothing to do with each other, or with sewing."
        )


# Example passphrases and sayings that lists of guesses begin with (common knowledge, no source).
EXAMPLES = (
    "correct horse battery staple", "the quick brown fox jumps over the lazy dog", "open sesame", "to be or not to be",
    "lorem ipsum dolor sit amet", "may the force be with you", "a stitch in time saves nine", "let me in please", "trustno one",
    "my voice is my password", "i love you so much", "happy birthday to you", "mary had a little lamb", "twinkle little star how",
    "four random common words", "passphrase", "passwort", "kennwort",
)  # fmt: skip
SEPARATOR = 2  # a part so short is a space, a sign or a number between words


@lru_cache(maxsize=1)
def _tried_first() -> list[str]:
    """What somebody would try first at this door: the program's name, the words of the job, well-known examples."""
    of_examples = [word for text in EXAMPLES for word in text.split()]
    return list(dict.fromkeys(["rowanseed", "rowan", "seed", "household", *of_examples, *job_words()]))


def _is_tried_first(part: Mapping[str, Any], known: Collection[str]) -> bool:
    """Whether a part of a passphrase, as the judgement splits it, is such a word, keys in a row, or only parts words."""
    if part["pattern"] == "dictionary":
        return str(part["matched_word"]) in known
    return part["pattern"] in ("spatial", "sequence", "repeat") or len(part["token"]) <= SEPARATOR


def set_passphrase(conn: sqlite3.Connection, passphrase: str) -> None:
    """Set the passphrase, and log every device out.

    Raises:
        PassphraseError: it is too weak.
    """
    refuse_weak(passphrase)
    conn.execute(PUT, {"key": "passphrase", "value": _HASHER.hash(passphrase)})
    conn.execute(PUT, {"key": "secret", "value": secrets.token_urlsafe(32)})
    conn.execute("delete from session where guest_id is null")


def is_passphrase(conn: sqlite3.Connection, passphrase: str) -> bool:
    """Whether this is the passphrase."""
    try:
        return _HASHER.verify(_get(conn, "passphrase"), passphrase[: 4 * MOST])
    except (VerificationError, InvalidHashError):
        return False


def attempt(conn: sqlite3.Connection, who: str, now: float) -> float:
    """Count an attempt before it is looked at; how long the door stays shut for this one, seconds, 0 where it may be looked at.

    Called in a write transaction: of attempts that come at once each finds the ones before it counted. Each one more doubles the
    wait of who tries. Addresses that are not known wait for each other too, but of one that fails again and again only the first
    few count against the others; a known device waits for its own attempts alone.

    Args:
        who: an address, or a known device's name by `known_device`.
    """
    conn.execute(FORGET, {"before": now - FORGET_S})
    known = who.startswith(DEVICE)
    rows = {a: conn.execute(ATTEMPT, {"address": a}).fetchone() for a in (who, *(() if known else (EVERYONE,)))}
    wait = max((row["until"] - now for row in rows.values() if row is not None), default=0.0)
    if wait > 0:
        return float(wait)
    own = rows[who]["failed"] + 1 if rows[who] is not None else 1
    _count(conn, who, own, FREE_ATTEMPTS, now)
    if not known and own <= FREE_ATTEMPTS:
        everyone = rows[EVERYONE]["failed"] + 1 if rows[EVERYONE] is not None else 1
        _count(conn, EVERYONE, everyone, EVERYONE_FREE, now)
    return 0.0


def _count(conn: sqlite3.Connection, who: str, count: int, free: int, now: float) -> None:
    wait = min(LONGEST_WAIT_S, FIRST_WAIT_S * 2 ** min(count - free, 20)) if count >= free else 0.0
    conn.execute(FAILED, {"address": who, "failed": count, "until": now + wait, "at": now})


def forgiven(conn: sqlite3.Connection, who: str) -> None:
    """Forget the attempts of one who is in."""
    for name in (who, *(() if who.startswith(DEVICE) else (EVERYONE,))):
        conn.execute(FORGIVEN, {"address": name})


def new_device(conn: sqlite3.Connection) -> str:
    """The signed cookie by which a device that was let in once is known again, also after it has logged out."""
    return _signer(conn, "rowanseed device").sign(secrets.token_urlsafe(24)).decode()


def known_device(conn: sqlite3.Connection, cookie: str) -> str:
    """The name under which a known device's attempts are counted; empty where the cookie is none of ours."""
    try:
        return DEVICE + _digest(_signer(conn, "rowanseed device").unsign(cookie).decode())[:32]
    except (BadSignature, UnicodeDecodeError):
        return ""


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _signer(conn: sqlite3.Connection, salt: str = "rowanseed session") -> Signer:
    secret = _get(conn, "secret")
    if not secret:
        secret = secrets.token_urlsafe(32)
        conn.execute(PUT, {"key": "secret", "value": secret})
    return Signer(secret, salt=salt, digest_method=hashlib.sha256)


def begin_session(conn: sqlite3.Connection, device: str, now: datetime, guest: int | None = None) -> str:
    """Let a device in; the signed cookie that it shows from now on."""
    token = secrets.token_urlsafe(32)
    conn.execute(END_OLD, {"since": _since(now)})
    at = now.isoformat(timespec="seconds")
    conn.execute(ADD_SESSION, {"digest": _digest(token), "device": device[:120], "guest_id": guest, "at": at})
    return _signer(conn).sign(token).decode()


def _since(now: datetime) -> str:
    return (now - timedelta(days=SESSION_DAYS)).isoformat(timespec="seconds")


def session(conn: sqlite3.Connection, cookie: str, now: datetime) -> Session | None:
    """The session of a cookie; None where it is no cookie of ours, or ended."""
    try:
        token = _signer(conn).unsign(cookie).decode()
    except (BadSignature, UnicodeDecodeError):
        return None
    row = conn.execute(SESSION, {"digest": _digest(token), "since": _since(now)}).fetchone()
    if row is None:
        return None
    if row["seen_at"] < (now - timedelta(hours=1)).isoformat(timespec="seconds"):
        with suppress(sqlite3.OperationalError):  # a disk that is full or read-only keeps nobody from reading
            conn.execute(SEEN, {"digest": row["digest"], "at": now.isoformat(timespec="seconds")})
    return Session(row["digest"], row["device"], row["guest_id"], row["made_at"], row["seen_at"])


def sessions(conn: sqlite3.Connection) -> list[Session]:
    """The household's devices that are in, the last one seen first."""
    return [
        Session(r["digest"], r["device"], r["guest_id"], r["made_at"], r["seen_at"]) for r in conn.execute(SESSIONS)
    ]


def end_session(conn: sqlite3.Connection, digest: str) -> None:
    """Log a device out, by its digest or the first sixteen characters of it."""
    conn.execute(END, {"start": digest[:64] if len(digest) >= 16 else "-"})


def end_all(conn: sqlite3.Connection, but: str = "") -> None:
    """Log every device of the household out, but the one with this digest."""
    conn.execute(END_ALL, {"but": but})


def add_guest(conn: sqlite3.Connection, name: str, make_id: int, now: datetime) -> str:
    """A new link to one make; its token, which is shown once."""
    token = secrets.token_urlsafe(24)
    at = now.isoformat(timespec="minutes")
    conn.execute(ADD_GUEST, {"name": name, "make_id": make_id, "digest": _digest(token), "at": at})
    return token


def guests(conn: sqlite3.Connection) -> Sequence[Guest]:
    """The links that were given and not withdrawn, the newest first."""
    return [Guest(r["id"], r["name"], r["make_id"], r["made_at"], r["make"]) for r in conn.execute(GUESTS)]


def guest(conn: sqlite3.Connection, token: str) -> Guest:
    """The guest of a link's token. Raises NotFound."""
    row = conn.execute(GUEST, {"digest": _digest(token)}).fetchone()
    if row is None:
        raise NotFound("This link was withdrawn, or it never was one.")
    return Guest(row["id"], row["name"], row["make_id"], row["made_at"])


def guest_by_id(conn: sqlite3.Connection, guest_id: int) -> Guest:
    """A guest by its id. Raises NotFound."""
    row = conn.execute(GUEST_BY_ID, {"id": guest_id}).fetchone()
    if row is None:
        raise NotFound("This link was withdrawn.")
    return Guest(row["id"], row["name"], row["make_id"], row["made_at"])


def withdraw(conn: sqlite3.Connection, guest_id: int) -> None:
    """Withdraw a link: who came by it is out at once."""
    conn.execute(DROP_GUEST, {"id": guest_id})
