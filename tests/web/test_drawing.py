"""Drawing outlines on the stage, and handles that follow the pointer."""

import math

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    PIECE_REVISION,
    drag,
    pixels_of_a_metre,
    recipe_of,
    stage,
    stored_study,
    view_from,
)
from tests.web.conftest import settle, until

SQUARE = [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]]


def open_drawn(page: Page) -> None:
    values = {"paths": [{"closed": True, "knots": SQUARE}], "corners": "sharp", "cell": 0.0}
    stored_study(page, document({"step": "drawn", "values": values}))
    page.locator("[data-step=s0] button").first.click()
    expect(page.get_by_role("button", name="Draw", exact=True)).to_be_visible()
    settle(page)


def empty_paper(page: Page) -> tuple[float, float]:
    """A drawing that is cleared, and drawn on from the front; the middle of the stage."""
    open_drawn(page)
    page.get_by_role("button", name="Clear", exact=True).click()
    page.get_by_role("button", name="Draw", exact=True).click()
    expect(page.get_by_role("button", name="View: Front")).to_be_visible()
    settle(page)
    return stage(page)


def paths(page: Page) -> list[dict]:
    return recipe_of(page)[0]["values"]["paths"]


@pytest.mark.thorough
def test_a_path_is_drawn_by_clicks_and_closed_at_its_first_knot(page: Page):
    x, y = empty_paper(page)
    corners = [(x + 150 * math.cos(a), y - 150 * math.sin(a)) for a in (0.3, 1.6, 2.9, 4.5)]
    # As fast as somebody clicks who does not wait for the picture.
    for corner in corners:
        page.mouse.click(*corner)
    page.mouse.click(*corners[0])
    until(page, PIECE_REVISION, 6)
    (drawn,) = paths(page)
    assert drawn["closed"]
    assert len(drawn["knots"]) == 4
    # All on a circle, counter-clockwise as they were clicked, x to the right and y upwards.
    assert drawn["knots"][0][0] > 0
    assert drawn["knots"][0][1] > 0
    far = [math.hypot(*knot) for knot in drawn["knots"]]
    assert far == pytest.approx([far[0]] * 4, rel=0.02)
    # Enter ends the drawing; then a click on the stage adds nothing.
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Draw", exact=True)).to_be_visible()
    expect(page.get_by_text("1 path, 4 knots")).to_be_visible()


def test_a_drag_draws_without_pause_and_enter_ends_an_open_path(page: Page):
    x, y = empty_paper(page)
    page.mouse.move(x - 200, y)
    page.mouse.down()
    page.mouse.move(x + 200, y + 60, steps=16)
    page.mouse.up()
    page.keyboard.press("Enter")
    page.mouse.click(x, y - 120)
    until(page, PIECE_REVISION, 3)
    line, dot = paths(page)
    assert not line["closed"]
    assert 8 <= len(line["knots"]) <= 20
    assert [knot[0] for knot in line["knots"]] == sorted(knot[0] for knot in line["knots"])
    assert len(dot["knots"]) == 1


@pytest.mark.thorough
def test_a_knot_is_dragged_and_removed(page: Page):
    open_drawn(page)
    view_from(page, "Front")
    x, y = stage(page)
    per_metre = pixels_of_a_metre(page)
    knot = (x + 0.5 * per_metre, y - 0.5 * per_metre)
    drag(page, knot, (knot[0] + 0.25 * per_metre, knot[1]))
    until(page, PIECE_REVISION, 1)
    (moved,) = paths(page)
    assert moved["knots"][2] == pytest.approx([0.75, 0.5], abs=0.02)
    assert moved["knots"][:2] == SQUARE[:2]
    settle(page)
    page.mouse.dblclick(knot[0] + 0.25 * per_metre, knot[1])
    until(page, PIECE_REVISION, 2)
    (left,) = paths(page)
    assert len(left["knots"]) == 3
    assert left["closed"]


@pytest.mark.thorough
def test_a_direction_is_turned_on_the_stage(page: Page):
    wave = {"step": "wave", "values": {"direction": [1, 0, 0], "push": [0, 1, 0]}}
    sheet = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0}}
    stored_study(page, document(sheet, wave))
    page.locator("[data-step=s1] button").first.click()
    view_from(page, "Top")
    x, y = stage(page)
    per_metre = pixels_of_a_metre(page)
    # The arrow is 0.6 of half the piece's diagonal long, to the right; it is dragged downwards,
    # which in the top view is towards +z.
    length = 0.6 * math.hypot(2, 2, 0.1) / 2 * per_metre
    drag(page, (x + length, y), (x + length / 2, y + length), (x, y + length))
    until(page, PIECE_REVISION, 1)
    direction = recipe_of(page)[1]["values"]["direction"]
    assert direction == pytest.approx([0, 0, 1], abs=0.06)
    assert math.hypot(*direction) == pytest.approx(1, abs=0.01)
