"""Patterns, pictures and trails as they are drawn, held against the core, and on the screen."""

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import by_value, document, surface
from tests.web.actions import stored_study, study_state
from tests.web.test_cameras import taken
from zygomorph.core.shared.figures import figure_at
from zygomorph.core.shared.lighting import neutral_tone
from zygomorph.core.values.gradients import to_srgb

FIGURES = ["checks", "stripes", "dots", "grid", "noise"]
# From no light to half of white, evenly as light.
GREYS = {
    "stops": [{"at": 0.0, "colour": "#000000"}, {"at": 1.0, "colour": "#808080"}],
    "mix": "linear",
}
# 3.2 by 1.8 metres are seen.
FRONT = {
    "id": "camera",
    "name": "Camera",
    "camera": "orthographic",
    "values": {"position": [0.0, 0.0, 4.0], "height": 1.8},
}
BLACK = {"backdrop": "plain", "values": {"colour": "#000000"}}
AROUND = {
    "lights": [],
    "cameras": [FRONT],
    "backdrop": BLACK,
    "ground": {"values": {"ground": "none"}},
    "finish": {"values": {"exposure": 0.0}},
}


def glowing(by) -> list:
    return surface((by,), colour="#000000", glow=100.0, glows_in="own", roughness=100.0)


def test_patterns_are_drawn_as_the_core_has_them(page: Page):
    """A plate for each pattern, side by side, as it glows, against the formulas."""
    made = document({"step": "box", "values": {}})
    own = {"laid": "seen", "from": [0, 0, 1], "width": 0.6, "times": 1.5, "turn": 20.0}
    made["pieces"] = [
        {
            "id": f"p{k}",
            "name": figure,
            "recipe": [{"id": "b", "step": "box", "values": {"size": [0.6, 1.2, 0.01]}}],
            "place": {"move": [-1.24 + 0.62 * k, 0, 0]},
            "looks": glowing(
                by_value(
                    "glow_colour",
                    "pattern",
                    {"figure": figure, "fill": 40.0, "edge": 12.0, "evolve": 0.3, **own},
                    gradient=GREYS,
                )
            ),
        }
        for k, figure in enumerate(FIGURES)
    ]
    stored_study(page, made | AROUND)
    picture = taken(page, quality="draft")[..., 1]
    light = np.linspace(0, 0.2158605, 256)
    screen = to_srgb(neutral_tone(np.repeat(light[:, None], 3, axis=1)))[:, 1] * 255
    for k, figure in enumerate(FIGURES):
        # Pixels of a centimetre, half a metre of them around the middle of the plate.
        x, y = np.meshgrid(np.arange(-24, 25) / 100 + 0.005, np.arange(-50, 51) / 100 - 0.005)
        c, s = np.cos(np.radians(20)), np.sin(np.radians(20))
        u, v = x / 0.6, y / 0.6
        u, v = u * c + v * s, v * c - u * s
        value = figure_at(
            figure,
            (u * 1.5 + 0.5).ravel(),
            (v * 1.5 + 0.5).ravel(),
            fill=0.4,
            edge=0.12,
            evolve=0.3,
        )
        wanted = screen[np.rint(value * 255).astype(int)].reshape(x.shape)
        left = round(160 + (-1.24 + 0.62 * k) * 100)
        drawn = picture[90 - y_pixels(y), left + np.arange(-24, 25)]
        off = np.abs(drawn - wanted)
        # Where an edge is within a pixel, the stage smooths it.
        assert np.median(off) <= 2, figure
        assert (off > 12).mean() < 0.06, figure


def y_pixels(y: np.ndarray) -> np.ndarray:
    return np.rint(y * 100 + 0.5).astype(int)[:, :1]


def test_trails_are_there_in_the_first_picture_already_and_fade_as_they_say(page: Page):
    """A plate that jumps by its width each frame: half of it is left a frame later, a quarter two
    frames later, across the seam too."""
    move = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": -1.0, "high": 1.0}
    made = document(
        {"step": "box", "values": {"size": [0.2, 0.4, 0.01]}},
        frames=8,
        looks=surface(
            colour="#000000", glow=50.0, glows_in="own", glow_colour="#ffffff", roughness=100.0
        ),
        place={"move": [move, 0, 0]},
    )
    trails = {"values": {"exposure": 0.0, "trails": 50.0}}
    stored_study(page, made | AROUND | {"finish": trails})
    picture = taken(page, quality="draft", first=2, last=2)[90, :, 1]
    at = {k: 160 + round(100 * (-1.0 + 0.25 * k)) for k in range(8)}
    whole = to_srgb(neutral_tone(np.full(3, 0.5)))[0] * 255
    for k in (2, 1, 0, 7, 6):
        # What fades is its opacity too, before the backdrop.
        assert picture[at[k]] == pytest.approx(whole * 0.5 ** ((2 - k) % 8), abs=3), k


def test_a_picture_gives_a_look_its_colours(page: Page):
    """Brought in beside the value that goes by it."""
    stored_study(page, document({"step": "sheet", "values": {}}, looks=surface()))
    page.locator("[data-look=surface] button").first.click()
    page.get_by_role("button", name="Let it go by value: Colour").click()
    group = page.get_by_role("group", name="Colour by value")
    group.get_by_role("button", name="Add a layer").click()
    page.get_by_role("searchbox", name="Search layers").fill("picture")
    page.keyboard.press("Enter")
    expect(group.get_by_role("combobox", name="Colours")).to_contain_text("as in the picture")
    buffer = io.BytesIO()
    Image.new("RGB", (16, 8), (220, 40, 90)).save(buffer, "PNG")
    file = {"name": "rose.png", "mimeType": "image/png", "buffer": buffer.getvalue()}
    page.get_by_label("Picture file").set_input_files(file)
    expect(page.get_by_text("rose.png, 16 × 8")).to_be_visible()
    by = study_state(page)["document"]["pieces"][0]["looks"][0]["by"][0]
    assert by["values"]["coloured"] == "picture"
    assert by["where"]["layers"][-1]["values"]["laid"] == "uv"
