"""The repeat found in photographs made with a known one, askew and noisy, within one in a hundred."""

import numpy as np
import pytest

from rowanseed.core.cloth.repeat import PhotoError, find_repeat, grey_of, straightened

SHEET = (500.0, 420.0)  # mm of cloth in the picture, along and across


def motif(x, y, along, across, half_drop=False):
    """A figure on a lattice, its brightness at places of the cloth, mm."""
    column = np.floor(y / across)
    shift = np.where(column % 2 == 1, along / 2, 0.0) if half_drop else 0.0
    u, v = ((x + shift) % along) / along - 0.5, (y % across) / across - 0.5
    leaf = np.exp(-((u / 0.18) ** 2) - (v / 0.12) ** 2) - 0.7 * np.exp(
        -(((u - 0.2) / 0.07) ** 2) - ((v + 0.15) / 0.2) ** 2
    )
    return 120 + 90 * leaf


def plaid(x, y, along, across):
    return (
        150 + 40 * ((x % along) < 0.3 * along) - 60 * ((y % across) < 0.2 * across) - 30 * ((x % along) > 0.9 * along)
    )


def photograph(figure, noise, tilt, seed=1):
    """A picture of a sheet lying askew under the camera, unevenly lit; and where the sheet's corners are in it."""
    width, height = 900, 760
    corners = ((70 + tilt, 60.0), (840.0, 60 + tilt), (860 - tilt, 720 - tilt), (50.0, 700.0))
    rows, right = [], []
    for (x, y), (u, v) in zip(((0, 0), (SHEET[0], 0), SHEET, (0, SHEET[1])), corners, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -x * u, -x * v], [0, 0, 0, u, v, 1, -y * u, -y * v]]
        right += [x, y]
    back = np.append(np.linalg.solve(np.array(rows, float), np.array(right, float)), 1.0).reshape(3, 3)
    px, py = np.meshgrid(np.arange(width), np.arange(height))
    at = np.stack((px, py, np.ones_like(px)), axis=-1) @ back.T
    picture = figure(at[..., 0] / at[..., 2], at[..., 1] / at[..., 2])
    light = 30 * px / width - 20 * py / height
    return picture + light + np.random.default_rng(seed).normal(0, noise, picture.shape), corners


@pytest.mark.parametrize("noise", [0, 12, 30])
@pytest.mark.parametrize(("along", "across"), [(80.0, 100.0), (123.0, 61.5), (47.0, 47.0)])
def test_a_motif_is_found_within_one_in_a_hundred(along, across, noise):
    picture, corners = photograph(lambda x, y: motif(x, y, along, across), noise, 60)
    found = find_repeat(*straightened(picture, corners, *SHEET))
    assert found.along_mm == pytest.approx(along, rel=0.01) and found.across_mm == pytest.approx(across, rel=0.01)
    assert not found.half_drop and found.sure > 0.3


@pytest.mark.parametrize("tilt", [0, 40, 90])
def test_a_plaid_is_found_however_the_camera_was_held(tilt):
    picture, corners = photograph(lambda x, y: plaid(x, y, 96.0, 72.0), 15, tilt)
    found = find_repeat(*straightened(picture, corners, *SHEET))
    assert found.along_mm == pytest.approx(96.0, rel=0.01) and found.across_mm == pytest.approx(72.0, rel=0.01)


def test_a_half_drop_is_told_from_a_straight_lattice():
    picture, corners = photograph(lambda x, y: motif(x, y, 100.0, 60.0, half_drop=True), 10, 40)
    found = find_repeat(*straightened(picture, corners, *SHEET))
    assert found.half_drop
    assert found.along_mm == pytest.approx(100.0, rel=0.01) and found.across_mm == pytest.approx(60.0, rel=0.01)


def test_a_stripe_has_a_repeat_one_way_only():
    picture, corners = photograph(lambda x, y: 100 + 80 * ((y % 40.0) < 12.0), 10, 30)
    found = find_repeat(*straightened(picture, corners, *SHEET))
    assert found.along_mm == 0.0 and found.across_mm == pytest.approx(40.0, rel=0.01)


def test_plain_cloth_and_noise_alone_have_none():
    with pytest.raises(PhotoError):
        find_repeat(np.full((300, 300), 128.0), 2.0)
    with pytest.raises(PhotoError, match="two repeats"):
        find_repeat(np.random.default_rng(3).normal(0, 20, (300, 400)), 2.0)


def test_corners_that_cross_are_refused():
    with pytest.raises(PhotoError, match="going round"):
        straightened(np.zeros((400, 400)), ((10, 10), (300, 300), (300, 10), (10, 300)), 100.0, 100.0)


def test_colours_are_greyed_as_the_eye_sees_them():
    # green is brighter to the eye than red, red than blue (ITU-R BT.601)
    red, green, blue = (grey_of(np.eye(3)[k].reshape(1, 1, 3) * 255)[0, 0] for k in range(3))
    assert green > red > blue and red + green + blue == pytest.approx(255.0)
