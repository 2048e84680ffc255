"""Finding things by their words: what is found, in which order, and what is said of a search that is not understood."""

import random
from datetime import date

import pytest

from rowanseed.demo.load import load_demo
from rowanseed.store import db, keeping, makes
from rowanseed.store.search import last_used, search
from tests.store.test_keeping import NOW


@pytest.fixture(scope="module")
def conn(tmp_path_factory):
    made = db.connect(tmp_path_factory.mktemp("find") / "demo.db")
    db.migrate(made)
    load_demo(made, date(2026, 11, 24), "quick")
    made.execute(
        "insert into supply (name, kind, facts) values ('Fil à gant, écru', 'thread', '{\"note\": \"for gloves\"}')"
    )
    yield made
    made.close()


def titles(conn, typed, **more):
    return [hit.title for hit in search(conn, typed, **more).hits]


def test_a_thing_is_found_by_the_beginning_of_any_of_its_words_in_any_order(conn):
    assert "Oat canvas" in titles(conn, "canv") and "Oat canvas" in titles(conn, "canvas oat linen")
    assert titles(conn, "canvas velvet") == [] and "Fil à gant, écru" in titles(conn, "ecru")  # accents do not matter
    assert titles(conn, '"oat canvas"') == ["Oat canvas"] and titles(conn, '"canvas oat"') == []
    every = set(titles(conn, "linen"))
    assert set(titles(conn, "linen -canvas")) == {t for t in every if "anvas" not in t} != every


def test_it_is_narrowed_by_kind_and_put_in_order(conn):
    assert {hit.kind for hit in search(conn, "overshirt").hits} >= {"make", "pattern"}
    assert {hit.kind for hit in search(conn, "overshirt kind:patterns").hits} == {"pattern"}
    by_name = titles(conn, "", kind="cloth", sort="name")
    assert by_name == sorted(by_name, key=str.lower) and len(by_name) == 7
    assert search(conn, "kind:note").hits[0].url.endswith("/wear")


def test_what_is_not_understood_is_said_with_what_is(conn):
    found = search(conn, "colour:blue overshirt")
    assert found.hits and "kind:cloth" in found.not_understood[0]
    assert (
        "no letter" in search(conn, "***").not_understood[0]
        and "say also what must" in search(conn, "-wool").not_understood[-1]
    )


def test_what_changes_is_found_anew_and_what_is_gone_is_not(conn):
    conn.execute("begin")
    try:
        keeping.rename(conn, keeping.KINDS["cloth"], 1, "Quilted zephyr")
        assert titles(conn, "zephyr") == ["Quilted zephyr"]
        new = keeping.copy(conn, keeping.KINDS["cloth"], 1, "Second zephyr")
        gone = keeping.delete(conn, keeping.KINDS["cloth"], new, NOW)
        assert titles(conn, "zephyr") == ["Quilted zephyr"]
        keeping.take_back(conn, gone)
        assert set(titles(conn, "zephyr")) == {"Quilted zephyr", "Second zephyr"}
        keeping.put_away(conn, keeping.KINDS["cloth"], new, NOW)
        assert [hit.away for hit in search(conn, "second zephyr").hits] == [True]
        conn.execute("update thing set used_at = '2000-01-01'")
        makes.put_cloth(conn, 1, "contrast", new)
        assert max(last_used(conn, "cloth"), key=lambda ref: last_used(conn, "cloth")[ref]) == new
        assert titles(conn, "zephyr", sort="used")[0] == "Second zephyr"
    finally:
        conn.execute("rollback")


def test_no_search_is_an_error_whatever_is_typed(conn):
    rng = random.Random(2)
    parts = [
        '"',
        "-",
        "*",
        "(",
        ")",
        "AND",
        "OR",
        "NOT",
        "NEAR",
        "^",
        ":",
        "kind:",
        "a",
        "é",
        "\x00",
        "'",
        ";",
        "{",
        "title:",
        "  ",
        "9",
    ]
    for _ in range(500):
        typed = "".join(rng.choice(parts) + rng.choice(("", " ")) for _ in range(rng.randrange(12)))
        search(conn, typed)
    search(conn, "x" * 100_000)
