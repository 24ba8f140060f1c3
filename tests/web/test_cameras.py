"""Cameras on the screen: looked through, framed, keyed, and what the picture that is taken shows."""

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import camera, document, surface
from tests.web.actions import document_after, stored_study, study_state
from tests.web.conftest import differs, settle, settled, stage_pixels
from tests.web.test_scene import turn
from zygomorph.core.shared.lighting import neutral_tone
from zygomorph.core.values.gradients import parse_hex, to_linear, to_srgb

BOX = {"step": "box", "values": {"size": [2.0, 1.0, 0.5]}}
FRONT = camera(position=[0.0, 0.0, 4.0], angle=34)
# It shines by itself, and nothing else does: what is drawn is its colour.
PATCH = surface(
    colour="#000000", glow=100.0, glows_in="own", glow_colour="#6a9f3c", roughness=100.0
)


def cameras_of(page: Page) -> list[dict]:
    return study_state(page)["document"]["cameras"]


def test_the_frame_of_the_camera_is_seen_with_its_guides(page: Page):
    stored_study(page, document(BOX) | {"cameras": FRONT})
    page.get_by_role("button", name="View: Perspective").click()
    page.get_by_role("menuitem", name="Camera", exact=True).click()
    frame = page.get_by_test_id("camera-frame")
    box = frame.bounding_box()
    assert box["width"] / box["height"] == pytest.approx(16 / 9, rel=0.01)
    page.get_by_role("button", name="Guides").click()
    for name in ("Thirds", "Safe areas", "Centre"):
        page.get_by_role("menuitemcheckbox", name=name).click()
    page.keyboard.press("Escape")
    for guide, count in (("thirds", 4), ("safe", 2), ("centre", 2)):
        expect(frame.locator(f"[data-guide={guide}]")).to_have_count(count)
    # Turning it by hand leaves the camera where it is.
    page.keyboard.press("Escape")
    turn(page)
    expect(frame).to_have_count(0)
    expect(page.get_by_role("button", name="View: Perspective")).to_be_visible()
    assert cameras_of(page)[0]["values"]["position"] == [0, 0, 4]


def test_the_camera_is_keyed_from_the_present_view_and_goes_there(page: Page):
    stored_study(page, document(BOX, frames=24) | {"cameras": FRONT})
    page.get_by_role("button", name="Cameras").click()
    page.locator("canvas[data-engine]").hover(position={"x": 60, "y": 300})
    page.keyboard.press("k")
    expect(page.get_by_text("has a key here")).to_be_visible()
    page.keyboard.press("End")
    turn(page)
    settle(page)
    turned = stage_pixels(page)
    page.keyboard.press("k")
    keys = document_after(page, 2)["cameras"][0]["values"]["position"][0]["keys"]
    assert [key["frame"] for key in keys] == [0, 23, 24]
    # Its values lie in lanes of their own.
    expect(page.locator("[data-lane*='/cameras/camera/values/position']")).to_have_count(3)
    page.get_by_role("button", name="Look through").click()
    seen = settled(page)
    page.keyboard.press("Home")
    settle(page)
    assert differs(seen, stage_pixels(page)) > 0.02
    assert turned.shape[0] == seen.shape[0]


def test_a_view_becomes_another_camera_which_is_chosen_and_taken_back(page: Page):
    stored_study(page, document(BOX) | {"cameras": FRONT})
    turn(page)
    page.get_by_role("button", name="View: Perspective").click()
    page.get_by_role("menuitem", name="Keep it as another camera").click()
    page.get_by_role("button", name="Cameras").click()
    two = page.get_by_role("radio", name="Camera 2 is the study’s camera")
    expect(two).to_be_checked()
    page.get_by_role("radio", name="Camera is the study’s camera", exact=True).click()
    expect(two).not_to_be_checked()
    assert study_state(page)["document"]["camera"] == "camera"


def order(page: Page, kind: str, **more) -> dict:
    """Ask for pictures and draw them; returns the job that is done."""
    study = page.url.rsplit("/", 1)[-1]
    body = {"study": study, "kind": kind, "width": 320, "height": 180, "samples": 1, **more}
    answer = page.request.post("/api/pictures", data=body)
    assert answer.ok, answer.text()
    job = answer.json()["id"]
    page.goto(f"/picture/{job}")
    for _ in range(600):
        if page.request.get(f"/api/jobs/{job}").json()["state"] not in ("waiting", "running"):
            break
        page.wait_for_timeout(100)
    found = page.request.get(f"/api/jobs/{job}").json()
    assert found["state"] == "done", found
    return found


