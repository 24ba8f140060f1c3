"""Which frames play, a study that plays one way, and lanes that are found by typing."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import document_after, drag, middle, stored_study
from tests.web.conftest import until

WAVE = {"signal": "cycle", "low": 0.0, "high": 60.0}
IN_RANGE = """() => {
    const frame = Number(document.querySelector("[aria-label=Frame]").getAttribute("aria-valuenow"));
    window.seen = [...(window.seen ?? []), frame];
    return window.seen.length > 14;
}"""


def test_only_a_range_plays_and_all_again(page: Page):
    stored_study(page, document({"step": "box"}, {"step": "twist", "values": {"angle": WAVE}}))
    first = page.get_by_role("slider", name="Play from")
    first.focus()
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    last = page.get_by_role("slider", name="Play to")
    last.focus()
    for _ in range(9):
        page.keyboard.press("ArrowLeft")
    expect(last).to_have_attribute("aria-valuenow", "14")
    expect(page.get_by_test_id("play-range")).to_be_visible()
    page.get_by_role("button", name="Play", exact=True).click()
    until(page, IN_RANGE)
    seen = page.evaluate("() => window.seen")
    assert set(seen) <= set(range(8, 15))
    assert len(set(seen)) > 2
    page.get_by_role("button", name="Pause", exact=True).click()
    x, y = middle(page, "[aria-label='Time strip'] .MuiSlider-track")
    page.mouse.dblclick(x, y)
    expect(page.get_by_test_id("play-range")).to_have_count(0)


def test_a_study_that_plays_one_way_has_no_seam(page: Page):
    away = {"signal": "keys", "keys": [{"frame": 0, "value": 0.0}, {"frame": 24, "value": 90.0}]}
    stored_study(page, document({"step": "box"}, {"step": "twist", "values": {"angle": away}}))
    gauge = page.get_by_test_id("seam")
    expect(gauge).to_contain_text("seam open", timeout=20_000)
    expect(page.get_by_role("button", name="1 finding")).to_be_visible()
    gauge.click()
    page.get_by_role("switch", name="It plays one way").click()
    assert document_after(page, 1)["loop"]["one_way"] is True
    expect(gauge).to_have_text("one way")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="No findings")).to_be_visible()
    # From the open ring's end there is no way round to its beginning.
    ring = page.get_by_role("slider", name="Frame", exact=True)
    box = ring.bounding_box()
    top = (box["x"] + box["width"] / 2 - 4, box["y"] + 14)
    drag(page, (box["x"] + 10, box["y"] + 60), top)
    expect(ring).to_have_attribute("aria-valuenow", "23")


def test_a_lane_is_found_by_typing(page: Page):
    place = {"move": [WAVE, WAVE, WAVE]}
    twist = {"step": "twist", "values": {"angle": WAVE}}
    stored_study(page, document({"step": "box"}, twist, place=place))
    strip = page.get_by_role("region", name="Time strip")
    field = strip.get_by_label("Find a lane")
    field.fill("move z")
    expect(strip.get_by_text("Move z")).to_be_visible()
    expect(strip.get_by_text("Move x")).to_have_count(0)
    field.fill("nothing")
    expect(strip.get_by_text("No lane is called “nothing”.")).to_be_visible()
    field.press("Escape")
    expect(strip.get_by_text("Angle")).to_be_visible()
