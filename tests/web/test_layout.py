"""What stands where: nothing spills, covers something else, or forgets its size."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import drag, new_study, stored_study
from tests.web.conftest import settle, visit

TURN = {
    "signal": "keys",
    "keys": [{"frame": 0, "value": 0.0}, {"frame": 12, "value": 90.0}],
    "after": "repeat",
}
TWIST = {"step": "twist", "values": {"angle": TURN}}
BALL = {"step": "icosphere", "values": {"halvings": 2}}

# Buttons outside of what scrolls whose text is cut or that stand beyond the window or on another.
SPILLED = """() => {
  const boxes = [...document.querySelectorAll("header button, [data-testid=stage] button")]
    .map(e => [e.getAttribute("aria-label") || e.innerText.trim(), e, e.getBoundingClientRect()])
    .filter(([, , b]) => b.width > 0);
  const wrong = [];
  for (const [name, e, b] of boxes) {
    if (b.left < 0 || b.right > innerWidth || e.scrollWidth > e.clientWidth + 1) wrong.push(name);
    if (b.height > 48) wrong.push(name + " wraps");
    for (const [other, f, c] of boxes)
      if (e !== f && !e.contains(f) && !f.contains(e) && b.left < c.right - 1 &&
          c.left < b.right - 1 && b.top < c.bottom - 1 && c.top < b.bottom - 1)
        wrong.push(name + " on " + other);
  }
  return [boxes.length, document.documentElement.scrollWidth > innerWidth, wrong];
}"""
FONTS = """() => Promise.all(
  [...document.querySelectorAll("header *")].map(e => document.fonts.load(getComputedStyle(e).font))
).then(() => true)"""
AT_ITS_MIDDLE = """button => {
  const { left, top, width, height } = button.getBoundingClientRect();
  return button.contains(document.elementFromPoint(left + width / 2, top + height / 2));
}"""


@pytest.mark.parametrize("width", [900, 1280])
def test_nothing_spills_in_a_narrow_window(page: Page, width: int):
    page.set_viewport_size({"width": width, "height": 700})
    open_loop = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0.0, "high": 90.0}
    bend = {"step": "bend", "values": {"angle": open_loop}}
    stored_study(
        page, {**document(BALL, TWIST, bend), "name": "A study with quite a long name of its own"}
    )
    expect(page.get_by_role("button", name=re.compile("[1-9] finding"))).to_be_visible()
    settle(page)
    # Words are as wide as they stay once their fonts have come.
    page.evaluate(FONTS)
    count, scrolls, wrong = page.evaluate(SPILLED)
    assert count > 10
    assert not scrolls
    assert wrong == []


@pytest.mark.thorough
def test_the_panel_of_variants_leaves_the_views_free(page: Page):
    new_study(page)
    page.get_by_role("button", name="Variants").click()
    expect(page.get_by_role("button", name="Begin a variant")).to_be_visible()
    for name in ("View:", "Four views", "Fit"):
        assert page.get_by_role("button", name=name).first.evaluate(AT_ITS_MIDDLE), name


@pytest.mark.thorough
def test_mask_heat_looks_off_until_it_is_on(page: Page):
    new_study(page)
    heat = page.get_by_role("button", name="Mask heat")
    ground = "button => getComputedStyle(button).backgroundColor"
    off = heat.evaluate(ground)
    assert off == page.get_by_role("button", name="Table").evaluate(ground)
    heat.click()
    expect(heat).to_have_attribute("aria-pressed", "true")
    page.mouse.move(0, 0)
    page.wait_for_timeout(400)
    assert heat.evaluate(ground) != off


@pytest.mark.thorough
def test_the_strip_is_as_high_as_its_study_needs(page: Page):
    stored_study(page, document(BALL, TWIST))
    strip = page.get_by_role("region", name="Time strip")
    low = strip.bounding_box()["height"]
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    assert strip.bounding_box()["height"] > low + 60
    first = page.url
    stored_study(page, document(BALL, TWIST))
    assert strip.bounding_box()["height"] == pytest.approx(low, abs=2)
    visit(page, first)
    settle(page)
    page.get_by_role("button", name="Open as curves").click()
    page.get_by_role("button", name="Back to lanes").click()
    settle(page)
    assert strip.bounding_box()["height"] == pytest.approx(low, abs=2)


def test_a_box_of_keys_may_begin_on_a_figure_of_the_axis(page: Page):
    # Text there could be selected and dragged by the browser, which then took the pointer.
    stored_study(page, document(BALL, TWIST))
    page.get_by_role("button", name="Open as curves").click()
    settle(page)
    area = page.locator("[data-curve]").bounding_box()
    figures = [each.bounding_box() for each in page.locator("[data-curve] text").all()]
    last = max(figures, key=lambda b: (round(b["y"]), b["x"]))
    x, y = last["x"] + last["width"] / 2, last["y"] + last["height"] / 2
    corner = (area["x"] + 2, area["y"] + 4)
    for _ in range(2):
        drag(page, (x, y), corner)
        chosen = page.locator("[data-curve]").get_attribute("aria-label")
        assert chosen == "Curve of Angle: 2 keys, 2 chosen"
        assert page.evaluate("getSelection().toString()") == ""
        page.locator("[data-curve]").focus()
        page.keyboard.press("Escape")


def test_the_empty_ground_of_the_strip_scrubs(page: Page):
    stored_study(page, document(BALL, TWIST))
    ground = page.get_by_test_id("strip-ground").bounding_box()
    assert ground["height"] > 40
    left, right, y = ground["x"], ground["x"] + ground["width"], ground["y"] + 20
    drag(page, (left + 5, y), ((left + right) / 2, y))
    expect(page.get_by_role("slider", name="Frame")).to_have_attribute("aria-valuenow", "12")


def test_the_gauge_names_the_piece_as_the_artist_does(page: Page):
    new_study(page)
    gauge = page.get_by_role("button", name="The end of Icosphere is 0 m from its beginning")
    expect(gauge).to_be_visible()


@pytest.mark.thorough
def test_a_value_is_dragged_again_and_again(page: Page):
    # Text that the first drag chose would be dragged by the browser in place of the value.
    stored_study(page, document(BALL, {"step": "twist", "values": {"angle": 90.0}}))
    page.locator("[data-step=s1] button").first.click()
    settle(page)
    ruler = page.get_by_role("slider", name="Angle")
    box = ruler.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    told = [90.0]
    for apart in (-30, -20, 40):
        # The hand does not stay on the ruler's own height.
        before = ruler.get_attribute("aria-valuenow")
        drag(page, (x, y), (x + apart / 2, y + 30), (x + apart, y + 60))
        expect(ruler).not_to_have_attribute("aria-valuenow", before, timeout=5000)
        settle(page)
        assert page.evaluate("getSelection().toString()") == ""
        told.append(float(ruler.get_attribute("aria-valuenow")))
    assert told[0] > told[1] > told[2]
    assert told[3] > told[2]


def test_a_row_that_is_unfolded_is_seen_whole(page: Page):
    many = [{"step": "twist", "values": {"angle": 1.0}} for _ in range(10)]
    stored_study(page, document(BALL, *many))
    last = page.locator("[data-step=s10]")
    last.locator("button").first.click()
    expect(last.get_by_text("Where")).to_be_in_viewport(ratio=1)
    expect(last.get_by_text("When")).to_be_in_viewport(ratio=1)
    # The title of the row stays in sight besides.
    expect(last.get_by_text("Twist").first).to_be_in_viewport(ratio=0.9)
