"""Photographs made up of drawn pieces: flattened, found and followed within the tissue's own accuracy, or refused in words."""

import math
from collections.abc import Callable
from dataclasses import replace

import cv2
import numpy as np
import pytest
from shapely import Polygon, hausdorff_distance

from rowanseed.core.errors import IntakeError
from rowanseed.core.trace.board import COLUMNS, ROWS, board, find_sheets, modules
from rowanseed.core.trace.plane import posed
from rowanseed.core.trace.trace import TraceOptions, found_on_ground, scene_of, trace
from rowanseed.demo.photographs import TEXEL_MM, Camera, photographed, table
from tests.formats.intake.files import bodice, moved

SHEETS = {0: (60.0, 80.0, 0.05)}
PIECE = moved(bodice(), 300, 60)
MIDDLE = Camera(pixels=(3264, 2448), wide=680)  # 8 megapixels, 12 degrees off the upright, blur, noise, uneven light


def on_sheet(points: list[tuple[float, float]], pose: tuple[float, float, float]) -> np.ndarray:
    cos, sin = math.cos(pose[2]), math.sin(pose[2])
    return (np.asarray(points) - pose[:2]) @ np.array([[cos, -sin], [sin, cos]])


def true_outline(
    picture: np.ndarray, sheets: dict[int, tuple[float, float, float]], piece: list[tuple[float, float]]
) -> Polygon:
    """The drawn piece in the coordinates that a trace answers in: those of the sheet that the plane begins with."""
    poses = scene_of([picture]).poses
    first = next(iter(poses))
    return Polygon(posed(on_sheet(piece, sheets[first]), poses[first]))


@pytest.fixture(scope="module")
def photo() -> np.ndarray:
    return photographed(table((640.0, 540.0), SHEETS, [PIECE]), MIDDLE)[0]


