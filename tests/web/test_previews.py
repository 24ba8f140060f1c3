"""Path tracing on the stage, where the view rests."""

import re

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.render.scenes import need_llvm
from tests.web.actions import add_step, stage, stored_study

BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 1}}


def test_a_view_that_rests_is_traced_and_one_that_moves_is_the_stage_s(page: Page):
    need_llvm()
    stored_study(page, document(BALL))
    page.get_by_role("button", name="Drawn as").click()
    page.get_by_role("menuitem", name="Traced").click()
    traced = page.get_by_test_id("traced")
    fineness = page.get_by_test_id("fineness")
    expect(traced).to_be_visible(timeout=60_000)
    expect(fineness).to_contain_text(re.compile(r"\d+ of 256 paths|256 paths"))
    before = traced.get_attribute("src")
    # While the hand turns the view, the stage is seen.
    x, y = stage(page)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y, steps=3)
    expect(traced).to_have_count(0)
    page.mouse.up()
    expect(traced).to_be_visible(timeout=60_000)
    assert traced.get_attribute("src") != before
    # An edit begins anew.
    seen = traced.get_attribute("src")
    add_step(page, "Bend")
    expect(traced).not_to_have_attribute("src", seen)
    expect(traced).to_be_visible(timeout=60_000)
    # What it cannot show is said.
    page.get_by_role("button", name="Four views").click()
    expect(traced).to_have_count(0)
    expect(fineness).to_contain_text("perspective")
