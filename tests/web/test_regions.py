"""Gallery, recipe, stage, time strip and delivery: what an artist does there."""

import json

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import camera, document, surface
from tests.web.actions import (
    add_step,
    drop_file,
    new_study,
    recipe_of,
    steps,
    stored_study,
    study_state,
)
from tests.web.conftest import differs, settle, settled, until, wait_until_changed

BALL = {"step": "icosphere", "values": {"halvings": 4}}


def test_a_new_study_begins_with_a_ball_while_pictures_are_still_drawn(page: Page):
    page.goto("/")
    page.get_by_role("button", name="Start from nothing").click()
    expect(page.get_by_test_id("counts")).to_contain_text("10,242 points")


def test_a_study_is_taken_out_of_the_gallery_and_brought_back(page: Page):
    page.goto("/")
    card = page.locator("article").filter(has=page.get_by_role("heading", name="Woven ring"))
    card.hover()
    card.get_by_role("button", name="Take Woven ring out of the gallery").click()
    expect(page.get_by_role("heading", name="Woven ring")).to_have_count(0)
    page.get_by_role("button", name="Bring back").click()
    expect(page.get_by_role("heading", name="Woven ring")).to_be_visible()


@pytest.mark.thorough
def test_a_search_without_result_says_so(page: Page):
    page.goto("/")
    page.get_by_label("Search studies").fill("zebra")
    expect(page.locator("article")).to_have_count(0)
    expect(page.get_by_role("main")).to_contain_text("zebra")


def test_a_study_file_dropped_on_the_gallery_is_opened(page: Page):
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    drop_file(page, "mine.json", json.dumps(document(BALL) | {"name": "From a file"}))
    expect(page.get_by_label("Name of the study")).to_have_value("From a file")


def test_a_study_file_with_a_wrong_key_is_explained(page: Page):
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    wrong = document({"step": "icosphere", "values": {"halvins": 4}})
    drop_file(page, "mine.json", json.dumps(wrong))
    expect(page.get_by_role("alert")).to_contain_text("/pieces/0/recipe/0/values/halvins")
    drop_file(page, "mine.json", "{")
    expect(page.get_by_role("alert")).to_contain_text("not JSON")


@pytest.mark.thorough
def test_the_theme_and_the_sizes_of_the_regions_are_kept(page: Page):
    new_study(page)
    page.get_by_role("button", name="Night theme").click()
    edge = page.get_by_role("separator", name="Width of the recipe")
    box = edge.bounding_box()
    page.mouse.move(box["x"] + 3, box["y"] + 200)
    page.mouse.down()
    page.mouse.move(box["x"] + 83, box["y"] + 200, steps=4)
    page.mouse.up()
    recipe = page.get_by_role("region", name="Recipe")
    wide = recipe.bounding_box()["width"]
    assert 440 < wide < 470
    page.get_by_role("separator", name="Height of the time strip").focus()
    page.keyboard.press("ArrowUp")
    page.reload()
    expect(page.get_by_role("button", name="Paper theme")).to_be_visible()
    assert recipe.bounding_box()["width"] == pytest.approx(wide, abs=2)
    assert page.get_by_role("region", name="Time strip").bounding_box()["height"] > 185


def test_a_value_is_reset_nudged_and_refused(page: Page):
    new_study(page)
    add_step(page, "Twist")
    row = page.locator("[data-value=angle]")
    ruler = row.get_by_role("slider")
    expect(row).to_contain_text("90°")
    ruler.focus()
    page.keyboard.press("ArrowRight")
    until(page, "() => !document.querySelector('[data-value=angle]').innerText.includes('90°')")
    ruler.dblclick()
    expect(row).to_contain_text("90°")
    row.get_by_role("button", name="type a value").click()
    page.get_by_label("Angle, typed").fill("half a turn")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Angle, typed")).to_have_attribute("aria-invalid", "true")
    page.keyboard.press("Escape")
    expect(row).to_contain_text("90°")


def test_a_step_is_left_out_taken_alone_copied_and_removed_by_keys(page: Page):
    new_study(page)
    plain = settled(page)
    add_step(page, "Twist")
    add_step(page, "Taper")
    wait_until_changed(page, plain)
    page.keyboard.press("u")
    until(
        page,
        "() => document.querySelector('[aria-label^=\"Use step 3\"]').getAttribute('aria-checked') === 'false'",
    )
    assert recipe_of(page)[2]["on"] is False
    page.keyboard.press("u")
    settle(page)
    # The taper is in use again; alone, the twist above it does nothing, which a ball of one
    # colour by height does not show, but the menu does.
    wait_until_changed(page, plain)
    page.keyboard.press("o")
    page.locator(f"[data-step={steps(page)[2]}] button").first.click(button="right")
    expect(page.get_by_role("menuitem", name="All steps again")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("o")
    page.keyboard.press("Delete")
    expect(page.locator("[data-step]")).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-step]")).to_have_count(3)


