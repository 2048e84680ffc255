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
