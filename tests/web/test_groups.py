"""Groups of steps and presets, on the screen."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import recipe_of, stored_study, study_state
from tests.web.conftest import until

STEPS = [
    {"step": "icosphere", "values": {"halvings": 2}},
    {"step": "bend", "values": {"angle": 10}},
    {"step": "twist", "values": {"angle": 60}},
    {"step": "inflate", "values": {"amount": 0.1}},
]


def step(page: Page, number: int):
    return page.locator(f"[data-step=s{number}] button").first


def grouped(page: Page, name: str) -> None:
    """Twist and inflate become a group of this name."""
    stored_study(page, document(*STEPS))
    step(page, 2).click()
    step(page, 3).click(modifiers=["Shift"])
    page.keyboard.press("g")
    field = page.get_by_label("Name of the group")
    expect(field).to_be_focused()
    field.fill(name)
    field.press("Enter")
    expect(head(page, name)).to_be_visible()


def head(page: Page, name: str):
    return page.locator("[data-group]").get_by_role("button", name=name)


def groups_of(page: Page) -> list[dict]:
    return study_state(page)["document"]["pieces"][0].get("groups", [])


def test_steps_are_grouped_folded_and_taken_apart(page: Page):
    grouped(page, "Whirl")
    assert [s.get("group") for s in recipe_of(page)] == [None, None, "group1", "group1"]
    # Folded at first: the group is one line.
    expect(page.locator("[data-step]")).to_have_count(2)
    head(page, "Whirl").click()
    expect(page.locator("[data-step]")).to_have_count(4)
    # It stays open over a reload, which changes nothing of the study.
    revision = study_state(page)["revision"]
    page.reload()
    expect(page.locator("[data-step]")).to_have_count(4)
    assert study_state(page)["revision"] == revision
    page.get_by_role("switch", name="Use the group Whirl").click()
    until(page, "document.querySelectorAll('[role=switch][aria-checked=false]').length === 3")
    assert [s.get("on") for s in recipe_of(page)][2:] == [False, False]
    head(page, "Whirl").click(button="right")
    page.get_by_role("menuitem", name="Take the group apart").click()
    expect(head(page, "Whirl")).to_have_count(0)
    expect(page.locator("[data-step]")).to_have_count(4)
    assert groups_of(page) == []


def test_a_step_is_dragged_into_a_group(page: Page):
    grouped(page, "Whirl")
    head(page, "Whirl").click()
    step(page, 1).focus()
    # By keyboard: lifted, below the head of the group, set down.
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    page.keyboard.press("ArrowDown")
    page.wait_for_timeout(300)
    page.keyboard.press("Space")
    expect(page.get_by_text("steps 2 to 4")).to_be_visible()
    assert [s.get("group") for s in recipe_of(page)] == [None, *["group1"] * 3]


@pytest.mark.thorough
def test_values_come_to_the_front_of_a_group_under_names_of_their_own(page: Page):
    grouped(page, "Whirl")
    head(page, "Whirl").click(button="right")
    page.get_by_role("menuitem", name="Values at its front").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("checkbox", name="Angle").check()
    dialog.get_by_label("Name of Angle").fill("Tightness")
    dialog.get_by_role("button", name="Show this value").click()
    group = page.locator("[data-group=group1]")
    ruler = group.get_by_role("slider", name="Tightness")
    expect(ruler).to_be_visible()
    ruler.focus()
    page.keyboard.press("ArrowRight")
    until(page, "document.querySelector('[data-group] [role=slider]').ariaValueNow !== '60'")
    assert groups_of(page)[0]["front"] == [
        {"id": "front1", "step": "s2", "value": "values/angle", "name": "Tightness"}
    ]


def test_a_group_is_kept_and_used_in_another_study(page: Page):
    grouped(page, "Tight whirl")
    head(page, "Tight whirl").click(button="right")
    page.get_by_role("menuitem", name="Keep as a preset").click()
    expect(page.get_by_text("is kept")).to_be_visible()
    stored_study(page, document({"step": "torus"}))
    page.get_by_role("button", name="Step", exact=True).click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("searchbox").fill("tight")
    expect(sheet.get_by_role("button", name="Tight whirl", exact=False).first).to_be_visible()
    page.keyboard.press("Enter")
    expect(head(page, "Tight whirl")).to_be_visible()
    assert [s["step"] for s in recipe_of(page)] == ["torus", "twist", "inflate"]
    # One undo takes the whole use back.
    page.keyboard.press("Control+z")
    expect(head(page, "Tight whirl")).to_have_count(0)
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("button", name="More about Tight whirl").click()
    page.get_by_role("menuitem", name="Remove").click()
    expect(page.get_by_text("is off the list")).to_be_visible()
    expect(sheet.get_by_role("button", name="More about Tight whirl")).to_have_count(0)
    page.get_by_text("Bring it back").click()
    expect(sheet.get_by_role("button", name="More about Tight whirl")).to_have_count(1)
    # Other tests look for steps by words that would find it.
    for preset in page.request.get("/api/presets").json()["presets"]:
        page.request.delete(f"/api/presets/{preset['id']}")


def test_a_preset_file_that_is_none_says_so(page: Page):
    stored_study(page, document({"step": "torus"}))
    page.get_by_role("button", name="Step", exact=True).click()
    wrong = {"name": "shape.json", "mimeType": "application/json", "buffer": b"{not json"}
    page.get_by_label("Preset file").set_input_files(wrong)
    expect(page.get_by_text("shape.json is not JSON")).to_be_visible()


@pytest.mark.thorough
def test_a_copied_step_leaves_its_group_behind(page: Page):
    grouped(page, "Whirl")
    head(page, "Whirl").click()
    step(page, 2).click()
    page.keyboard.press("Control+c")
    stored_study(page, document({"step": "torus"}))
    page.locator("[data-step]").first.click()
    page.keyboard.press("Control+v")
    expect(page.locator("[data-step]")).to_have_count(2)
    assert recipe_of(page)[1]["step"] == "twist"
