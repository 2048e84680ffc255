"""A body that no size fits, from its measures to printed pages and a lay: each page does what the one before it leaves."""

import html
import io
import re
from datetime import date

import pypdfium2 as pdfium
import pytest

from tests.web.waiting import settled

# A full bust, a sway back and long arms; the demo's overshirt is drawn for a cup of 2 in.
BODY = {
    "bust": "108 cm", "high_bust": "96 cm", "waist": "88 cm", "hip": "108 cm", "back_waist": "41 cm", "arm_length": "63 cm",
    "upper_arm": "32 cm", "posture-sway-back": "on",
}  # fmt: skip


def hidden(form):
    return {name: html.unescape(value) for name, value in re.findall(r'name="([\w-]+)" value="([^"]*)"', form)}


def asked(client, make):
    """The forms by which measures and posture ask for alterations, in their order."""
    page = client.get(f"{make}/fit").text
    sections = re.findall(r'<section id="(?:measures|posture)-ask.*?</section>', page, re.S)
    return [hidden(form) for section in sections for form in re.findall(r"<form.*?</form>", section, re.S)]


@pytest.fixture
def make(client):
    """A make of the overshirt for that body, its size taken as advised."""
    person = {"name": "Runa Feldt", "taken_on": date.today().isoformat(), **BODY}
    number = re.search(r"/people/(\d+)", str(client.post("/people/new", data=person).url))[1]
    begun = client.post("/makes/new", data={"name": "For Runa", "pattern_view": "1|A", "people": number})
    url = re.search(r"/makes/\d+", str(begun.url))[0]
    page = client.get(f"{url}/fit").text
    assert "Size 16" in page and "Enlarge the bust on the pattern by 6.9 cm" in page
    form = re.search(r"<form[^>]*fit/size.*?</form>", page, re.S)[0]
    assert client.post(f"{url}/fit/size", data=hidden(form) | {"size": "16"}).status_code == 200
    return url


def test_a_full_bust_a_sway_back_and_long_arms_reach_paper_and_lay(client, make):
    made = []
    while wanted := asked(client, make):
        assert len(made) < 8, "it goes on asking"
        made.append(wanted[0]["kind"])
        assert client.post(f"{make}/fit/alter", data=wanted[0]).status_code == 200
    # The bust with a dart, taken in again at waist and hip, the sleeve longer, the sway back.
    assert made == ["bust", "taper", "taper", "length", "sway-back"]
    page = client.get(f"{make}/fit").text
    assert "on Marit Lindqvale, another body, so look before you take it over" in page
    assert "no longer meet" not in page and "not made" not in page
    query = "?paper=a3&piece=1&piece=3&piece=4"
    told = settled(client, f"{make}/paper{query}", ("Packing the pieces", "Trying a sheet"))
    assert "Spread the long cut by 3.5 cm" in told and "Sway back" in told and 'class="old"' in told
    pages = int(re.search(r"(\d+) pages of A3", told)[1])
    document = pdfium.PdfDocument(io.BytesIO(client.get(f"{make}/paper/pieces.pdf{query}").content))
    words = "".join(p.get_textpage().get_text_bounded() for p in document)
    assert len(document) > pages and "as printed" in words and "dart" in words and "3 Front" in words
    form = re.search(r'<form(?:(?!</form>).)*id="cloth-self".*?</form>', client.get(f"{make}/cloth").text, re.S)[0]
    cloth = re.search(r'<option\s+value="(\d+)"', form)[1]
    assert client.post(f"{make}/cloth", data=hidden(form) | {"cloth": cloth}).status_code == 200
    page = client.get(f"{make}/lay").text
    form = next(f for f in re.findall(r"<form.*?</form>", page, re.S) if "Lay the pieces" in f)
    action = re.search(r'action="([^"]+)"', form)
    assert client.post(action[1] if action else f"{make}/lay", data=hidden(form)).status_code == 200
    laid = settled(client, f"{make}/lay", ("Laying", "Waiting"))
    assert "The same as a table" in laid and re.search(r"Enough: it leaves|is missing|too short|short by", laid)
