"""Markers by hand: added, dragged on the stage, moved by a signal, and what they carry."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    document_after,
    drag,
    pixels_of_a_metre,
    stage,
    stored_study,
    study_state,
    view_from,
)
from tests.web.conftest import differs, settled


def place_of(page: Page) -> list[float]:
    """Where the first piece stands at frame 0, as the server says."""
    return study_state(page)["motion"][0]["places"][0][12:15]


def test_a_marker_is_added_dragged_and_takes_a_piece_along(page: Page):
    stored_study(page, document({"step": "box"}))
    view_from(page, "Front")
    page.get_by_role("button", name="1 piece").click()
    page.get_by_role("menuitem", name="Add a marker").click()
    name = page.get_by_label("Name of the marker")
    expect(name).to_have_value("Marker 1")
    name.fill("Drifter")
    name.press("Enter")
    assert document_after(page, 2)["markers"][0]["name"] == "Drifter"
    page.get_by_role("combobox", name="Carry a piece").click()
    page.get_by_role("option", name="Piece", exact=True).click()
    carried = document_after(page, 3)["pieces"][0]["carried"]
    assert (carried["by"], carried["id"]) == ("marker", "marker1")
    assert place_of(page) == pytest.approx([0, 0, 0])
    # Its middle is dragged across the view, and the piece comes along.
    before = settled(page)
    x, y = stage(page)
    metre = pixels_of_a_metre(page)
    drag(page, (x, y), (x + 0.5 * metre, y - 0.25 * metre))
    document_after(page, 4)
    assert place_of(page) == pytest.approx([0.5, 0.25, 0], abs=0.03)
    assert differs(before, settled(page)) > 0.05
    # Let go, it stays where it is.
    page.get_by_role("button", name="Let go").click()
    freed = document_after(page, 5)["pieces"][0]
    assert freed["carried"] is None
    assert freed["place"]["move"] == pytest.approx([0.5, 0.25, 0], abs=0.03)


@pytest.mark.thorough
def test_a_marker_is_moved_by_a_signal_and_carries_a_step(page: Page):
    made = document({"step": "sheet"}, {"step": "rings"}, place={"move": [0.0, 0.0, 0.0]})
    made["markers"] = [{"id": "m", "name": "Drifter", "place": {"move": [0.2, 0.0, 0.0]}}]
    stored_study(page, made)
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("combobox", name="Carried by").click()
    page.get_by_role("option", name="Drifter").click()
    start = document_after(page, 1)["pieces"][0]["recipe"][1]["carried"]["start"]
    assert start[3] == pytest.approx(0.2)
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("Drifter")
    page.get_by_role("option", name="Drifter").click()
    panel = page.locator("[data-marker=m]")
    expect(panel.get_by_role("button", name="Piece · Rings")).to_be_visible()
    panel.get_by_role("button", name="Make it move: Move").click()
    page.get_by_role("menuitem", name="y", exact=True).click()
    moving = document_after(page, 2)["markers"][0]["place"]["move"]
    assert moving[1]["signal"] == "cycle"
    # Its lane stands in the strip, and the step that it carries moves.
    expect(page.locator("[aria-label='Time strip']")).to_contain_text("Move y")
    assert study_state(page)["motion"][0]["moves"]
    panel.get_by_role("button", name="Piece · Rings").click()
    expect(page.locator("[data-step=s1]")).to_contain_text("Carried by")
    expect(page.get_by_role("combobox", name="Carried by")).to_contain_text("Drifter")


def test_a_marker_sticks_to_a_surface_and_feels_it_smoothly(page: Page):
    """It goes up and down with the wave at its place, less where it is smoothed over more of it."""
    saw = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0.0, "high": 1.0}
    wave = {"amplitude": 0.2, "wavelength": 0.8, "phase": saw}
    made = document({"step": "sheet"}, {"step": "wave", "values": wave})
    made["markers"] = [{"id": "m", "name": "Buoy", "place": {"move": [0.1, 0.0, 0.0]}}]
    stored_study(page, made)

    def swing() -> float:
        heights = [place[13] for place in study_state(page)["markers"][0]["places"]]
        return max(heights) - min(heights)

    page.get_by_role("button", name="1 piece").click()
    page.get_by_role("menuitem", name="Buoy").click()
    page.get_by_role("combobox", name="Carried by").click()
    page.get_by_role("option", name="Piece", exact=True).click()
    document_after(page, 1)
    page.get_by_label("sticks to its surface").click()
    document_after(page, 2)
    assert swing() == pytest.approx(0.4, rel=0.05)
    page.get_by_role("button", name="Smoothed").click()
    page.keyboard.type("0.6")
    page.keyboard.press("Enter")
    assert document_after(page, 3)["markers"][0]["carried"]["smooth"] == pytest.approx(0.6)
    assert swing() < 0.25
    page.get_by_label("sticks to its surface").click()
    assert not document_after(page, 4)["markers"][0]["carried"].get("at_rest")


def test_the_place_of_a_piece_is_dragged_on_the_stage(page: Page):
    stored_study(page, document({"step": "box"}))
    view_from(page, "Front")
    page.get_by_role("button", name="Place as it was made").click()
    x, y = stage(page)
    metre = pixels_of_a_metre(page)
    drag(page, (x, y), (x - 0.4 * metre, y))
    place = document_after(page, 1)["pieces"][0]["place"]
    assert place["move"] == pytest.approx([-0.4, 0, 0], abs=0.03)
