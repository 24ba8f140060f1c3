"""Names, what is found by typing, and what comes back after a reload."""

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import new_study, recipe_of, stored_study, study_state
from tests.web.conftest import settle

BALL = {"step": "icosphere", "values": {"halvings": 2}}


def piece_names(page: Page) -> list[str]:
    return [piece["name"] for piece in study_state(page)["document"]["pieces"]]


def test_a_piece_is_renamed_duplicated_and_named_by_its_new_form(page: Page):
    stored_study(page, document(BALL) | {"name": "Names"})
    page.get_by_role("button", name="Actions for Piece").click()
    page.get_by_role("menuitem", name="Rename").click()
    field = page.get_by_label("Name of the piece")
    expect(field).to_be_focused()
    field.fill("Icosphere")
    field.press("Enter")
    expect(page.get_by_role("button", name="Icosphere ▾")).to_be_visible()
    page.get_by_role("button", name="Actions for Icosphere").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.get_by_role("button", name="Icosphere 2 ▾")).to_be_visible()
    assert piece_names(page) == ["Icosphere", "Icosphere 2"]
    # It was called by its form, and is called by its new one.
    page.get_by_role("button", name="Actions for Icosphere 2").click()
    page.get_by_role("menuitem", name="Exchange the form").click()
    page.get_by_role("searchbox").fill("donut")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Torus ▾")).to_be_visible()
    assert piece_names(page) == ["Icosphere", "Torus"]


def test_a_study_is_duplicated_where_it_stands(page: Page):
    stored_study(page, document(BALL) | {"name": "Original of names"})
    first = page.url
    page.get_by_role("button", name="Actions for the study").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.get_by_label("Name of the study")).to_have_value("Original of names 2")
    assert page.url != first
    assert recipe_of(page)[0]["values"] == BALL["values"]


def test_steps_values_and_commands_are_found_by_other_words(page: Page):
    new_study(page)
    page.keyboard.press("Control+k")
    # Its very name stands first, and Enter takes it, whatever else has the word in it.
    page.get_by_placeholder("Find a command").fill("fit in view")
    expect(page.get_by_role("option").first).to_contain_text("Fit in view")
    page.get_by_placeholder("Find a command").fill("place")
    names = page.get_by_role("option").all_inner_texts()
    assert names[0].startswith("Place of the piece")
    expect(page.locator("[role=option][aria-selected=true]")).to_contain_text("Place of the piece")
    page.get_by_placeholder("Find a command").fill("noise")
    page.get_by_role("option", name="Add displace").click()
    expect(page.locator("[data-step]")).to_have_count(2)
    # A value that is not among the main ones is shown, and has the focus.
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("lacunarity")
    page.keyboard.press("Enter")
    expect(page.get_by_role("slider", name="Lacunarity")).to_be_focused()
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("export")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog").filter(has_text="Deliver")).to_be_visible()


def test_playhead_step_and_view_are_there_again_after_a_reload(page: Page):
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 40}}}
    stored_study(page, document(BALL, twist, frames=48))
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("tab", name="When").or_(page.get_by_role("button", name="When")).first.click()
    page.keyboard.press("Escape")
    slider = page.get_by_role("slider", name="Frame")
    slider.focus()
    for _ in range(7):
        page.keyboard.press("ArrowRight")
    settle(page)
    page.reload()
    settle(page)
    expect(page.get_by_role("slider", name="Frame")).to_have_attribute("aria-valuenow", "7")
    expect(page.get_by_role("combobox", name="Signal of Angle")).to_be_visible()


def test_masks_and_rows_of_other_pieces_are_found(page: Page):
    twist = {"step": "twist", "values": {}, "where": {"layers": [{"id": "l", "layer": "ball"}]}}
    made = document(BALL, twist)
    second = {
        "id": "other",
        "name": "Lantern",
        "recipe": [{"id": "f", "step": "torus"}, {"id": "b", "step": "bend"}],
    }
    stored_study(page, made | {"pieces": [*made["pieces"], second]})
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("ball of 2")
    page.get_by_role("option", name="Ball of 2 Twist").click()
    where = page.get_by_role("button", name="Where")
    expect(where).to_have_attribute("aria-expanded", "true")
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("bend of lantern")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Lantern ▾")).to_be_visible()
    expect(page.locator("[data-step=b]")).to_contain_text("Bend")
    expect(page.locator("[data-step=b] button[aria-expanded=true]").first).to_be_visible()