def test_the_middle_case_is_within_half_a_percent_and_two_millimetres(photo: np.ndarray) -> None:
    """Area within 0.5 %, every edge's length within 2 mm, the corners where they are."""
    traced = trace(photo, TraceOptions())
    true = true_outline(photo, SHEETS, PIECE)
    mine = Polygon(traced.outline)
    assert mine.area == pytest.approx(true.area, rel=0.005)
    assert hausdorff_distance(mine.exterior, true.exterior) < 1.0
    assert traced.error_mm < 0.3
    corners = [traced.outline[k] for k in traced.corners]
    for at in (
        (370, 60),
        (470, 100),
        (530, 250),
        (536, 480),
        (300, 480),
    ):  # the neck runs into the centre without a corner
        there = posed(on_sheet([at], SHEETS[0]), scene_of([photo]).poses[0])[0]
        assert min(math.dist(there, c) for c in corners) < 1.0
    sides = [math.dist(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
    assert any(abs(s - math.dist((370, 60), (470, 100))) < 2 for s in sides)


def test_tissue_that_stands_a_few_millimetres_off_the_table_is_still_within_the_bounds() -> None:
    """What stands higher seems larger and further out: 4 mm at 80 cm is half a percent at most."""
    camera = replace(MIDDLE, bulge=4.0, lifted=(280.0, 40.0, 560.0, 500.0))
    picture, _ = photographed(table((640.0, 540.0), SHEETS, [PIECE]), camera)
    traced = Polygon(trace(picture, TraceOptions()).outline)
    true = true_outline(picture, SHEETS, PIECE)
    assert traced.area == pytest.approx(true.area, rel=0.005)
    assert (
        abs(traced.exterior.length - true.exterior.length) < 4
        and hausdorff_distance(traced.exterior, true.exterior) < 2.0
    )


def clicked(points: list[tuple[float, float]], matrix: np.ndarray, camera: Camera, beside_px: float) -> TraceOptions:
    """Clicks on places of the table in a photograph, each a little beside."""
    at = np.asarray(points)
    plain = np.column_stack([at, np.ones(len(at))]) @ matrix.T
    wide, high = camera.pixels
    centre, reach = np.array([(wide - 1) / 2, (high - 1) / 2]), wide / 2
    away = (plain[:, :2] / plain[:, 2:] - centre) / reach
    there = centre + reach * away * (1 + camera.k * np.sum(away * away, axis=1, keepdims=True))
    return TraceOptions(tuple(map(tuple, there + np.random.default_rng(3).normal(0, beside_px, there.shape))))


def test_a_line_is_followed_between_clicks() -> None:
    """One of five nested sizes, clicked at its corners, 1 mm beside them, and in the middle of each curve."""
    lines = [moved(bodice(9.0 * k), 300, 60) for k in range(5)]
    wanted = lines[2]
    picture, matrix = photographed(table((640.0, 580.0), SHEETS, [], lines, ground=(225, 232, 236)), MIDDLE)
    traced = trace(picture, clicked([wanted[k] for k in (0, 6, 12, 13, 21, 30, 31, 32)], matrix, MIDDLE, 3.0))
    true = true_outline(picture, SHEETS, wanted)
    assert Polygon(traced.outline).is_valid
    assert Polygon(traced.outline).area == pytest.approx(true.area, rel=0.005)
    assert hausdorff_distance(Polygon(traced.outline).exterior, true.exterior) < 2.5


def test_the_edge_of_a_piece_is_followed_where_no_line_is_printed() -> None:
    """A piece on the ground, its corners clicked, with one click more in each curve."""
    picture, matrix = photographed(table((640.0, 540.0), SHEETS, [PIECE]), MIDDLE)
    traced = trace(picture, clicked([PIECE[k] for k in (0, 6, 12, 13, 21, 30, 31, 32)], matrix, MIDDLE, 3.0))
    true = true_outline(picture, SHEETS, PIECE)
    assert Polygon(traced.outline).area == pytest.approx(true.area, rel=0.005)
    assert hausdorff_distance(Polygon(traced.outline).exterior, true.exterior) < 1.5


def test_two_photographs_are_joined_over_the_sheet_they_share() -> None:
    """A piece of 90 cm, half of it in each photograph; the sheets stayed in place."""
    sheets = {0: (40.0, 60.0, 0.0), 1: (40.0, 420.0, 0.02), 2: (40.0, 780.0, -0.01)}
    piece = [(300.0, 60.0), (460.0, 60.0), (500.0, 960.0), (300.0, 960.0)]
    scene = table((560.0, 1100.0), sheets, [piece])
    halves = [
        photographed(scene, Camera((1800, 2400), 560, slant=6, middle=(280.0, y), seed=n))[0]
        for n, y in enumerate((370.0, 740.0))
    ]
    joined = scene_of(halves)
    assert set(joined.poses) == {0, 1, 2}
    outline = found_on_ground(joined)[0].outline
    assert Polygon(outline).area == pytest.approx(Polygon(piece).area, rel=0.005)
    ys = [y for _, y in outline]
    assert max(ys) - min(ys) == pytest.approx(900, abs=2.5)


def test_a_scan_needs_no_sheet_but_its_dpi() -> None:
    scan = table((300.0, 420.0), {}, [[(40, 40), (240, 40), (240, 340), (40, 340)]])
    traced = trace(scan, TraceOptions(dpi=25.4 / TEXEL_MM))
    assert Polygon(traced.outline).area == pytest.approx(200 * 300, rel=0.005)
    assert len(traced.corners) == 4
    with pytest.raises(IntakeError):
        trace(scan, TraceOptions())


@pytest.mark.parametrize(
    ("scene", "words"),
    [
        (lambda: table((640.0, 540.0), SHEETS, []), "stands out"),
        (lambda: table((640.0, 540.0), SHEETS, [PIECE], ground=(186, 214, 226)), "stands out"),
        (lambda: table((640.0, 540.0), SHEETS, [[(330, 60), (900, 60), (900, 480), (330, 480)]]), "over the edge"),
        (lambda: table((640.0, 540.0), SHEETS, [[(200, 200), (560, 180), (560, 480), (210, 470)]]), "sheet"),
    ],
)
def test_what_cannot_be_told_is_refused_in_words(scene: Callable[[], np.ndarray], words: str) -> None:
    """No piece, a piece of the ground's colour, one cut off by the picture, one that lies on the sheet."""
    picture, _ = photographed(scene(), MIDDLE)
    with pytest.raises(IntakeError) as refused:
        trace(picture, TraceOptions())
    assert words in refused.value.text


def test_a_slant_and_a_far_piece_are_said() -> None:
    picture, _ = photographed(table((640.0, 540.0), SHEETS, [PIECE]), Camera(pixels=(3264, 2448), wide=760, slant=38))
    codes = {f.code for f in trace(picture, TraceOptions()).findings}
    assert "slant" in codes


def test_every_sheet_has_markers_of_its_own_and_letter_is_the_a4_board_without_its_last_row() -> None:
    assert (modules(3, ROWS["letter"]) == modules(3, ROWS["a4"])[: ROWS["letter"] * 20]).all()
    seen = [set(board(k).getIds().ravel().tolist()) for k in range(4)]
    assert not set.intersection(*seen) and len(set.union(*seen)) == 4 * COLUMNS * ROWS["a4"] // 2
    drawn = np.kron(~modules(2, 9), np.ones((8, 8), dtype=np.uint8)).astype(np.uint8) * 255
    found = find_sheets(cv2.copyMakeBorder(drawn, 60, 60, 60, 60, cv2.BORDER_CONSTANT, value=255))
    assert [(s.sheet, len(s.mm)) for s in found] == [(2, 40)]
