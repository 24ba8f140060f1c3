"""The loop: its ring, length and rate, playing."""

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    new_study,
    stored_study,
    study_state,
)
from tests.web.conftest import until

BALL = {"step": "icosphere", "values": {"halvings": 4}}


def test_an_open_loop_is_shown_as_open_with_its_figure(page: Page):
    ramp = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 24, "value": 180}]}
    stored_study(page, document(BALL, {"step": "twist", "values": {"angle": ramp}}))
    expect(page.get_by_test_id("seam")).to_contain_text("open", timeout=60_000)
    expect(page.get_by_test_id("seam")).to_contain_text("m")


def test_length_and_rate_of_the_loop(page: Page):
    new_study(page)
    length = page.get_by_label("Length of the loop, frames")
    length.click()
    length.fill("5 s")
    length.press("Enter")
    expect(length).to_have_value("120")
    rate = page.get_by_label("Rate of the loop", exact=False)
    rate.fill("30")
    rate.press("Enter")
    until(page, "() => document.body.innerText.includes('4.00 s')")
    assert study_state(page)["document"]["loop"] == {"frames": 120, "rate": 30}
    length.fill("nothing")
    length.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Length")


def test_playing_once_ends_at_the_last_frame(page: Page):
    stored_study(page, document(BALL, {"step": "twist"}, frames=12))
    page.get_by_role("combobox", name="How often").click()
    page.get_by_role("option", name="once").click()
    page.get_by_role("button", name="Play").click()
    expect(page.get_by_role("slider", name="Frame")).to_have_attribute("aria-valuenow", "11")
    expect(page.get_by_role("button", name="Play")).to_be_visible()


def test_space_plays_after_a_click_and_presses_what_the_keyboard_has_reached(page: Page):
    new_study(page)
    heat = page.get_by_role("button", name="Mask heat")
    heat.click()
    expect(heat).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    expect(heat).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    page.keyboard.press("Tab")
    page.keyboard.press("Shift+Tab")
    expect(heat).to_be_focused()
    page.keyboard.press("Space")
    expect(heat).to_have_attribute("aria-pressed", "false")
    expect(page.get_by_role("button", name="Play")).to_be_visible()


def test_the_ring_is_scrubbed_by_dragging_round_it(page: Page):
    new_study(page)
    ring = page.get_by_role("slider", name="Frame")
    box = ring.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    radius = min(box["width"], box["height"]) / 2 - 6
    page.mouse.move(x, y - radius)
    page.mouse.down()
    page.mouse.move(x + radius, y, steps=5)
    page.mouse.up()
    # A quarter round the ring of 240 frames.
    assert abs(int(ring.get_attribute("aria-valuenow")) - 60) <= 3