@pytest.mark.thorough
def test_the_menu_of_a_step_moves_and_copies_it(page: Page):
    new_study(page)
    add_step(page, "Twist")
    add_step(page, "Taper")
    first, twist, taper = steps(page)
    page.locator(f"[data-step={taper}] button").first.click(button="right")
    page.get_by_role("menuitem", name="Move up").click()
    until(
        page,
        "wanted => [...document.querySelectorAll('[data-step]')].map(e => e.dataset.step).join() === wanted",
        ",".join([first, taper, twist]),
    )
    page.locator(f"[data-step={twist}] button").first.click(button="right")
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.locator("[data-step]")).to_have_count(4)
    copied = recipe_of(page)[3]
    assert copied["step"] == "twist"
    assert copied["id"] != twist


@pytest.mark.thorough
def test_a_step_carries_a_note(page: Page):
    new_study(page)
    add_step(page, "Twist")
    row = page.locator("[data-step]").nth(1)
    row.get_by_role("button").first.click(button="right")
    page.get_by_role("menuitem", name="Write a note").click()
    field = page.get_by_role("textbox", name="Note")
    field.fill("a first thought")
    field.press("Escape")
    expect(field).to_have_count(0)
    assert recipe_of(page)[1].get("note", "") == ""
    row.get_by_role("button").first.click(button="right")
    page.get_by_role("menuitem", name="Write a note").click()
    field.fill("winds it up until the seam")
    field.press("Enter")
    expect(row).to_contain_text("winds it up until the seam")
    # It is read while the step is closed too, and leaves the frames as they are.
    row.get_by_role("button").first.click()
    expect(row).to_contain_text("winds it up until the seam")
    state = study_state(page)
    assert state["document"]["pieces"][0]["recipe"][1]["note"] == "winds it up until the seam"


def test_the_history_tells_every_edit(page: Page):
    new_study(page)
    add_step(page, "Twist")
    page.keyboard.press("Control+z")
    expect(page.locator("[data-step]")).to_have_count(1)
    page.get_by_role("button", name="History").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Add twist")
    expect(dialog).to_contain_text("undo")


def test_a_step_that_cannot_work_is_marked_and_says_why(page: Page):
    missing = {"step": "imported", "values": {"mesh": "a" * 64}}
    answer = page.request.post("/api/studies", data={"document": document(missing)})
    page.goto(f"/study/{answer.json()['id']}")
    stage = page.get_by_test_id("stage")
    expect(stage.get_by_role("alert")).to_contain_text("not stored here")
    expect(stage.get_by_role("alert")).to_contain_text("Bring the mesh file in again")


def test_colours_and_shading_change_the_picture(page: Page):
    stored_study(page, document({"step": "icosphere", "values": {"halvings": 2}}))
    before = settled(page)
    page.get_by_role("button", name="Look colour by height").click()
    page.get_by_role("button", name="make it one everywhere: Colour").click()
    wait_until_changed(page, before, 0.05)
    smooth = settled(page)
    page.get_by_role("button", name="more values").click()
    page.get_by_role("combobox", name="Shading").click()
    page.get_by_role("option", name="flat").click()
    expect(page.get_by_role("combobox", name="Shading")).to_have_text("flat")
    # Facets are a little lighter or darker than the smooth ball, everywhere on it.
    assert (np.abs(settled(page) - smooth).max(axis=2) > 4).mean() > 0.05
    assert study_state(page)["document"]["pieces"][0]["looks"][0]["values"]["shading"] == "flat"


@pytest.mark.thorough
def test_smooth_shading_has_no_facets(page: Page):
    """A smooth ball's tones change gradually; a faceted one's stand still and then jump."""
    coarse = {"step": "icosphere", "values": {"halvings": 2}}
    look = {"colour": "#999999", "roughness": 100.0}
    jumps = {}
    for shading in ("smooth", "flat"):
        stored_study(page, document(coarse, looks=surface(**look, shading=shading)))
        picture = settled(page).sum(axis=2)
        rows, columns = picture.shape
        middle = picture[rows // 2, columns // 2 - 60 : columns // 2 + 60]
        jumps[shading] = np.abs(np.diff(middle)).max()
    assert jumps["flat"] > 3 * jumps["smooth"]


def open_mask(page: Page, layer: dict) -> tuple[float, float, float]:
    """A ball seen from the front with a mask open; middle of the stage and pixels a metre."""
    step = {"step": "displace", "where": {"layers": [layer]}}
    stored_study(page, document(BALL, step) | {"cameras": camera(position=[0, 0, 3])})
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="Where").click()
    settle(page)
    canvas = page.locator("canvas[data-engine]").bounding_box()
    per_metre = canvas["height"] / (2 * 3 * np.tan(np.radians(16)))
    return canvas["x"] + canvas["width"] / 2, canvas["y"] + canvas["height"] / 2, per_metre


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> dict:
    """Drag on the stage; the values of the first mask layer as they were stored after it."""
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    return recipe_of(page)[1]["where"]["layers"][0]["values"]


