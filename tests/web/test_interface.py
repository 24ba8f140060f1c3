"""What an artist does, done in the real interface."""

import io
import json
import struct

import pytest
import trimesh
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.conftest import obj_text
from tests.web.actions import add_step, drop_file, new_study, steps
from tests.web.conftest import differs, settle, settled, stage_pixels, until, wait_until_changed


def saved(page: Page) -> None:
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


def test_the_gallery_shows_the_demo_studies_moving(page: Page):
    page.goto("/")
    for name in ("Ember bulb", "Carousel bloom", "Woven ring"):
        expect(page.get_by_role("heading", name=name)).to_be_visible()
    until(
        page,
        "() => [...document.querySelectorAll('article img')].every(i => i.complete && i.naturalWidth > 100)",
        seconds=120,
    )
    page.get_by_label("Search studies").fill("woven")
    expect(page.locator("article")).to_have_count(1)


def test_open_a_study_and_play_it(page: Page):
    page.goto("/")
    page.get_by_role("heading", name="Woven ring").click()
    first = settled(page)
    expect(page.get_by_test_id("seam")).to_contain_text("seam closed", timeout=90_000)
    page.get_by_role("button", name="Play").click()
    wait_until_changed(page, first, 0.02)
    page.get_by_role("button", name="Pause").click()
    expect(page.get_by_role("slider", name="Frame")).not_to_have_attribute("aria-valuenow", "0")


def test_step_and_scrub_by_keys(page: Page):
    new_study(page)
    frame = page.get_by_role("slider", name="Frame")
    page.keyboard.press("ArrowRight")
    expect(frame).to_have_attribute("aria-valuenow", "1")
    page.keyboard.press("Shift+ArrowRight")
    expect(frame).to_have_attribute("aria-valuenow", "11")
    page.keyboard.press("End")
    expect(frame).to_have_attribute("aria-valuenow", "239")
    page.keyboard.press("ArrowRight")
    expect(frame).to_have_attribute("aria-valuenow", "0")


def test_a_value_changes_by_dragging_and_by_typing_and_the_picture_with_it(page: Page):
    new_study(page)
    add_step(page, "Displace")
    before = settled(page)
    ruler = page.get_by_role("slider", name="Amount")
    box = ruler.bounding_box()
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] / 2, y)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 30, y, steps=4)
    during = wait_until_changed(page, before)
    page.mouse.up()
    saved(page)
    page.locator("[data-value=amount]").get_by_role("button", name="type a value").click()
    page.get_by_label("Amount, typed").fill("10 cm * 2 + 0")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Amount, typed")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("Amount, typed").fill("132/400 m")
    page.keyboard.press("Enter")
    expect(page.locator("[data-value=amount]")).to_contain_text("0.33 m")
    wait_until_changed(page, during)


def test_a_bend_is_added_and_taken_back_and_kept_after_a_reload(page: Page):
    new_study(page)
    before = settled(page)
    add_step(page, "Bend")
    bent = wait_until_changed(page, before)
    assert len(steps(page)) == 2
    page.keyboard.press("Control+z")
    expect(page.locator("[data-step]")).to_have_count(1)
    wait_until_changed(page, bent)
    page.keyboard.press("Control+Shift+z")
    expect(page.locator("[data-step]")).to_have_count(2)
    page.reload()
    expect(page.locator("[data-step]")).to_have_count(2)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-step]")).to_have_count(1)


def test_steps_are_reordered_by_dragging(page: Page):
    new_study(page)
    add_step(page, "Twist")
    add_step(page, "Taper")
    order = steps(page)
    page.locator(f"[data-step={order[2]}] button").first.click()  # closes it
    settle(page)
    source = page.locator(f"[data-step={order[2]}]").bounding_box()
    target = page.locator(f"[data-step={order[1]}]").bounding_box()
    page.mouse.move(source["x"] + 120, source["y"] + 16)
    page.mouse.down()
    page.mouse.move(source["x"] + 120, source["y"] - 4, steps=4)
    page.mouse.move(target["x"] + 120, target["y"] + 8, steps=6)
    page.mouse.up()
    until(
        page,
        "wanted => [...document.querySelectorAll('[data-step]')].map(e => e.dataset.step).join() === wanted",
        ",".join([order[0], order[2], order[1]]),
    )


def test_a_mask_is_added_seen_as_heat_and_dragged_on_the_stage(page: Page):
    new_study(page)
    add_step(page, "Displace")
    plain = settled(page)
    page.get_by_role("button", name="Where").click()
    page.get_by_role("button", name="Add a layer").click()
    page.get_by_role("button", name="Linear front").click()
    heat = wait_until_changed(page, plain, 0.05)
    expect(page.locator("[data-value=position]")).to_be_visible()
    settle(page)
    shown = page.locator("[data-value=position]").inner_text()
    box = page.locator("canvas[data-engine]").bounding_box()
    # The grip is in the middle of the front, which is the middle of the ball.
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 60, steps=6)
    wait_until_changed(page, heat, 0.005)
    page.mouse.up()
    until(
        page,
        "before => document.querySelector('[data-value=position]').innerText !== before",
        shown,
    )


