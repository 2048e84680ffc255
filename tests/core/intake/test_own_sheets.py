"""What went out on paper comes in again: names, folds, notches, outlines, by each kind of file; read as strangers' files are."""

import pytest
from shapely import Polygon

from rowanseed.core.intake.model import IntakeOptions
from rowanseed.core.paper.model import PAPERS, PaperRequest
from rowanseed.core.paper.pack import pack
from rowanseed.demo import overshirt
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.paper_drawing import PaperPiece, paper_drawing
from rowanseed.formats.paper_dxf import sheet_dxf
from rowanseed.formats.paper_pdf import PaperWords, paper_pdf
from rowanseed.formats.paper_svg import sheet_svg


@pytest.fixture(scope="module")
def sheet():
    pieces = [
        PaperPiece(p.number, (f"{p.number} {p.name}", f"Size 14. Cut {p.cut}."), p.shapes["14"], None, "14")
        for p in overshirt.pattern().pieces
        if "14" in p.shapes and not p.same_as
    ]
    request = PaperRequest(tuple((p.id, p.shape.outline) for p in pieces), PAPERS["a4"])
    return pieces, paper_drawing(pack(request), pieces, "cm")


@pytest.mark.parametrize("kind", ["pdf", "svg", "dxf"])
def test_a_sheet_comes_in_with_its_names_folds_and_notches(sheet, kind):
    pieces, drawing = sheet
    written = {
        "pdf": lambda: paper_pdf(drawing, PAPERS["a4"], 10.0, PaperWords("Overshirt")),
        "svg": lambda: sheet_svg(drawing, "Overshirt").encode(),
        "dxf": lambda: sheet_dxf(drawing).encode(),
    }
    found = {p.number: p for p in read_intake(written[kind](), IntakeOptions()).pieces}
    assert sorted(found) == sorted(p.id for p in pieces)
    for piece in pieces:
        came = found[piece.id]
        (lines,) = came.sizes.values()
        assert came.name == piece.words[0].removeprefix(f"{piece.id} ")
        assert (lines.fold_edge is not None) is (piece.shape.fold_edge is not None), piece.words
        assert Polygon(lines.outline).area == pytest.approx(piece.shape.area_mm2(), rel=2e-4)
        ticks = sum(n.count for n in piece.shape.notches)
        assert len(lines.notches) in (ticks, len(piece.shape.notches)), (piece.words, len(lines.notches))
