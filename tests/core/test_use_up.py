"""Garments put onto cloths: held against every way there is, on small random cupboards."""

import itertools
import random

import pytest

from rowanseed.core.use_up import InHand, assigned


def best_by_trying(wanted, cloths, needs):
    """The most garments that can be made, and the least area that is cut into for it, by trying every way."""
    best = (0, 0.0)
    for choice in itertools.product([None, *(c.key for c in cloths)], repeat=len(wanted)):
        used = {}
        for g, c in zip(wanted, choice, strict=True):
            if c is not None:
                used[c] = used.get(c, 0.0) + needs.get((g, c), 1e9)
        if all(total <= next(c.has_mm for c in cloths if c.key == key) for key, total in used.items()):
            made = sum(c is not None for c in choice)
            area = sum(c.has_mm * c.width_mm for c in cloths if c.key in used)
            best = max(best, (made, -area))
    return best[0], -best[1]


@pytest.mark.parametrize("seed", range(25))
def test_nothing_better_is_found_by_trying_every_way(seed):
    rng = random.Random(seed)
    cloths = [InHand(k, rng.uniform(500, 4000), rng.choice((900.0, 1120.0, 1500.0))) for k in range(rng.randint(1, 4))]
    wanted = list(range(rng.randint(1, 5)))
    needs = {(g, c.key): rng.uniform(600, 2600) for g in wanted for c in cloths if rng.random() < 0.85}
    found = assigned(wanted, cloths, needs)
    most, area = best_by_trying(wanted, cloths, needs)
    used = {c.key for c in cloths if c.key in {g.cloth for g in found.given}}
    assert len(found.given) == most
    assert sum(c.has_mm * c.width_mm for c in cloths if c.key in used) == pytest.approx(area)
    for cloth in cloths:
        own = [g for g in found.given if g.cloth == cloth.key]
        assert all(g.left_mm == pytest.approx(cloth.has_mm - sum(o.needs_mm for o in own)) for g in own)
        assert all(g.left_mm >= -1e-3 for g in own)
    assert set(found.left_out) == set(wanted) - {g.garment for g in found.given}


def test_what_finds_no_cloth_says_which_lacks_least():
    """By hand: 2 m is cut for the first garment (1.5 m), so the second, 1.2 m, lacks 70 cm there and 40 cm on the other."""
    cloths = [InHand(1, 2000.0, 1400.0), InHand(2, 800.0, 1400.0)]
    found = assigned([7, 8], cloths, {(7, 1): 1500.0, (8, 1): 1200.0, (8, 2): 1200.0})
    assert len(found.given) == 1
    (short,) = found.left_out.values()
    assert short in ((2, 400.0), (1, 700.0))
    assert assigned([9], cloths, {}).left_out == {9: None}
