"""The pieces on paper, as a user reaches them: packed, printed, only what changed, errors beside their fields."""

import io
import re
import shutil

import ezdxf
import pypdfium2 as pdfium
import pytest
from fastapi.testclient import TestClient
from shapely import Polygon

from rowanseed.web import create_app
from tests.web.waiting import settled

HOME = {"Origin": "http://127.0.0.1"}


@pytest.fixture(scope="module")
def http(demo_file, tmp_path_factory):
    own = shutil.copy(demo_file, tmp_path_factory.mktemp("paper") / "demo.db")
    with TestClient(create_app(own, warm=False), base_url="http://127.0.0.1") as client:
        yield client


def packed(http, query, make=3):
    """The page, once the pieces are packed."""
    return settled(http, f"/makes/{make}/paper{query}", ("Packing the pieces", "Trying a sheet"))


def test_pieces_are_packed_and_printed_at_full_size(http):
    text = packed(http, "?paper=a4&piece=1&piece=2")
    pages = int(re.search(r"(\d+) pages of A4", text)[1])
    pdf = http.get("/makes/3/paper/pieces.pdf?paper=a4&piece=1&piece=2")
    assert pdf.headers["content-type"] == "application/pdf" and len(pdfium.PdfDocument(pdf.content)) == pages + 1
    space = ezdxf.read(io.StringIO(http.get("/makes/3/paper/pieces.dxf?paper=a4&piece=1&piece=2").text)).modelspace()
    cut = [Polygon([p[:2] for p in e.get_points()]) for e in space if e.dxf.layer == "CUT"]
    assert len(cut) == 2 and cut[0].disjoint(cut[1])
    svg = http.get("/makes/3/paper/pieces.svg?paper=a4&piece=1&piece=2").text
    assert re.search(r'width="[\d.]+mm"', svg) and svg.count('class="cut"') == 2


def test_an_alteration_is_drawn_beside_the_old_line_and_told_for_the_tissue(http):
    page = http.get("/makes/3/fit").text
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    asked = {"version": version, "kind": "seat", "piece": "2", "by": "1.5 cm"}
    assert http.post("/makes/3/fit/alter", data=asked, headers=HOME, follow_redirects=False).status_code == 303
    text = packed(http, "?paper=a3&piece=1&piece=2&changed=on")
    assert "changed</span>" in text and 'class="old"' in text
    assert "Full or flat seat: 1.5 cm" in text and "Spread the cut by 1.5 cm" in text and "nothing at the hinge" in text
    pdf = http.get("/makes/3/paper/pieces.pdf?paper=a3&piece=1&piece=2&changed=on").content
    words = "".join(p.get_textpage().get_text_bounded() for p in pdfium.PdfDocument(pdf))
    assert "as printed" in words and "Spread the cut" in words.replace("\r\n", " ")


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("?paper=roll&piece=1", "The roll's width is needed"),
        ("?paper=roll&roll=5+cm&piece=1", "20 cm to 2 m wide"),
        ("?paper=a4", "Choose at least one piece"),
        ("?paper=a4&piece=1&overlap=wide", "overlap-error"),
    ],
)
def test_bad_input_is_told_beside_its_field_and_nothing_typed_is_lost(http, query, words):
    page = http.get(f"/makes/3/paper{query}")
    assert page.status_code == 422 and words in page.text.replace("&#39;", "'")
    typed = re.search(r"(?:roll|overlap)=([^&]+)", query)
    boxes = re.findall(r'name="piece"[^>]*?value="(\d+)"( checked)?', page.text)
    assert [number for number, on in boxes if on] == re.findall(r"piece=(\d+)", query)
    assert typed is None or typed[1].replace("+", " ") in page.text


def test_a_roll_takes_inches(http):
    assert "1 page of Roll" in packed(http, "?paper=roll&roll=36+in&piece=1&piece=2")


def test_there_are_three_kinds_of_file_and_a_csv_of_the_lay(http):
    assert http.get("/makes/3/paper/pieces.doc").status_code == 404
    table = http.get("/makes/3/lay/lay.csv")
    assert table.status_code in (200, 409)


def test_a_full_bust_a_sway_back_and_long_arms_from_the_fit_to_printed_pages(http):
    asked = (
        {"kind": "bust", "piece": "3", "by": "2 cm"},
        {"kind": "sway-back", "piece": "1", "by": "1.2 cm"},
        {"kind": "length", "piece": "4", "by": "3 cm"},
    )
    for fields in asked:
        version = re.search(r'name="version" value="(\d+)"', http.get("/makes/5/fit").text)[1]
        answer = http.post(
            "/makes/5/fit/alter", data={"version": version, **fields}, headers=HOME, follow_redirects=False
        )
        assert answer.status_code == 303
    fit = http.get("/makes/5/fit").text
    assert 'class="finding stop"' not in fit and "do not meet" not in fit
    text = packed(http, "?paper=a4&piece=1&piece=3&piece=4", 5)
    assert text.count('class="frames"') == 3 and text.count('class="old"') >= 3
    for words in ("Mark the bust point", "Lap the cut edges by 1.2 cm", "lie 3 cm (1 1/8 in) apart"):
        assert words in text
    pdf = pdfium.PdfDocument(http.get("/makes/5/paper/pieces.pdf?paper=a4&piece=1&piece=3&piece=4").content)
    assert len(pdf) == int(re.search(r"(\d+) pages of A4", text)[1]) + 1


def test_what_changes_after_a_print_is_told_piece_by_piece(http):
    query = "?paper=a4&piece=1"
    packed(http, query, make=4)
    assert "Changed since you printed" not in http.get(f"/makes/4/paper{query}").text
    sent = http.post(f"/makes/4/paper/printed{query}", data={"kind": "pdf"}, headers=HOME, follow_redirects=False)
    assert sent.status_code == 303 and sent.headers["location"].endswith(f"pieces.pdf{query}")
    version = re.search(r'name="version" value="(\d+)"', http.get("/makes/4/fit").text)[1]
    asked = {"version": version, "kind": "length", "piece": "1", "by": "2 cm", "at": "50 cm"}
    assert http.post("/makes/4/fit/alter", data=asked, headers=HOME, follow_redirects=False).status_code == 303
    text = http.get(f"/makes/4/paper{query}").text
    told = re.search(r'id="changed".*?</section>', text, re.S)[0]
    assert "1 Front" in told and "2 Back" not in told and "Print it anew" in told and "hem, up to 2" in told
