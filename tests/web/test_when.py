"""Signals by hand: keys as curves, sound, links, values over the elements."""

from __future__ import annotations

import io

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import PIECE_REVISION, drag, middle, recipe_of, stored_study
from tests.web.conftest import settle, until

KEYS = [{"frame": 0, "value": 0.0}, {"frame": 12, "value": 90.0}, {"frame": 24, "value": 0.0}]
TURN = {"signal": "keys", "keys": KEYS, "before": "repeat", "after": "repeat"}


def opened(page: Page, angle, form: str = "box") -> None:
    stored_study(page, document({"step": form}, {"step": "twist", "values": {"angle": angle}}))
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="When").first.click()


def angle_after(page: Page, revision: int):
    until(page, PIECE_REVISION, revision)
    settle(page)
    return recipe_of(page)[-1]["values"]["angle"]


def pick(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.get_by_role("option", name=option, exact=True).click()


def test_keys_are_edited_as_a_curve_by_hand_and_by_keyboard(page: Page):
    opened(page, TURN)
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    x, y = middle(page, "[data-key='1']")
    drag(page, (x, y), (x, y + 40))
    lowered = angle_after(page, 1)["keys"]
    assert lowered[1]["frame"] == 12
    assert lowered[1]["value"] < 85
    page.keyboard.press("Shift+ArrowRight")
    assert angle_after(page, 2)["keys"][1]["frame"] == 22
    page.keyboard.press("Control+z")
    assert angle_after(page, 3)["keys"][1]["frame"] == 12
    # Without the pointer: from key to key.
    page.locator("[data-curve]").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("PageDown")
    expect(page.get_by_label("Frame of the key")).to_have_value("0 frames")
    page.keyboard.press("PageDown")
    expect(page.get_by_label("Frame of the key")).to_have_value("12 frames")


@pytest.mark.thorough
def test_tangents_are_turned_and_a_double_click_adds_a_key(page: Page):
    opened(page, TURN)
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    page.mouse.click(*middle(page, "[data-key='1']"))
    x, y = middle(page, "[data-tangent='1/out']")
    drag(page, (x, y), (x, y + 30))
    key = angle_after(page, 1)["keys"][1]
    assert key["out"] < 0
    assert key["in"] == key["out"]
    page.get_by_role("button", name="eased").click()
    key = angle_after(page, 2)["keys"][1]
    assert (key["in"], key["out"]) == (0, 0)
    area = page.locator("[data-curve]").bounding_box()
    page.mouse.dblclick(area["x"] + area["width"] / 4, area["y"] + 40)
    keys = angle_after(page, 3)["keys"]
    assert len(keys) == 4
    assert 4 <= keys[1]["frame"] <= 8


@pytest.mark.thorough
def test_keys_are_boxed_copied_pasted_scaled_mirrored_and_removed(page: Page):
    opened(page, {**TURN, "keys": [*KEYS[:1], {"frame": 6, "value": 40.0}, KEYS[1]]})
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    area = page.locator("[data-curve]").bounding_box()
    x, _y = middle(page, "[data-key='1']")
    drag(page, (x - 30, area["y"] + 5), (x + 30, area["y"] + area["height"] - 30))
    expect(page.get_by_label("Frame of the key")).to_have_value("6 frames")
    expect(page.get_by_label("Value of the key")).to_have_value("40°")
    page.keyboard.press("Control+c")
    page.get_by_role("slider", name="Frame").focus()
    page.keyboard.press("End")
    page.locator("[data-curve]").focus()
    page.keyboard.press("Control+v")
    pasted = angle_after(page, 1)["keys"]
    assert [(k["frame"], k["value"]) for k in pasted][-1] == (23, 40.0)
    page.keyboard.press("Delete")
    assert [k["frame"] for k in angle_after(page, 2)["keys"]] == [0, 6, 12]
    page.get_by_role("button", name="Mirror").click()
    mirrored = angle_after(page, 3)["keys"]
    assert [(k["frame"], k["value"]) for k in mirrored] == [(0, 90), (6, 40), (12, 0)]
    page.get_by_role("slider", name="Frame").focus()
    page.keyboard.press("Home")
    page.get_by_role("button", name="Scale ×").click()
    assert [k["frame"] for k in angle_after(page, 4)["keys"]] == [0, 12, 24]


@pytest.mark.thorough
def test_a_chosen_key_is_typed_with_units_and_sums(page: Page):
    opened(page, TURN)
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    page.mouse.click(*middle(page, "[data-key='1']"))
    field = page.get_by_label("Frame of the key")
    field.click()
    # A quarter of a second at 24 frames a second, and two frames.
    field.fill("0.25s + 2f")
    field.press("Enter")
    assert angle_after(page, 1)["keys"][1]["frame"] == 8
    field = page.get_by_label("Value of the key")
    field.click()
    field.fill("180/4")
    field.press("Enter")
    assert angle_after(page, 2)["keys"][1]["value"] == 45


@pytest.mark.thorough
def test_lanes_and_the_axis_scrub_and_arrow_keys_move_a_key(page: Page):
    opened(page, TURN)
    lane = page.locator("[data-lane]").first.bounding_box()
    dial = page.get_by_role("slider", name="Frame")
    across = lambda share: lane["x"] + lane["width"] * share  # noqa: E731
    drag(page, (across(0.25), lane["y"] + 3), (across(0.75), lane["y"] + 3))
    expect(dial).to_have_attribute("aria-valuenow", "18")
    axis = page.get_by_test_id("frame-axis").bounding_box()
    page.mouse.click(axis["x"] + axis["width"] / 4, axis["y"] + 6)
    expect(dial).to_have_attribute("aria-valuenow", "6")
    assert page.evaluate("getSelection().toString()") == ""
    key = page.locator("[data-lane] button").nth(1)
    key.focus()
    page.keyboard.down("ArrowLeft")
    page.keyboard.down("ArrowLeft")
    page.keyboard.up("ArrowLeft")
    assert angle_after(page, 1)["keys"][1]["frame"] == 10
    # It was the key that moved, not the playhead, and it was one edit.
    expect(dial).to_have_attribute("aria-valuenow", "6")
    page.keyboard.press("Control+z")
    assert angle_after(page, 2)["keys"][1]["frame"] == 12


def test_a_value_follows_a_sound_that_is_brought_in(page: Page):
    opened(page, {"signal": "cycle", "low": 0, "high": 60})
    pick(page, "Signal of Angle", "sound")
    assert angle_after(page, 1)["signal"] == "sound"
    expect(page.get_by_role("combobox", name="Sound")).to_have_text("the bundled track")
    pick(page, "Sound", "a file")
    data = io.BytesIO()
    beat = np.sin(np.arange(22_050) * 0.1) * np.linspace(1, 0, 22_050)
    soundfile.write(data, beat.astype(np.float32), 22_050, format="FLAC")
    page.get_by_label("Sound file").set_input_files(
        {"name": "beat.flac", "mimeType": "audio/flac", "buffer": data.getvalue()}
    )
    angle = angle_after(page, 3)
    assert len(angle["file"]) == 64
    expect(page.get_by_text("beat.flac, 1.0 s")).to_be_visible()
    # What is no sound is told, and changes nothing.
    page.get_by_label("Sound file").set_input_files(
        {"name": "words.wav", "mimeType": "audio/wav", "buffer": b"no sound at all"}
    )
    expect(page.get_by_text("words.wav: This is no sound that can be read.")).to_be_visible()
    assert recipe_of(page)[-1]["values"]["angle"]["file"] == angle["file"]


@pytest.mark.thorough
def test_a_value_follows_another_one(page: Page):
    opened(page, {"signal": "cycle", "low": 0, "high": 60})
    pick(page, "Signal of Angle", "link")
    until(page, PIECE_REVISION, 1)
    page.get_by_role("combobox", name="Follows").fill("1 Box: Size y")
    page.get_by_role("option", name="1 Box: Size y").click()
    assert angle_after(page, 2)["to"] == "/pieces/p/recipe/s0/values/size/1"


@pytest.mark.thorough
def test_a_formula_over_time_is_checked_as_it_is_written(page: Page):
    opened(page, {"signal": "formula", "text": "10 * p"})
    field = page.get_by_label("Formula: Formula")
    field.fill("90 * sin(tau * q)")
    expect(page.locator("[data-mistake]")).to_have_text("q")
    field.fill("90 * sin(tau * p)")
    expect(page.locator("[data-mistake]")).to_have_count(0)
    field.press("Enter")
    assert angle_after(page, 1)["text"] == "90 * sin(tau * p)"


def test_a_value_is_spread_and_staggered_over_the_elements(page: Page):
    opened(page, {"signal": "cycle", "low": 0, "high": 60}, "strands")
    page.get_by_role("button", name="+ spread").click()
    until(page, PIECE_REVISION, 1)
    pick(page, "Over", "curves")
    until(page, PIECE_REVISION, 2)
    page.get_by_role("button", name="+ stagger").click()
    angle = angle_after(page, 3)
    assert angle["spread"]["over"] == "curves"
    assert angle["stagger"]["delay"] == 0.5


@pytest.mark.thorough
def test_a_signal_is_copied_and_pasted_and_a_rate_changes_at_a_frame(page: Page):
    move = {"signal": "cycle", "low": 1, "high": 7, "cycles": 3}
    twist = {"step": "twist", "values": {"angle": move, "low": {"signal": "drift"}}}
    stored_study(page, document({"step": "box"}, twist))
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="When").first.click()
    page.get_by_role("button", name="More for the signal of Angle").click()
    page.get_by_role("menuitem", name="Copy the signal").click()
    page.get_by_role("button", name="More for the signal of From").click()
    page.get_by_role("menuitem", name="Paste a signal").click()
    until(page, PIECE_REVISION, 1)
    assert recipe_of(page)[-1]["values"]["low"] == move
    # A run whose rate changes at a frame.
    pick(page, "Signal of Angle", "run")
    until(page, PIECE_REVISION, 2)
    page.get_by_role("button", name="Change the rate at frame 0").click()
    until(page, PIECE_REVISION, 3)
    field = page.get_by_label("Rate of change 1")
    field.fill("45")
    field.press("Enter")
    assert angle_after(page, 4)["rates"] == [{"frame": 0, "value": 45}]


@pytest.mark.thorough
def test_every_kind_of_signal_can_be_taken(page: Page):
    opened(page, {"signal": "cycle", "low": 0, "high": 60})
    for revision, kind in enumerate(("run", "sound", "formula", "drift", "keys"), 1):
        pick(page, "Signal of Angle", kind)
        assert angle_after(page, revision)["signal"] == kind
        expect(page.get_by_role("img", name="Angle over the loop")).to_be_visible()
