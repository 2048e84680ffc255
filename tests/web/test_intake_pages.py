"""Patterns in, on the pages: a file read, looked through and kept; photographs traced; a piece corrected; the library."""

import json
import re

import numpy as np
import pytest
from shapely import Polygon, hausdorff_distance

from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.samples import sample, traced_piece
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.store import db, patterns
from tests.web.waiting import settled


def read_through(client, name, data, into=""):
    """Send a file and wait until it is read; the page of what was found, and its address."""
    sent = client.post("/patterns/intake", files={"file": (name, data)}, data={"pattern": into})
    return settle(client, str(sent.url).removeprefix("http://127.0.0.1"))


def settle(client, url):
    return settled(client, url, ('id="reading"',)), url


def fields_of(text):
    """The review form as a browser would send it unchanged."""
    form = text[text.index('id="review"') :]
    fields = dict(re.findall(r'<input class="form-control[^"]*"[^>]*?name="([\w-]+)"[^>]*?value="([^"]*)"', form))
    fields |= dict.fromkeys(re.findall(r'type="checkbox" name="((?:take|mirrored)-\d+)" checked', form), "on")
    for name, options in re.findall(r'<select[^>]*name="([\w-]+)"[^>]*>(.*?)</select>', form, re.S):
        chosen = re.search(r'value="([^"]*)"\s+selected', options)
        fields[name] = chosen[1] if chosen else re.search(r'value="([^"]*)"', options)[1]
    fields |= dict(re.findall(r'<input type="hidden" name="([\w-]+)"\s+value="([^"]*)"', form))
    return fields


def stored(client, pattern_id):
    conn = db.connect(client.app.state.database)
    try:
        return patterns.pattern(conn, pattern_id).pattern
    finally:
        conn.close()


def keep(client, url, text, **changes):
    answer = client.post(f"{url}/keep", data={**fields_of(text), **changes})
    found = re.search(r"/patterns/(\d+)\?taken=(\d+)", str(answer.url))
    assert found, re.findall(r'field-error"[^>]*>([^<]*)', answer.text)
    return int(found[1]), answer.text


def test_a_mark_is_left_out_on_the_drawing_and_the_rest_is_kept(empty):
    text, url = read_through(empty, "overshirt.svg", sample("overshirt.svg"))
    assert 'data-mark="notch:0"' in text and 'data-mark="grain"' in text
    at = next(k for k, number in re.findall(r'name="number-(\d+)" value="(\d+)"', text) if number == "3")
    pattern_id, _ = keep(empty, url, text, **{f"left-{at}": "notch:0 grain"})
    front = next(p for p in stored(empty, pattern_id).pieces if p.number == "3")
    own = next(p for p in overshirt.pattern().pieces if p.number == "3")
    size = next(iter(front.shapes))
    assert len(front.shapes[size].notches) < len(own.shapes[size].notches) and front.shapes[size].grainline is None


def test_a_tiled_pdf_becomes_a_pattern_with_every_size_in_three_actions(empty):
    """Choose, read, keep: nothing has to be typed; the pieces are those that were printed."""
    text, url = read_through(empty, "trousers-a4.pdf", sample("trousers-a4.pdf"))
    assert "4 pieces in 6 sizes" in text and "pages were put together" in text
    pattern_id, page = keep(empty, url, text, garment="trousers")
    assert "4 pieces kept" in page and "seams are suggested" in page
    pattern, own = stored(empty, pattern_id), trousers.pattern()
    assert pattern.size_names() == own.size_names()
    for piece, drawn in zip(pattern.pieces, own.pieces, strict=True):
        assert (piece.number, piece.name, piece.cut, piece.mirrored) == (
            drawn.number,
            drawn.name,
            drawn.cut,
            drawn.mirrored,
        )
        assert piece.allowance_mm == drawn.allowance_mm  # the drawn seam line tells it
        for size, shape in piece.shapes.items():
            assert Polygon(shape.outline).area == pytest.approx(drawn.shapes[size].area_mm2(), rel=1e-4)
            assert shape.side_allowances[0] == pytest.approx(drawn.allowance_mm)
    assert set(pattern.pieces[0].shapes["40"].edges) == {"waist", "crotch", "inseam", "hem", "side"}


