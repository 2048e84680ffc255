"""Who is let in where the passphrase is asked for: the household's devices everywhere, a guest to one make, to look at it."""

import re
import sqlite3
from datetime import datetime
from urllib.parse import quote

from fastapi import Request, Response
from fastapi.responses import JSONResponse, RedirectResponse

from rowanseed.store import access, db
from rowanseed.store.access import Session

OPEN = ("/login", "/static/", "/guest/", "/manifest.webmanifest", "/worker.js", "/certificate")
LOOKING = frozenset({"GET", "HEAD"})
LOCAL = re.compile(r"^/(?![/\\])[^\x00-\x1f\\]*$")


def cookie_name(request: Request) -> str:
    """The session cookie's name; over TLS one that no other host or path can set."""
    return "__Host-rowanseed" if request.app.state.answers.secure else "rowanseed"


def device_cookie_name(request: Request) -> str:
    """The name of the cookie by which a device that was in once is known again; it lets nobody in."""
    return f"{cookie_name(request)}-device"


def session_of(request: Request) -> Session | None:
    """The session that a request shows; None where it shows none that holds."""
    cookie = request.cookies.get(cookie_name(request), "")
    if not cookie:
        return None
    with request.app.state.connections.lent() as conn:
        return access.session(conn, cookie, datetime.now())


def kept_out(request: Request) -> Response | None:
    """The answer to who may not come in; None for who may. What is found stands in the request's state as `session`."""
    request.state.session = None
    path = request.url.path
    if not request.app.state.answers.locked or path.startswith(OPEN):
        return None
    found = session_of(request)
    request.state.session = found
    if found is None:
        if path.startswith("/api/"):
            return JSONResponse({"detail": [{"loc": ["header"], "msg": "Log in first.", "type": "locked"}]}, 401)
        after = f"{path}?{request.url.query}" if request.method in LOOKING and request.url.query else path
        return RedirectResponse(f"/login?after={quote(after if request.method in LOOKING else '/')}", 303)
    if found.guest is not None and not _may_look(request, found.guest):
        return JSONResponse(
            {"detail": [{"loc": ["path"], "msg": "A guest sees one make and changes nothing.", "type": "guest"}]}, 403
        )
    return None


def _may_look(request: Request, guest_id: int) -> bool:
    path = request.url.path
    if path == "/logout":
        return True
    if request.method not in LOOKING:
        return False
    if path.startswith("/photos/"):
        return True
    try:
        with request.app.state.connections.lent() as conn:
            make = access.guest_by_id(conn, guest_id).make_id
    except (db.NotFound, sqlite3.Error):
        return False
    return path == f"/makes/{make}" or path.startswith(f"/makes/{make}/")


def local(after: str) -> str:
    """A path of our own to go on to, or the first page.

    >>> local("/makes/3/lay?x=1"), local("//evil.example"), local("https://evil.example")
    ('/makes/3/lay?x=1', '/', '/')
    """
    return after if LOCAL.match(after) else "/"
