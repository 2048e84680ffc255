"""POST /api/v1/sheet, and the sheet's PDF on its page."""

import json

from rowanseed.store import db, sewing
from tests.core.sew.test_sheet_reading import two_columns

PULL_ON = {"legs": "trousers", "waist": "casing", "hem": "double"}
TEXT = "1. Sew the side seams, right sides together.\n2. Sew the inseams; press open.\n3. Admire it.\n4. Hem the legs, 3 cm."


def test_text_is_read_tied_and_nothing_is_stored(client):
    before = client.get("/makes/2/sew/sheet").text
    answer = client.post("/api/v1/sheet", json={"features": PULL_ON, "equipment": ["overlocker"], "text": TEXT}).json()
    steps = answer["steps"]
    assert [s["ids"] for s in steps] == [["sew-side-seams"], ["sew-inseams", "press-inseams"], [], ["sew-hem"]]
    assert [s["sure"] for s in steps] == [True, True, False, True]
    assert (
        steps[3]["figures"] == [{"text": "3 cm", "mm": 30.0}]
        and steps[0]["on"] == ["leg.side"]
        and steps[0]["verb"] == "join"
    )
    assert steps[0]["page"] is None and steps[0]["pictures"] == []
    assert client.get("/makes/2/sew/sheet").text == before


def test_a_pdf_is_read_with_its_places_and_without_a_garment_nothing_is_tied(client):
    send = {"file": ("sheet.pdf", two_columns(), "application/pdf")}
    options = {"garment": {"features": PULL_ON, "equipment": ["overlocker"]}, "languages": ["eng"], "pages": None}
    answer = client.post("/api/v1/sheet", files=send, data={"options": json.dumps(options)}).json()
    assert [s["number"] for s in answer["steps"]] == ["1", "2", "3", "4", "5"]
    assert (
        answer["steps"][2]["ids"] == ["sew-crotch"]
        and answer["steps"][2]["page"] == 1
        and len(answer["steps"][2]["box"]) == 4
    )
    bare = client.post("/api/v1/sheet", files=send).json()
    assert len(bare["steps"]) == 5 and not any(s["ids"] for s in bare["steps"])


def test_what_cannot_be_read_is_refused_where_it_stands(client):
    for sent, words in (
        ({"json": {"features": {"hem": "wings"}, "text": "1. Hem."}}, "wings"),
        ({"json": {"features": {}}}, "text"),
        ({"json": {"features": {}, "text": "1. Hem.", "colour": "red"}}, "colour"),
        ({"content": b"{", "headers": {"content-type": "application/json"}}, "JSON"),
        ({"files": {"file": ("a.pdf", b"nothing", "application/pdf")}}, "PDF"),
        ({"files": {"file": ("a.png", b"\x89PNG\r\n\x1a\n", "image/png")}}, "picture"),
        (
            {"files": {"file": ("a.pdf", two_columns(), "application/pdf")}, "data": {"options": '{"pages": "9-2"}'}},
            "1-3",
        ),
        ({"files": {"other": ("a.pdf", b"", "application/pdf")}}, "file"),
    ):
        answer = client.post("/api/v1/sheet", **sent)
        assert answer.status_code == 422 and words in answer.text, (sent, answer.text)


def test_a_sheets_pdf_is_read_into_the_field_and_kept_only_when_it_is_sent(client):
    read = client.post(
        "/makes/2/sew/sheet/file", files={"file": ("s.pdf", two_columns(), "application/pdf")}, data={"pages": ""}
    )
    assert (
        read.status_code == 200 and "5 steps were read" in read.text and "3. Slip one leg into the other" in read.text
    )
    with db.connect(client.app.state.database) as conn:
        assert "Slip one leg" not in sewing.sheets(conn, 2).get("A", "")
    bad = client.post("/makes/2/sew/sheet/file", files={"file": ("s.pdf", b"x", "application/pdf")})
    assert bad.status_code == 422 and "no PDF" in bad.text and 'id="file-error"' in bad.text
    assert client.post("/makes/2/sew/sheet/file", data={"pages": "1"}).status_code == 422
