"""A scale is never believed alone: what a file says, its squares, pieces, steps and allowances are held against each other."""

import pytest
from shapely import Polygon

from rowanseed.core.intake.printed_lengths import printed_lengths
from rowanseed.demo import trousers, waistcoat
from rowanseed.formats.intake.read import read_intake
from tests.formats.intake.scale_files import WAYS, laid_out

PATTERNS = {"waistcoat in one size": (waistcoat.pattern(), ["M"]), "trousers in all sizes": (trousers.pattern(), None)}


def largest(outlines):
    return max(Polygon(o).area for o in outlines)


@pytest.mark.parametrize("name", PATTERNS)
@pytest.mark.parametrize("way", WAYS)
def test_a_wrong_scale_is_put_right_and_said_or_asked_for_never_silent(name, way):
    pattern, sizes = PATTERNS[name]
    data, allowed = WAYS[way](pattern, sizes)
    read = read_intake(data)
    codes = {f.code for f in read.findings if f.level == "care"}
    true = largest(shape.outline for _, shapes, _ in laid_out(pattern, sizes) for shape in shapes.values())
    by = (largest(lines.outline for p in read.pieces for lines in p.sizes.values()) / true) ** 0.5
    came = "asked" if "scale-ask" in codes else "put right" if "scale-corrected" in codes else "true"
    assert came in allowed, (came, by)
    assert came == "asked" or by == pytest.approx(1.0, abs=0.004)
    if "pocket" in way:
        assert any("pocket" in p.name.lower() for p in read.pieces)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("This square is 4 in (10.16 cm)", [101.6, 101.6]),
        ("Kontrollquadrat 5 cm", [50.0]),
        ("carré test: 5,08 centimètres", [50.8]),
        ("1 1/2 inches", [38.1]),
        ('2½" test', [63.5]),
        ("cuadrado de 2 pulgadas", [50.8]),
        ("30mm", [30.0]),
        ("sizes 8-16, cut 2", []),
    ],
)
def test_lengths_are_read_in_any_writing(text, mm):
    """By hand: an inch is 25.4 mm."""
    assert printed_lengths(text) == pytest.approx(mm)
