"""What becomes more from one frame to another is seen to: all copies, all parts of a curve."""

import pytest
from playwright.sync_api import Page

from tests.conftest import document, surface
from tests.web.actions import stored_study
from tests.web.conftest import settled

GREEN = surface(colour="#20c040", glow=100.0, size=0.04)
BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.12}}


def grows(low: int, high: int) -> dict:
    keys = [{"frame": 0, "value": low, "ease": "held"}, {"frame": 6, "value": high}]
    return {"signal": "keys", "keys": keys}


def covered(page: Page) -> float:
    """The share of the stage that the piece covers."""
    pixels = settled(page)
    return float(((pixels[..., 1] > 80) & (pixels[..., 1] > pixels[..., 0] + 30)).mean())


def becomes(page: Page, wanted: float) -> None:
    """It covers as much of the stage, once the frame that is asked for has come."""
    found = 0.0
    for _ in range(20):
        found = covered(page)
        if found == pytest.approx(wanted, rel=0.05):
            return
        page.wait_for_timeout(300)
    raise AssertionError(f"{found} of the stage is covered, not {wanted}")


@pytest.mark.parametrize(
    "steps",
    [
        (BALL, {"step": "row", "values": {"count": grows(2, 6), "move": [0.3, 0, 0]}}),
        pytest.param(
            ({"step": "helix", "values": {"count": grows(3, 200)}},), marks=pytest.mark.thorough
        ),
        pytest.param(
            (BALL | {"values": {"radius": 0.4, "halvings": grows(0, 3)}},),
            marks=pytest.mark.thorough,
        ),
    ],
    ids=["copies", "segments", "faces"],
)
def test_all_of_it_is_drawn(page: Page, steps):
    stored_study(page, document(*steps, looks=GREEN, frames=12))
    page.keyboard.press("Home")
    page.wait_for_timeout(500)
    few = covered(page)
    page.keyboard.press("End")
    page.wait_for_timeout(500)
    many = covered(page)
    assert few > 0.001
    assert many > few * 1.2
    # And back, and there again, in the room that there is now.
    page.keyboard.press("Home")
    becomes(page, few)
    page.keyboard.press("End")
    becomes(page, many)
