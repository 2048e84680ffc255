"""The slashed bust alteration: by hand on a plain bodice, and on the demo's fronts in every size."""

import math
from dataclasses import replace

import pytest
from shapely import Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import alter, seam_walk
from rowanseed.core.fit.bust import slash_bust
from rowanseed.core.fit.bust_below import taken_out_again
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.question import WORTH_MM
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, Mark, PieceShape
from rowanseed.core.make.pieces import fit_pieces
from rowanseed.core.pattern.seamwalk import AlterPiece, walk_findings
from rowanseed.demo import overshirt, waistcoat

# Half a front, centre at y = 0: shoulder to 140, a straight armhole down to (200, 240), a straight side to a hem at 500.
FRONT = PieceShape(
    ((80, 0), (0, 70), (40, 180), (200, 240), (500, 240), (500, 0)),
    fold_edge=((80, 0), (500, 0)),
    edges={
        "neck": (0, 1),
        "shoulder": (1, 2),
        "armhole": (2, 3),
        "side": (3, 4),
        "hem": (4, 5),
        "centre": (5, 0),
    },
    levels={"bust": 200.0, "waist": 380.0},
)
POINT = (240.0, 90.0)
MIRRORED = replace(
    FRONT,
    outline=FRONT.outline[::-1],
    edges={name: (5 - j, 5 - i) for name, (i, j) in FRONT.edges.items()},
)


def length(shape, edge):
    return path_length(edge_points(shape.outline, shape.edges[edge]))


@pytest.mark.parametrize("shape", [FRONT, MIRRORED])
def test_a_full_bust_with_a_dart_widens_by_the_amount_and_lengthens_the_side_by_the_darts_mouth(shape):
    done = slash_bust(shape, 20.0, POINT, "side", dart=True)
    (dart,) = [line for line in done.lines if line.kind == "dart"]
    mouth = math.dist(dart.points[0], dart.points[2])
    assert length(done, "side") - length(shape, "side") == pytest.approx(mouth, abs=0.01)
    assert max(y for x, y in done.outline if x > 400) == pytest.approx(260)  # 240 + 20, at waist and hem
    assert length(done, "armhole") == pytest.approx(length(shape, "armhole"), abs=0.01)
    assert length(done, "neck") == pytest.approx(length(shape, "neck"))
    # The slash turns about its armhole end, a third up: by hand, 2/3 of the way from (40, 180) to (200, 240).
    hinge = (40 + 160 * 2 / 3, 180 + 60 * 2 / 3)
    rx, ry = POINT[0] - hinge[0], POINT[1] - hinge[1]
    reach = math.hypot(rx, ry)
    angle = math.asin((ry + 20) / reach) - math.asin(ry / reach)
    dropped = rx * math.cos(angle) - ry * math.sin(angle) - rx
    assert length(done, "centre") - length(shape, "centre") == pytest.approx(dropped, abs=0.01)
    # The dart's mouth spans that angle at the bust point, 150 mm from the side.
    assert mouth == pytest.approx(2 * 150 * math.sin(angle / 2), rel=0.02)


def test_a_full_bust_without_a_dart_keeps_the_sides_length_and_widens_by_the_amount():
    done = slash_bust(FRONT, 20.0, POINT, "side", dart=False)
    assert length(done, "side") == pytest.approx(length(FRONT, "side"), abs=1.0)
    assert max(y for x, y in done.outline if x > 400) == pytest.approx(260)
    assert not [line for line in done.lines if line.kind == "dart"]


def test_a_small_bust_takes_its_amount_out_of_the_dart_that_is_there():
    full = slash_bust(FRONT, 20.0, POINT, "side", dart=True)
    small = slash_bust(full, -8.0, POINT, "side", dart=True)
    before, after = (next(line for line in s.lines if line.kind == "dart") for s in (full, small))
    assert math.dist(after.points[0], after.points[2]) < math.dist(before.points[0], before.points[2])
    assert max(y for x, y in small.outline if x > 400) == pytest.approx(252)
    assert Polygon(small.outline).is_valid


