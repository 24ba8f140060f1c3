"""Light, camera and backdrop of a study, as the stage shows them."""

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import camera, document, surface
from tests.web.actions import stored_study, study_state
from tests.web.conftest import differs, settle, settled, stage_pixels, until
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.render.thumbnail import render_frame

BALL = {"step": "icosphere", "values": {"radius": 0.9, "halvings": 4}}
MATT = surface(colour="#909090", roughness=100.0)
FRONT = camera(position=[0.0, 0.0, 4.0], angle=34)


def sun(*towards, **values) -> dict:
    own = {"towards": list(towards), "shadow": False, **values}
    return {"id": f"s{abs(hash(str(own)))}", "name": "Sun", "light": "sun", "values": own}


def ball(*lights: dict, **more) -> dict:
    return document(BALL, looks=MATT) | {"lights": list(lights), "cameras": FRONT} | more


def middle(picture: np.ndarray, across: float = 0.5, size: int = 6) -> np.ndarray:
    """Mean colour of a small part of the ball."""
    row, column = picture.shape[0] // 2, round(picture.shape[1] * across)
    part = picture[row - size : row + size, column - size : column + size]
    return part.reshape(-1, 3).mean(axis=0)


def test_the_stage_and_small_pictures_have_the_same_light(page: Page):
    """Two renderers, one scene: what the stage shows in the middle of a matt ball, to the left and
    to the right, a thumbnail shows as well. The stage is exposed 8 % brighter."""
    sky = {"id": "sky", "name": "Sky", "light": "sky", "values": {"strength": 0.8}}
    lights = [sun(-1, 0.3, 0.8, strength=2.0), sun(1, 0, 0.2, strength=1.0, colour="#ff4020"), sky]
    stored_study(page, ball(*lights))
    shown = settled(page)
    high, wide = shown.shape[:2]
    small = render_frame(check_document(ball(*lights)), Evaluator(), 0.0, (wide, high))
    drawn = np.asarray(small).astype(float)
    for aside in (-0.12, 0.0, 0.12):
        across = 0.5 + aside * high / wide
        assert middle(shown, across) == pytest.approx(middle(drawn, across), abs=14)
    assert np.ptp([middle(shown, 0.5 + d * high / wide)[2] for d in (-0.12, 0.12)]) > 25


def test_without_light_it_is_dark_and_a_red_sun_makes_it_red(page: Page):
    stored_study(page, ball())
    assert middle(settled(page)).max() < 8
    stored_study(page, ball(sun(0, 0, 1, colour="#ff0000")))
    red, green, _ = middle(settled(page))
    assert red > 110 > 30 > green


def test_light_and_backdrop_are_those_of_the_frame(page: Page):
    """A sun that goes from left to right, and what is behind in two colours of its own."""
    keys = [{"frame": 0, "value": -1.0}, {"frame": 23, "value": 1.0}]
    behind = {"backdrop": "two_colours", "values": {"centre": "#004080", "edge": "#004080"}}
    moving = sun({"signal": "keys", "keys": keys}, 0, 0.3)
    stored_study(page, ball(moving, backdrop=behind))
    first = settled(page)
    assert middle(first, 0.06) == pytest.approx([0, 0x40, 0x80], abs=6)
    sides = [(middle(first, 0.42)[0], middle(first, 0.58)[0])]
    page.keyboard.press("End")
    settle(page)
    last = stage_pixels(page)
    sides.append((middle(last, 0.42)[0], middle(last, 0.58)[0]))
    assert sides[0][0] > sides[0][1] + 30
    assert sides[1][1] > sides[1][0] + 30


def turn(page: Page) -> None:
    area = page.locator("canvas[data-engine]").bounding_box()
    x, y = area["x"] + area["width"] * 0.2, area["y"] + area["height"] * 0.3
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 120, y + 40, steps=4)
    page.mouse.up()


@pytest.mark.thorough
def test_a_view_is_kept_with_the_study_and_taken_back(page: Page):
    made = document({"step": "box", "values": {"size": [2.0, 1.0, 0.5]}}, looks=MATT)
    stored_study(page, made | {"cameras": FRONT})
    before = settled(page)
    turn(page)
    settle(page)
    turned = stage_pixels(page)
    assert differs(before, turned) > 0.02
    page.get_by_role("button", name="View: Perspective").click()
    page.get_by_role("menuitem", name="Keep this view").click()
    expect(page.get_by_text("looks from here now")).to_be_visible()
    position = study_state(page)["document"]["cameras"][0]["values"]["position"]
    assert np.linalg.norm(position) == pytest.approx(4, abs=0.01)
    assert abs(position[0]) > 0.5
    # Somebody who has never looked at it finds it so.
    page.evaluate("sessionStorage.clear()")
    page.reload()
    assert differs(turned, settled(page)) < 0.01
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    assert study_state(page)["document"]["cameras"][0]["values"]["position"] == [0.0, 0.0, 4.0]


def test_a_thumbnail_of_the_gallery_is_lit_as_the_study_is(page: Page):
    stored_study(page, ball(sun(0, 0, 1, colour="#00ff00")))
    study = page.url.rsplit("/", 1)[-1]
    until(
        page,
        "async (id) => (await fetch(`/api/studies/${id}/thumbnail.webp`)).status === 200",
        study,
    )
    data = page.request.get(f"/api/studies/{study}/thumbnail.webp").body()
    with Image.open(io.BytesIO(data)) as picture:
        red, green, _ = middle(np.asarray(picture.convert("RGB")))
    assert green > 110 > 30 > red