def test_pieces_are_left_out_renamed_and_sizes_named(empty):
    text, url = read_through(empty, "waistcoat.dxf", pattern_dxf(waistcoat.pattern()).encode())
    fields = fields_of(text)
    for k in (2, 3, 4, 5, 6):
        fields.pop(f"take-{k}", None)
    fields |= {"name-0": "Left front", "size-0": "", "size-1": "36"}
    answer = empty.post(f"{url}/keep", data=fields)
    pattern = stored(empty, int(re.search(r"/patterns/(\d+)", str(answer.url))[1]))
    assert [p.name for p in pattern.pieces] == ["Left front", "Back"]
    assert set(pattern.pieces[0].shapes) == {"36", "M", "L", "XL", "2XL"}


def test_what_is_wrong_stands_beside_its_piece_and_nothing_is_lost(empty):
    text, url = read_through(empty, "shirt.svg", pattern_svg(overshirt.pattern(), ("12",)).encode())
    wrong = {"number-1": "1", "cut-2": "many", "name-3": "My own sleeve", "size-0": "", "allowance": "wide"}
    answer = empty.post(f"{url}/keep", data={**fields_of(text), **wrong})
    assert answer.status_code == 422
    assert "There is a piece 1 already." in answer.text and "How many: a whole number" in answer.text
    assert "Keep at least one size." in answer.text and 'value="My own sleeve"' in answer.text


def test_the_same_file_twice_is_noticed_and_pieces_go_into_a_pattern_that_is_there(empty):
    data = pattern_svg(trousers.pattern(), ("40", "42")).encode()
    text, url = read_through(empty, "a.svg", data)
    pattern_id, _ = keep(empty, url, text)
    text, url = read_through(empty, "b.svg", data, str(pattern_id))
    assert "Taken in before" in text
    other = {f"number-{k}": str(11 + k) for k in range(4)}
    answer = empty.post(f"{url}/keep", data={**fields_of(text), **other})
    assert len(stored(empty, int(re.search(r"/patterns/(\d+)", str(answer.url))[1])).pieces) == 8


def test_a_file_is_read_again_as_the_user_says(empty):
    inches = '<svg xmlns="http://www.w3.org/2000/svg" width="12" height="20" viewBox="0 0 12 20"><path d="M1 1H9V17H1Z"/></svg>'
    text, url = read_through(empty, "a.svg", inches.encode())
    assert "No closed outline" in text or "96 units to the inch" in text
    version = re.search(r'name="version" value="(\d+)"', text)[1]
    empty.post(f"{url}/again", data={"unit": "in", "version": version, "scale": "", "columns": ""})
    text, _ = settle(empty, url)
    assert "1 pieces" in text
    wrong = empty.post(f"{url}/again", data={"scale": "huge", "columns": "0"})
    assert wrong.status_code == 422 and "Write a percentage" in wrong.text


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.jpg", b"\xff\xd8\xff\xe0abc", "Use Photographs"),
        ("a.zip", b"PK\x03\x04abc", "Unpack it"),
        ("a.txt", b"hello", "no pattern file"),
        ("a.pdf", b"", "Choose a file first"),
    ],
)
def test_a_wrong_file_is_answered_beside_its_field(empty, name, data, words):
    answer = empty.post("/patterns/intake", files={"file": (name, data)})
    assert answer.status_code == 422 and words in answer.text and 'id="file-error"' in answer.text


def test_a_damaged_file_says_what_to_do(empty):
    text, _ = read_through(empty, "a.pdf", b"%PDF-1.7\n1 0 obj << /Type /Catalog")
    assert "damaged" in text and "Send another file" in text


def traced_page(client):
    page = client.get("/patterns/intake").text
    url = re.search(r'href="(/patterns/trace/\d+)">piece-on-a-table.jpg', page)[1]
    text, _ = settle(client, url)
    return text, url


