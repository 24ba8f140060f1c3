"""A loop that does not close: its gauge, its place on the stage, and the way to close it."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import PIECE_REVISION, recipe_of, stored_study
from tests.web.conftest import until

RUN = {"step": "wave", "values": {"phase": {"signal": "run", "rate": 1.3}}}


def test_a_loop_that_does_not_close_is_fitted_and_the_gauge_closes(page: Page):
    stored_study(page, document({"step": "icosphere"}, RUN))
    gauge = page.get_by_test_id("seam")
    expect(gauge).to_contain_text("seam open", timeout=20_000)
    gauge.click()
    page.get_by_role("switch", name="Show the largest jump on the stage").click()
    expect(page.get_by_test_id("seam-place")).to_be_visible()
    page.get_by_role("button", name="Fit to loop").click()
    until(page, PIECE_REVISION, 1)
    expect(
        page.get_by_text("2 Plane wave, phase: 1.3 cycle a loop → 1.0 cycle a loop")
    ).to_be_visible()
    expect(gauge).to_contain_text("seam closed", timeout=20_000)
    expect(page.get_by_test_id("seam-place")).to_have_count(0)
    assert recipe_of(page)[1]["values"]["phase"]["rate"] == 1.0
    # One undo takes all of it back.
    page.get_by_role("button", name="Undo", exact=True).last.click()
    until(page, PIECE_REVISION, 2)
    expect(gauge).to_contain_text("seam open", timeout=20_000)
    assert recipe_of(page)[1]["values"]["phase"]["rate"] == 1.3


def test_what_cannot_be_closed_is_named(page: Page):
    formula = {"signal": "formula", "text": "sin(0.1 * f)"}
    twist = {"step": "twist", "values": {"angle": formula}}
    stored_study(page, document({"step": "box"}, twist))
    page.get_by_test_id("seam").click()
    page.get_by_role("button", name="Fit to loop").click()
    told = page.get_by_text(
        "2 Twist, angle does not close: its formula is not the same after a loop."
    )
    expect(told).to_be_visible()
