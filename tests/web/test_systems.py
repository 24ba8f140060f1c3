"""Systems by hand: rain on a pond, a swarm that chases a marker, balls that melt, a cloth let go."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    document_after,
    drag,
    pixels_of_a_metre,
    recipe_of,
    stage,
    stored_study,
    study_state,
    view_from,
)
from tests.web.conftest import differs, settled, stage_pixels, until, wait_until_changed
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request

UNIT = [1.0, 0, 0, 0, 0, 1.0, 0, 0, 0, 0, 1.0, 0, 0, 0, 0, 1.0]


def points_at(page: Page, frame: float) -> np.ndarray:
    """The points of the open study's piece, as it is stored."""
    made = check_document(study_state(page)["document"])
    return Evaluator().evaluate(made, Request("p", frame)).mesh.points


def test_rain_falls_on_a_pond_and_its_rim_is_opened(page: Page):
    sheet = {"width": 3.0, "depth": 3.0, "columns": 40, "rows": 40}
    values = {"grid": 40, "damping": 1.5, "rate": 4.0, "speed": 0.8}
    steps = [{"step": "sheet", "values": sheet}, {"step": "ripples", "values": values}]
    stored_study(page, document(*steps, frames=48))
    expect(page.get_by_test_id("seam")).to_contain_text("closed")
    row = page.locator('[data-step="s1"]')
    row.get_by_text("Ripple").first.click()
    expect(page.get_by_text("loop closes by settling")).to_be_visible()
    before = points_at(page, 0)
    page.get_by_role("combobox", name="Rim").click()
    page.get_by_role("option", name="open").click()
    assert document_after(page, 1)["pieces"][0]["recipe"][1]["values"]["rim"] == "open"
    assert np.abs(points_at(page, 0) - before).max() > 1e-3
    settled(page)
    # It settles anew, and says how far.
    page.get_by_test_id("seam").click()
    expect(page.get_by_text("Ripple tank: it settled in")).to_be_visible()


def test_what_starts_again_is_said_while_a_value_is_in_the_hand(page: Page):
    """Of a tank, its own values let it start again, and those of a step below it do not."""
    values = {"grid": 220, "damping": 1.5, "rate": 4.0, "speed": 0.8}
    steps = [{"step": "sheet"}, {"step": "ripples", "values": values}, {"step": "twist"}]
    stored_study(page, document(*steps, frames=48))
    expect(page.get_by_test_id("seam")).to_contain_text("closed")
    told = page.get_by_test_id("restarts")

    def hold(step: str, label: str) -> None:
        page.locator(f'[data-step="{step}"] button').first.click()
        box = page.get_by_role("slider", name=label).first.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 12, y, steps=4)

    hold("s1", "Speed")
    expect(told).to_contain_text("Ripple tank starts again")
    page.mouse.up()
    expect(told).to_have_count(0)
    document_after(page, 1)
    settled(page)
    with page.expect_response(lambda answer: answer.url.endswith("/restarts")) as asked:
        hold("s2", "Angle")
    assert asked.value.json() == {"restarts": []}
    expect(told).to_have_count(0)
    page.mouse.up()


def test_a_swarm_chases_a_marker_that_is_dragged(page: Page):
    pull = {"speed": 4.0, "strength": 9.0, "arrives": 0.3}
    ball = {"step": "icosphere", "values": {"radius": 0.3, "halvings": 1}}
    carried = {"by": "marker", "id": "m", "start": UNIT}
    swarm = {"count": 40, "closing": "once"}
    made = document(
        ball,
        {"step": "force_pull", "values": pull, "carried": carried},
        {"step": "swarm", "values": swarm},
        frames=24,
    )
    made["markers"] = [{"id": "m", "name": "Lamp", "place": {"move": [0.0, 0.0, 0.0]}}]
    stored_study(page, made)
    view_from(page, "Front")
    page.get_by_role("button", name="1 piece").click()
    page.get_by_role("menuitem", name="Lamp").click()
    metre = pixels_of_a_metre(page)
    x, y = stage(page)
    drag(page, (x, y), (x + 0.3 * metre, y - 0.15 * metre))
    moved = document_after(page, 1)["markers"][0]["place"]["move"]
    assert moved[0] > 0.2
    # The run begins anew, and comes to where the marker is now.
    found = points_at(page, 23)
    middle = found.mean(axis=0)
    assert abs(middle[0] - moved[0]) < 0.1
    assert abs(middle[1] - moved[1]) < 0.1


def test_two_balls_melt_when_one_is_dragged_to_the_other(page: Page):
    balls = {
        "count": "2",
        "centre_1": [-0.6, 0, 0],
        "radius_1": 0.3,
        "centre_2": [0.6, 0, 0],
        "radius_2": 0.3,
        "voxel": 0.06,
    }
    stored_study(page, document({"step": "soft_balls", "values": balls}))
    view_from(page, "Front")
    page.locator('[data-step="s0"]').get_by_text("Soft").first.click()
    settled(page)
    metre = pixels_of_a_metre(page)
    x, y = stage(page)
    drag(page, (x + 0.6 * metre, y), (x + 0.05 * metre, y))
    centre = document_after(page, 1)["pieces"][0]["recipe"][0]["values"]["centre_2"]
    assert abs(centre[0] - 0.05) < 0.06
    # One skin goes round both now: no point is left in the middle of the first ball's right side.
    found = points_at(page, 0)
    assert found[:, 0].max() < 0.5
    assert found[:, 0].min() < -0.85


def test_a_cloth_is_let_go_behind_a_front(page: Page):
    front = {"layer": "linear", "profile": "linear", "id": "front"}
    saw = {"signal": "cycle", "shape": "sine", "low": -1.4, "high": 1.4}
    where = {"layers": [{**front, "values": {"position": [saw, 0, 0], "direction": [1, 0, 0]}}]}
    cloth = {"step": "cloth", "values": {"columns": 30, "rows": 30}}
    go = {"step": "let_go", "values": {"of": "points", "drift": 0.6}, "where": where}
    stored_study(page, document(cloth, go, frames=24))
    expect(page.get_by_test_id("seam")).to_contain_text("closed")
    rest, gone = points_at(page, 0), points_at(page, 12)
    ends = sorted([abs(rest[:, 1]).max(), abs(gone[:, 1]).max()])
    assert ends[0] == 0
    assert ends[1] > 0.3
    assert recipe_of(page)[1]["step"] == "let_go"


def test_a_picture_with_trails_goes_on_when_another_frame_is_wanted(page: Page):
    swing = {"signal": "cycle", "shape": "sine", "low": -1.0, "high": 1.0}
    made = document({"step": "box"}, place={"move": [swing, 0.0, 0.0]}, frames=48)
    made["finish"] = {"values": {"trails": 60.0}}
    stored_study(page, made)
    drawn = "() => document.querySelector('canvas[data-engine]').dataset.trails === 'drawn'"
    until(page, drawn)
    before = stage_pixels(page)
    page.keyboard.press("Shift+ArrowRight")
    wait_until_changed(page, before)
    until(page, drawn)
    assert differs(before, stage_pixels(page)) > 0.02