@pytest.mark.thorough
def test_a_value_is_made_to_move_and_its_keys_are_edited(page: Page):
    new_study(page)
    add_step(page, "Twist")
    page.get_by_role("button", name="Make it move: Angle").click()
    lane = page.locator("[data-lane$='values/angle']")
    expect(lane).to_be_visible()
    page.get_by_role("button", name="When").click()
    page.get_by_role("combobox", name="Signal of Angle").click()
    page.get_by_role("option", name="keys").click()
    # Until the list has faded it would take the clicks.
    expect(page.get_by_role("listbox")).to_have_count(0)
    keys = lane.get_by_role("button", name="Key at frame")
    expect(keys).to_have_count(3)
    box = lane.bounding_box()
    page.mouse.dblclick(box["x"] + box["width"] * 0.25, box["y"] + 10)
    expect(keys).to_have_count(4)
    expect(lane.get_by_role("button", name="Key at frame 60")).to_be_visible()
    added = lane.get_by_role("button", name="Key at frame 60").bounding_box()
    page.mouse.move(added["x"] + 4, added["y"] + 4)
    page.mouse.down()
    page.mouse.move(added["x"] + 4 + box["width"] / 8, added["y"] + 6, steps=5)
    page.mouse.up()
    expect(lane.get_by_role("button", name="Key at frame 90")).to_be_visible()
    page.keyboard.press("Control+c")
    # The key has the arrow keys while it has the focus.
    page.get_by_role("slider", name="Frame").focus()
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Control+v")
    expect(lane.get_by_role("button", name="Key at frame 30")).to_be_visible()
    lane.get_by_role("button", name="Key at frame 90").focus()
    page.keyboard.press("Delete")
    expect(keys).to_have_count(4)
    expect(lane.get_by_role("button", name="Key at frame 90")).to_have_count(0)


def test_an_open_mesh_is_dropped_displaced_and_delivered(page: Page, bunny, tmp_path):
    points, faces = bunny
    new_study(page)
    drop_file(page, "hare.obj", obj_text(points, faces))
    # It becomes a piece of the open study; the notice offers a study of its own.
    expect(page.get_by_test_id("counts")).to_contain_text(f"{len(faces):,} faces")
    expect(page.get_by_label("Name of the study")).to_have_value("New study")
    expect(page.get_by_role("region", name="Recipe")).to_contain_text("hare")
    page.get_by_role("button", name="Begin a new study with it").click()
    expect(page.get_by_label("Name of the study")).to_have_value("hare")
    expect(page.get_by_test_id("counts")).to_contain_text(f"{len(faces):,} faces")
    add_step(page, "Displace")
    page.get_by_role("button", name="Make it move: Amount").click()
    expect(page.locator("[data-lane$='values/amount']")).to_be_visible()
    page.get_by_role("button", name="Deliver", exact=True).click()
    page.get_by_role("combobox", name="Deliver as").click()
    page.get_by_role("option", name="GLB with animation").click()
    page.get_by_role("button", name="Make it").click()
    save = page.get_by_role("link", name="Save")
    expect(save).to_be_visible(timeout=90_000)
    expect(page.get_by_role("status").filter(has_text="shapes by")).to_contain_text("error")
    with page.expect_download() as download:
        save.click()
    path = tmp_path / "hare.glb"
    download.value.save_as(path)
    data = path.read_bytes()
    described = json.loads(data[20 : 20 + struct.unpack("<I", data[12:16])[0]])
    assert described["animations"][0]["channels"][0]["target"]["path"] == "weights"
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    assert sum(len(g.faces) for g in scene.geometry.values()) == len(faces)


def test_a_damaged_mesh_is_explained_and_the_study_stays(page: Page):
    new_study(page)
    drop_file(page, "broken.obj", "v 0 0 nan\n")
    expect(page.get_by_role("alert")).to_contain_text("Line 1")
    expect(page.get_by_label("Name of the study")).to_have_value("New study")


def test_two_windows_see_each_others_edits_and_a_clash_shows_both(page: Page):
    new_study(page)
    add_step(page, "Twist")
    other = page.context.new_page()
    other.goto(page.url)
    name = other.get_by_label("Name of the study")
    name.fill("From the other window")
    name.press("Enter")
    expect(page.get_by_label("Name of the study")).to_have_value("From the other window")
    other.close()
    study = page.url.rsplit("/", 1)[-1]
    state = page.request.get(f"/api/studies/{study}").json()
    step = state["document"]["pieces"][0]["recipe"][1]["id"]
    path = f"/pieces/piece/recipe/{step}/values/angle"

    def send(window: str, value: float):
        operation = {"do": "set", "path": path, "value": value}
        body = {"window": window, "revision": state["revision"], "operations": [operation]}
        return page.request.post(f"/api/studies/{study}/edits", data=body)

    # Held back until the other edit has been stored: the interface then sends on an old revision.
    held = []
    page.route("**/edits", lambda route: held.append(route))
    page.get_by_role("button", name="Angle: ").first.click()
    page.get_by_label("Angle, typed").fill("11")
    page.keyboard.press("Enter")
    page.wait_for_timeout(300)
    assert send("elsewhere", 77).ok
    held[0].continue_()
    page.wait_for_timeout(200)
    page.unroute("**/edits")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Two windows changed the same thing")
    expect(dialog).to_contain_text("11")
    expect(dialog).to_contain_text("77")
    dialog.get_by_role("button", name="Store yours").click()
    expect(page.locator("[data-value=angle]")).to_contain_text("11")


