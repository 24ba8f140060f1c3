"""Looks and lights by hand: glass, what goes by value, gradients, looks over looks, lamps."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import by_height, camera, document, surface
from tests.web.actions import drag, stored_study, study_state
from tests.web.conftest import differs, settle, settled, until

BALL = {"step": "icosphere", "values": {"radius": 0.9, "halvings": 3}}
FRONT = {"cameras": camera(position=[0.0, 0.0, 4.0], angle=34)}
REVISION = (
    "async least => (await (await fetch(location.pathname.replace('/study', '/api/studies')))"
    ".json()).revision >= least"
)


def looks_of(page: Page) -> list[dict]:
    return study_state(page)["document"]["pieces"][0]["looks"]


def opened(page: Page, looks: list[dict], **more) -> None:
    stored_study(page, document(BALL, looks=looks) | FRONT | more)
    page.locator("[data-look] button").first.click()


def after(page: Page, revision: int) -> None:
    until(page, REVISION, revision)
    settle(page)


def test_a_ball_becomes_glass_and_what_is_behind_is_seen_through_it(page: Page):
    behind = {"backdrop": "sweep", "values": {"angle": 0.0}}
    opened(page, surface(colour="#ffffff"), backdrop=behind)
    solid = settled(page)
    ruler = page.get_by_role("slider", name="Glass")
    ruler.focus()
    page.keyboard.press("End")
    after(page, 1)
    assert looks_of(page)[0]["values"]["glass"] == 100
    clear = settled(page)
    rows, columns = solid.shape[0] // 2, solid.shape[1]
    left, right = (slice(int(columns * s) - 5, int(columns * s) + 5) for s in (0.44, 0.56))

    def reds(picture: np.ndarray) -> list[float]:
        return [float(picture[rows - 5 : rows + 5, each, 0].mean()) for each in (left, right)]

    # A solid ball is turned over from side to side by no backdrop; glass takes it on.
    assert abs(np.diff(reds(clear))[0]) > abs(np.diff(reds(solid))[0]) + 10


def test_a_value_goes_by_value_and_back(page: Page):
    opened(page, surface(colour="#808080"))
    page.get_by_role("button", name="Let it go by value: Colour").click()
    after(page, 1)
    (by,) = looks_of(page)[0]["by"]
    assert (by["id"], by["where"]["layers"][0]["layer"]) == ("colour", "height")
    shown = settled(page)
    middle = shown.shape[1] // 2
    high, low = (shown[int(shown.shape[0] * s), middle] for s in (0.3, 0.7))
    assert float(np.abs(high - low).max()) > 40
    page.get_by_role("button", name="It goes by value: make it one everywhere: Colour").click()
    after(page, 2)
    assert looks_of(page)[0]["by"] == []


def test_a_stop_of_a_gradient_is_dragged_and_the_surface_follows(page: Page):
    opened(page, surface((by_height(-0.9, 0.9, gradient="ink"),), roughness=100.0))
    before = settled(page)
    page.get_by_role("button", name="Colour: ink").click()
    stop = page.get_by_role("slider", name="Stop 1")
    box = stop.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    drag(page, (x, y), (x + 180, y))
    after(page, 1)
    gradient = looks_of(page)[0]["by"][0]["values"]["gradient"]
    assert gradient["stops"][0]["at"] > 0.4
    assert gradient["stops"][0]["colour"] == "#15131c"
    page.keyboard.press("Escape")
    assert differs(before, settled(page)) > 0.05


@pytest.mark.thorough
def test_a_gradient_is_kept_and_taken_in_another_study(page: Page):
    opened(page, surface((by_height(-0.9, 0.9, gradient="ink"),)))
    page.get_by_role("button", name="Colour: ink").click()
    page.get_by_role("button", name="From right to left").click()
    page.get_by_role("textbox", name="Name to keep it under").fill("Paper")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name="Take the gradient Paper")).to_be_visible()
    opened(page, surface((by_height(-0.9, 0.9),)))
    page.get_by_role("button", name="Colour: petal").click()
    page.get_by_role("button", name="Take the gradient Paper").click()
    after(page, 1)
    stops = looks_of(page)[0]["by"][0]["values"]["gradient"]["stops"]
    assert [stop["colour"] for stop in stops] == ["#f3eee3", "#15131c"]
    page.get_by_role("button", name="Remove the gradient Paper for all studies").click()
    expect(page.get_by_role("button", name="Take the gradient Paper")).to_have_count(0)


def test_a_second_look_covers_the_first_where_its_mask_says(page: Page):
    opened(page, surface(colour="#ff2020", roughness=100.0))
    page.get_by_role("button", name="+ Add a look").click()
    after(page, 1)
    page.get_by_role("button", name="+ Add a layer").click()
    page.get_by_role("searchbox", name="Search layers").fill("linear front")
    page.keyboard.press("Enter")
    after(page, 2)
    _, second = looks_of(page)
    assert second["where"]["layers"][0]["layer"] == "linear"
    shown = settled(page)
    middle, rows = shown.shape[1] // 2, shown.shape[0]
    above, below = (shown[int(rows * s), middle - 4 : middle + 4].mean(axis=0) for s in (0.28, 0.7))
    # Sand above, red below.
    assert above[1] > 2 * below[1]
    assert below[0] > 60


def test_an_area_light_is_added_and_goes_where_its_marker_goes(page: Page):
    markers = [{"id": "m", "name": "Lamp post", "place": {"move": [0.0, 0.0, 0.0]}}]
    opened(page, surface(colour="#c0c0c0", roughness=100.0), markers=markers, lights=[])
    dark = settled(page)
    page.get_by_role("button", name="Light", exact=True).click()
    page.get_by_role("button", name="+ Add a light").click()
    page.get_by_role("menuitem", name="Area light").click()
    after(page, 1)
    lit = settled(page)
    assert lit.mean() > dark.mean() + 3
    page.get_by_role("combobox", name="Carried by").click()
    page.get_by_role("option", name="Lamp post").click()
    after(page, 2)
    state = study_state(page)
    assert state["document"]["lights"][0]["carried"]["id"] == "m"
    before = state["scene"]["moments"][0]["lamps"][0]["position"]
    body = {
        "window": "other",
        "revision": state["revision"],
        "label": "Move",
        "operations": [{"do": "set", "path": "/markers/m/place/move", "value": [2.0, 0.0, 0.0]}],
    }
    assert page.request.post(f"/api/studies/{state['id']}/edits", data=body).ok
    now = study_state(page)["scene"]["moments"][0]["lamps"][0]["position"]
    assert now[0] - before[0] == 2.0


def test_a_set_up_and_the_finish_change_the_picture(page: Page):
    opened(page, surface(colour="#c0c0c0"))
    plain = settled(page)
    page.get_by_role("button", name="Light", exact=True).click()
    page.get_by_role("button", name="Begin with…").click()
    page.get_by_role("menuitem", name="Soft daylight").click()
    after(page, 1)
    names = [light["name"] for light in study_state(page)["document"]["lights"]]
    assert names == ["Window", "Sun", "Sky"]
    assert differs(plain, settled(page)) > 0.1
    bright = settled(page)
    exposure = page.get_by_role("region", name="Finish").get_by_role("slider", name="Exposure")
    exposure.focus()
    page.keyboard.press("Home")
    after(page, 2)
    assert settled(page).mean() < bright.mean() - 8
