"""The sheets of steps and forms, exchanging a form, and using another piece."""

import io
import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import add_step, new_study, recipe_of, stored_study, study_state
from tests.web.conftest import settle, settled, wait_until_changed

BALL = {"step": "icosphere", "values": {"radius": 0.4}}


def test_the_sheet_of_steps_shows_moving_pictures_and_is_used_by_keys(page: Page):
    new_study(page)
    page.get_by_role("button", name="Step", exact=True).click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("heading", name="Bend")).to_be_visible()
    expect(sheet.locator("img").first).to_be_visible(timeout=60_000)
    card = sheet.get_by_role("button").filter(has_text=re.compile("^Displace"))
    expect(card).to_have_attribute("data-chosen", "true")
    page.keyboard.press("ArrowRight")
    expect(card).to_have_attribute("data-chosen", "false")
    page.get_by_role("searchbox").fill("wring")
    expect(sheet.locator("[data-chosen]")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(sheet).to_have_count(0)
    settle(page)
    assert recipe_of(page)[1]["step"] == "twist"


def test_a_search_that_finds_nothing_says_what_to_try(page: Page):
    new_study(page)
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("searchbox").fill("zzz")
    expect(page.get_by_text("No step is called “zzz”")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_form_is_exchanged_while_the_steps_stay(page: Page):
    stored_study(page, document(BALL, {"step": "twist"}))
    page.locator("[data-step=s0]").click(button="right")
    page.get_by_role("menuitem", name="Exchange the form…").click()
    page.get_by_role("searchbox").fill("sphere by")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.locator("[data-step]").first).to_contain_text("Sphere")
    settle(page)
    recipe = recipe_of(page)
    assert [s["step"] for s in recipe] == ["sphere", "twist"]
    # What both forms have is kept; the rest begins as in a new piece.
    begun = {"around": {"draft": 96, "final": 192}, "rings": {"draft": 63, "final": 127}}
    assert recipe[0]["values"] == {"radius": 0.4} | begun


@pytest.mark.thorough
def test_a_piece_is_begun_from_another_and_follows_it(page: Page):
    stored_study(page, document(BALL, {"step": "inflate", "values": {"amount": 0.0}}))
    page.get_by_role("button", name="Piece").first.click()
    page.get_by_role("menuitem", name="Add a piece").click()
    page.get_by_role("searchbox").fill("sheet")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("button", name="Sheet ▾")).to_be_visible()
    settle(page)
    # A drape takes the only other piece by itself.
    add_step(page, "Drape")
    settle(page)
    added = study_state(page)["document"]["pieces"][1]
    assert added["recipe"][1]["values"]["piece"] == "p"
    expect(page.get_by_text("Drape on “Piece”").first).to_be_visible()
    # The first piece cannot wait for the one that waits for it.
    page.get_by_role("button", name="Sheet").first.click()
    page.get_by_role("menuitem", name="Piece", exact=False).first.click()
    add_step(page, "Blend")
    page.get_by_label("Towards").locator("..").get_by_role("combobox").click()
    expect(page.get_by_role("option", name="Sheet (it uses this piece)")).to_be_disabled()


@pytest.mark.thorough
def test_a_step_and_a_piece_are_copied_from_study_to_study(page: Page):
    stored_study(page, document(BALL, {"step": "twist", "values": {"angle": 33.0}}))
    page.locator("[data-step=s1]").click(button="right")
    page.get_by_role("menuitem", name=re.compile("^Copy")).click()
    stored_study(page, document(BALL, {"step": "inflate"}))
    page.locator("[data-step=s1]").click(button="right")
    page.get_by_role("menuitem", name=re.compile("^Paste below")).click()
    expect(page.get_by_text("Twist 33°").first).to_be_visible()
    settle(page)
    assert [s["step"] for s in recipe_of(page)] == ["icosphere", "inflate", "twist"]
    # By keys: the chosen step, which is the pasted one.
    page.keyboard.press("Control+c")
    expect(page.get_by_text("paste it in any study")).to_be_visible()
    page.keyboard.press("Control+v")
    expect(page.locator("[data-step]")).to_have_count(4)
    # A whole piece.
    page.get_by_role("button", name="Piece").first.click()
    page.get_by_role("button", name="Copy Piece").click()
    stored_study(page, document({"step": "torus"}))
    page.get_by_role("button", name="Piece").first.click()
    page.get_by_role("menuitem", name="Paste “Piece”").click()
    settle(page)
    pieces = study_state(page)["document"]["pieces"]
    assert [len(p["recipe"]) for p in pieces] == [1, 4]


def test_what_a_step_moves_is_chosen_in_where(page: Page):
    stored_study(page, document({"step": "tiling"}, {"step": "wave"}, {"step": "smooth"}))
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="Where").click()
    page.get_by_role("combobox").filter(has_text="points, or whole copies").click()
    page.get_by_role("option", name="whole, tilted to the slope").click()
    settle(page)
    assert recipe_of(page)[1]["where"]["moves"] == "tilted"
    expect(page.get_by_role("button", name="Where")).to_be_visible()
    # Smoothing has nothing to say about shards.
    page.locator("[data-step=s2] button").first.click()
    expect(page.get_by_text("It acts everywhere.")).to_be_visible()
    expect(page.get_by_role("combobox").filter(has_text="points, or whole copies")).to_have_count(0)


@pytest.mark.thorough
def test_a_picture_dropped_on_a_piece_becomes_its_relief(page: Page):
    stored_study(page, document({"step": "sheet", "values": {"columns": 30, "rows": 30}}))
    buffer = io.BytesIO()
    Image.fromarray(np.tile(np.arange(0, 256, 4, dtype=np.uint8), (64, 1))).save(buffer, "PNG")
    before = settled(page)
    page.evaluate(
        """bytes => {
        const data = new DataTransfer();
        data.items.add(new File([new Uint8Array(bytes)], "ramp.png"));
        window.dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
    }""",
        list(buffer.getvalue()),
    )
    expect(page.get_by_text("ramp.png, 64 × 64")).to_be_visible()
    raised = wait_until_changed(page, before, 0.01)
    # Another picture in its place, and a file that is none.
    dark = io.BytesIO()
    Image.fromarray(np.zeros((8, 8), np.uint8)).save(dark, "PNG")
    chosen = {"name": "dark.png", "mimeType": "image/png", "buffer": dark.getvalue()}
    page.get_by_label("Picture file").set_input_files(chosen)
    expect(page.get_by_text("dark.png, 8 × 8")).to_be_visible()
    wait_until_changed(page, raised, 0.01)
    broken = {"name": "broken.png", "mimeType": "image/png", "buffer": b"nothing"}
    page.get_by_label("Picture file").set_input_files(broken)
    expect(page.get_by_text("broken.png: This is no picture")).to_be_visible()
    assert recipe_of(page)[1]["step"] == "relief"
