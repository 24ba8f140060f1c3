"""Masks by hand: layers found by typing, drawn with a brush, picked, carried, and drawn profiles."""

from __future__ import annotations

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

BALL = {"step": "icosphere", "values": {"halvings": 4}}
PUSH = {"step": "displace", "values": {"amount": 0.1, "brightness": 1.0}}


def opened(page: Page, *layers: dict, pieces: tuple[dict, ...] = ()) -> None:
    """A ball with a push that has these layers, its mask open, seen from the front."""
    placed = [{"id": f"l{k}", **layer} for k, layer in enumerate(layers)]
    made = document(BALL, {**PUSH, "where": {"layers": placed}})
    stored_study(page, made | {"pieces": [*made["pieces"], *pieces]})
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="Where").first.click()
    view_from(page, "Front")


def layer_after(page: Page, revision: int) -> dict:
    until(page, PIECE_REVISION, revision)
    settle(page)
    return recipe_of(page)[-1]["where"]["layers"][-1]


def add_layer(page: Page, words: str) -> None:
    page.get_by_role("button", name="+ Add a layer").click()
    page.get_by_role("searchbox", name="Search layers").fill(words)
    page.keyboard.press("Enter")


@pytest.mark.thorough
def test_a_layer_is_found_by_what_it_goes_by(page: Page):
    opened(page)
    add_layer(page, "rim of an open surface")
    found = layer_after(page, 1)
    assert found["layer"] == "border"
    # A ball has no border, so it begins with sharp edges.
    assert found["values"]["what"] == "sharp"
    expect(page.get_by_role("searchbox", name="Search layers")).to_have_count(0)


def test_a_mask_is_drawn_with_a_brush_erased_and_taken_back(page: Page):
    opened(page, {"layer": "drawn"})
    page.get_by_role("button", name="Draw", exact=True).click()
    expect(page.get_by_text("Drag paints")).to_be_visible()
    x, y = stage(page)
    drag(page, (x - 40, y), (x + 40, y))
    strokes = layer_after(page, 1)["values"]["strokes"]
    assert [s["does"] for s in strokes] == ["paint"]
    first, last = strokes[0]["path"][0], strokes[0]["path"][-1]
    assert first[0] < 0 < last[0]
    # It lies on the ball at rest, and looks outwards.
    radius = sum(v * v for v in first[:3]) ** 0.5
    assert radius == pytest.approx(0.6, abs=0.02)
    assert first[5] > 0.8
    expect(page.get_by_text("1 stroke")).to_be_visible()
    page.keyboard.down("Shift")
    drag(page, (x, y), (x + 5, y + 5))
    page.keyboard.up("Shift")
    assert [s["does"] for s in layer_after(page, 2)["values"]["strokes"]] == ["paint", "erase"]
    # Beside the piece a drag is not the brush's.
    corner = (x - 330, y + 200)
    drag(page, corner, (corner[0] + 20, corner[1]))
    page.keyboard.press("Escape")
    expect(page.get_by_text("Drag paints")).to_have_count(0)
    page.keyboard.press("Control+z")
    assert len(layer_after(page, 3)["values"]["strokes"]) == 1


def test_faces_are_picked_by_click_box_and_direction(page: Page):
    opened(page, {"layer": "picked", "values": {"of": "faces"}})
    page.get_by_role("button", name="Pick", exact=True).click()
    x, y = stage(page)
    page.mouse.click(x + 3, y + 2)
    expect(page.get_by_text("1 picked")).to_be_visible()
    drag(page, (x - 60, y - 60), (x + 60, y + 60))
    until(page, PIECE_REVISION, 2)
    boxed = sum(many for _, many in layer_after(page, 2)["values"]["picked"])
    assert boxed > 20
    page.get_by_role("button", name="take away").click()
    page.mouse.click(x + 3, y + 2)
    assert sum(n for _, n in layer_after(page, 3)["values"]["picked"]) == boxed - 1
    page.get_by_role("button", name="add", exact=True).click()
    page.get_by_role("button", name="Choose").click()
    page.get_by_role("menuitem", name="Up").click()
    upper = sum(n for _, n in layer_after(page, 4)["values"]["picked"])
    assert upper > boxed + 20
    page.get_by_role("button", name="Choose").click()
    page.get_by_role("menuitem", name="Their neighbours too").click()
    assert sum(n for _, n in layer_after(page, 5)["values"]["picked"]) > upper + 10
    # Every face that is seen has its number beside it, for as long as is picked.
    page.get_by_label("numbers").check()
    until(page, "Number(document.querySelector('canvas[data-numbers]')?.dataset.numbers) > 20")
    page.get_by_role("button", name="Picking").click()
    until(page, "!document.querySelector('canvas[data-numbers]')")
    page.get_by_role("button", name="None").click()
    assert layer_after(page, 6)["values"]["picked"] == []


@pytest.mark.thorough
def test_a_profile_is_drawn_by_its_knots(page: Page):
    curve = [[0.0, 0.0], [0.5, 0.5], [1.0, 1.0]]
    opened(page, {"layer": "ball", "profile": "curve", "curve": curve})
    knot = page.get_by_role("button", name="Knot 2")
    box = knot.bounding_box()
    at = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    drag(page, at, (at[0], at[1] - 20))
    raised = layer_after(page, 1)["curve"]
    assert raised[1][0] == pytest.approx(0.5, abs=0.03)
    assert raised[1][1] > 0.7
    knot.focus()
    page.keyboard.press("ArrowLeft")
    assert layer_after(page, 2)["curve"][1][0] == pytest.approx(raised[1][0] - 0.02, abs=1e-3)
    page.get_by_role("button", name="Knot 2").focus()
    page.keyboard.press("Delete")
    assert len(layer_after(page, 3)["curve"]) == 2


@pytest.mark.thorough
def test_a_box_is_carried_by_another_piece_keeps_its_place_and_is_sized(page: Page):
    lamp = {
        "id": "q",
        "name": "Lamp",
        "recipe": [{"id": "a", "step": "box"}],
        "place": {"move": [0, 0, 2.0]},
    }
    values = {"centre": [0, 0, 0], "size": [0.6, 0.6, 0.6]}
    opened(page, {"layer": "box", "values": values}, pieces=(lamp,))
    page.get_by_role("combobox", name="Carried by").click()
    page.get_by_role("option", name="Lamp").click()
    carried = layer_after(page, 1)["carried"]
    assert (carried["by"], carried["id"]) == ("piece", "q")
    assert carried["start"][11] == pytest.approx(2.0)
    # The list of what can carry it goes away, and takes the pointer until then.
    expect(page.get_by_role("listbox")).to_have_count(0)
    settle(page)
    # Its size is dragged at its rim, as it was before.
    metre = pixels_of_a_metre(page)
    x, y = stage(page)
    page.mouse.move(x + 0.3 * metre, y)
    expect(page.get_by_text("Size x 0.6 m")).to_be_visible()
    drag(page, (x + 0.3 * metre, y), (x + 0.45 * metre, y))
    assert layer_after(page, 2)["values"]["size"] == pytest.approx([0.9, 0.6, 0.6], abs=0.05)
