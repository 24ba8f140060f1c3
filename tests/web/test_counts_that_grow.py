"""What becomes more from one frame to another is seen to: all copies, all parts of a curve."""

import pytest
from playwright.sync_api import Page

from tests.conftest import document, surface
from tests.web.actions import stored_study
from tests.web.conftest import settled

GREEN = surface(colour_by="fixed", colour="#20c040", glow=100.0, thickness=0.04)
BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.12}}


def grows(low: int, high: int) -> dict:
    keys = [{"frame": 0, "value": low, "ease": "held"}, {"frame": 6, "value": high}]
    return {"signal": "keys", "keys": keys}


def covered(page: Page) -> float:
    """The share of the stage that the piece covers."""
    pixels = settled(page)
    return float(((pixels[..., 1] > 80) & (pixels[..., 1] > pixels[..., 0] + 30)).mean())


@pytest.mark.parametrize(
    "steps",
    [
        (BALL, {"step": "row", "values": {"count": grows(2, 6), "move": [0.3, 0, 0]}}),
        ({"step": "helix", "values": {"count": grows(3, 200)}},),
        (BALL | {"values": {"radius": 0.4, "halvings": grows(0, 3)}},),
    ],
    ids=["copies", "segments", "faces"],
)
def test_all_of_it_is_drawn(page: Page, steps):
    stored_study(page, document(*steps, looks=GREEN, frames=12))
    page.keyboard.press("Home")
    few = covered(page)
    page.keyboard.press("End")
    many = covered(page)
    assert few > 0.001
    assert many > few * 1.2
    # And back, and there again, in the room that there is now.
    page.keyboard.press("Home")
    assert covered(page) == pytest.approx(few, rel=0.05)
    page.keyboard.press("End")
    assert covered(page) == pytest.approx(many, rel=0.05)
