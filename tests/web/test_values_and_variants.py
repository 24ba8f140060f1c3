"""What can be done with a value: keys, links, copies; and variants that switch several at once."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import choose, document_after, stored_study
from tests.web.conftest import differs, settle, settled

BEND = {"step": "bend", "values": {"angle": 40.0}}
TWIST = {"step": "twist", "values": {"angle": 20.0}}


def opened(page: Page, *steps) -> None:
    stored_study(page, document({"step": "box"}, *steps))
    page.locator("[data-step=s1] button").first.click()


def values_after(page: Page, revision: int, step: int = 1):
    return document_after(page, revision)["pieces"][0]["recipe"][step]["values"]


def test_a_value_is_keyed_copied_pasted_linked_and_stilled(page: Page):
    opened(page, BEND, TWIST)
    choose(page, "Angle", "Key it at frame 0")
    keys = values_after(page, 1)["angle"]["keys"]
    assert [(k["frame"], k["value"]) for k in keys] == [(0, 40.0)]
    page.keyboard.press("Shift+ArrowRight")
    choose(page, "Angle", "Key it at frame 10")
    assert [k["frame"] for k in values_after(page, 2)["angle"]["keys"]] == [0, 10]
    # All that have keys, by one key.
    page.keyboard.press("ArrowRight")
    page.keyboard.press("k")
    assert [k["frame"] for k in values_after(page, 3)["angle"]["keys"]] == [0, 10, 11]
    choose(page, "Angle", "Copy")
    page.locator("[data-step=s2] button").first.click()
    choose(page, "Angle", "Paste with its signal")
    assert values_after(page, 4, 2)["angle"]["keys"] == values_after(page, 4)["angle"]["keys"]
    choose(page, "Angle", "Link it to “Angle”")
    linked = values_after(page, 5, 2)["angle"]
    assert (linked["signal"], linked["to"]) == ("link", "/pieces/p/recipe/s1/values/angle")
    choose(page, "Angle", "Still it")
    assert values_after(page, 6, 2)["angle"] == pytest.approx(40.0)


def test_the_values_of_a_step_are_keyed_together(page: Page):
    bend = {"step": "bend", "values": {"angle": 40.0, "towards": 15.0, "centre": [0, 0.1, 0]}}
    opened(page, bend)
    page.keyboard.press("ArrowRight")
    page.locator("[data-step=s1]").click(button="right", position={"x": 80, "y": 12})
    page.get_by_role("menuitem", name="Key its values at frame 1").click()
    values = values_after(page, 1)
    assert values["angle"]["keys"][0]["value"] == 40.0
    assert values["towards"]["keys"][0]["frame"] == 1
    assert [part["keys"][0]["value"] for part in values["centre"]] == [0, 0.1, 0]


@pytest.mark.thorough
def test_one_choice_switches_a_value_and_a_step(page: Page):
    opened(page, BEND, TWIST)
    choose(page, "Angle", "Differs in a new variant")
    sheet = page.get_by_role("complementary", name="Variants")
    expect(sheet).to_contain_text("2 Bend, angle")
    page.locator("[data-step=s2]").click(button="right", position={"x": 80, "y": 12})
    page.get_by_role("menuitem", name="Differs by “Variant”").click()
    expect(sheet).to_contain_text("3 Twist, in use")
    first = settled(page)
    sheet.get_by_role("radio", name="Choose B").click()
    document_after(page, 4)
    page.locator("[data-step=s2] button").first.click()
    page.keyboard.press("u")
    document_after(page, 5)
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("slider", name="Angle").focus()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("ArrowRight")
    settle(page)
    second = settled(page)
    assert differs(first, second) > 0.01
    # Back and forth by the switch in the band.
    page.get_by_role("button", name="A", exact=True).click()
    expect(page.get_by_role("button", name="A", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    settle(page)
    recipe = document_after(page, 6)["pieces"][0]["recipe"]
    assert recipe[1]["values"]["angle"] == 40.0
    assert recipe[2].get("on", True) is True
    assert differs(first, settled(page)) < 0.002
    page.get_by_role("button", name="B", exact=True).click()
    settle(page)
    assert differs(second, settled(page)) < 0.002
    # A variant without a choice is none.
    sheet.get_by_role("button", name="Remove option A").click()
    expect(sheet).to_contain_text("Begin a variant")
