"""Every cloth against every pattern: what is called sure is so, by lays that are made and by boxes that are put down by hand."""

from contextlib import closing
from dataclasses import replace

import pytest
from shapely import box

from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.core.lay.quick_bound import bound_on, extents, in_rows
from rowanseed.core.lengths import parse_length
from rowanseed.services.cupboard import Matrix, matrix, open_lays, used_up
from rowanseed.services.yardage_tables import put_cell
from rowanseed.store import cloths, db
from rowanseed.store.settings import settings

PIECES = (
    LayPiece("front", ((0, 0), (700, 0), (700, 300), (0, 320)), 2, True),
    LayPiece("back", ((0, 0), (720, 0), (720, 280), (0, 260)), 1, fold_edge=((0, 0), (720, 0))),
    LayPiece("sleeve", ((0, 0), (600, 50), (600, 380), (0, 420)), 2, True),
    LayPiece("collar", ((0, 0), (420, 0), (420, 90), (0, 90)), 2, grain="crosswise"),
)


@pytest.mark.parametrize("width", [700.0, 900.0, 1150.0, 1400.0])
@pytest.mark.parametrize("one_way", [False, True])
def test_no_lay_is_below_the_bound_or_above_the_rows_of_boxes(width, one_way):
    found = extents(PIECES, one_way)
    rows = in_rows(found, width, 3.0)
    most = max(x + length for _, x, _, length, _ in rows)
    cloth = LayCloth(width, nap="one-way" if one_way else "none")
    laid = lay(LayRequest(cloth, PIECES, "best", (), 3.0, "quick"))
    assert bound_on(found, width).length_mm <= laid.length_mm + 0.01 <= most + 0.02
    boxes = [box(x, y, x + length, y + height) for _, x, y, length, height in rows]
    assert len(boxes) == 2 + 1 + 2 + 2  # the back opened out, once
    assert all(b.bounds[3] <= width + 1e-6 for b in boxes)
    assert all(a.distance(b) >= 3.0 - 1e-6 for k, a in enumerate(boxes) for b in boxes[:k])


def test_what_is_wider_than_the_cloth_fits_in_no_row():
    assert (
        in_rows(extents(PIECES, False), 500.0, 3.0) == [] and bound_on(extents(PIECES, False), 500.0).too_wide == "back"
    )


@pytest.fixture
def household(demo_path):
    with closing(db.connect(demo_path)) as conn:
        yield conn


def told(conn, **sizes) -> Matrix:
    return matrix(conn, settings(conn), sizes)


def pair_of(found, pattern, cloth):
    at = next(k for k, s in enumerate(found.stuffs) if s.cloth.name == cloth)
    return next(pairs[at] for g, pairs in found.lines if g.title.startswith(pattern))


def test_what_is_sure_at_once_is_so_when_it_is_laid_and_the_rest_is_known_afterwards(household):
    first = told(household)
    assert first.open and first.settled
    for left in (first.open, None):  # first what is not known, then what is known only as a bound
        found = told(household)
        lays = list(open_lays(found, settings(household)))
        asked = {(g.pattern_id, g.view, key) for g, key, _ in lays}
        assert len(asked) == len(lays) <= (found.rough if left is None else left)
        with db.write(household):
            for garment, key, request in lays:
                put_cell(household, garment.pattern_id, garment.view, "self", key, request, lay(request))
    after = told(household)
    assert after.open == after.rough == 0
    for (garment, before), (_, now) in zip(sorted(first.lines, key=_name), sorted(after.lines, key=_name), strict=True):
        for one, two in zip(before, now, strict=True):
            assert one.state in ("open", two.state), garment.title
            if one.state == "enough" and one.left_mm is not None:
                assert two.left_mm >= one.left_mm - 0.01  # boxes in rows never promise more than a lay leaves


def _name(line):
    return line[0].title


def test_a_short_cloth_is_surely_too_little_and_one_that_is_long_enough_for_boxes_surely_enough(household):
    for length, state in (("10 cm", "not"), ("9 m", "enough")):
        stored = next(s for s in cloths.cloths(household) if s.cloth.name == "Oat canvas")
        cut = replace(stored.cloth, length=parse_length(length, "cm"))
        with db.write(household):
            cloths.update_cloth(household, stored.id, stored.version, cut)
        pair = pair_of(told(household), "Furrow", "Oat canvas")
        assert (pair.state, pair.sure) == (state, True)


def test_a_print_is_never_called_sure_and_cloth_of_a_make_is_named(household):
    found = told(household)
    check = next(k for k, s in enumerate(found.stuffs) if s.cloth.name == "Hedgerow check")
    assert found.stuffs[check].kept_for and found.stuffs[check].doubt
    assert not any(pairs[check].sure for _, pairs in found.lines if pairs[check].state == "enough")


def test_what_is_wanted_is_put_onto_free_cloth(household):
    found = told(household)
    free = [s.cloth.name for s in found.stuffs if not s.kept_for]
    used = used_up(found, [f"{g.pattern_id}:{g.view}" for g, _ in found.lines])
    assert len(used) == len(found.lines)
    assert {u.stuff.cloth.name for u in used if u.stuff} <= set(free)
    for stuff in found.stuffs:
        own = [u for u in used if u.stuff is stuff]
        assert sum(u.needs_mm for u in own) <= stuff.has_mm + 1e-3


def test_the_page_lays_what_is_not_known_and_shows_what_is_left(client):
    page = client.get("/could").text
    assert "Lay the" in page and "Oat canvas" in page
    assert "Overshirt in the check" not in client.get("/could?free=on").text
    client.post("/could/work")
    client.post("/could/stop")
    sized = client.get("/could?size-1:A=8").text
    assert "<option selected>8</option>" in sized
    wanted = client.get("/could?want=1:A&want=2:A").text
    assert "Left in the end" in wanted and "Use up what I have" in wanted
    assert "What could I sew?" in client.get("/find/quick?q=cupboard").text
