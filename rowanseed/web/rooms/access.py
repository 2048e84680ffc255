"""Logging in and out, the devices that are in, the passphrase, links for guests; the tablet's manifest."""

import time
from datetime import datetime
from typing import TYPE_CHECKING, Annotated

from fastapi import APIRouter, HTTPException, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse

from rowanseed.lazily import lazily
from rowanseed.store import access, db, makes
from rowanseed.store.access import PassphraseError
from rowanseed.web.certificate import Certificate
from rowanseed.web.deps import HERE, Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.gate import cookie_name, device_cookie_name, local

if TYPE_CHECKING:
    import segno
else:
    segno = lazily("segno")

router = APIRouter(include_in_schema=False)
MANIFEST: dict[str, object] = {
    "name": "Rowanseed",
    "short_name": "Rowanseed",
    "start_url": "/",
    "display": "standalone",
    "background_color": "#FBF6EE",
    "theme_color": "#2B2622",
    "icons": [
        {"src": "/static/rowan.svg", "sizes": "any", "type": "image/svg+xml"},
        {"src": "/static/rowan-192.png", "sizes": "192x192", "type": "image/png"},
        {"src": "/static/rowan-512.png", "sizes": "512x512", "type": "image/png", "purpose": "any maskable"},
    ],
}
SYSTEMS = ("iPad", "iPhone", "Android", "Windows", "Macintosh", "CrOS", "Linux")
BROWSERS = (("Firefox/", "Firefox"), ("Edg/", "Edge"), ("Chrome/", "Chrome"), ("Safari/", "Safari"))


@router.get("/manifest.webmanifest", name="manifest")
def manifest() -> dict[str, object]:
    """What a tablet needs to keep the application among its own."""
    return MANIFEST


@router.get("/worker.js", name="worker")
def worker() -> Response:
    """The script that keeps the pages of a make readable without a connection; from the root, so that it may see them."""
    return FileResponse(
        HERE / "static" / "worker.js", media_type="text/javascript", headers={"Cache-Control": "no-cache"}
    )


@router.get("/certificate", name="certificate")
def certificate(request: Request) -> Response:
    """The household's authority, for a device that is to trust it; nothing in it is secret."""
    own: Certificate | None = request.app.state.authority
    if own is None:
        raise HTTPException(404, "This application shows no certificate of its own.")
    headers = {"Content-Disposition": 'attachment; filename="rowanseed-household.crt"'}
    return Response(own.authority.read_bytes(), media_type="application/x-x509-ca-cert", headers=headers)


@router.get("/login", name="login")
def login_page(request: Request, home: Home, after: Annotated[str, Query()] = "/") -> Response:
    """Ask for the passphrase."""
    return page(request, home, "access/login.html", {"form": Form({"after": local(after)}, home.unit)})


@router.post("/login")
async def login(request: Request, home: Home) -> Response:
    """Let a device in that knows the passphrase; each failed attempt makes the next wait longer."""
    form = await read_form(request, home.unit)
    who = _who(request, home)
    with db.write(home.conn):  # counted before the slow look at it, so that many at once are not all looked at
        wait = access.attempt(home.conn, who, time.time())
    if wait > 0:
        form.errors["passphrase"] = f"Too many attempts. Wait {_span(wait)} and try again."
        answer = page(request, home, "access/login.html", {"form": form}, 429)
        answer.headers["Retry-After"] = str(int(wait) + 1)
        return answer
    right = await run_in_threadpool(access.is_passphrase, home.conn, form.typed.get("passphrase", ""))
    if not right:
        form.errors["passphrase"] = "That is not the passphrase."
        return page(request, home, "access/login.html", {"form": form}, 401)
    with db.write(home.conn):
        access.forgiven(home.conn, who)
        cookie = access.begin_session(home.conn, device_of(request), datetime.now())
        device = access.new_device(home.conn)
    answer = _with_cookie(request, see_other(request, local(form.typed.get("after", "/"))), cookie)
    return _with_cookie(request, answer, device, device_cookie_name(request), DEVICE_DAYS)


DEVICE_DAYS = 365


def _who(request: Request, home: Household) -> str:
    """For whom an attempt is counted: a device that was in before, else the address that it comes from."""
    device = access.known_device(home.conn, request.cookies.get(device_cookie_name(request), ""))
    return device or (request.client.host if request.client else "")


def _span(seconds: float) -> str:
    return f"{int(seconds) + 1} seconds" if seconds < 100 else f"{round(seconds / 60)} minutes"


def _with_cookie(
    request: Request, answer: Response, cookie: str, name: str = "", days: int = access.SESSION_DAYS
) -> Response:
    secure = request.app.state.answers.secure
    answer.set_cookie(
        name or cookie_name(request),
        cookie,
        max_age=days * 86400,
        httponly=True,
        samesite="strict",
        secure=secure,
    )
    return answer


def device_of(request: Request) -> str:
    """A device in a few words, from what its browser says of itself."""
    said = request.headers.get("user-agent", "")
    system = next((name for name in SYSTEMS if name in said), "")
    browser = next((name for mark, name in BROWSERS if mark in said), "")
    return f"{browser} on {system}" if browser and system else browser or system or said[:60] or "a device"


