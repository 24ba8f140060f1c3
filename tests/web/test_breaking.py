"""Faces that come apart, pop in and are reduced, as an artist does it."""

import re

from playwright.sync_api import Page, expect

from tests.conftest import document, surface
from tests.web.actions import add_step, new_study, recipe_of, stored_study
from tests.web.conftest import settle, stage_pixels, wait_until_changed

BALL = {"step": "icosphere", "values": {"radius": 0.6, "halvings": 2}}


def go_to(page: Page, frame: int) -> None:
    page.keyboard.press("Home")
    for _ in range(frame // 10):
        page.keyboard.press("Shift+ArrowRight")
    for _ in range(frame % 10):
        page.keyboard.press("ArrowRight")
    settle(page)


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
