"""Faces that come apart, pop in and are reduced, as an artist does it."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document, surface
from tests.web.actions import (
    PIECE_REVISION,
    add_step,
    drag,
    new_study,
    recipe_of,
    stage,
    stored_study,
    study_state,
)
from tests.web.conftest import differs, settle, settled, stage_pixels, until, wait_until_changed

BALL = {"step": "icosphere", "values": {"radius": 0.6, "halvings": 2}}


STORED = """async count => (await (await fetch(location.pathname.replace("/study", "/api/studies"))).json())
  .document.pieces[0].recipe[1].values?.clicked?.length === count"""


def go_to(page: Page, frame: int) -> None:
    page.keyboard.press("Home")
    for _ in range(frame // 10):
        page.keyboard.press("Shift+ArrowRight")
    for _ in range(frame % 10):
        page.keyboard.press("ArrowRight")
    settle(page)


@pytest.mark.thorough
def test_resting_on_a_step_shows_it_on_ones_own_piece(page: Page):
    new_study(page, 2)
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("searchbox").fill("extrude")
    card = page.get_by_role("dialog").get_by_role("button", name=re.compile("^Extrude"))
    card.hover()
    expect(card.get_by_text("on your piece", exact=True)).to_be_visible(timeout=60_000)
    picture = card.locator("img[src*='trial.webp']")
    assert picture.evaluate("image => image.naturalWidth") == 384
    assert [s["step"] for s in recipe_of(page)] == ["icosphere"]
    page.mouse.move(2, 2)
    expect(card.get_by_text("on your piece", exact=True)).to_have_count(0)
    # What it cannot act on has its own picture.
    page.get_by_role("searchbox").fill("tube")
    tube = page.get_by_role("dialog").get_by_role("button", name=re.compile("^Tube"))
    with page.expect_response(lambda answer: "trial.webp" in answer.url) as refused:
        tube.hover()
    assert refused.value.status == 422
    expect(tube.get_by_text("your piece")).to_have_count(0)
    page.keyboard.press("Escape")


def test_a_ball_is_split_into_shards_that_spread(page: Page):
    new_study(page, 2)
    before = page.get_by_test_id("counts").inner_text()
    add_step(page, "Split faces")
    settle(page)
    expect(page.get_by_test_id("counts")).to_contain_text("960 points")
    assert page.get_by_test_id("counts").inner_text() != before
    shot = stage_pixels(page)
    add_step(page, "Spread")
    settle(page)
    # It takes the shards that there are.
    assert recipe_of(page)[2]["values"]["of"] == "shards"
    wait_until_changed(page, shot)


@pytest.mark.thorough
def test_a_reduction_is_keyed_to_the_last_face_and_scrubbed(page: Page):
    keys = {"signal": "keys", "keys": [{"frame": 0, "value": 100}, {"frame": 20, "value": 0}]}
    reduce = {"step": "reduce", "values": {"to": "share", "share": keys}}
    stored_study(page, document(BALL, reduce, looks=surface(shading="flat")))
    counts = page.get_by_test_id("counts")
    expect(counts).to_contain_text("320 faces")
    go_to(page, 20)
    expect(counts).to_contain_text(re.compile(r"\b1 face"))
    go_to(page, 10)
    expect(counts).to_contain_text("160 faces")
    go_to(page, 0)
    expect(counts).to_contain_text("320 faces")


@pytest.mark.thorough
def test_tiles_pop_in_behind_a_front(page: Page):
    front = {
        "id": "front",
        "layer": "linear",
        "profile": "hard",
        "values": {
            "direction": [1, 0, 0],
            "position": [
                {"signal": "keys", "keys": [{"frame": 0, "value": -2}, {"frame": 20, "value": 2}]},
                0,
                0,
            ],
            "width": 0.01,
        },
    }
    tiles = {"step": "tiling", "values": {"kind": "hexagon", "columns": 8, "rows": 6, "size": 0.2}}
    gone = {"step": "remove", "values": {"of": "shards"}, "where": {"layers": [front]}}
    stored_study(page, document(tiles, gone))
    counts = page.get_by_test_id("counts")
    expect(counts).to_have_text("nothing is there at this frame")
    go_to(page, 20)
    expect(counts).to_contain_text("48 faces")
    go_to(page, 10)
    middle = int(re.search(r"(\d+) faces", counts.inner_text()).group(1))
    assert 8 < middle < 40


def test_a_ball_is_fractured_and_its_gap_dragged(page: Page):
    new_study(page, 3)
    add_step(page, "Fracture")
    settle(page)
    expect(page.get_by_test_id("counts")).to_contain_text("24 shards")
    box = page.get_by_role("slider", name="Gap").bounding_box()
    before, shot = recipe_of(page)[1]["values"]["gap"], settled(page)
    x, y = box["x"] + box["width"] * 0.1, box["y"] + box["height"] / 2
    drag(page, (x, y), (x + box["width"] * 0.6, y))
    until(page, "document.querySelector('[aria-label=Gap][role=slider]').ariaValueNow > 0.05")
    wait_until_changed(page, shot)
    assert recipe_of(page)[1]["values"]["gap"] > before + 0.03


@pytest.mark.thorough
def test_shards_are_told_apart_without_changing_the_study(page: Page):
    fracture = {"step": "fracture", "values": {"count": 12, "gap": 0.0}}
    stored_study(page, document({"step": "icosphere", "values": {"halvings": 3}}, fracture))
    shot, revision = settled(page), study_state(page)["revision"]
    for name in ("Shards in colours", "Shards pulled apart"):
        page.get_by_role("button", name=re.compile("^Shards:")).click()
        page.get_by_role("menuitem", name=name).click()
        after = wait_until_changed(page, shot, 0.02)
        shot = after
    page.get_by_role("button", name=re.compile("^Shards:")).click()
    page.get_by_role("menuitem", name="Shards as they are").click()
    wait_until_changed(page, shot, 0.02)
    assert study_state(page)["revision"] == revision


@pytest.mark.thorough
def test_letters_are_cut_by_a_block_that_moves(page: Page):
    moving = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": -3.0}, {"frame": 20, "value": 0.0}],
    }
    letters = {"step": "text", "values": {"text": "OK", "cell": 0.1}}
    cut = {"step": "boolean", "values": {"piece": "block", "keep": "outside"}}
    block = {
        "id": "block",
        "name": "Block",
        "visible": False,
        "place": {"move": [moving, 0, 0]},
        "recipe": [{"id": "b", "step": "box", "values": {"size": [2.0, 3.0, 2.0]}}],
    }
    made = document(letters, cut)
    stored_study(page, {**made, "pieces": [*made["pieces"], block]})
    whole = page.get_by_test_id("counts").inner_text()
    shot = settled(page)
    go_to(page, 14)
    assert page.get_by_test_id("counts").inner_text() != whole
    half = wait_until_changed(page, shot, 0.01)
    go_to(page, 20)
    expect(page.get_by_test_id("counts")).to_have_text("nothing is there at this frame")
    go_to(page, 0)
    expect(page.get_by_test_id("counts")).to_contain_text(re.match(r"[\d,]+ points", whole).group())
    assert differs(settled(page), half) > 0.01


@pytest.mark.thorough
def test_copies_stand_on_the_points_that_are_picked(page: Page):
    sheet = {
        "id": "p",
        "name": "Sheet",
        "recipe": [
            {
                "id": "s0",
                "step": "sheet",
                "values": {"width": 2, "depth": 2, "columns": 8, "rows": 8},
            },
            {
                "id": "s1",
                "step": "remember",
                "values": {"what": "mask", "name": "chosen"},
                "where": {
                    "layers": [{"id": "picks", "layer": "picked", "values": {"of": "points"}}]
                },
            },
        ],
    }
    chosen = {"id": "c", "layer": "stored", "values": {"name": "chosen"}}
    on = {
        "id": "q1",
        "step": "on_piece",
        "values": {"piece": "p", "on": "points"},
        "where": {"layers": [chosen]},
    }
    balls = {
        "id": "balls",
        "name": "Balls",
        "recipe": [
            {"id": "q0", "step": "icosphere", "values": {"radius": 0.12, "halvings": 1}},
            on,
        ],
    }
    made = document({"step": "box"})
    stored_study(page, {**made, "pieces": [sheet, balls]})
    shot = settled(page)
    page.locator("[data-step=s1] button").first.click()
    page.get_by_role("button", name="Where").first.click()
    page.get_by_role("button", name="Pick", exact=True).click()
    x, y = stage(page)
    drag(page, (x - 80, y - 60), (x + 80, y + 60))
    until(page, PIECE_REVISION, 1)
    wait_until_changed(page, shot, 0.004)
    layers = study_state(page)["document"]["pieces"][0]["recipe"][1]["where"]["layers"]
    assert 1 <= sum(many for _, many in layers[0]["values"]["picked"]) < 81


def test_copies_stand_where_it_is_clicked_and_a_place_is_dragged_and_taken_away(page: Page):
    ball = {"id": "ball", "name": "Ball", "recipe": [{"id": "b", **BALL}]}
    cone = {"step": "cone", "values": {"bottom": 0.05, "height": 0.3, "around": 8, "rows": 1}}
    made = document(cone, {"step": "where_clicked"})
    stored_study(page, {**made, "pieces": [*made["pieces"], ball]})
    page.locator("[data-step]").nth(1).click()
    page.get_by_role("button", name="Click", exact=True).click()
    x, y = stage(page)
    # However fast they come, no click is lost.
    page.mouse.click(x - 60, y)
    page.mouse.click(x + 60, y)
    expect(page.get_by_text("2 places")).to_be_visible()

    def places() -> list[dict]:
        return recipe_of(page)[1]["values"].get("clicked", [])

    def stored(change: Callable[[], object]) -> None:
        before = study_state(page)["revision"]
        change()
        until(page, PIECE_REVISION, before + 1)

    until(page, STORED, 2)
    first, second = places()
    # Both are on the ball, and the one that was clicked farther left is farther left.
    for place in (first, second):
        assert 0.5 < sum(c * c for c in place["at"]) ** 0.5 <= 0.601
    assert first["at"] != second["at"]
    stored(lambda: drag(page, (x - 60, y), (x - 40, y + 40)))
    assert places()[0]["at"] != first["at"]
    assert places()[1] == second
    page.keyboard.down("Shift")
    stored(lambda: page.mouse.click(x + 60, y))
    page.keyboard.up("Shift")
    assert len(places()) == 1
    expect(page.get_by_test_id("counts")).to_contain_text("1 copy")


def test_two_pieces_swap_by_one_action_which_one_undo_takes_back(page: Page):
    other = {"id": "q", "name": "Box", "place": {"move": [3, 0, 0]}}
    box = {"id": "b", "step": "box", "values": {"size": [0.4, 0.4, 0.4]}}
    made = document(BALL)
    stored_study(page, {**made, "pieces": [*made["pieces"], {**other, "recipe": [box]}]})
    before = study_state(page)["document"]
    page.get_by_role("button", name="Actions for Piece").click()
    page.get_by_role("menuitem", name="Swap with Box along a front").click()
    until(page, PIECE_REVISION, 1)
    counts = page.get_by_test_id("counts")
    expect(counts).to_contain_text("320 faces")
    go_to(page, 12)
    expect(counts).to_have_text("nothing is there at this frame")
    page.keyboard.press("Control+z")
    until(page, PIECE_REVISION, 2)
    assert study_state(page)["document"] == before


@pytest.mark.thorough
def test_volume_that_smoothing_takes_is_grown_back_from_the_row(page: Page):
    voxels = {"step": "voxels", "values": {"size": 0.08, "smooth": 0.15}}
    stored_study(page, document({"step": "box", "values": {"size": [1, 1, 0.4]}}, voxels))
    page.locator("[data-step]").nth(1).click()
    # Of what cannot be mended by it, such as corners that coarse voxels cut off, little is left.
    lost = page.get_by_text("of the volume is lost")
    expect(lost).to_contain_text(re.compile(r"[3-9]\d % of"))
    page.get_by_role("button", name="grow it back").click()
    until(page, PIECE_REVISION, 1)
    assert recipe_of(page)[1]["values"]["volume"] is True
    expect(lost).to_contain_text(re.compile(r"\b[0-3]\.\d % of"))
    expect(page.get_by_role("button", name="grow it back")).to_have_count(0)
