"""Each alteration in words and in three frames: the words name its figures, the parts of the frames are the piece's own."""

import pytest
from shapely import Polygon

from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.change import Followed
from rowanseed.core.fit.frames import frames
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.on_tissue import on_tissue
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.formats.frames_svg import frames_svg
from tests.core.fit.test_kinds_of_bodies import BLOCK, DARTED, LEG

CASES = [
    ("length", BLOCK, 20.0, 300.0, "30 cm (11 3/4 in) below its top", "2 cm (3/4 in) apart"),
    ("length", BLOCK, -20.0, 300.0, "30 cm (11 3/4 in) below its top", "2 cm (3/4 in) in all"),
    ("sway-back", BLOCK, 12.0, None, "35 cm (13 3/4 in) below its top", "Lap the cut edges by 1.2 cm (1/2 in)"),
    ("seat", BLOCK, 12.0, None, "52 cm (20 1/2 in) below its top", "Spread the cut by 1.2 cm (1/2 in)"),
    ("seat", BLOCK, -12.0, None, "Cut along it from the centre", "Lap the cut edges by 1.2 cm (1/2 in)"),
    ("bowed-leg", LEG, 10.0, None, "Cut along it from the side", "Spread the cut by 1 cm (3/8 in)"),
    ("shoulder-length", BLOCK, 10.0, None, "Tape paper under the shoulder", "mark 1 cm (3/8 in) out"),
    ("dart-turned", DARTED, 60.0, None, "6 cm (2 3/8 in) along it", "Close the old dart"),
]


@pytest.mark.parametrize(("kind", "shape", "by", "at", "first", "second"), CASES)
def test_words_name_the_place_and_the_amount(kind, shape, by, at, first, second):
    work = on_tissue(
        Alteration(kind, "a", by, at), [AlterPiece("a", shape)], [Followed("b", "its side is sewn to a")], "cm"
    )
    text = " ".join(work.steps)
    assert first in text and second in text and "Then piece b alike, for its side is sewn to a." in text
    assert KINDS[kind].title in work.heading and work.steps[-1].startswith("Walk the seams")


@pytest.mark.parametrize(("kind", "shape", "by", "at", "first", "second"), CASES)
def test_frames_show_the_parts_of_the_piece_apart_and_the_new_outline(kind, shape, by, at, first, second):
    piece, alteration = AlterPiece("a", shape), Alteration(kind, "a", by, at)
    after = alter([piece], [], [alteration]).pieces[0].shape
    shown = frames(alteration, piece, after)
    assert shown.before == shape.outline and shown.after == after.outline and shown.cuts
    if KINDS[kind].way in ("strip", "wedge"):
        one, two = (Polygon(part).buffer(0) for part in shown.parts)
        opened = (by > 0) != (kind == "sway-back")  # which is folded out
        assert (one.intersection(two).area < 1.0) == opened
        assert one.area + two.area == pytest.approx(Polygon(shape.outline).area, rel=0.02)
    svg = frames_svg(shown, ("cut", "spread", "true"), "A picture")
    assert svg.count("<path") >= 4 and 'aria-label="A picture"' in svg


def test_what_cannot_be_placed_is_said_in_place_of_steps():
    work = on_tissue(Alteration("sway-back", "a", 10.0), [AlterPiece("a", DARTED.__class__(BLOCK.outline))], [], "cm")
    assert "Say where" in work.steps[0]
