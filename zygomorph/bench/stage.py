"""Figures of the stage in headless Chromium, which draws in software: the slowest case there is.

Playwright and Chromium belong to the tests; where they are missing these figures are left out.
"""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any

import numpy as np

from zygomorph.bench.figures import Result, result
from zygomorph.bench.http import served
from zygomorph.bench.sample import sample_study
from zygomorph.jobs.chromium import SOFTWARE as ARGUMENTS
from zygomorph.jobs.chromium import chromium
from zygomorph.render.shipped import example_files

if TYPE_CHECKING:
    from playwright.sync_api import Page

FRAMES = 120
DRAGS = 60
# Demo studies, each of which plays in draft.
LOOPS = ("Pond rings", "Ember bulb", "Silk banner")
RATE = """() => {
  const found = /([0-9]+) frames/.exec(document.querySelector("[data-testid=counts]").innerText);
  return found ? Number(found[1]) : null;
}"""
# Notes when the pointer moved and when points were handed to the graphics card.
WATCH = """
window.moved = [];
window.handed = [];
for (const name of ["bufferData", "bufferSubData"]) {
  const own = WebGL2RenderingContext.prototype[name];
  WebGL2RenderingContext.prototype[name] = function (...given) {
    own.apply(this, given);
    const data = given.find((x) => x instanceof Uint16Array);
    if (data && data.byteLength > 50000) window.handed.push(performance.now());
  };
}
window.addEventListener("pointermove", (e) => window.moved.push(e.timeStamp), true);
"""

FETCH = """async ([address, frames]) => {
  await (await fetch(`${address}&frame=0`)).arrayBuffer();
  const took = [];
  for (let frame = 1; frame <= frames; frame++) {
    const start = performance.now();
    const answer = await fetch(`${address}&frame=${frame}`);
    const points = new Uint16Array((await answer.arrayBuffer()).slice(0, 8));
    took.push(performance.now() - start + 0 * points.length);
  }
  return took;
}"""


@contextmanager
def opened(address: str) -> Iterator[Page]:
    """A page of the server at 1280 × 800."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        page.add_init_script(WATCH)
        yield page
        browser.close()


def bench_stage() -> list[Result]:
    """From start to picture, frame to typed array, drag to buffer, and pictures while playing."""
    if chromium() is None:
        return []
    try:
        import playwright.sync_api  # noqa: F401
    except ImportError:
        return []
    started = time.perf_counter()
    with served() as connection:
        ready = time.perf_counter() - started
        address = f"http://{connection.host}:{connection.port}"
        with opened(address) as page:
            state = _stored(page)
            began = time.perf_counter()
            _await_picture(page, state)
            first = time.perf_counter() - began
            page.wait_for_timeout(3000)
            arrays = _to_arrays(page, state)
            drags = _drags(page)
            picture = _playing(page)
            page.goto(f"/study/{_stored(page, halvings=5)['id']}")
            page.wait_for_timeout(5000)
            light = _drags(page)
            rates = [_rates(page, name) for name in LOOPS]
    return [
        *bench_cold(),
        result("server_ready_s", ready, "s", 3.0),
        result("first_picture_s", first, "s", 5.0),
        result("chromium_frame_ms_median", float(np.median(arrays)), "ms", 15.0),
        result("chromium_frame_ms_p95", float(np.percentile(arrays, 95)), "ms", 25.0),
        result("drag_to_buffer_ms_median", float(np.median(drags)), "ms", None),
        result("drag_to_buffer_ms_p95", float(np.percentile(drags, 95)), "ms", 100.0),
        result("drag_draft_to_buffer_ms_median", float(np.median(light)), "ms", None),
        result("drag_draft_to_buffer_ms_p95", float(np.percentile(light, 95)), "ms", 50.0),
        result("software_picture_ms", picture, "ms", 100.0),
        *(
            result(f"software_{name.split()[0].lower()}_{which}_round", rate, "/s", goal)
            for name, both in zip(LOOPS, rates, strict=True)
            for which, rate, goal in zip(("first", "second"), both, (10.0, 24.0), strict=True)
        ),
    ]


def bench_cold() -> list[Result]:
    """From the start of a server that has nothing compiled yet to the first picture."""
    with TemporaryDirectory() as folder:
        started = time.perf_counter()
        with (
            served(ZYGOMORPH_KERNEL_CACHE=folder) as connection,
            opened(f"http://{connection.host}:{connection.port}") as page,
        ):
            _await_picture(page, _stored(page))
            took = time.perf_counter() - started
    return [result("cold_first_picture_s", took, "s", 20.0)]


def _stored(page: Page, halvings: int = 6) -> dict[str, Any]:
    document = {"document": sample_study(halvings).document}
    state: dict[str, Any] = page.request.post("/api/studies", data=document).json()
    return state


def _await_picture(page: Page, state: dict[str, Any]) -> None:
    page.goto(f"/study/{state['id']}")
    while not page.evaluate("() => window.handed.length"):
        page.wait_for_timeout(20)


def _to_arrays(page: Page, state: dict[str, Any]) -> list[float]:
    """Milliseconds from asking for a frame to its numbers, for frames not asked for before."""
    key = state["motion"][0]["key"]
    address = f"/api/studies/{state['id']}/pieces/ball/frame?key={key}"
    took: list[float] = page.evaluate(FETCH, [address, FRAMES])
    return took


def _drags(page: Page) -> list[float]:
    """Milliseconds from the pointer's move to new points for the graphics card."""
    page.locator("[data-step='push'] button[aria-expanded]").first.click()
    ruler = page.get_by_role("slider", name="Amount")
    box = ruler.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 3, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    took = []
    for k in range(1, DRAGS + 1):
        page.evaluate("() => { window.moved = []; window.handed = []; }")
        page.mouse.move(x + k, y)
        page.wait_for_timeout(150)
        moved, handed = page.evaluate("() => [window.moved, window.handed]")
        if moved and handed:
            took.append(handed[0] - moved[0])
    page.mouse.up()
    return took


def _playing(page: Page) -> float | None:
    """Milliseconds a picture while playing, before pictures are kept."""
    page.locator("[data-step='push'] button[aria-expanded]").first.click()
    page.evaluate("() => document.activeElement.blur()")
    page.keyboard.press("Space")
    page.wait_for_timeout(1000)
    page.evaluate("() => { window.handed = []; }")
    page.wait_for_timeout(6000)
    handed: list[float] = page.evaluate("() => window.handed")
    page.keyboard.press("Space")
    return float(np.diff(handed).mean()) if len(handed) > 2 else None


def _rates(page: Page, name: str) -> tuple[float, float]:
    """Pictures a second in the first and in the second round of a demo study's loop."""
    document = next(d for d in map(_read, example_files()) if d["name"] == name)
    state = page.request.post("/api/studies", data={"document": document}).json()
    page.goto(f"/study/{state['id']}")
    page.wait_for_timeout(4000)
    page.keyboard.press("Space")
    round_ms = int(document["loop"]["frames"] / document["loop"]["rate"] * 1000)
    rates = []
    for _ in range(2):
        told = []
        for _ in range(round_ms // 1000):
            page.wait_for_timeout(1000)
            told.append(page.evaluate(RATE) or 0)
        rates.append(float(np.median(told)))
    return rates[0], rates[1]


def _read(path: Path) -> dict[str, Any]:
    read: dict[str, Any] = json.loads(path.read_text())
    return read
