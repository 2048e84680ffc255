"""Two windows: every form and button carries the state of what it changes; the second that sends the same page is told."""

import re
import threading
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import pytest
from jinja2 import Environment

from rowanseed.store import db
from rowanseed.web.deps import templates
from rowanseed.web.shown import FIELD, FREE, HEADER, Carried, Subject, state_of, subject_of
from tests.web.test_forms_crawled import Forms, every_post, filled


def test_a_template_cannot_leave_it_out():
    env = Environment(autoescape=True)
    env.add_extension(Carried)
    env.filters["shown_by_form"] = lambda action: f"[field {action}]"
    env.filters["shown_by_button"] = lambda action: f" [header {action}]"

    def drawn(source, **values):
        return env.from_string(source).render(**values)

    assert drawn('<form method="post" action="/makes/{{ n }}/x">', n=3).endswith(">[field /makes/3/x]")
    assert drawn('<form\n class="{{ "a>b" if n > 2 }}" method="post">', n=3).endswith(">[field ]")
    assert (
        drawn('<button hx-post="{{ to }}" class="b">', to="/makes/1/y")
        == '<button hx-post="/makes/1/y" class="b" [header /makes/1/y]>'
    )
    assert drawn('<form method="get" action="/find">') == '<form method="get" action="/find">'
    sources = {p: p.read_text() for p in (templates.env.loader and _templates())}
    written = sum(len(re.findall(r"<form\b", text)) for text in sources.values())
    found = sum(text.count("shown_by_form") for text in map(_compiled, sources.values()))
    gets = sum(len(re.findall(r"<form\b(?![^>]*method=\"post\")", text)) for text in sources.values())
    assert found > 110 and written - gets <= found


def _templates():
    from rowanseed.web.deps import HERE

    return sorted((HERE / "templates").rglob("*.html"))


def _compiled(text):
    return Carried(Environment()).preprocess(text, None)


def test_what_an_address_changes_and_what_is_free():
    assert subject_of("/makes/3/fit/size?x=1") == Subject("make", 3)
    assert subject_of("/patterns/intake/4/keep") == Subject("intake", 4)
    assert subject_of("/patterns/4/pieces/2%20b/facts") == Subject("pattern", 4)
    assert subject_of("/keep/cloth/7/rename") == Subject("cloth", 7)
    assert subject_of("/settings") == Subject("setting", 0)
    for new in ("/people/new", "/cloths/new", "/makes/new", "/supplies", "/lengths/echo", "/bench/pleats"):
        assert subject_of(new) is None
    for free in (
        "/makes/3/sew/tick",
        "/makes/3/cut/tick",
        "/makes/3/wear/note",
        "/makes/3/lay/start",
        "/makes/3/lay/stop/4",
    ):
        assert FREE.search(free) and subject_of(free) is None


@pytest.mark.parametrize(
    ("url", "action", "typed"),
    [
        ("/makes/1/wear", "/makes/1/wear/paid", {"paid-cloth": "12"}),
        ("/makes/1/sew/evenings", "/makes/1/sew/evenings", {"evenings": "2026-12-02 90"}),
        ("/makes/1/cloth", "/makes/1/cloth/figures", {"buttons": "7"}),
        ("/settings", "/settings", {"unit": "in"}),
    ],
)
def test_what_another_window_saved_is_not_overwritten(client, url, action, typed):
    page = Forms(url)
    page.feed(client.get(url).text)
    names = next(dict(n) for a, n in page.forms if a == action and FIELD in n)
    with closing(db.connect(client.app.state.database)) as conn:
        about = subject_of(action)
        assert names[FIELD] == state_of(conn, about)
        with db.write(conn):
            if about.table == "make":
                conn.execute("update make set version = version + 1 where id = 1")
            else:
                conn.execute("insert or replace into setting (key, value) values ('household', '{\"unit\": \"in\"}')")
    answer = client.post(action, data={**names, **typed})
    assert answer.status_code == 409 and "Nothing was overwritten" in answer.text
    again = Forms(url)
    again.feed(answer.text)
    assert any(FIELD in n and n[FIELD] != names[FIELD] for _, n in again.forms)  # sent again, it is meant


def test_of_forms_sent_at_once_from_the_same_page_one_is_kept(client):
    page = Forms("/makes/1/wear")
    page.feed(client.get("/makes/1/wear").text)
    action, names = next((a, dict(n)) for a, n in page.forms if a.endswith("/wear/finish"))
    names.pop("version", None)
    together = threading.Barrier(6)

    def send(n):
        together.wait()
        return client.post(action, data=names, follow_redirects=False).status_code

    with ThreadPoolExecutor(6) as pool:
        said = sorted(pool.map(send, range(6)))
    assert said.count(409) == 5, said


def test_a_part_drawn_anew_says_how_the_thing_stands_now(client):
    steps = re.findall(r'data-step="([^"]+)"', client.get("/makes/1/sew").text)
    sent = re.search(
        r'hx-post="/makes/1/sew/move"[^>]*hx-headers=\'\{"X-Shown": "([^"]+)"', client.get("/makes/1/sew").text
    )[1]
    moved = {"step": steps[3], "before": steps[2]}
    answer = client.post("/makes/1/sew/move", data=moved, headers={"HX-Request": "true", HEADER: sent})
    assert answer.status_code == 200 and answer.headers[HEADER] != sent
    stale = client.post("/makes/1/sew/move", data=moved, headers={"HX-Request": "true", HEADER: sent})
    assert stale.status_code == 409
    fresh = client.post("/makes/1/sew/move", data=moved, headers={"HX-Request": "true", HEADER: answer.headers[HEADER]})
    assert fresh.status_code == 200


def test_every_route_that_writes_is_about_a_thing_makes_one_or_is_free():
    """A route that is added later has to be sorted in: it changes a thing, or it is named here with what it does."""
    makes_or_looks = {
        "/makes/new", "/people/new", "/cloths/new", "/patterns/new", "/supplies", "/shops", "/lengths/echo", "/people/figure",
        "/cloths/sett", "/patterns/echo", "/patterns/echo/printed",
        "/understood/{field}", "/patterns/intake", "/patterns/trace", "/login", "/logout", "/shopping/tick",
            "/shopping/new", "/patterns/import", "/which-size/keep", "/patterns/echo/table", "/could/work", "/could/stop",
    }  # fmt: skip
    starts = ("/bench/", "/settings/access", "/settings/backups", "/guest/", "/find")
    unsorted = {
        r.path for r in every_post()
        if subject_of(filled(r.path)) is None and not FREE.search(filled(r.path)) and r.path not in makes_or_looks
        and not r.path.startswith(starts)
    }  # fmt: skip
    assert not unsorted
