"""Headers on every answer, and the checks that keep other sites from writing here.

The Host header must name an address that is served, and a request that changes anything must come from a page of ours: its
Origin, or else its Referer, and Sec-Fetch-Site where a browser sends that, must be our own. Scripts that send none of them may
use the interface. Who must show the passphrase first is said in `gate`.
"""

from contextlib import suppress
from urllib.parse import urlsplit

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import PlainTextResponse
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from rowanseed.jobs.pool import asker
from rowanseed.web.answers import Answers
from rowanseed.web.gate import kept_out

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
MOST_BYTES = 8_000_000
LARGEST_BYTES = 42_000_000  # pattern files and photographs, read in processes of their own
BACKUP_BYTES = 2_000_000_000  # written to disk as it arrives
BACKUP = ("/settings/backups/upload", "/settings/backups/folder")
LARGE = ("/api/v1/intake", "/api/v1/trace", "/patterns/intake", "/patterns/trace")
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'; manifest-src 'self'; worker-src 'self'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


def refusal(request: Request) -> str | None:
    """Why a request is refused, or None."""
    answers: Answers = request.app.state.answers
    host = request.headers.get("host", "")
    if not answers.takes(host):
        return "This address is not one Rowanseed answers to."
    if request.method in SAFE:
        return None
    origin, referer = request.headers.get("origin"), request.headers.get("referer")
    ours = f"{answers.scheme}://{host}".lower()
    if origin is not None and origin.lower() != ours:
        return "This request comes from another site."
    if origin is None and referer is not None and _site_of(referer) != ours:
        return "This request comes from another site."
    if request.headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
        return "This request comes from another site."
    return None


def _site_of(referer: str) -> str:
    try:
        parts = urlsplit(referer)
    except ValueError:
        return ""
    return f"{parts.scheme}://{parts.netloc}".lower()


class TooLarge(Exception):
    """A request's body is larger than is taken in."""


class CountedBody:
    """Counts a request's body as it arrives, whatever its header says, and refuses what is too large."""

    def __init__(self, app: ASGIApp, most_bytes: int = MOST_BYTES) -> None:
        self.app = app
        self.most_bytes = most_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on with its body counted."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most_bytes = max(self.most_bytes, LARGEST_BYTES) if scope["path"].startswith(LARGE) else self.most_bytes
        most_bytes = BACKUP_BYTES if scope["path"] in BACKUP else most_bytes
        taken, begun = 0, False

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > most_bytes:
                raise TooLarge
            return message

        async def answered(message: Message) -> None:
            # What reads the body may take the error for its own and answer that the body is broken: this answer goes before it.
            nonlocal begun
            if begun or taken <= most_bytes:
                begun = True
                await send(message)

        with suppress(TooLarge):
            await self.app(scope, counted, answered)
        if taken > most_bytes and not begun:
            refused = PlainTextResponse("That is too large to be taken in.", 413, headers=HEADERS)
            await refused(scope, receive, send)


class Guard:
    """Refuses what `refusal` names; puts the headers on everything else.

    Written on the bare interface: a framework's middleware would hide from the work behind it that the caller went away.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Check, pass on, add headers."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        request = Request(scope, receive)

        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                _add_headers(request, MutableHeaders(scope=message))
            await send(message)

        why = refusal(request)
        response = PlainTextResponse(why, 403) if why else await run_in_threadpool(kept_out, request)
        if response is not None:
            await response(scope, receive, with_headers)
            return
        found = getattr(request.state, "session", None)
        asker.set(found.digest if found else request.client.host if request.client else "")
        await self.app(scope, receive, with_headers)


def _add_headers(request: Request, headers: MutableHeaders) -> None:
    if request.app.state.answers.secure:
        headers.setdefault("Strict-Transport-Security", "max-age=31536000")
    for name, value in HEADERS.items():
        headers.setdefault(name, value)
    static = request.url.path.startswith("/static/")
    headers.setdefault("Cache-Control", "max-age=3600" if static else "no-store")
