"""The charts to begin with: intervals of the standard that they are remembered from, and a size advised by them."""

import pytest

from rowanseed.core.fit.advice import size_advice
from rowanseed.core.fit.body_charts import CHARTS
from rowanseed.core.fit.chart_comparison import AdviceRequest
from rowanseed.core.fit.scale import SizeRow


def test_sizes_are_named_by_their_girth_and_rise_by_the_standard_s_steps():
    """EN 13402-3, from memory: 4 cm up to a bust of 104 and 6 above; men's chests 4; a child's height 6."""
    women, men, children = (CHARTS[k].cm for k in ("women", "men", "children"))
    steps = [b - a for a, b in zip(women["bust"], women["bust"][1:], strict=False)]
    assert steps == [4] * 7 + [6] * 3
    assert {b - a for a, b in zip(men["bust"], men["bust"][1:], strict=False)} == {4}
    assert {b - a for a, b in zip(children["height"], children["height"][1:], strict=False)} == {6}
    assert [s.size for s in CHARTS["women"].sizes()][:2] == ["76", "80"]


@pytest.mark.parametrize("key", CHARTS)
def test_every_measure_rises_and_has_a_figure_for_each_size(key):
    chart = CHARTS[key]
    for values in chart.cm.values():
        assert len(values) == len(chart.cm[chart.named_by]) and list(values) == sorted(values)


def test_a_body_finds_its_size_on_the_chart():
    rows = tuple(SizeRow(s.size, {k: v.mm for k, v in s.body.items()}) for s in CHARTS["women"].sizes())
    assert size_advice(AdviceRequest({"bust": 921.0, "waist": 760.0}, rows)).size == "92"
