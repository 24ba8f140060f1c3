"""What the program notices: shown, mended by one click, taken back, or marked as meant so."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import PIECE_REVISION, recipe_of, stored_study, study_state
from tests.web.conftest import until

ONCE = {"signal": "keys", "keys": [{"frame": 5, "value": 40.0}]}
SHORT = {"step": "wave", "values": {"wavelength": 0.03}}


def test_findings_are_shown_mended_taken_back_and_meant_so(page: Page):
    twist = {"step": "twist", "values": {"angle": ONCE}}
    stored_study(page, document({"step": "icosphere"}, SHORT, twist))
    page.get_by_role("button", name="2 findings").click()
    sheet = page.get_by_role("complementary", name="Findings")
    expect(sheet.get_by_text("Plane wave: shorter than four edges")).to_be_visible()
    # Its place is one click away.
    sheet.get_by_role("button", name="3 Twist, frame 5").click()
    expect(page.locator("[data-step=s2] button[aria-expanded=true]").first).to_be_visible()
    sheet.get_by_role("button", name="Make it a plain value").click()
    until(page, PIECE_REVISION, 1)
    assert recipe_of(page)[2]["values"]["angle"] == 40.0
    expect(page.get_by_role("button", name="1 finding")).to_be_visible()
    page.keyboard.press("Control+z")
    until(page, PIECE_REVISION, 2)
    expect(page.get_by_role("button", name="2 findings")).to_be_visible()
    card = sheet.locator("[data-finding=wave_too_short]")
    card.get_by_role("button", name="Meant so").click()
    until(page, PIECE_REVISION, 3)
    expect(page.get_by_role("button", name="1 finding")).to_be_visible()
    assert len(study_state(page)["document"]["intended"]) == 1
    card.get_by_role("button", name="Not meant so").click()
    until(page, PIECE_REVISION, 4)
    expect(page.get_by_role("button", name="2 findings")).to_be_visible()
