"""Sizes, places and angles that are dragged on the stage."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    PIECE_REVISION,
    drag,
    pixels_of_a_metre,
    recipe_of,
    stage,
    stored_study,
    view_from,
)
from tests.web.conftest import settle, until


def opened(page: Page, side: str, *recipe: dict) -> tuple[float, float, float]:
    """The last step opened, seen from a side: the middle of the stage, and pixels of a metre."""
    stored_study(page, document(*recipe))
    page.locator(f"[data-step=s{len(recipe) - 1}] button").first.click()
    view_from(page, side)
    return (*stage(page), pixels_of_a_metre(page))


def values_of(page: Page, revision: int = 1) -> dict:
    until(page, PIECE_REVISION, revision)
    settle(page)
    return recipe_of(page)[-1]["values"]


def test_the_width_of_a_sheet_is_dragged_at_its_side_and_told(page: Page):
    x, y, metre = opened(page, "Top", {"step": "sheet", "values": {"width": 2.0, "depth": 1.0}})
    page.mouse.move(x + metre, y)
    expect(page.get_by_text("Width 2 m")).to_be_visible()
    drag(page, (x + metre, y), (x + 1.25 * metre, y + 40))
    found = values_of(page)
    assert found["width"] == pytest.approx(2.5, abs=0.03)
    assert found["depth"] == 1.0
    page.mouse.move(x, y - metre)
    expect(page.get_by_text("Width 2.5 m")).to_have_count(0)


@pytest.mark.thorough
def test_one_side_of_a_box_leaves_the_others(page: Page):
    x, y, metre = opened(page, "Front", {"step": "box", "values": {"size": [1.0, 1.0, 1.0]}})
    drag(page, (x, y - 0.5 * metre), (x, y - 0.75 * metre))
    assert values_of(page)["size"] == pytest.approx([1, 1.5, 1], abs=0.03)


@pytest.mark.thorough
def test_a_size_stays_within_what_it_may_be(page: Page):
    x, y, metre = opened(page, "Top", {"step": "disc", "values": {"radius": 0.5, "hole": 0.2}})
    drag(page, (x, y + 0.2 * metre), (x, y - 0.4 * metre))
    assert values_of(page)["hole"] == 0


@pytest.mark.thorough
def test_the_section_of_a_torus_is_turned_and_goes_on_beyond_a_half_turn(page: Page):
    form = {"ring_radius": 0.6, "tube_radius": 0.3, "section": 5, "turn": 0.0}
    x, y, metre = opened(page, "Front", {"step": "torus", "values": form})
    middle, reach = x + 0.6 * metre, 0.3 * metre
    drag(page, (middle + reach, y), (middle, y - reach), (middle - reach, y), (middle, y + reach))
    assert values_of(page)["turn"] == pytest.approx(270, abs=4)


def test_a_step_that_places_is_turned_by_a_ring_and_moved_by_its_middle(page: Page):
    ball = {"step": "box", "values": {"size": [0.8, 0.8, 0.8]}}
    place = {"step": "place", "values": {"move": [0, 0, 0], "turn": [0, 0, 0]}}
    x, y, metre = opened(page, "Top", ball, place)
    # The ring about y has 0.66 of half the piece's diagonal; right-handed, so from x towards -z.
    reach = 0.66 * 0.8 * 3**0.5 / 2 * metre
    drag(page, (x + reach, y), (x + 0.7 * reach, y - 0.7 * reach))
    found = values_of(page)
    assert found["turn"] == pytest.approx([0, 45, 0], abs=3)
    drag(page, (x, y), (x + 0.3 * metre, y + 0.2 * metre))
    found = values_of(page, 2)
    assert found["move"] == pytest.approx([0.3, 0, 0.2], abs=0.03)


@pytest.mark.thorough
def test_a_pattern_is_shifted_and_made_coarser_where_it_is(page: Page):
    sheet = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0}}
    push = {"step": "displace", "values": {"size": 0.5, "offset": [0, 0, 0], "along": "normal"}}
    x, y, metre = opened(page, "Top", sheet, push)
    drag(page, (x + 0.5 * metre, y), (x + 0.8 * metre, y))
    assert values_of(page)["size"] == pytest.approx(0.8, abs=0.02)
    drag(page, (x, y), (x - 0.3 * metre, y + 0.1 * metre))
    assert values_of(page, 2)["offset"] == pytest.approx([-0.3, 0, 0.1], abs=0.02)


@pytest.mark.thorough
def test_a_size_that_a_signal_moves_has_no_grip(page: Page):
    moving = {"signal": "cycle", "low": 0.5, "high": 0.5}
    x, y, metre = opened(page, "Top", {"step": "disc", "values": {"radius": moving}})
    drag(page, (x + 0.5 * metre, y), (x + 0.8 * metre, y))
    settle(page)
    assert recipe_of(page)[0]["values"]["radius"] == moving


COUNT_SHADERS = """() => {
  const own = WebGL2RenderingContext.prototype.linkProgram;
  window.linked = 0;
  WebGL2RenderingContext.prototype.linkProgram = function (program) {
    window.linked += 1;
    own.call(this, program);
  };
}"""


@pytest.mark.thorough
@pytest.mark.own_page
def test_shaders_are_compiled_once_for_all_drags_and_studies(page: Page):
    # Where the processor draws, each program takes a good part of a second, and none is freed.
    def widen() -> None:
        x, y, metre = opened(page, "Top", {"step": "sheet", "values": {"width": 2.0, "depth": 1.0}})
        places = [(x + (1 + k / 10) * metre, y) for k in range(6)]
        drag(page, *places)
        values_of(page)

    widen()
    page.evaluate(COUNT_SHADERS)
    widen()
    assert page.evaluate("() => window.linked") == 0