@pytest.mark.parametrize(
    ("shape", "by", "point", "word"),
    [
        (FRONT, -10.0, POINT, "without a dart"),
        (FRONT, 20.0, (240.0, 300.0), "off the piece"),
        (FRONT, 20.0, None, "where the bust point lies"),
        (FRONT, 400.0, POINT, "more than one slash"),
        (replace(FRONT, edges={"side": (3, 4)}), 20.0, POINT, "armhole"),
    ],
)
def test_a_bust_that_cannot_be_slashed_is_refused_with_the_reason(shape, by, point, word):
    with pytest.raises(AlterationError, match=word):
        slash_bust(shape, by, point, "side", dart=True)


def test_marks_and_lines_go_with_the_part_they_lie_on_and_the_bust_point_stays():
    marked = replace(
        FRONT,
        marks=(Mark("bust point", POINT), Mark("pocket", (400.0, 150.0)), Mark("top button", (120.0, 10.0))),
        lines=(Line("lengthen", ((380.0, 0.0), (380.0, 240.0))),),
    )
    done = slash_bust(marked, 20.0, None, "side", dart=True)
    at = {m.name: m.at for m in done.marks}
    assert at["bust point"] == POINT and at["top button"] == (120.0, 10.0)
    assert at["pocket"][1] == pytest.approx(170) and done.levels["bust"] == 200.0


@pytest.mark.parametrize(("module", "number"), [(overshirt, "3"), (waistcoat, "1")])
@pytest.mark.parametrize("kind", ["bust", "bust-dartless"])
def test_after_a_full_bust_every_seam_of_the_demo_still_meets_in_every_size(module, number, kind):
    pattern = module.pattern()
    for size in pattern.size_names():
        base = [AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm) for p in pattern.pieces]
        front = next(p.shape for p in base if p.id == number)
        wanted = Alteration(kind, number, 19.0, front.levels["bust"] + 20, across_mm=90.0)
        done = alter(base, pattern.seams, [wanted])
        assert not [f for f in done.findings if f.level != "note"], (size, [f.text for f in done.findings])
        assert walk_findings(seam_walk(done.pieces, pattern.seams)) == []


LEVELS = {"waist": 423.0, "hip": 633.0}  # of the front as the tissue has it, at 14


@pytest.mark.parametrize("kind", ["bust", "bust-dartless"])
def test_what_a_bust_change_lets_out_at_waist_and_hip_is_taken_out_again(kind):
    pattern = overshirt.pattern()
    pieces, seams = fit_pieces(pattern, "14")
    shell = pattern.pieces_of("A", "self")

    def girths(alterations):
        shapes = {p.id: p.shape for p in alter(pieces, seams, alterations).pieces}
        return {
            k: g.mm for k, g in finished_girths([(p, shapes[p.number]) for p in shell if p.number in shapes]).items()
        }

    made = [Alteration(kind, "3", 15.0)]
    asked = taken_out_again(shell, pieces, seams, made, "cm")
    lower = next(p.shape for p in alter(pieces, seams, made).pieces if p.id == "3").levels if kind == "bust" else LEVELS
    assert [a.alteration.at_mm for a in asked] == [lower["waist"], lower["hip"]] and "waist" in asked[0].why
    one = [*made, asked[0].alteration]
    assert [a.alteration.at_mm for a in taken_out_again(shell, pieces, seams, one, "cm")] == [lower["hip"]]
    after = girths([*made, *(a.alteration for a in asked)])
    was = girths([])
    assert after["waist"] == pytest.approx(was["waist"], abs=WORTH_MM)
    assert after["hip"] == pytest.approx(was["hip"], abs=WORTH_MM)
    assert taken_out_again(shell, pieces, seams, [*made, *(a.alteration for a in asked)], "cm") == []
    assert taken_out_again(shell, pieces, seams, [], "cm") == []
