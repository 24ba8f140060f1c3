"""One view and four."""

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document, surface
from tests.web.actions import document_after, recipe_of, stored_study
from tests.web.conftest import (
    GO,
    NOWHERE,
    differs,
    settle,
    settled,
    stage_pixels,
    wait_until_changed,
)

# 4 m wide, 2 m high, 1 m deep.
BOX = {"step": "box", "values": {"size": [4.0, 2.0, 1.0], "across": 2, "up": 2, "deep": 2}}


def covered(picture: np.ndarray) -> tuple[float, float]:
    """Width and height of what stands before the backdrop in a part of the stage, pixels."""
    grey = picture.astype(float).mean(2)
    rows = np.flatnonzero((grey > 110).sum(1) > 4)
    columns = np.flatnonzero((grey > 110).sum(0) > 4)
    return float(np.ptp(columns)), float(np.ptp(rows))


def parts(page: Page) -> dict[str, np.ndarray]:
    """The four views, without the words at their rims."""
    whole = stage_pixels(page)
    high, wide = whole.shape[0] // 2, whole.shape[1] // 2
    inside = (slice(46, high - 30), slice(4, wide - 4))
    return {
        "top": whole[:high, :wide][inside],
        "perspective": whole[:high, wide:][inside],
        "front": whole[high:, :wide][inside],
        "side": whole[high:, wide:][inside],
    }


def four(page: Page, *steps: dict) -> None:
    look = surface(colour="#ffffff", glow=100.0)
    stored_study(page, document(*steps, looks=look))
    before = settled(page)
    page.get_by_role("button", name="Four views").click()
    wait_until_changed(page, before)
    settle(page)


@pytest.mark.sharp
def test_flat_views_show_true_proportions_at_one_scale(page: Page):
    four(page, BOX)
    seen = {name: covered(picture) for name, picture in parts(page).items()}
    wide, high = seen["front"]
    assert wide / high == pytest.approx(2.0, rel=0.04)
    assert seen["top"][0] / seen["top"][1] == pytest.approx(4.0, rel=0.04)
    assert seen["side"][1] / seen["side"][0] == pytest.approx(2.0, rel=0.04)
    # The same metre is the same number of pixels in each.
    assert seen["top"][0] == pytest.approx(wide, abs=3)
    assert seen["side"][1] == pytest.approx(high, abs=3)


@pytest.mark.thorough
def test_dragging_a_flat_view_moves_the_flat_views_only(page: Page):
    four(page, BOX)
    before = parts(page)
    area = page.locator("canvas[data-engine]").bounding_box()
    x, y = area["x"] + area["width"] * 0.25, area["y"] + area["height"] * 0.75
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y, steps=4)
    page.mouse.up()
    settle(page)
    after = parts(page)
    assert differs(before["front"], after["front"]) > 0.02
    # To the right in the front is to the right in the top; the side sees along it.
    assert differs(before["top"], after["top"]) > 0.02
    assert differs(before["side"], after["side"]) < 0.01
    assert differs(before["perspective"], after["perspective"]) < 0.01


@pytest.mark.sharp
def test_the_wheel_and_a_drag_in_the_perspective_leave_the_flat_views_alone(page: Page):
    four(page, BOX)
    page.keyboard.press("0")
    settle(page)
    before = parts(page)
    area = page.locator("canvas[data-engine]").bounding_box()
    x, y = area["x"] + area["width"] * 0.75, area["y"] + area["height"] * 0.25
    page.mouse.move(x, y)
    page.mouse.wheel(0, 240)
    page.mouse.down()
    page.mouse.move(x + 50, y + 10, steps=4)
    page.mouse.up()
    settle(page)
    after = parts(page)
    assert differs(before["perspective"], after["perspective"]) > 0.02
    for name in ("front", "side", "top"):
        assert differs(before[name], after[name]) < 0.01


