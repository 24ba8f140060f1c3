"""What tests of the interface do again and again."""

from __future__ import annotations

import base64
from typing import Any

from playwright.sync_api import Page, expect

from tests.web.conftest import settle, until, visit

PIECE_REVISION = (
    "async least => (await (await fetch(location.pathname.replace('/study', '/api/studies')))"
    ".json()).revision >= least"
)


def new_study(page: Page, halvings: int = 3) -> None:
    """A ball in a study of its own; by the gallery's button in a test of its own.

    A small one, because a picture takes the processor as long as it has triangles.
    """
    answer = page.request.post("/api/studies", data={"form": "icosphere"}).json()
    page.request.delete(f"/api/studies/{answer['id']}")
    answer["document"]["pieces"][0]["recipe"][0].setdefault("values", {})["halvings"] = halvings
    stored_study(page, answer["document"])
    expect(page.get_by_test_id("counts")).to_contain_text(f"{10 * 4**halvings + 2:,} points")


def stored_study(page: Page, document: dict[str, Any]) -> None:
    """Store a study and open it."""
    answer = page.request.post("/api/studies", data={"document": document})
    assert answer.ok, answer.text()
    visit(page, f"/study/{answer.json()['id']}")
    settle(page)


def study_state(page: Page) -> dict[str, Any]:
    """The open study as the server has it."""
    return page.request.get(f"/api/studies/{page.url.rsplit('/', 1)[-1]}").json()


def recipe_of(page: Page) -> list[dict[str, Any]]:
    return study_state(page)["document"]["pieces"][0]["recipe"]


def add_step(page: Page, name: str) -> None:
    before = len(steps(page))
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("searchbox").fill(name)
    page.get_by_role("dialog").get_by_role("button").filter(has_text=name).first.click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.locator("[data-step]")).to_have_count(before + 1)


def drop_file(page: Page, name: str, text: str) -> None:
    drop_files(page, {name: text})


def drop_files(page: Page, texts: dict[str, str]) -> None:
    drop_data(page, {name: text.encode() for name, text in texts.items()})


def drop_data(page: Page, files: dict[str, bytes]) -> None:
    page.evaluate(
        """files => {
        const data = new DataTransfer();
        for (const [name, text] of files)
            data.items.add(new File([Uint8Array.from(atob(text), c => c.charCodeAt(0))], name));
        for (const kind of ["dragover", "drop"])
            window.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }));
    }""",
        [[name, base64.b64encode(data).decode()] for name, data in files.items()],
    )


def steps(page: Page) -> list[str]:
    return page.locator("[data-step]").evaluate_all("all => all.map(e => e.dataset.step)")


def view_from(page: Page, side: str) -> None:
    page.get_by_role("button", name="View:").click()
    page.get_by_role("menuitem", name=side).click()
    settle(page)


def stage(page: Page) -> tuple[float, float]:
    area = page.locator("canvas[data-engine]").bounding_box()
    return area["x"] + area["width"] / 2, area["y"] + area["height"] / 2


def pixels_of_a_metre(page: Page) -> float:
    """As the scale bar of a flat view tells it."""
    bar = page.get_by_role("img", name="Scale:")
    label = bar.get_attribute("aria-label").removeprefix("Scale: ")
    metres = float(label.split()[0]) * (0.01 if label.endswith("cm") else 1)
    return bar.locator("> div").bounding_box()["width"] / metres


def drag(page: Page, start: tuple[float, float], *places: tuple[float, float]) -> None:
    """Press at one place and let go at the last of the others."""
    page.mouse.move(*start)
    page.mouse.down()
    for place in places:
        page.mouse.move(*place, steps=6)
    page.mouse.up()


def middle(page: Page, selector: str) -> tuple[float, float]:
    """Where something is, once what stands around it has taken its place."""
    before: object = None
    for _ in range(40):
        box = page.locator(selector).bounding_box()
        if box == before:
            break
        before = box
        page.wait_for_timeout(120)
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def document_after(page: Page, revision: int) -> dict[str, Any]:
    """The document once so many edits are stored and shown."""
    until(page, PIECE_REVISION, revision)
    settle(page)
    return study_state(page)["document"]


def choose(page: Page, value: str, action: str) -> None:
    """An action of the menu behind a value's name."""
    page.get_by_role("button", name=value, exact=True).click()
    page.get_by_role("menuitem", name=action).click()
