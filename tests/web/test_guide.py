"""The guide and the words: every chapter opens, every link in it leads somewhere, every picture is there."""

import re

import pytest

from rowanseed.formats.words import words
from rowanseed.web.rooms.guide import CHAPTERS


@pytest.mark.parametrize("chapter", [key for key, _ in CHAPTERS])
def test_a_chapter_opens_and_its_links_and_pictures_are_there(client, chapter):
    page = client.get(f"/guide/{chapter}")
    assert page.status_code == 200 and "<h1>" in page.text
    for url in re.findall(r'(?:href|src)="(/[^"#]*)"', page.text):
        assert client.get(url).status_code == 200, url


def test_the_guide_and_the_words_are_reached_from_every_page_and_what_is_not_there_is_a_404(client):
    foot = client.get("/").text
    assert 'href="/guide"' in foot and 'href="/words"' in foot
    assert client.get("/guide/nothing").status_code == 404
    assert client.get("/guide/pictures/..%2Farchitecture.md").status_code == 404


def test_a_word_on_a_page_leads_to_its_place(client):
    keys = {w.key for w in words()}
    found = set()
    for url in ("/cloths/new", "/makes/2/fit", "/people/new", "/patterns/new", "/makes/2/lay"):
        found |= set(re.findall(r'href="/words#([^"]+)"', client.get(url).text))
    assert found <= keys and {"nap", "ease", "selvage", "high-bust"} <= found


PAGES = (
    "/", "/cloths", "/cloths/1", "/patterns", "/patterns/1", "/patterns/1/seams", "/patterns/1/derive", "/patterns/1/yardage",
    "/patterns/1/views/A", "/makes/4/fit", "/makes/4/cloth", "/makes/4/lay", "/makes/4/cut", "/makes/4/paper", "/shopping",
)  # fmt: skip


@pytest.mark.parametrize("path", PAGES)
def test_one_name_for_the_main_cloth(client, path):
    """What the data calls `self` or `main` is the main cloth on every page."""
    text = re.sub(r"<(script|style).*?</\1>|<[^>]+>", " ", client.get(path).text, flags=re.DOTALL)
    assert not re.search(r"\bself\b|\bmain\b(?!\s+cloth)", text), re.findall(r".{30}\b(?:self|main)\b.{20}", text)
