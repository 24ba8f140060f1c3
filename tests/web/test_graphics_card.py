"""The way of drawing for machines with a graphics card, which none of the test machines has: the
browser is made to say that it has one."""

import numpy as np
import pytest
from playwright.sync_api import Browser, expect

from tests.conftest import camera, document, surface
from tests.web.actions import stored_study
from tests.web.conftest import open_context, settle, stage_pixels

# WEBGL_debug_renderer_info: UNMASKED_RENDERER_WEBGL (Khronos).
SAYS_A_CARD = """
for (const Kind of [WebGLRenderingContext, WebGL2RenderingContext]) {
  const own = Kind.prototype.getParameter;
  Kind.prototype.getParameter = function (name) {
    return name === 0x9246 ? "A graphics card" : own.call(this, name);
  };
}
"""
BALL = {"step": "icosphere", "values": {"halvings": 3, "radius": 0.3}}
ROW = {"step": "row", "values": {"count": 3, "move": [0.5, 0, 0], "centred": True}}
GREEN = surface(colour="#20c040")


@pytest.fixture
def card(browser: Browser, address: str):
    context = open_context(browser, address, 0.5)
    context.add_init_script(SAYS_A_CARD)
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("console", lambda m: errors.append(m.text) if m.type == "error" else None)
    yield page
    context.close()
    assert errors == []


@pytest.mark.parametrize("steps", [(BALL,), (BALL, ROW)])
def test_a_surface_is_drawn_through_a_buffer_with_samples(card, steps):
    stored_study(card, document(*steps, looks=GREEN))
    settle(card)
    pixels = stage_pixels(card)
    green = (pixels[..., 1] > 60) & (pixels[..., 1] > pixels[..., 0] + 30)
    assert green.mean() > 0.02
    # Lit from one side: it is not one colour.
    assert np.ptp(pixels[green][:, 1]) > 40
    expect(card.locator("canvas[data-engine]")).to_have_attribute("data-detail", "full")


def test_the_lens_blurs_in_every_picture(card):
    """The edge of a plate that is out of focus goes over into the backdrop, in the picture that is
    drawn at once, before it is refined."""
    plate = {"step": "box", "values": {"size": [1.2, 1.2, 0.01]}}
    own = camera(
        position=[0.0, 0.0, 4.0],
        seen="lens",
        lens=50.0,
        blur=True,
        f_number=0.5,
        focus_by="distance",
        focus=1.0,
    )
    glows = surface(colour="#000000", glow=100.0, glows_in="own", glow_colour="#ffffff")
    around = {"cameras": own, "lights": [], "ground": {"values": {"ground": "none"}}}
    stored_study(card, document(plate, looks=glows) | around)
    card.get_by_role("button", name="View: Perspective").click()
    card.get_by_role("menuitem", name="Camera", exact=True).click()
    expect(card.locator("canvas[data-engine]")).to_have_attribute("data-lens", "open")
    settle(card)
    row = stage_pixels(card)[:, :, 1]
    middle = row[row.shape[0] // 2]
    # Between the plate and what is beside it there are more than a few pixels of neither.
    between = (middle > middle.min() + 30) & (middle < middle.max() - 30)
    assert middle.max() > 150
    assert between.sum() > 20
