"""The yardage table's lengths against the fabric-width conversion chart that extension services publish.

The chart's figures (yards at 35-36, 44-45, 52-54 and 58-60 in) are from memory of the Rutgers Cooperative Extension chart.
"""

from dataclasses import replace

import numpy as np
import pytest

from rowanseed.core.lay.engine import lay
from rowanseed.core.lengths import MM_PER, Length
from rowanseed.core.pattern.model import Printed
from rowanseed.core.yardage_table import (
    WIDTHS_MM,
    Cell,
    CellKey,
    against_printed,
    cell_of,
    cell_request,
    keys,
    printed_for,
    widths_for,
)
from rowanseed.demo import overshirt, trousers, waistcoat

CHART = np.array([
    [1.75, 1.375, 1.125, 1.0], [2.0, 1.625, 1.375, 1.25], [2.25, 1.75, 1.5, 1.375], [2.5, 2.125, 1.75, 1.625],
    [2.875, 2.25, 1.875, 1.75], [3.125, 2.5, 2.0, 1.875], [3.375, 2.75, 2.25, 2.0],
])  # fmt: skip


def yards(module, size, cloth="one-way"):
    pattern = module.pattern()
    return [
        lay(cell_request(pattern, "A", "self", CellKey(size, w, cloth), "in")).length_mm / MM_PER["yd"]
        for w in WIDTHS_MM["in"]
    ]


def by_chart(at_45):
    """What the chart makes of a length at 44-45 in, at every width."""
    return [float(np.interp(at_45, CHART[:, 1], CHART[:, k])) for k in range(4)]


@pytest.mark.parametrize("size", ["14", "18"])
def test_a_shirt_s_lengths_across_widths_agree_with_the_published_chart_within_15_per_cent(size):
    ours = yards(overshirt, size)
    for own, theirs in zip(ours, by_chart(ours[1]), strict=True):
        assert own == pytest.approx(theirs, rel=0.15)


def test_trousers_agree_but_for_the_width_at_which_one_more_leg_lies_abreast():
    ours = yards(trousers, "38")
    chart = by_chart(ours[1])
    assert all(own == pytest.approx(theirs, rel=0.15) for own, theirs in zip(ours[:3], chart[:3], strict=True))
    # At 60 in all four legs lie side by side: less than any area rule says.
    assert ours[3] < chart[3]


@pytest.mark.parametrize(("module", "size"), [(waistcoat, "M")])
def test_wider_cloth_never_takes_more_and_a_nap_never_less(module, size):
    one_way, either = yards(module, size), yards(module, size, "either-way")
    assert all(a >= b - 0.03 for a, b in zip(one_way, one_way[1:]))
    assert all(nap >= free - 0.03 for nap, free in zip(one_way, either, strict=True))


def test_cells_come_row_by_row_and_a_size_without_outlines_has_no_lay():
    wanted = keys(("8", "10"), widths_for("interfacing", "cm"), ("either-way", "one-way"))
    assert [(k.size, k.cloth, k.width_mm) for k in wanted[:3]] == [
        ("8", "either-way", 560.0),
        ("8", "either-way", 900.0),
        ("8", "one-way", 560.0),
    ]
    assert cell_request(overshirt.pattern(), "A", "self", CellKey("99", 1500.0, "one-way"), "cm") is None
    matched = cell_request(overshirt.pattern(), "A", "self", CellKey("14", 1500.0, "check"), "cm")
    assert matched.spread == "lengthwise-fold" and len(matched.matches) >= 3


def metres(mm):
    return Length(mm, f"{mm / 1000:.2f} m", "m")


@pytest.mark.parametrize(
    ("printed_mm", "one_way", "says"),
    [
        (2020, False, "says the same"),
        (2600, False, "with a nap"),
        (3900, False, "several sizes"),
        (1900, True, "too short for a nap"),
        (1200, True, "allowances are not added twice"),
    ],
)
def test_why_the_envelope_s_figure_differs(printed_mm, one_way, says):
    cells = [(CellKey("14", 1150.0, "either-way"), Cell(1850.0, "single", 0.8)),
             (CellKey("14", 1150.0, "one-way"), Cell(2500.0, "single", 0.7))]  # fmt: skip
    printed = Printed("A", ("14",), metres(1150.0), metres(printed_mm), one_way)
    assert says in against_printed(printed, cells, 2500.0 if one_way else 2000.0, "cm")


def test_a_printed_figure_is_found_for_its_width_size_and_nap():
    pattern = overshirt.pattern()
    assert printed_for(pattern, "A", CellKey("14", 1120.0, "either-way")).length.mm == 2200
    assert printed_for(pattern, "A", CellKey("14", 1150.0, "one-way")) is None
    assert printed_for(pattern, "B", CellKey("14", 1120.0, "either-way")) is None


@pytest.mark.parametrize(("module", "width"), [(trousers, 1400.0), (trousers, 900.0), (waistcoat, 1120.0)])
def test_a_cell_is_as_short_as_the_shortest_of_all_spreads(module, width):
    # bench/yardage holds every cell of the demo's table so; here three of them.
    pattern = module.pattern()
    key = CellKey(pattern.size_names()[1], width, "either-way")
    asked = cell_request(pattern, "A", "self", key, "cm")
    assert lay(asked).length_mm <= 1.005 * lay(replace(asked, table=False)).length_mm


def test_a_cell_says_how_many_pieces_of_cloth_are_cut_for_it():
    pattern = trousers.pattern()
    asked = cell_request(pattern, "A", "self", CellKey("40", 1400.0, "either-way"), "cm")
    single = cell_of(asked, lay(asked))
    assert single.spread == "single" and single.cuts == sum(p.cut for p in asked.pieces) and single.opened == 0
    folded = replace(asked, spread="lengthwise-fold", table=False)
    assert cell_of(folded, lay(folded)).cuts == single.cuts / 2  # pairs, both layers at once