def test_a_photographed_piece_is_found_kept_and_corrected(client):
    """From the demo's photograph to a piece in a pattern, its edges named; then a mark more, an edge renamed, an allowance."""
    text, url = traced_page(client)
    assert "miss their places by" in text and client.get(f"{url}/flat.jpg").headers["content-type"] == "image/jpeg"
    found = client.post(f"{url}/follow", json={"clicks": None, "closed": True}).json()
    outline = found["outline"]
    xs = [x for x, _ in outline]
    top, foot = min(outline, key=lambda p: p[1]), max(outline, key=lambda p: p[1])
    drawn = {"outline": outline, "grain": [[max(xs) - 60, top[1] + 300], [max(xs) - 60, foot[1] - 300]]}
    version = re.search(r'name="version" value="(\d+)"', text)[1]
    fields = {
        "drawn": json.dumps(drawn), "version": version, "number": "1", "name": "Back", "size": "M", "cut": "2", "mirrored": "on",
        "role": "self", "allowance": "1.5 cm", "outline_is": "cutting", "pattern": "", "pattern_name": "Traced",
        "garment": "jacket",
    }  # fmt: skip
    kept = client.post(f"{url}/keep", data=fields)
    assert "Piece 1 is kept in size M" in kept.text
    pattern_id = int(re.search(r'/patterns/(\d+)/pieces/1"', kept.text)[1])
    piece = stored(client, pattern_id).pieces[0]
    own, _ = traced_piece()
    assert Polygon(piece.shapes["M"].outline).area == pytest.approx(own.shapes["M"].area_mm2(), rel=0.005)
    page = f"/patterns/{pattern_id}/pieces/1"
    first = client.get(page).text
    version = re.search(r'name="version" value="(\d+)"', first)[1]
    at = np.mean(piece.shapes["M"].outline, axis=0).round(1).tolist()
    change = {
        "kind": "mark",
        "places": json.dumps([at]),
        "mark_name": "button",
        "everywhere": "on",
        "size": "M",
        "version": version,
    }
    assert "button" in client.post(f"{page}/change", data=change).text
    assert stored(client, pattern_id).pieces[0].shapes["M"].marks[0].name == "button"
    stale = client.post(f"{page}/change", data=change)
    assert stale.status_code == 409


def test_following_needs_clicks_and_says_so(client):
    _, url = traced_page(client)
    assert (
        "at least three" in client.post(f"{url}/follow", json={"clicks": [[10, 10]], "closed": True}).json()["problem"]
    )
    assert client.post(f"{url}/follow", json={"clicks": [["a", 1]]}).status_code in (404, 422)
    missing = client.post(f"{url}/keep", data={"number": "", "drawn": "{}", "pattern_name": ""})
    assert (
        missing.status_code == 422 and "Trace the line first" in missing.text and "A number is needed" in missing.text
    )


def test_a_photograph_without_a_sheet_is_refused_on_its_page(empty):
    from rowanseed.formats.photo import as_png

    plain = as_png(np.full((600, 800, 3), 128.0))
    sent = empty.post("/patterns/trace", files={"photos": ("a.png", plain)})
    text, _ = settle(empty, str(sent.url).removeprefix("http://127.0.0.1"))
    assert "No calibration sheet was found" in text
    assert empty.post("/patterns/trace", data={"dpi": "many"}).status_code == 422


