"""A print from a photograph: taken in anew, corners marked, the repeat offered and used; what is no picture is refused."""

import base64
import io
import re
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.formats.photo import remade
from tests.core.cloth.test_repeat import SHEET, motif, photograph
from tests.web.test_pages import wait_for_lay

LEAF = "/cloths/1/photo"


def sheet():
    picture, corners = photograph(lambda x, y: motif(x, y, 80.0, 100.0), 8, 50)
    values = np.clip(picture, 0, 255).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(np.stack([values, values // 2, 255 - values], axis=-1)).save(out, "PNG")
    return out.getvalue(), corners


def sent(client):
    data, corners = sheet()
    page = client.post(LEAF, files={"file": ("print.png", data, "image/png")})
    assert page.status_code == 200 and "Mark a rectangle whose size you know" in page.text
    fields = {"photo": re.search(r'name="photo" value="([^"]+)"', page.text)[1]}
    fields["version"] = re.search(r'name="version" value="(\d+)"', page.text)[1]
    for k, (x, y) in enumerate(corners):
        fields |= {f"x{k}": str(x), f"y{k}": str(y)}
    return {**fields, "rect_along": f"{SHEET[0]} mm", "rect_across": f"{SHEET[1]} mm"}


def test_the_repeat_is_found_offered_and_used_with_its_picture(client):
    fields = sent(client)
    found = client.post(f"{LEAF}/find", data=fields)
    along, across = (float(v) for v in re.findall(r"every <b>([\d.]+) cm", found.text))
    assert abs(along - 8.0) < 0.1 and abs(across - 10.0) < 0.1  # within one in a hundred, to the millimetre shown
    used = client.post(f"{LEAF}/use", data=fields)
    assert "Its photograph is drawn on the lay" in used.text
    lay = client.get("/makes/2/lay").text
    tile = re.search(r'href="(/photos/[0-9a-f]+\.png)"', lay)[1]
    answer = client.get(tile)
    assert answer.headers["content-type"] == "image/png" and len(answer.content) > 500
    # the lay was made for the print as it was described before
    assert "Out of date" in lay


def test_a_lay_that_is_given_out_carries_the_photograph_of_its_print(client):
    client.post(f"{LEAF}/use", data=sent(client))
    client.post(
        "/makes/2/lay/start", data={"role": "self", "spread": "lengthwise-fold", "effort": "quick", "gap": "3 mm"}
    )
    wait_for_lay(client, 2, "self")
    drawing = client.get("/makes/2/lay/lay.svg")
    assert drawing.status_code == 200 and "/photos/" not in drawing.text
    inside = re.search(r'href="data:image/png;base64,([^"]+)"', drawing.text)[1]
    assert Image.open(io.BytesIO(base64.b64decode(inside))).size > (20, 20)


def test_a_picture_that_eats_memory_or_time_ends_alone():
    # a sound file of 90 000 x 90 000 pixels in a few kilobytes: the process that reads it refuses, this one goes on
    head = struct.pack(">IIBBBBB", 90_000, 90_000, 8, 2, 0, 0, 0)
    chunks = b"".join(
        struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
        for name, body in ((b"IHDR", head), (b"IDAT", zlib.compress(b"\0" * 1000)), (b"IEND", b""))
    )
    with pytest.raises(PhotoError, match="40 million pixels"):
        remade(b"\x89PNG\r\n\x1a\n" + chunks)


def test_what_is_no_picture_is_refused_beside_the_field(client):
    for data in (b"", b"%PDF-1.4 nothing", b"\x89PNG\r\n\x1a\n" + b"x" * 50):
        answer = client.post(LEAF, files={"file": ("print.png", data, "image/png")})
        assert answer.status_code == 422 and "photograph" in answer.text
    assert client.get("/photos/../demo.db").status_code == 404
    assert client.get("/photos/" + "a" * 40 + ".png").status_code == 404
    assert client.get(f"{LEAF}?photo=../x.png").status_code == 404


def test_missing_corners_and_lengths_are_asked_for_and_what_was_typed_stays(client):
    fields = sent(client)
    without = client.post(f"{LEAF}/find", data={**fields, "x2": "", "rect_along": "30 cm"})
    assert without.status_code == 422 and "Mark all four corners" in without.text and 'value="30 cm"' in without.text
    crossed = {**fields, "x0": fields["x2"], "y0": fields["y2"], "x2": fields["x0"], "y2": fields["y0"]}
    crossed |= {"x1": fields["x1"]}
    answer = client.post(f"{LEAF}/find", data={**crossed, "rect_across": "some"})
    assert answer.status_code == 422 and 'value="some"' in answer.text


def test_what_a_file_carried_is_not_served(client):
    data, _ = sheet()
    picture = Image.open(io.BytesIO(data))
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010E] = "a secret place"
    picture.save(out, "JPEG", exif=exif)
    page = client.post(LEAF, files={"file": ("print.jpg", out.getvalue(), "image/jpeg")}).text
    served = client.get("/photos/" + re.search(r'name="photo" value="([^"]+)"', page)[1]).content
    assert b"a secret place" in out.getvalue() and b"a secret place" not in served
