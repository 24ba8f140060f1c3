"""Several files at once, and what is shown while it plays with heat."""

import json
from urllib.parse import parse_qs, urlsplit

import numpy as np
import pytest
import trimesh
from playwright.sync_api import Page, Request, expect

from tests.conftest import document, obj_text
from tests.web.actions import drop_file, drop_files, new_study, recipe_of, stored_study, study_state
from tests.web.conftest import settled, wait_until_changed

BALL = {"step": "icosphere", "values": {"halvings": 3}}
TETRAHEDRON = """v 0 0 0
v 1 0 0
v 0 1 0
v 0 0 1
f 1 3 2
f 1 2 4
f 1 4 3
f 2 3 4
"""


def test_several_files_dropped_on_a_study_become_pieces_and_each_is_told_of(page: Page):
    new_study(page)
    files = {
        "first.obj": TETRAHEDRON,
        "broken.obj": "v 0 0 nan\n",
        "second.obj": TETRAHEDRON.replace("v 1 0 0", "v 2 0 0"),
    }
    drop_files(page, files)
    # The damaged one in the middle neither stops the others nor is forgotten.
    told = page.get_by_role("alert")
    for words in ("first.obj: 4 points", "broken.obj: Line 1", "second.obj: 4 points"):
        expect(told).to_contain_text(words)
    pieces = study_state(page)["document"]["pieces"]
    assert [p["name"] for p in pieces][1:] == ["first", "second"]
    assert len({p["id"] for p in pieces}) == 3
    expect(page.get_by_role("region", name="Recipe")).to_contain_text("3 of 3 pieces")


@pytest.mark.thorough
def test_several_files_dropped_on_the_gallery_become_studies_there(page: Page):
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    mine = json.dumps(document(BALL) | {"name": "Dropped here"})
    drop_files(page, {"left.obj": TETRAHEDRON, "mine.json": mine, "not.json": "{"})
    for name in ("left", "Dropped here"):
        expect(page.get_by_role("heading", name=name, exact=True)).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("not.json: This is not JSON")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()


@pytest.mark.thorough
def test_frames_are_made_ahead_with_the_heat_of_the_mask_too(page: Page):
    ball = {"id": "l", "layer": "ball", "values": {"radius": 0.5}}
    twist = {
        "id": "turn",
        "step": "twist",
        "values": {"angle": {"signal": "cycle", "low": 0, "high": 90}},
        "where": {"layers": [ball]},
    }
    stored_study(page, document(BALL, twist, frames=60))
    page.locator("[data-step=turn] button").first.click()
    asked: set[int] = set()

    def note(request: Request) -> None:
        query = parse_qs(urlsplit(request.url).query)
        if query.get("mask_of") == ["turn"]:
            asked.add(int(query["frame"][0]))

    # Before the heat is shown: the frame that stands there is the first to be asked for with it.
    page.on("request", note)
    page.get_by_role("button", name="Mask heat").click()
    page.get_by_role("button", name="Play", exact=True).click()
    for _ in range(600):
        if len(asked) == 60:
            break
        page.wait_for_timeout(100)
    assert asked == set(range(60))
    # The strip counts the ready frames until they are all.
    strip = page.get_by_role("region", name="Time strip")
    expect(strip.get_by_role("button", name="Pause")).to_be_visible()
    expect(strip).not_to_contain_text("ready")


def test_what_was_read_is_told_and_a_repair_is_shown_before_it_is_kept(page: Page):
    ball = trimesh.creation.icosphere(2)
    faces = np.delete(ball.faces, [5, 6, 7], axis=0)
    new_study(page)
    drop_file(page, "gourd.obj", obj_text(ball.vertices * 100, faces))
    told = page.get_by_role("region", name="What was read")
    expect(told).to_contain_text("gourd.obj holds 162 points and 317 faces.")
    expect(told).to_contain_text("A hole of 5 sides, 0.856 m around.")
    counts = page.get_by_test_id("counts")
    expect(counts).to_contain_text("317 faces")
    revision = study_state(page)["revision"]
    told.get_by_role("button", name="Fill it").click()
    expect(counts).to_contain_text("322 faces")
    told.get_by_role("button", name="Leave it").click()
    expect(counts).to_contain_text("317 faces")
    assert study_state(page)["revision"] == revision
    told.get_by_role("button", name="Fill it").click()
    told.get_by_role("button", name="Keep it").click()
    expect(told).not_to_contain_text("A hole of")
    expect(counts).to_contain_text("322 faces")
    assert study_state(page)["document"]["pieces"][1]["recipe"][0]["values"]["fill_at"]


LEAF = """<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90">
<path d="M10 10 H80 V80 H10 Z M30 30 V60 H60 V30 Z"/></svg>"""


@pytest.mark.thorough
def test_a_drawing_and_letters_become_solids(page: Page):
    new_study(page)
    page.get_by_role("button", name="1 of 1 piece").click()
    page.get_by_role("menuitem", name="Add a piece").click()
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="From a file").click()
    chosen.value.set_files(
        {"name": "leaf.svg", "mimeType": "image/svg+xml", "buffer": LEAF.encode()}
    )
    expect(page.get_by_text("leaf.svg: 2 outlines of 8 points.")).to_be_visible()
    form = study_state(page)["document"]["pieces"][1]["recipe"][0]
    assert form["step"] == "outline"
    expect(page.get_by_role("button", name="Size: 1.5 m, type a value")).to_be_visible()
    # Letters are typed; a line break with Shift.
    stored_study(page, document({"step": "text", "values": {"cell": 0.2}}))
    counts = page.get_by_test_id("counts")
    page.locator("[data-step] button[aria-expanded]").first.click()
    before = counts.inner_text()
    field = page.get_by_role("textbox", name="Text", exact=True)
    field.fill("oi")
    field.press("Shift+Enter")
    field.press_sequentially("x")
    field.press("Enter")
    expect(counts).not_to_have_text(before)
    assert recipe_of(page)[0]["values"]["text"] == "oi\nx"
    # What the font lacks is said, and the last good letters stay.
    field.fill("語")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="has no “語”").first).to_be_visible()


def test_the_heat_of_a_mask_is_seen_without_any_light(page: Page):
    front = {"id": "m", "layer": "linear", "values": {"width": 0.5}}
    push = {"step": "inflate", "values": {"amount": 0.01}, "where": {"layers": [front]}}
    stored_study(page, document(BALL, push) | {"lights": []})
    dark = settled(page)
    page.locator("[data-step]").nth(1).locator("button[aria-expanded]").first.click()
    page.get_by_role("button", name="Mask heat").click()
    wait_until_changed(page, dark, 0.05)
    light = settled(page)
    # Gold where it is 1, in the upper half of the ball.
    bright = (light[..., 0] > 120) & (light[..., 0] > light[..., 2] + 30)
    rows, columns = bright.shape
    assert bright[rows // 5 : rows // 2, columns // 2 - 30 : columns // 2 + 30].mean() > 0.3