def taken(page: Page, **more) -> np.ndarray:
    job = order(page, "still", **more)
    data = page.request.get(f"/api/jobs/{job['id']}/file").body()
    with Image.open(io.BytesIO(data)) as image:
        return np.asarray(image).astype(int)


def test_a_picture_has_the_colours_of_the_document_and_the_framing_of_the_formula(page: Page):
    """A patch of a known colour, and a backdrop of another; its sides lie where a pinhole of 2 atan
    (d / 2f) has them."""
    patch = {"step": "box", "values": {"size": [2.0, 1.0, 0.01]}}
    own = camera(position=[0.0, 0.0, 4.0], seen="lens", lens=36.0)
    behind = {"backdrop": "plain", "values": {"colour": "#804020"}}
    made = document(patch, looks=PATCH) | {"lights": [], "cameras": own, "backdrop": behind}
    finish = {"values": {"exposure": 0.0}}
    stored_study(page, made | {"finish": finish, "ground": {"values": {"ground": "none"}}})
    picture = taken(page, quality="draft")
    # Under the tone curve that all pictures are brought to the screen by (Khronos PBR Neutral).
    light = neutral_tone(to_linear(parse_hex("#6a9f3c")))
    assert picture[90, 160] == pytest.approx(to_srgb(light) * 255, abs=2)
    assert picture[10, 10] == pytest.approx([0x80, 0x40, 0x20], abs=2)
    # 36 mm before a film of 36 mm: 1 m of width for 1 m of distance.
    inside = np.abs(picture - picture[90, 160]).max(axis=-1) < 30
    wide = inside[90].sum() / 320
    assert wide == pytest.approx(2 / 3.995, abs=0.01)


def test_what_is_out_of_focus_is_as_wide_as_a_thin_lens_says(page: Page):
    """The edge of a plate behind the focus goes over into nothing along the circle of confusion, 2 r
    |d - s| / d on the plane that is sharp."""
    plate = {"step": "box", "values": {"size": [4.0, 4.0, 0.01]}}
    own = camera(
        position=[-2.0, 0.0, 4.0],
        target=[-2.0, 0.0, 0.0],
        seen="lens",
        lens=50.0,
        blur=True,
        f_number=1.0,
        focus_by="distance",
        focus=1.0,
    )
    made = document(plate, looks=PATCH) | {"lights": [], "cameras": own}
    behind = {"backdrop": "plain", "values": {"colour": "#000000"}}
    ground = {"values": {"ground": "none"}}
    stored_study(page, made | {"backdrop": behind, "ground": ground})
    # The plate's left side is in the middle of the picture. It is seen there as much as the part
    # of the lens is that it fills: of a disc, 1/2 + (x √(1 - x²) + asin x) / π.
    row = taken(page, samples=64, quality="draft")[90, :, 1].astype(float)
    blur = 2 * 0.025 * (4 - 1) / 4
    radius = blur / 2 / (36 / 50) * 320
    x = np.clip((np.arange(320) + 0.5 - 160) / radius, -1, 1)
    assert row[300] > 100
    wanted = 0.5 + (x * np.sqrt(1 - x * x) + np.arcsin(x)) / np.pi
    assert row / row[300] == pytest.approx(wanted, abs=0.05)


def test_a_piece_that_is_held_out_leaves_a_hole(page: Page):
    behind = {"step": "box", "values": {"size": [3.0, 3.0, 0.1]}}
    made = document(behind, looks=PATCH) | {"lights": [], "cameras": FRONT}
    front = {
        "id": "h",
        "name": "Held",
        "holdout": True,
        "recipe": [{"id": "f", "step": "box", "values": {"size": [0.5, 0.5, 0.1]}}],
        "place": {"move": [0, 0, 1.0]},
    }
    made["pieces"] = [*made["pieces"], front]
    stored_study(page, made | {"ground": {"values": {"ground": "none"}}})
    picture = taken(page, transparent=True, quality="draft")
    assert picture[90, 160].tolist()[3] == 0
    assert picture[90, 120, 3] == 255
