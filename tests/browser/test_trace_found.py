"""Several pieces in one photograph: the likeliest is taken, another by a key, and its doubts come along with it."""

import cv2
import numpy as np
import pytest

from bench import rooms

pytestmark = pytest.mark.browser


def test_another_piece_is_taken_with_its_own_doubts(demo_server, open_page, tmp_path):
    """A yoke with paper over its edge lies above a pocket: the pocket is found, the yoke taken by Enter and said to be unsure."""
    page = open_page(demo_server)
    yoke, pocket = rooms.pieces()["overshirt yoke"], rooms.pieces()["trouser pocket"]
    room, other = rooms.plain(yoke, 3), rooms.plain(tuple((x, y + 330.0) for x, y in pocket), 3)
    apart = (other.scene.astype(int) - room.scene > 60).any(axis=2)[..., None]
    room.scene = np.where(apart, other.scene, room.scene)
    cv2.rectangle(room.scene, room.at(296, 80), room.at(312, 130), (250, 250, 250), -1)
    photo = tmp_path / "two.jpg"
    cv2.imwrite(str(photo), room.photograph())
    page.goto(f"{demo_server.base}/patterns/intake")
    page.set_input_files("input[name=photos]", str(photo))
    page.locator("form:has(input[name=photos]) button").last.click()
    page.wait_for_selector("[data-trace]", timeout=300_000)
    page.click("[data-do=find]")
    page.wait_for_selector(".traced", timeout=300_000)
    assert page.locator(".other").count() == 1
    first = page.inner_text("[data-live]")
    assert "1 more thing" in first and page.locator(".unsure").count() == 0
    page.locator(".other").first.press("Enter")
    taken = page.inner_text("[data-live]")
    assert taken.startswith("Taken") and "is not told" in taken
    assert page.locator(".unsure").count() >= 1 and page.locator(".other").count() == 1
    page.click("[data-do=undo]")
    assert page.locator(".unsure").count() == 0
