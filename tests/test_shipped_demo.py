"""What the demo ships with is what would be worked out now: else it would show yesterday's pattern, or lay for half a minute."""

from contextlib import closing
from dataclasses import replace
from datetime import date

import pytest

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.demo import overshirt, shipped
from rowanseed.demo.load import load_demo
from rowanseed.store import db, makes


def test_the_shipped_overshirt_is_the_drafted_one():
    drawn, now = shipped.shipped_overshirt(), overshirt.drafted()
    assert [p.number for p in drawn.pieces] == [p.number for p in now.pieces] and drawn.seams == now.seams
    assert replace(drawn, pieces=()) == replace(now, pieces=())
    for a, b in zip(drawn.pieces, now.pieces, strict=True):
        assert replace(a, shapes={}) == replace(b, shapes={})
        for size, shape in a.shapes.items():
            assert shape.edges == b.shapes[size].edges and shape.notches == b.shapes[size].notches
            for p, q in zip(shape.outline, b.shapes[size].outline, strict=True):
                assert p == pytest.approx(q, abs=1e-6)


def test_every_lay_of_the_demo_is_shipped_and_sound(tmp_path, monkeypatch):
    taken = []

    def refused(request):
        raise AssertionError("laid anew: run python -m scripts.ship_demo")

    def checked(request, lay):
        found = check_lay(request, lay)
        taken.append([f for f in found if f.level == "stop"])
        return found

    monkeypatch.setattr(shipped, "lay", refused)
    monkeypatch.setattr(shipped, "check_lay", checked)
    with closing(db.connect(tmp_path / "demo.db")) as conn:
        db.migrate(conn)
        load_demo(conn, date.today())
        kept = [lay for make in makes.makes(conn) for lay in makes.lays(conn, make.id).values()]
    assert len(kept) == len(taken) == len(shipped.shipped_lays()) and taken == [[]] * len(taken)


def test_a_lay_that_does_not_fit_its_request_is_laid_anew(monkeypatch):
    key, other = next(iter(shipped.shipped_lays().items()))  # of other pieces altogether
    monkeypatch.setattr(shipped, "shipped_lays", lambda: {key: other})
    monkeypatch.setattr(shipped, "key_of", lambda request: key)
    monkeypatch.setattr(shipped, "lay", lambda request: "laid")
    asked = LayRequest(LayCloth(1000.0), (LayPiece("1", ((0.0, 0.0), (0.0, 90.0), (120.0, 0.0))),))
    assert shipped.laid(asked) == "laid"
