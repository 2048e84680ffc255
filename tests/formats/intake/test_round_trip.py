"""What our own writers give out comes back: outlines within a tenth of a millimetre, with every size, mark and word."""

from collections.abc import Callable

import pytest
from shapely import Polygon, hausdorff_distance

from rowanseed.core.pattern.model import Pattern
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_json import write_pattern
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg

WRITERS: dict[str, Callable[[Pattern], bytes]] = {
    "svg": lambda p: pattern_svg(p).encode(),
    "dxf": lambda p: pattern_dxf(p).encode(),
    "json": lambda p: write_pattern(p).encode(),
    "pdf on A4": pattern_pdf,
    "pdf on Letter, no overlap": lambda p: pattern_pdf(p, "letter", 0.0),
    "pdf on one sheet": lambda p: pattern_pdf(p, "sheet"),
}


@pytest.mark.parametrize("way", WRITERS)
@pytest.mark.parametrize(
    "pattern", [trousers.pattern(), waistcoat.pattern(), overshirt.pattern()], ids=lambda p: p.name
)
def test_a_pattern_comes_back(pattern: Pattern, way: str) -> None:
    """Every outline of every size, the words, the fold, notches, dots and inner lines."""
    read = read_intake(WRITERS[way](pattern))
    assert read.sizes == pattern.size_names()
    assert [p.number for p in read.pieces] == [p.number for p in pattern.pieces]
    for mine, piece in zip(read.pieces, pattern.pieces, strict=True):
        assert (mine.name, mine.cut, mine.mirrored, mine.role or "self") == (
            piece.name,
            piece.cut,
            piece.mirrored,
            piece.role,
        )
        outlines = [s.outline for s in piece.shapes.values()]
        origin = (
            (min(x for o in outlines for x, _ in o), min(y for o in outlines for _, y in o))
            if way != "json"
            else (0.0, 0.0)
        )
        for size, shape in piece.shapes.items():
            lines = mine.sizes[size]
            ring = Polygon([(x - origin[0], y - origin[1]) for x, y in shape.outline]).exterior
            assert hausdorff_distance(ring, Polygon(lines.outline).exterior) < 0.1
            assert (lines.fold_edge is None) == (shape.fold_edge is None)
            assert (lines.seam_line is None) == (not any(shape.side_allowances))
            assert len(lines.points) == len(shape.marks)
            assert len(lines.internal) == len(shape.lines)
            notches = len(shape.notches) if way == "json" else sum(n.count for n in shape.notches)
            assert len(lines.notches) == notches


def test_a_tiled_pdf_has_a_layer_for_each_size_and_leaves_empty_pages_out() -> None:
    """Optional content groups by ISO 32000-1, 8.11, named after the sizes; the page map has gaps."""
    import io

    import pikepdf

    with pikepdf.open(io.BytesIO(pattern_pdf(overshirt.pattern()))) as document:
        names = [str(g.Name) for g in document.Root.OCProperties.OCGs]
        pages = len(document.pages)
    assert names == [f"Size {s}" for s in overshirt.pattern().size_names()]
    assert pages < 8 * 11


def test_some_sizes_alone() -> None:
    """Two sizes asked for are the two that come back."""
    read = read_intake(pattern_svg(trousers.pattern(), ("40", "42")).encode())
    assert read.sizes == ("40", "42")


@pytest.mark.browser
def test_what_chromium_prints_is_read() -> None:
    """A browser's print has no layers and turns dashes into strips; sizes and seam lines are found all the same."""
    from playwright.sync_api import sync_playwright

    from tests.browser.conftest import FLAGS

    svg = pattern_svg(waistcoat.pattern(), ("S", "M", "L")).split("?>", 1)[1]
    with sync_playwright() as tool:
        browser = tool.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page()
        page.set_content(f"<style>@page {{ margin: 0 }} body {{ margin: 0 }} svg {{ display: block }}</style>{svg}")
        data = page.pdf(width="1420mm", height="1700mm", margin=dict.fromkeys(("top", "bottom", "left", "right"), "0"))
        browser.close()
    read = read_intake(data)
    assert len(read.sizes) == 3
    assert [p.name for p in read.pieces] == [p.name for p in waistcoat.pattern().pieces]
    for mine, piece in zip(read.pieces[:2], waistcoat.pattern().pieces, strict=False):
        for size, own in zip(read.sizes, ("S", "M", "L"), strict=True):
            assert Polygon(mine.sizes[size].outline).area == pytest.approx(piece.shapes[own].area_mm2(), rel=1e-3)
            assert mine.sizes[size].seam_line is not None