SLOW_NEWS = """
const own = EventSource.prototype.addEventListener;
EventSource.prototype.addEventListener = function (kind, tell) {
  own.call(this, kind, (event) => setTimeout(() => tell(event), window.lag ?? 0));
};
"""


@pytest.mark.own_page
def test_an_answer_that_is_late_does_not_undo_an_edit_on_the_screen(page: Page):
    page.add_init_script(SLOW_NEWS)
    new_study(page)
    late = []

    def keep(route):
        late.append((route, route.fetch()))

    def answer_slowly(route):
        answer = route.fetch()
        # The news of the edit is first, and the state is asked for before the edit is answered.
        for _ in range(100):
            if late:
                break
            page.wait_for_timeout(50)
        route.fulfill(response=answer)

    page.route("**/api/studies/*?window=*", keep)
    page.route("**/edits", answer_slowly)
    add_step(page, "Twist")
    expect(page.locator("[data-step]")).to_have_count(2)
    page.unroute("**/edits")
    page.evaluate("() => { window.lag = 2000; }")
    add_step(page, "Bend")
    expect(page.locator("[data-step]")).to_have_count(3)
    assert late, "the state was asked for"
    for route, state in late:
        route.fulfill(response=state)
    page.wait_for_timeout(300)
    expect(page.locator("[data-step]")).to_have_count(3)


def test_anything_is_found_by_typing(page: Page):
    new_study(page)
    page.keyboard.press("Control+k")
    page.get_by_placeholder("Find a command").fill("add bend")
    page.keyboard.press("Enter")
    # At once, while the first dialog still fades away: the key belongs to the page already.
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name="Keys")
    expect(keys).to_contain_text("Find anything")
    page.keyboard.press("Escape")
    expect(keys).to_have_count(0)
    expect(page.locator("[data-step]")).to_have_count(2)


def test_wire_and_views_change_the_picture(page: Page):
    new_study(page)
    surface = settled(page)
    page.get_by_role("button", name="Drawn as").click()
    page.get_by_role("menuitem", name="Surface and edges").click()
    edges = wait_until_changed(page, surface, 0.01)
    page.get_by_role("button", name="View:").click()
    page.get_by_role("menuitem", name="Top").click()
    wait_until_changed(page, edges, 0.01)


def test_a_study_that_does_not_exist_says_so(page: Page):
    page.goto("/study/nowhere")
    expect(page.get_by_role("alert")).to_contain_text("not here")
    page.get_by_role("link", name="To the gallery").click()
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()


@pytest.mark.own_page
@pytest.mark.parametrize("theme", ["paper", pytest.param("night", marks=pytest.mark.thorough)])
def test_no_serious_accessibility_finding(page: Page, theme: str):
    # axe-core (Deque), rules of WCAG 2 A and AA.
    page.add_init_script(f"localStorage.setItem('zygomorph-theme', '{theme}')")
    page.goto("/")
    expect(page.get_by_role("heading", name="Ember bulb")).to_be_visible()
    for place in ("gallery", "study", "where", "find", "variants", "marker"):
        if place == "study":
            page.get_by_role("heading", name="Ember bulb").click()
            page.locator("[data-step=tongues] button").first.click()
            settled(page)
        if place == "where":
            page.get_by_role("button", name="Where").click()
        if place == "find":
            page.keyboard.press("Control+k")
            page.wait_for_timeout(400)
        if place == "variants":
            # In a study of its own: the demo is left as it was.
            new_study(page)
            page.get_by_role("button", name="Variants", exact=True).click()
            page.get_by_role("button", name="Begin a variant").click()
            expect(page.get_by_role("radio", name="Choose B")).to_be_visible()
        if place == "marker":
            page.get_by_role("button", name="1 piece").click()
            page.get_by_role("menuitem", name="Add a marker").click()
            expect(page.get_by_label("Name of the marker")).to_be_visible()
        found = Axe().run(page).response["violations"]
        serious = [
            (v["id"], v["nodes"][0]["html"][:160], v["nodes"][0].get("failureSummary", "")[:200])
            for v in found
            if v["impact"] in ("serious", "critical")
        ]
        assert serious == [], place


@pytest.mark.thorough
def test_the_still_picture_does_not_change_by_itself(page: Page):
    new_study(page)
    assert differs(settled(page), stage_pixels(page)) == 0
