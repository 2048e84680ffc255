"""What patterns take at the widths on sale: bounds hold real lays between them, kept lays and envelopes are told as they stand."""

from contextlib import closing

import pytest

from rowanseed.core.lay.engine import lay
from rowanseed.services.shop_shelf import KINDS, not_kept, on_shelf, unlaid
from rowanseed.services.yardage_tables import put_cell
from rowanseed.store import db
from rowanseed.store.settings import settings


@pytest.fixture
def household(demo_path):
    with closing(db.connect(demo_path)) as conn:
        yield conn


def test_real_lays_lie_between_what_was_told_before_they_were_made_and_stand_there_afterwards(household):
    asked = settings(household)
    before = {row.title: row for row in on_shelf(household, asked)}
    count = not_kept(household, asked)
    wanted = [found for k, found in enumerate(unlaid(household, asked)) if k % 5 == 0]
    assert len(wanted) > 4
    for garment, key, request in wanted:
        told = next(t for t in before[garment.title].takes if (t.kind, t.width_mm) == (key.cloth, key.width_mm))
        laid = lay(request)
        assert told.by == "bounds" and told.least_mm <= laid.length_mm + 0.01 <= told.most_mm + 0.02
        with db.write(household):
            put_cell(household, garment.pattern_id, garment.view, "self", key, request, laid)
        after = next(row for row in on_shelf(household, asked) if row.title == garment.title)
        now = [t for t in after.takes if (t.size, t.kind, t.width_mm) == (key.size, key.cloth, key.width_mm)]
        assert [(t.by, t.least_mm, t.most_mm) for t in now] == [("laid", laid.length_mm, laid.length_mm)]
    assert not_kept(household, asked) == count - len(wanted)


def test_makes_under_way_stand_first_and_every_kind_of_cloth_is_told(household):
    rows = on_shelf(household, settings(household))
    with_makes = [bool(row.makes) for row in rows]
    assert with_makes == sorted(with_makes, reverse=True) and any(with_makes)
    assert all({t.kind for t in row.takes} == set(KINDS) for row in rows)
    assert any(name.startswith("one of ") for row in rows for name in row.makes)  # four waistcoats are not one
