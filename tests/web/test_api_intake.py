"""POST /api/v1/intake and /api/v1/trace as `api.md` has them."""

import json

import pytest

from rowanseed.demo import trousers
from rowanseed.demo.samples import sample
from rowanseed.formats.pattern_json import write_pattern


def ask(client, data, options=None, **files):
    fields = {} if options is None else {"options": json.dumps(options)}
    return client.post("/api/v1/intake", files={"file": ("file", data), **files}, data=fields)


def test_what_a_file_holds_is_answered_in_the_contracts_shape(empty):
    answer = ask(empty, sample("waistcoat.dxf")).json()
    assert (answer["kind"], answer["unit"], answer["scale"], answer["sizes"]) == (
        "dxf",
        "mm",
        1.0,
        ["XS", "S", "M", "L", "XL", "2XL"],
    )
    piece = answer["pieces"][0]
    assert {"name", "number", "cut", "sizes", "findings"} <= set(piece)
    lines = piece["sizes"]["M"]
    assert set(lines) == {"outline", "seam_line", "notches", "grain", "fold_edge", "points", "internal"}
    (ax, ay), (bx, by) = lines["grain"]
    assert ay == pytest.approx(by) and bx > ax
    assert min(x for x, _ in lines["outline"]) >= -0.001


def test_a_file_without_sizes_answers_one(empty):
    head = '<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="300mm" viewBox="0 0 200 300">'
    svg = f'{head}<path d="M10 10H150V260H10Z"/></svg>'
    answer = ask(empty, svg.encode(), {"kind": "svg"}).json()
    assert answer["sizes"] == [""] and list(answer["pieces"][0]["sizes"]) == [""]
    scaled = ask(empty, svg.encode(), {"scale": 2}).json()
    assert max(x for x, _ in scaled["pieces"][0]["sizes"][""]["outline"]) == pytest.approx(280)


def test_our_own_file_and_tiles_as_told(empty):
    assert ask(empty, write_pattern(trousers.pattern()).encode()).json()["kind"] == "json"
    told = {"tiles": {"columns": 6, "rows": 1, "overlap": "1 cm", "margin": 10}}
    refused = ask(empty, sample("trousers-a4.pdf"), told)
    assert refused.status_code == 422 and "pages" in refused.json()["detail"][0]["msg"]


@pytest.mark.parametrize(
    ("options", "where"),
    [
        ('{"unit": "furlong"}', "unit"),
        ("nonsense", "options"),
        ('{"scale": -1}', "scale"),
        ('{"tiles": {"columns": 0}}', "columns"),
    ],
)
def test_unusable_options_name_their_field(empty, options, where):
    answer = empty.post("/api/v1/intake", files={"file": b"<svg/>"}, data={"options": options})
    assert answer.status_code == 422 and where in answer.json()["detail"][0]["loc"]


def test_a_photograph_is_traced_and_boards_are_printed(empty):
    answer = empty.post(
        "/api/v1/trace", files={"photo": sample("piece-on-a-table.jpg")}, data={"options": '{"clicks": null}'}
    ).json()
    assert answer["error_mm"] < 0.3 and 0.1 < answer["mm_per_pixel"] < 1.0
    assert len(answer["outline"]) > 8 and max(answer["corners"]) < len(answer["outline"])
    for paper in ("a4", "letter"):
        assert empty.get(f"/api/v1/trace/board.pdf?paper={paper}").content.startswith(b"%PDF")
    assert empty.get("/api/v1/trace/board.pdf?paper=napkin").status_code == 422
    refused = empty.post("/api/v1/trace", files={"photo": b"abc"})
    assert refused.status_code == 422 and "photograph" in refused.json()["detail"][0]["msg"]