def test_a_piece_of_the_demo_is_corrected_in_every_size(client):
    """A notch added at the same share of the edge everywhere, an edge named, its own allowance, the facts."""
    page = "/patterns/1/pieces/3"
    before = stored(client, 1).pieces[2]

    def send(path, **fields):
        version = re.search(r'name="version" value="(\d+)"', client.get(page).text)[1]
        return client.post(f"{page}/{path}", data={"version": version, "size": "14", **fields})

    shape = before.shapes["14"]
    i, j = shape.edges["side"]
    middle = shape.outline[(i + j) // 2]
    send("change", kind="notch", count="2", places=json.dumps([middle]), everywhere="on")
    after = stored(client, 1).pieces[2]
    assert all(len(s.notches) == len(before.shapes[z].notches) + 1 for z, s in after.shapes.items())
    assert all(min(np.hypot(*(np.asarray(s.outline) - s.notches[-1].at).T)) < 25 for s in after.shapes.values())
    assert "lies on the outline" in send("change", kind="notch", places="[[300, 100]]").text
    names = {f"edge-{k}": name for k, name in enumerate(shape.edges)}
    own = {f"own-{k}": "2.5 cm" if name == "hem" else "" for k, name in enumerate(shape.edges)}
    wide = send("edges", **names, **own)
    assert wide.status_code == 200
    assert stored(client, 1).pieces[2].shapes["8"].allowances == {"hem": 25.0}
    twice = send("edges", **{**names, "edge-0": "side"}, **own)
    assert twice.status_code == 422 and "same name" in twice.text
    bad = send("facts", name="", cut="0", allowance="much")
    assert bad.status_code == 422 and "A name is needed" in bad.text


def test_quick_figures_are_kept_changed_and_begin_the_next_size(empty):
    made = empty.post("/patterns/new", data={"name": "Skirt", "garment": "skirt", "views": "A", "size": "one"})
    pattern_id = int(re.search(r"/patterns/(\d+)", str(made.url))[1])
    figures = {"shape": "rectangle", "length": "60 cm", "width": "8 cm", "number": "1", "name": "Band", "cut": "1",
               "allowance": "1 cm", "role": "self", "grain": "lengthwise", "size": "one", "included": "on"}  # fmt: skip
    version = re.search(
        r'name="version" value="(\d+)"', empty.get(f"/patterns/{pattern_id}/pieces/new?shape=rectangle").text
    )[1]
    empty.post(f"/patterns/{pattern_id}/pieces", data={**figures, "version": version})
    assert stored(empty, pattern_id).pieces[0].figures["one"]["length"] == "60 cm"
    form = empty.get(f"/patterns/{pattern_id}/pieces/new?number=1&size=one&edit=1").text
    assert 'value="60 cm"' in form and 'name="shape" value="rectangle"' in form
    version = re.search(r'name="version" value="(\d+)"', form)[1]
    empty.post(f"/patterns/{pattern_id}/pieces", data={**figures, "length": "62 cm", "version": version})
    assert max(x for x, _ in stored(empty, pattern_id).pieces[0].shapes["one"].outline) == pytest.approx(620)


def test_a_figure_in_focus_is_shown_on_the_drawing(client):
    """The piece with that figure a little larger, over the piece as it is."""
    fields = {"shape": "rectangle", "length": "60 cm", "width": ""}
    shown = client.post("/patterns/1/pieces/draw?focus=length", data=fields).text
    assert "piece-change" in shown and "Length along the grain arrow" in shown
    assert "piece-change" not in client.post("/patterns/1/pieces/draw?focus=nothing", data=fields).text


def test_an_absurd_shape_is_asked_about_and_kept_when_it_is_meant(client):
    fields = {"shape": "rectangle", "length": "60 m", "width": "8 cm", "number": "90", "name": "Tape", "cut": "1", "role": "self",
              "allowance": "1 cm", "grain": "lengthwise", "size": "14", "included": "on"}  # fmt: skip
    fields["length"] = "600 cm"
    fields["version"] = re.search(
        r'name="version" value="(\d+)"', client.get("/patterns/1/pieces/new?shape=rectangle").text
    )[1]
    asked = client.post("/patterns/1/pieces", data=fields)
    assert asked.status_code == 422 and "larger than most cloth" in asked.text and 'name="sure"' in asked.text
    assert client.post("/patterns/1/pieces", data={**fields, "sure": "on"}).status_code == 200
    assert any(p.number == "90" for p in stored(client, 1).pieces)


def test_the_library_is_searched_sorted_copied_renamed_and_put_away(client):
    def listed(**asked):
        found = client.get("/patterns", params=asked, headers={"HX-Request": "true"}).text
        return re.findall(r'<a href="/patterns/\d+">([^<]+)</a>', found)

    assert listed(words="welt") == ["Choirstall waistcoat"]
    assert listed(words="waistcoat choirstall") == ["Choirstall waistcoat"]
    assert listed(words="velvet") == []
    assert listed(sort="newest")[0] == "Choirstall waistcoat"
    page = client.post("/patterns/2/copy")
    assert "Furrow pull-on trousers (copy)" in page.text
    copied = int(re.search(r"/patterns/(\d+)", str(page.url))[1])
    version = re.search(r'name="version" value="(\d+)"', page.text)[1]
    client.post(
        f"/patterns/{copied}/own", data={"name": "Winter trousers", "tags": "wool, lined , wool", "version": version}
    )
    assert listed(words="lined wool") == ["Winter trousers"]
    version = re.search(r'name="version" value="(\d+)"', client.get(f"/patterns/{copied}").text)[1]
    away = client.post(f"/patterns/{copied}/put-away", data={"version": version})
    assert "Winter trousers is put away" in away.text and listed(words="winter") == []
    client.post(f"/patterns/{copied}/take-back")
    assert listed(words="winter") == ["Winter trousers"]


def test_a_pattern_goes_out_to_true_size(client):
    assert client.get("/patterns/1/file.svg").text.count('class="piece"') == 11
    assert "SECTION" in client.get("/patterns/1/file.dxf").text
    for paper in ("a4", "a3", "letter", "sheet"):
        assert client.get(f"/patterns/1/file.pdf?paper={paper}").content.startswith(b"%PDF")
    assert client.get("/patterns/1/file.pdf?paper=napkin").status_code in (404, 422)


def test_the_envelope_and_a_body_are_enough_for_the_size(client):
    """No piece is in yet: the advice is there, and only the sizes that were chosen are asked for."""
    fields = {"name": "Envelope", "garment": "top", "views": "A"}
    rows = [("size", s) for s in ("12", "14")] + [("body_bust", b) for b in ("91 cm", "96 cm")]
    rows += [("body_waist", "71 cm"), ("body_waist", "76 cm"), ("body_hip", "97 cm"), ("body_hip", "102 cm")]
    from urllib.parse import urlencode

    body = urlencode([*fields.items(), *rows])
    made = client.post("/patterns/new", content=body, headers={"Content-Type": "application/x-www-form-urlencoded"})
    pattern_id = re.search(r"/patterns/(\d+)", str(made.url))[1]
    make = client.post("/makes/new", data={"name": "Try", "pattern_view": f"{pattern_id}|A", "people": "1"})
    assert "Size 14" in make.text or "Size 12" in make.text
    assert "Pieces are wanted" not in make.text


def test_nested_lines_are_found_alike_by_both_ways(client):
    """The nested sheet's middle size, followed by its own corners, is the size that the file gives."""
    page = client.get("/patterns/intake").text
    url = re.search(r'href="(/patterns/trace/\d+)">nested-sheet.jpg', page)[1]
    settle(client, url)
    conn = db.connect(client.app.state.database)
    facts = json.loads(conn.execute("select result from intake where name = 'nested-sheet.jpg'").fetchone()[0])
    conn.close()
    own, _ = traced_piece()
    shape = own.shapes["L"]
    angle, (px, py) = 0.03, (50.0, 60.0)
    pose = facts["poses"][0]

    def pixel(point):
        x, y = point[1] + 280.0 - px, point[0] + 40.0 - py
        u, v = x * np.cos(angle) + y * np.sin(angle), -x * np.sin(angle) + y * np.cos(angle)
        mx, my = (
            pose[0] + u * np.cos(pose[2]) - v * np.sin(pose[2]),
            pose[1] + u * np.sin(pose[2]) + v * np.cos(pose[2]),
        )
        return [(mx - facts["left"]) / facts["mm"], (my - facts["top"]) / facts["mm"]]

    # The corners, and two places between: where sizes run together a click says which of them is meant.
    count = len(shape.outline)
    ends = sorted(
        {(i + round(t * ((j - i) % count))) % count for i, j in shape.edges.values() for t in (0, 1 / 3, 2 / 3, 1)}
    )
    found = client.post(
        f"{url}/follow", json={"clicks": [pixel(shape.outline[k]) for k in ends], "closed": True}
    ).json()
    mine = Polygon(np.asarray(found["outline"]) * facts["mm"])
    true = Polygon(np.asarray([pixel(p) for p in shape.outline]) * facts["mm"])
    assert mine.area == pytest.approx(true.area, rel=0.005)
    assert hausdorff_distance(mine.exterior, true.exterior) < 3.0  # sizes lie 2.5 mm beside each other at the shoulder


def test_nothing_is_kept_before_it_is_said_how_large_it_is(empty):
    """A drawing that says no unit: a front 700 units long could be of millimetres, of points or of anything."""
    front = '<polygon fill="none" stroke="#000" points="0,0 300,0 300,700 0,700"/>'
    box = f'{front}<text x="50" y="90" font-size="20">Front, cut 1</text>'
    data = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 800">{box}</svg>'.encode()
    text, url = read_through(empty, "front.svg", data)
    assert "How large is it?" in text and "data-next>Keep" not in text
    version = re.search(r'name="version" value="(\d+)"', text)[1]
    refused = empty.post(f"{url}/keep", data=fields_of(text))
    assert refused.status_code == 422 and "Say first how large it is" in refused.text
    none = empty.post(f"{url}/large", data={"version": version})
    assert none.status_code == 422 and "Pick one" in none.text
    assert "length" in empty.post(f"{url}/large", data={"version": version, "long_is": "far"}).text
    empty.post(f"{url}/large", data={"version": version, "long_is": "27 1/2 in"})
    text = settle(empty, url)[0]
    assert "How large is it?" not in text
    pattern_id, _ = keep(empty, url, text)
    (front,) = stored(empty, pattern_id).pieces
    assert max(max(p) for p in next(iter(front.shapes.values())).outline) == pytest.approx(27.5 * 25.4, abs=0.01)
    read = empty.post("/api/v1/intake", files={"file": ("front.svg", data)}).json()
    assert [f["level"] for f in read["findings"] if f["code"] == "scale-ask"] == ["care"]