@router.post("/logout", name="logout")
async def logout(request: Request, home: Home) -> Response:
    """Log this device out."""
    await read_form(request)
    if request.state.session is not None:
        with db.write(home.conn):
            access.end_session(home.conn, request.state.session.digest)
    answer = see_other(request, "/login")
    answer.delete_cookie(
        cookie_name(request), secure=request.app.state.answers.secure, httponly=True, samesite="strict"
    )
    return answer


@router.get("/settings/access", name="access")
def show(request: Request, home: Home) -> Response:
    """Addresses, passphrase, devices and guests."""
    return _page(request, home, Form({}, home.unit))


@router.post("/settings/access/passphrase", name="access_passphrase")
async def change_passphrase(request: Request, home: Home) -> Response:
    """Set or change the passphrase: all other devices are logged out."""
    form = await read_form(request, home.unit)
    new, again = form.typed.get("new", ""), form.typed.get("again", "")
    if access.has_passphrase(home.conn) and not await _knows(request, home, form):
        return _page(request, home, form, 422)
    if new != again:
        form.errors["again"] = "The two are not the same."
        return _page(request, home, form, 422)
    try:
        with db.write(home.conn):
            access.set_passphrase(home.conn, new)
            cookie = access.begin_session(home.conn, device_of(request), datetime.now())
    except PassphraseError as error:
        form.errors["new"] = str(error)
        return _page(request, home, form, 422)
    return _with_cookie(request, see_other(request, "/settings/access"), cookie)


async def _knows(request: Request, home: Household, form: Form) -> bool:
    """Whether the passphrase of now was typed; attempts count as those at the door do."""
    who = _who(request, home)
    with db.write(home.conn):
        wait = access.attempt(home.conn, who, time.time())
    if wait > 0:
        form.errors["now"] = f"Too many attempts. Wait {_span(wait)} and try again."
        return False
    if await run_in_threadpool(access.is_passphrase, home.conn, form.typed.get("now", "")):
        with db.write(home.conn):
            access.forgiven(home.conn, who)
        return True
    form.errors["now"] = "That is not the passphrase of now."
    return False


@router.post("/settings/access/end", name="access_end")
async def end(request: Request, home: Home) -> Response:
    """Log one device out, or all but this one."""
    form = await read_form(request)
    own = request.state.session.digest if request.state.session else ""
    with db.write(home.conn):
        if form.flag("all"):
            access.end_all(home.conn, own)
        else:
            access.end_session(home.conn, form.typed.get("session", ""))
    return see_other(request, "/settings/access")


@router.post("/settings/access/guests", name="access_guest")
async def invite(request: Request, home: Home) -> Response:
    """A link by which someone sees one make; it is shown once."""
    form = await read_form(request, home.unit)
    name = form.text("guest", "A name", 60)
    chosen = form.choice("make", tuple(str(m.id) for m in makes.makes(home.conn)))
    if not form.sound:
        return _page(request, home, form, 422)
    with db.write(home.conn):
        token = access.add_guest(home.conn, name, int(chosen), datetime.now())
    return _page(request, home, Form({}, home.unit), link=f"{_address(request)}guest/{token}")


@router.post("/settings/access/guests/{guest_id}/withdraw", name="access_withdraw")
async def withdraw(request: Request, home: Home, guest_id: int) -> Response:
    """Withdraw a guest's link."""
    await read_form(request)
    with db.write(home.conn):
        access.withdraw(home.conn, guest_id)
    return see_other(request, "/settings/access")


@router.get("/guest/{token}", name="guest")
def guest_page(request: Request, home: Home, token: str) -> Response:
    """Where a guest's link leads: a page with one button, so that the cookie is set from a page of ours."""
    found = access.guest(home.conn, token)
    return page(request, home, "access/guest.html", {"guest": found, "make": makes.make(home.conn, found.make_id)})


@router.post("/guest/{token}")
async def guest_in(request: Request, home: Home, token: str) -> Response:
    """Let a guest in, to look at one make."""
    await read_form(request)
    found = access.guest(home.conn, token)
    if not request.app.state.answers.locked:
        return see_other(request, f"/makes/{found.make_id}/lay")
    with db.write(home.conn):
        cookie = access.begin_session(home.conn, device_of(request), datetime.now(), found.id)
    return _with_cookie(request, see_other(request, f"/makes/{found.make_id}/lay"), cookie)


def _address(request: Request) -> str:
    shown: tuple[str, ...] = request.app.state.answers.shown
    return shown[0] if shown else str(request.base_url)


def _page(request: Request, home: Household, form: Form, status: int = 200, link: str = "") -> Response:
    answers = request.app.state.answers
    shown = answers.shown or (str(request.base_url),)
    context = {
        "form": form,
        "answers": answers,
        "addresses": [(url, _code(url)) for url in shown] if answers.locked else [],
        "has_passphrase": access.has_passphrase(home.conn),
        "devices": access.sessions(home.conn),
        "own": request.state.session.digest if request.state.session else "",
        "guests": access.guests(home.conn),
        "makes": makes.makes(home.conn),
        "link": link,
        "link_code": _code(link) if link else "",
    }
    return page(request, home, "access/show.html", context, status)


def _code(url: str) -> str:
    """A QR code of an address, as SVG (ISO/IEC 18004, by a library)."""
    return str(segno.make(url, error="m").svg_inline(scale=4, border=2))
