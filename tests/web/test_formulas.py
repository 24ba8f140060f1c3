"""Writing formulas, and the handles of rings and vortices, in the real interface."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import add_step, new_study, recipe_of, stored_study
from tests.web.conftest import differs, settle, settled

BALL = {"step": "icosphere"}


def test_a_formula_is_written_plotted_and_its_mistake_marked(page: Page):
    new_study(page)
    add_step(page, "Formula")
    field = page.get_by_label("Formula: Offset")
    plot = page.get_by_role("img", name="Offset along 642 elements")
    expect(plot).to_be_visible()
    # A value of its own appears with its name.
    expect(page.locator("[data-value=a]")).to_have_count(0)
    field.fill("0.2 * a * x")
    expect(plot).to_have_attribute("aria-label", "Offset along 642 elements: from -0.12 to 0.12")
    field.press("Enter")
    expect(page.locator("[data-value=a]")).to_be_visible()
    shown = settled(page)
    good = recipe_of(page)[1]["values"]
    assert good["offset"] == "0.2 * a * x"
    # A mistake is marked at its place; what was last good stays on the stage and in the study.
    field.fill("0.2 * sine(x)")
    mark = page.locator("[data-mistake]")
    expect(mark).to_have_text("sine")
    expect(page.get_by_role("status").filter(has_text="no function")).to_contain_text("sin")
    field.press("Enter")
    assert differs(settled(page), shown) < 0.002
    assert recipe_of(page)[1]["values"] == good
    # One that can be read is on the stage before it is stored.
    field.fill("0.3 * x")
    expect(mark).to_have_count(0)
    expect(plot).to_have_attribute("aria-label", re.compile("from -0.18 to 0.18"))
    assert differs(settled(page), shown) > 0.01
    assert recipe_of(page)[1]["values"] == good


def test_undefined_results_are_counted_beside_the_plot(page: Page):
    stored_study(page, document(BALL, {"step": "formula", "values": {"offset": "log(y)"}}))
    page.locator("[data-step=s1] button").first.click()
    expect(page.get_by_text("undefined, taken as 0")).to_be_visible()


def test_names_and_functions_are_at_hand(page: Page):
    stored_study(page, document(BALL, {"step": "formula"}))
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="Names and functions").click()
    expect(page.get_by_text("chance(i, seed): 0 to 1 for each whole i")).to_be_visible()
    expect(page.get_by_text("share of the loop, 0 to 1")).to_be_visible()


@pytest.mark.thorough
def test_the_centre_of_rings_is_dragged_on_the_stage(page: Page):
    rings = {"step": "rings", "values": {"centre": [0.0, 0.0, 0.0]}}
    stored_study(page, document({"step": "sheet"}, rings))
    page.locator("[data-step=s1] button").first.click()
    settle(page)
    stage = page.locator("canvas[data-engine]").first.bounding_box()
    # The camera of a new study looks at the middle of the stage.
    x, y = stage["x"] + stage["width"] / 2, stage["y"] + stage["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 10, steps=4)
    page.mouse.move(x + 90, y + 10, steps=4)
    page.mouse.up()
    settle(page)
    assert recipe_of(page)[1]["values"]["centre"][0] > 0.1