@pytest.mark.thorough
def test_the_wheel_brings_all_flat_views_nearer(page: Page):
    four(page, BOX)
    before = covered(parts(page)["side"])
    area = page.locator("canvas[data-engine]").bounding_box()
    page.mouse.move(area["x"] + area["width"] * 0.25, area["y"] + area["height"] * 0.75)
    page.mouse.wheel(0, 300)
    settle(page)
    after = covered(parts(page)["side"])
    assert after[0] < before[0] * 0.8
    page.keyboard.press("0")
    settle(page)
    assert covered(parts(page)["side"])[0] == pytest.approx(before[0], abs=3)


@pytest.mark.thorough
def test_a_handle_is_dragged_in_the_view_it_is_taken_in(page: Page):
    four(page, BOX, {"step": "twist", "values": {"angle": 20, "low": -1.0, "high": 1.0}})
    page.locator("[data-step=s1] button").first.click()
    settle(page)
    area = page.locator("canvas[data-engine]").bounding_box()
    # The middle of the axis is the middle of the front view; it is dragged upwards there.
    x, y = area["x"] + area["width"] * 0.25, area["y"] + area["height"] * 0.75
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 40, steps=5)
    page.mouse.up()
    document_after(page, 1)
    centre = recipe_of(page)[1]["values"]["centre"]
    assert centre[1] > 0.1
    assert centre[0] == pytest.approx(0, abs=0.02)
    assert centre[2] == pytest.approx(0, abs=0.02)


@pytest.mark.thorough
@pytest.mark.sharp
def test_one_of_four_views_is_chosen_and_v_brings_them_back(page: Page):
    four(page, BOX)
    page.get_by_role("button", name="Side", exact=True).click()
    expect(page.get_by_role("button", name="View: Side")).to_be_visible()
    settle(page)
    wide, high = covered(stage_pixels(page)[46:-30])
    assert high / wide == pytest.approx(2.0, rel=0.04)
    page.keyboard.press("v")
    expect(page.get_by_role("button", name="Perspective", exact=True)).to_be_visible()
    settle(page)
    assert covered(parts(page)["front"])[0] > 10


@pytest.mark.thorough
def test_keys_work_after_a_ruler_was_dragged(page: Page):
    """The ruler keeps the focus and takes the arrows; every other key does what it always does."""
    stored_study(page, document(BOX, {"step": "twist", "values": {"angle": 30}}))
    page.locator("[data-step=s1] button").first.click()
    ruler = page.get_by_role("slider", name="Angle")
    area = ruler.bounding_box()
    page.mouse.move(area["x"] + area["width"] / 2, area["y"] + area["height"] / 2)
    page.mouse.down()
    page.mouse.move(area["x"] + area["width"] / 2 + 20, area["y"] + 8, steps=4)
    page.mouse.up()
    expect(ruler).to_be_focused()
    page.keyboard.press("v")
    expect(page.get_by_role("button", name="Four views")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    page.keyboard.press("Space")
    page.keyboard.press("u")
    expect(page.get_by_role("switch", name="Use step 2")).to_have_attribute("aria-checked", "false")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("switch", name="Use step 2")).to_have_attribute("aria-checked", "true")


MARKED = "() => document.querySelector('canvas[data-engine]')?.dataset.marked"


def test_another_study_is_shown_on_the_same_canvas(page: Page):
    # A canvas of its own for each study would compile every shader anew.
    look = surface(colour="#ffffff", glow=100.0)
    stored_study(page, document(BOX, looks=look))
    inside = (slice(40, -40), slice(20, -20))
    box = covered(settled(page)[inside])
    page.evaluate("document.querySelector('canvas[data-engine]').dataset.marked = 'yes'")
    small = {"step": "box", "values": {**BOX["values"], "size": [0.1, 0.1, 0.1]}}
    stored_study(page, document(small, looks=look))
    assert page.evaluate(MARKED) == "yes"
    # Nothing of the study before is left in it.
    cube = covered(settled(page)[inside])
    assert cube[0] < box[0] / 4
    page.evaluate(GO, NOWHERE)
    expect(page.get_by_role("alert")).to_contain_text("This study is not here")
    expect(page.locator("canvas[data-engine]")).to_have_count(0)
