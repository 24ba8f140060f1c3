"""Pictures of a loop are drawn once, and shown again while nothing changes that they show."""

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import stored_study, view_from
from tests.web.conftest import differs, settled, stage_pixels, until

FRAMES = 12
BALL = {"step": "icosphere", "values": {"halvings": 2}}
MOVE = {
    "step": "place",
    "values": {"move": [{"signal": "cycle", "low": -0.3, "high": 0.3}, 0, 0], "turn": [0, 0, 0]},
}
KEPT = "count => document.querySelector('svg [data-pictures]') !== null && [...document.querySelectorAll('div[data-pictures]')].reduce((sum, e) => sum + parseFloat(e.style.width), 0) > 100 * count"
DRAWN = "Number(document.querySelector('canvas[data-engine]').dataset.pictures)"


def playing(page: Page):
    stored_study(page, document(BALL, MOVE, frames=FRAMES))
    # As an artist has it: the step that is being nudged is open.
    page.locator("[data-step=s1] button").first.click()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Space")
    until(page, KEPT, (FRAMES - 0.5) / FRAMES, seconds=60)


@pytest.mark.thorough
def test_a_loop_that_was_drawn_once_is_not_drawn_again(page: Page):
    playing(page)
    before = page.evaluate(DRAWN)
    shown = [stage_pixels(page) for _ in range(4)]
    page.wait_for_timeout(1500)
    assert page.evaluate(DRAWN) == before
    # It moves all the same.
    assert max(differs(shown[0], other) for other in shown[1:]) > 0.005
    expect(page.get_by_test_id("kept-picture")).to_be_visible()


def test_a_kept_picture_is_the_one_that_was_drawn(page: Page):
    playing(page)
    page.keyboard.press("Space")
    page.keyboard.press("Home")
    drawn = settled(page)
    expect(page.get_by_test_id("kept-picture")).to_be_hidden()
    columns = np.flatnonzero((np.abs(drawn - drawn[0, 0]).max(axis=2) > 40).any(axis=0))
    # While it plays the same moment comes by: the ball is where it was drawn, within its shading.
    page.keyboard.press("Space")
    nearest = 1.0
    for _ in range(60):
        nearest = min(nearest, differs(drawn, stage_pixels(page)))
        if nearest < 0.03:
            break
    assert len(columns) > 20
    assert nearest < 0.03


@pytest.mark.thorough
def test_what_is_seen_under_the_hand_looks_like_what_is_there_after(page: Page):
    stored_study(page, document(BALL, {"step": "twist", "values": {}}))
    page.locator("[data-step=s1] button").first.click()
    settled(page)
    ruler = page.get_by_role("slider", name="Angle").bounding_box()
    assert ruler is not None
    x, y = ruler["x"] + ruler["width"] / 2, ruler["y"] + ruler["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(8):
        page.mouse.move(x + 3 * k, y)
        page.wait_for_timeout(60)
    # Drawn aside, where the machine draws by itself.
    expect(page.get_by_test_id("kept-picture")).to_be_visible()
    page.wait_for_timeout(600)
    held = stage_pixels(page)
    page.mouse.up()
    after = settled(page)
    expect(page.get_by_test_id("kept-picture")).to_be_hidden()
    # But for its shadow and its smooth rims.
    assert differs(held, after) < 0.08


@pytest.mark.thorough
def test_what_changes_the_picture_drops_those_that_were_kept(page: Page):
    playing(page)
    page.keyboard.press("Space")
    before = page.evaluate(DRAWN)
    view_from(page, "Top")
    page.keyboard.press("Space")
    # All are drawn anew, some perhaps while the view still turned.
    until(page, f"least => {DRAWN} >= least", before + FRAMES, seconds=60)
    until(page, KEPT, (FRAMES - 0.5) / FRAMES, seconds=60)
