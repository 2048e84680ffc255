"""Decimals written with a comma, where a household writes them so: everywhere one reads or types them, and nowhere else."""

import doctest
import re
import shutil
from contextlib import closing
from dataclasses import replace

import pytest
from fastapi.testclient import TestClient

from rowanseed.store import db
from rowanseed.store.settings import put_settings, settings
from rowanseed.web import create_app, decimals
from rowanseed.web.decimals import with_commas, with_inches_first
from tests.web.test_forms_crawled import Forms

PAGES = ("/", "/people/1", "/patterns/1", "/makes/1/fit", "/makes/1/lay", "/makes/1/cut", "/makes/2/sew", "/makes/1/wear",
         "/cloths", "/bench", "/settings", "/settings/eases", "/words", "/guide/first-make")  # fmt: skip


@pytest.fixture(scope="module")
def http(demo_file, tmp_path_factory):
    own = shutil.copy(demo_file, tmp_path_factory.mktemp("commas") / "demo.db")
    with closing(db.connect(own)) as conn, db.write(conn):
        put_settings(conn, replace(settings(conn), decimal=","))
    with TestClient(create_app(own, warm=False), base_url="http://127.0.0.1") as client:
        yield client


def test_the_example_of_the_module_holds():
    assert doctest.testmod(decimals).failed == 0


@pytest.mark.parametrize(
    ("html", "shown"),
    [
        ("<p>12.5 to 14.25 cm, € 19.37</p>", "<p>12,5 to 14,25 cm, € 19,37</p>"),
        ("<svg viewBox='0 0 1.5 2'><path d='M1.5 2.5'/><text x='1.5'>9.7 cm</text></svg>",
         "<svg viewBox='0 0 1.5 2'><path d='M1.5 2.5'/><text x='1.5'>9,7 cm</text></svg>"),
        ('<a href="/x?by=1.5">127.0.0.1:8765</a> 2026.11.26 1.2.3', '<a href="/x?by=1.5">127.0.0.1:8765</a> 2026.11.26 1.2.3'),
        ('<input name="by" value="1.5 cm" data-mm="15.5"><option value="1.5">1.5</option>',
         '<input name="by" value="1,5 cm" data-mm="15.5"><option value="1.5">1,5</option>'),
        ('<code>{"mm": 1.5}</code> <pre>1.5 <b>2.5</b></pre> 3.5', '<code>{"mm": 1.5}</code> <pre>1.5 <b>2.5</b></pre> 3,5'),
    ],
)  # fmt: skip
def test_what_is_read_or_typed_has_commas_and_data_has_not(html, shown):
    assert with_commas(html) == shown


@pytest.mark.parametrize("path", PAGES)
def test_no_length_is_left_with_a_point_on_any_page(http, path):
    answer = http.get(path, headers={"Accept-Encoding": "identity"})
    assert answer.status_code == 200 and int(answer.headers["content-length"]) == len(answer.content)
    told = re.sub(r"<(pre|code|script|style).*?</\1>|<[^>]+>", " ", answer.text, flags=re.S)
    assert not re.findall(r"\d\.\d+ (?:cm|mm|m|in|yd)\b", told)


def test_what_stands_in_a_field_is_understood_as_it_was(http):
    page = http.get("/settings").text
    forms = Forms("/settings")
    forms.feed(page)
    action, names = next((a, n) for a, n in forms.forms if "straighten" in n)
    assert "," in names["straighten"] or names["straighten"] == "5 cm"
    sent = {k: v for k, v in names.items() if v} | {"straighten": "2,5 cm", "decimal": ","}
    assert http.post(action, data=sent, headers={"Origin": "http://127.0.0.1"}).status_code == 200
    assert 'value="2,5 cm"' in http.get("/settings").text


@pytest.mark.parametrize(
    ("html", "shown"),
    [
        ("<p>needs 110 cm (43 1/4 in); gives 92 cm (36 1/4 in)</p>", "<p>needs 43 1/4 in (110 cm); gives 36 1/4 in (92 cm)</p>"),
        ("<p>2.3 m (2 1/2 yd), 6 mm (1/4 in), minus 4 cm (1 5/8 in)</p>",
         "<p>2 1/2 yd (2.3 m), 1/4 in (6 mm), minus 1 5/8 in (4 cm)</p>"),
        ("<b>38 in (96.5 cm)</b> 1.5 cm, size 12 (3 in)", "<b>38 in (96.5 cm)</b> 1.5 cm, size 12 (3 in)"),
        ("<textarea>2 cm (3/4 in)</textarea><input value='2 cm (3/4 in)'>",
         "<textarea>2 cm (3/4 in)</textarea><input value='2 cm (3/4 in)'>"),
        ('<a title="2 cm (3/4 in)">x</a><pre>2 cm (3/4 in)</pre>', '<a title="3/4 in (2 cm)">x</a><pre>2 cm (3/4 in)</pre>'),
    ],
)  # fmt: skip
def test_inches_stand_first_where_both_are_told_and_nothing_that_is_typed_changes(html, shown):
    assert with_inches_first(html) == shown


@pytest.fixture(scope="module")
def in_inches(demo_file, tmp_path_factory):
    own = shutil.copy(demo_file, tmp_path_factory.mktemp("inches") / "demo.db")
    with closing(db.connect(own)) as conn, db.write(conn):
        put_settings(conn, replace(settings(conn), unit="in", step="1/8 yd"))
    with TestClient(create_app(own, warm=False), base_url="http://127.0.0.1") as client:
        yield client


@pytest.mark.parametrize(
    "path",
    ["/people/1", "/makes/1/fit", "/makes/3/lay", "/makes/2/cut", "/makes/2/sew", "/makes/4/fit", "/makes/1/wear"],
)
def test_a_household_of_inches_reads_inches_first_on_every_page(in_inches, path):
    page = in_inches.get(path).text
    text = re.sub(r"<(script|style|textarea)\b.*?</\1>|<[^>]+>", " ", page, flags=re.DOTALL)
    assert re.search(r"\d in \(\d", text), "both units are told on this page"
    assert not re.search(r"\d (?:cm|mm|m) \(\d[^)]* (?:in|yd)\)", text)