def test_a_ball_mask_is_sized_and_moved_on_the_stage(page: Page):
    ball = {"id": "b", "layer": "ball", "values": {"centre": [0, 0, 0], "radius": 0.4}}
    x, y, per_metre = open_mask(page, ball)
    values = drag(page, (x + 0.4 * per_metre, y), (x + 0.6 * per_metre, y))
    assert abs(values["radius"] - 0.6) < 0.03
    assert values["centre"] == [0, 0, 0]
    drag(page, (x, y), (x, y - 0.2 * per_metre))
    until(page, "() => document.querySelector('[data-value=centre]').innerText.includes('0.2')")
    values = recipe_of(page)[1]["where"]["layers"][0]["values"]
    assert abs(values["centre"][1] - 0.2) < 0.03


def test_dragging_a_handle_keeps_the_component_that_moves(page: Page):
    # The middle component is moved by a signal, about where the handle stands at frame 0.
    wave = {"signal": "cycle", "low": 0.0, "high": 0.2}
    ball = {"id": "b", "layer": "ball", "values": {"centre": [0, wave, 0], "radius": 0.4}}
    x, y, per_metre = open_mask(page, ball)
    centre = drag(page, (x, y), (x + 0.2 * per_metre, y - 0.1 * per_metre))["centre"]
    assert abs(centre[0] - 0.2) < 0.03
    assert centre[1] == wave


def test_orbit_pan_zoom_and_fit(page: Page):
    new_study(page)
    start = settled(page)
    canvas = page.locator("canvas[data-engine]").bounding_box()
    x, y = canvas["x"] + 80, canvas["y"] + canvas["height"] - 120
    page.mouse.move(x, y)
    page.mouse.down(button="right")
    page.mouse.move(x + 120, y, steps=4)
    page.mouse.up(button="right")
    panned = wait_until_changed(page, start, 0.02)
    page.mouse.wheel(0, 600)
    smaller = wait_until_changed(page, panned, 0.02)
    page.keyboard.press("0")
    fitted = wait_until_changed(page, smaller, 0.02)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 150, y + 60, steps=4)
    page.mouse.up()
    wait_until_changed(page, fitted, 0.001)


def test_pieces_are_added_hidden_and_shown(page: Page):
    new_study(page)
    before = settled(page)
    page.get_by_role("button", name="1 of 1 piece").click()
    page.get_by_role("menuitem", name="Add a piece").click()
    page.get_by_role("searchbox").fill("torus")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("button", name="2 of 2 pieces")).to_be_visible()
    both = wait_until_changed(page, before, 0.02)
    page.get_by_role("button", name="2 of 2 pieces").click()
    page.get_by_role("button", name="Hide Torus").click()
    page.keyboard.press("Escape")
    hidden = wait_until_changed(page, both, 0.02)
    assert differs(hidden, before) < 0.02


def test_the_stage_is_a_picture_not_an_empty_frame(page: Page):
    page.goto("/")
    page.get_by_role("heading", name="Ember bulb").click()
    picture = settled(page)
    warm = picture[..., 0] > picture[..., 2] + 60
    assert 0.03 < warm.mean() < 0.4
    rows = np.flatnonzero(warm.any(axis=1))
    assert rows[0] > 10
    assert rows[-1] < len(picture) - 10


# What shows that the element with the focus has it: an outline of its own or of what it stands in.
OUTLINED = """() => {
  const seen = (element) => {
    const { outlineStyle, outlineWidth } = getComputedStyle(element);
    const { width, height } = element.getBoundingClientRect();
    return outlineStyle !== "none" && parseFloat(outlineWidth) >= 2 && width > 4 && height > 4;
  };
  const told = document.activeElement;
  if (!told || told === document.body) return null;
  let shown = false;
  for (let e = told, k = 0; e && k < 3; e = e.parentElement, k++) shown ||= seen(e);
  const name = told.getAttribute("aria-label") ?? told.innerText ?? "";
  return [told.tagName + " " + (told.getAttribute("role") ?? "") + " " + name.slice(0, 40), shown];
}"""


def test_the_keyboard_sees_where_it_is_on_every_element(page: Page):
    new_study(page)
    add_step(page, "Displace")
    page.mouse.move(0, 0)
    page.evaluate("() => document.activeElement.blur()")
    seen: dict[str, bool] = {}
    for _ in range(140):
        page.keyboard.press("Tab")
        told = page.evaluate(OUTLINED)
        if told is None:
            break
        seen[told[0]] = told[1]
    assert len(seen) > 50
    assert [name for name, shown in seen.items() if not shown] == []
