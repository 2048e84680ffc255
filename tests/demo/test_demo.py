"""The invented household: whole, sound, and short of corduroy on purpose."""

from rowanseed.core.lay.check import check_lay
from rowanseed.core.make.lay_requests import fingerprint, lay_request
from rowanseed.core.make.pieces import altered_pattern, sized_pieces
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.load import load_demo_if_new
from rowanseed.store import cloths, db, makes, patterns


def laid(conn):
    """Every kept lay with what it was asked for."""
    for make in makes.makes(conn):
        sizes = [g.size for g in make.garments]
        drawn = patterns.pattern(conn, make.pattern_id).pattern
        pattern, _ = altered_pattern(drawn, sizes, make.plan.alterations)
        for role, kept in makes.lays(conn, make.id).items():
            pieces, _ = sized_pieces(pattern, make.view, role, sizes)
            request = lay_request(pieces, cloths.cloth(conn, make.cloths[role]).cloth, make.plan, seams=pattern.seams)
            yield make, role, request, kept


def test_every_demo_lay_passes_the_independent_check_and_is_up_to_date(demo_path):
    conn = db.connect(demo_path)
    lays = list(laid(conn))
    assert len(lays) == 10
    for make, role, request, kept in lays:
        assert check_lay(request, kept.lay) == [], (make.name, role)
        assert kept.asked == fingerprint(request)
    conn.close()


def test_the_corduroy_is_a_little_too_short_and_nothing_else_is(demo_path):
    conn = db.connect(demo_path)
    short = {make.name: kept.lay.short_mm for make, _, _, kept in laid(conn) if kept.lay.short_mm}
    assert list(short) == ["Corduroy trousers"] and 0 < short["Corduroy trousers"] < 150
    conn.close()


def test_the_choirs_four_waistcoats_share_one_lay(demo_path):
    conn = db.connect(demo_path)
    (kept,) = (k for make, role, _, k in laid(conn) if make.name.startswith("Four") and role == "self")
    assert {p.piece.split("/")[1] for p in kept.lay.placements} == {"1", "2", "3", "4"}
    conn.close()


def test_every_pattern_has_at_least_six_sizes_drafted_in_every_piece():
    for module in (overshirt, trousers, waistcoat):
        pattern = module.pattern()
        assert len(pattern.sizes) >= 6
        for piece in pattern.pieces:
            assert set(piece.shapes) == set(pattern.size_names()), piece.name
            areas = [piece.shapes[s].area_mm2() for s in pattern.size_names()]
            assert areas == sorted(areas), piece.name


def test_an_existing_database_is_left_alone(demo_path):
    assert load_demo_if_new(demo_path) is False
