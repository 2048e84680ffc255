"""Photographs in a real room: a shadow's border is no edge, what cannot be told is asked about, never is half a piece returned."""

import numpy as np
import pytest
from shapely import Polygon

from bench import rooms
from rowanseed.core.errors import IntakeError
from rowanseed.core.trace.board import find_sheets
from rowanseed.core.trace.material import things
from rowanseed.core.trace.plane import fit_plane
from rowanseed.core.trace.sureness import GRID, Sureness, said_of
from rowanseed.core.trace.trace import TraceOptions, found_on_ground, scene_of, trace

PIECES = rooms.pieces()
YOKE, FRONT, POCKET = PIECES["overshirt yoke"], PIECES["waistcoat front"], PIECES["trouser pocket"]


@pytest.mark.parametrize(
    ("room", "piece"),
    [
        (rooms.shadow_half, FRONT),
        (rooms.shadow_arm, YOKE),
        (rooms.shadow_window, POCKET),
        (rooms.creases, YOKE),
        (rooms.wood, FRONT),
        (rooms.busy, YOKE),
        (rooms.near_tone, POCKET),
        (rooms.dark_tissue, YOKE),
        (rooms.printed, FRONT),
    ],
)
def test_light_is_no_edge(room, piece):
    """Within 0.2 % of the area or 0.6 mm of the drawn piece, whatever falls on it."""
    answer = rooms.answered(room(piece, 41).photograph(), piece)
    assert answer.kind == "right", answer


@pytest.mark.parametrize(("room", "piece"), [(rooms.touching, YOKE), (rooms.glare, POCKET)])
def test_a_stretch_that_cannot_be_told_is_drawn_and_said(room, piece):
    """A sheet of paper over the edge, a lamp mirrored beside it: the stretch that is named is the one."""
    answer = rooms.answered(room(piece, 41).photograph(), piece)
    assert "edge-unsure" in answer.words


def test_a_shadow_as_grey_as_the_tissue_is_refused_for_what_it_is():
    """Nobody can tell them by their colour: even light is asked for, not half a piece returned."""
    with pytest.raises(IntakeError) as refused:
        trace(rooms.grey_on_white(YOKE, 41).photograph(), TraceOptions())
    assert "shadow" in refused.value.text


def test_several_pieces_in_one_photograph_are_all_found():
    pocket = tuple((x, y + 330.0) for x, y in POCKET)
    room = rooms.plain(YOKE, 41)
    other = rooms.plain(pocket, 41)
    both = np.where((other.scene.astype(int) - room.scene > 60).any(axis=2)[..., None], other.scene, room.scene)
    room.scene = both
    found = found_on_ground(scene_of([room.photograph()]))
    areas = [Polygon(f.outline).area for f in found[:2]]
    assert areas == pytest.approx(sorted([Polygon(YOKE).area, Polygon(pocket).area], reverse=True), rel=0.004)


def test_the_level_of_a_field_is_that_of_the_steps_to_it_not_of_the_light():
    """Made by hand: a sheet 1.5 times as bright as its ground, the light halved over half of both."""
    reflecting = np.full((300, 300), 80.0)
    reflecting[90:210, 90:210] = 120.0
    reflecting[:, 150:] *= 0.5
    picture = np.repeat(np.round(reflecting)[..., None], 3, axis=2).astype(np.uint8)
    best = things(picture, np.full((300, 300), 255, dtype=np.uint8))[0]
    assert not best.cut_off and best.supported > 0.9
    assert best.area == pytest.approx(120 * 120, rel=0.03)
    assert best.mask[150, 100] and best.mask[150, 200] and not best.mask[20, 200]


def test_how_sure_a_place_is_said_to_be_holds_against_where_it_is():
    """Far from the one sheet, for lenses that bend either way: within three times what is said, and never far below it."""
    from dataclasses import replace

    import cv2

    from rowanseed.demo.photographs import photographed, table

    for k, seed in ((0.02, 1), (-0.05, 2)):
        camera = replace(rooms.CAMERA, seed=seed, k=k)
        picture, matrix = photographed(table(rooms.SIZE_MM, rooms.SHEETS, [YOKE]), camera)
        plane = fit_plane(find_sheets(cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY)), (picture.shape[1], picture.shape[0]))
        far = np.array([[470.0, 670.0, 1.0], [300.0, 670.0, 1.0]]) @ matrix.T
        wide, high = camera.pixels
        middle, reach = np.array([(wide - 1) / 2, (high - 1) / 2]), max(wide, high) / 2
        away = (far[:, :2] / far[:, 2:] - middle) / reach
        seen = plane.to_mm(middle + reach * away * (1 + k * np.sum(away * away, axis=1, keepdims=True)))
        x, y, turn = rooms.SHEETS[0]
        cos, sin = np.cos(turn), np.sin(turn)
        true = (np.array([[470.0, 670.0], [300.0, 670.0]]) - (x, y)) @ np.array([[cos, -sin], [sin, cos]])
        off, said = np.hypot(*(seen - true).T), plane.off_mm(true)
        assert (off < 3 * said).all() and (said < 3.0).all(), (off, said)


def test_what_is_not_sure_is_said_with_what_would_make_it_so():
    def rows(value: float) -> tuple[tuple[float, ...], ...]:
        return tuple(tuple(value for _ in range(GRID)) for _ in range(GRID))

    line = ((10.0, 10.0), (90.0, 10.0), (90.0, 90.0))
    [said] = said_of(Sureness(0, 0, 100, 100, rows(1.8), rows(0.4)), line, 0.3)
    assert said.level == "care" and "1.8 mm" in said.text and "0.4 mm" in said.text
    [said] = said_of(Sureness(0, 0, 100, 100, rows(0.3), rows(0.2)), line, 0.3)
    assert said.level == "note"
    assert [f.code for f in said_of(None, line, 0.8)] == ["coarse"]
