"""The real server and the real interface in headless Chromium."""

from __future__ import annotations

import io
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from zygomorph.cli.serving import seed
from zygomorph.jobs.chromium import SOFTWARE as ARGUMENTS
from zygomorph.jobs.chromium import chromium
from zygomorph.store.database import open_engine
from zygomorph.store.studies import Studies

QUIET = [
    "--disable-background-networking",
    "--disable-quic",
    "--no-first-run",
    "--disable-gpu-compositing",
    # What the browser does besides showing pages takes a part of the two cores.
    "--disable-component-extensions-with-background-pages",
    "--disable-extensions",
    "--disable-features=Translate,OptimizationHints,MediaRouter",
    "--mute-audio",
    "--process-per-site",
]

expect.set_options(timeout=20_000)

SERVE = """
import sys
from pathlib import Path
from waitress import create_server
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
from zygomorph.jobs.queue.cluster import ClusterSettings
# Of moving pictures a few frames are enough here; all of them would take a core for minutes.
# Processes for deliveries of their own would take longer to start than these to make.
cluster = ClusterSettings(workers=1, apart=False)
service = Service(Path(sys.argv[1]), most_thumbnails=4, cluster=cluster)
server = create_server(make_app(service), host="127.0.0.1", port=0, threads=32, send_bytes=1)
print(server.effective_port, flush=True)
server.run()
"""


@pytest.fixture(scope="session")
def folder(tmp_path_factory) -> Path:
    made = Path(tmp_path_factory.mktemp("studies"))
    seed(made)
    return made


@pytest.fixture(scope="session")
def demos(folder: Path) -> set[str]:
    """Ids of the demo studies."""
    return {stored.id for stored in Studies(open_engine(folder / "zygomorph.sqlite3")).all()}


@pytest.fixture(scope="session")
def address(folder: Path, demos: set[str]):
    process = subprocess.Popen(
        [sys.executable, "-c", SERVE, str(folder)], stdout=subprocess.PIPE, text=True
    )
    port = int(process.stdout.readline())
    yield f"http://127.0.0.1:{port}"
    process.kill()
    process.wait()


@pytest.fixture(scope="session")
def browser():
    path = chromium()
    if path is None:
        raise RuntimeError("Chromium is missing; run `make chromium`.")
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=path, args=[*ARGUMENTS, *QUIET])
        yield made
        made.close()


# Where the processor draws, a picture takes as long as it has pixels: half of them each way are
# enough to see what changed.
SCALE = 0.5
VIEWPORT = {"width": 1280, "height": 800}


def open_context(browser: Browser, address: str, scale: float) -> BrowserContext:
    return browser.new_context(
        viewport=VIEWPORT,
        device_scale_factor=scale,
        base_url=address,
        reduced_motion="reduce",
    )


@pytest.fixture(scope="session")
def coarse(browser: Browser, address: str):
    """One for nearly all tests, so that the interface is fetched and compiled once."""
    made = open_context(browser, address, SCALE)
    yield made
    made.close()


@pytest.fixture
def context(request, browser: Browser, address: str, coarse: BrowserContext):
    """At full resolution for tests that are marked as measuring pixels."""
    if request.node.get_closest_marker("sharp") is None:
        yield coarse
        return
    made = open_context(browser, address, 1)
    yield made
    made.close()


@pytest.fixture
def page(context: BrowserContext, demos: set[str], request: pytest.FixtureRequest):
    opened: set[str] = set()

    def note(path: str) -> None:
        if "/study/" in path:
            opened.add(path.rsplit("/", 1)[-1])

    def watch(one: Page) -> None:
        one.on("framenavigated", lambda frame: note(frame.url))

    context.on("page", watch)
    page = context.pages[0] if context.pages else context.new_page()
    page.set_default_timeout(30_000)
    errors: list[str] = []
    watchers = {
        "framenavigated": lambda frame: note(frame.url),
        "pageerror": lambda error: errors.append(str(error)),
        "console": lambda m: errors.append(m.text) if "Content Security" in m.text else None,
    }
    for event, watcher in watchers.items():
        page.on(event, watcher)
    yield page
    context.remove_listener("page", watch)
    _leave(page, request)
    # What a test made is gone after it, or the gallery would draw moving pictures of all of it.
    for study in opened - demos:
        context.request.delete(f"/api/studies/{study}")
    for event, watcher in watchers.items():
        page.remove_listener(event, watcher)
    for one in context.pages:
        if one is not page:
            one.close()
    assert errors == []


# Forget what the browser was told to remember, but its name; whether there was anything.
FORGET = """() => {
  const told = Object.keys(localStorage).filter(name => name !== "zygomorph-browser");
  for (const name of told) localStorage.removeItem(name);
  sessionStorage.clear();
  return told.length > 0;
}"""
# As a link within the interface does.
GO = """path => {
  history.pushState({}, "", path);
  dispatchEvent(new PopStateEvent("popstate", { state: history.state }));
}"""
NOWHERE = "/study/none"


def visit(page: Page, path: str) -> None:
    """Go to a page of the interface, as somebody does who has it open already: a page that is
    loaded anew compiles its shaders anew, which takes longer than most tests."""
    if page.url == "about:blank":
        page.goto(path)
    else:
        page.evaluate(GO, path)


def _leave(page: Page, request: pytest.FixtureRequest) -> None:
    """Make a page ready for the next test. One that a test has made its own is closed; where the
    interface was told to remember something it is loaded anew."""
    if page.is_closed():
        return
    told = page.url != "about:blank" and page.evaluate(FORGET)
    if request.node.get_closest_marker("own_page"):
        page.close()
        return
    page.unroute_all(behavior="ignoreErrors")
    page.mouse.move(0, 0)
    page.set_viewport_size(VIEWPORT)
    if told:
        page.goto("about:blank")
    elif page.url != "about:blank":
        # Dialogs and notices close.
        for _ in range(2):
            page.keyboard.press("Escape")
        visit(page, NOWHERE)


def stage_pixels(page: Page) -> np.ndarray:
    """The 3D view as (rows, columns, 3) whole numbers."""
    picture = page.locator("canvas[data-engine]").first.screenshot()
    return np.asarray(Image.open(io.BytesIO(picture)).convert("RGB")).astype(int)


def differs(one: np.ndarray, other: np.ndarray) -> float:
    """Share of pixels that clearly changed."""
    # A picture of an element may be a row more or less, by how its edges fall on pixels.
    rows, columns = (min(one.shape[k], other.shape[k]) for k in range(2))
    apart = np.abs(one[:rows, :columns] - other[:rows, :columns])
    return float((apart.max(axis=2) > 24).mean())


def wait_until_changed(page: Page, before: np.ndarray, least: float = 0.002) -> np.ndarray:
    """Wait until the 3D view differs from a picture of it."""
    for _ in range(60):
        now = stage_pixels(page)
        if differs(before, now) > least:
            return now
        page.wait_for_timeout(150)
    raise AssertionError("the picture did not change")


def until(page: Page, expression: str, argument: object = None, seconds: float = 30) -> None:
    """Wait until a function of the page gives something true.

    Playwright's own waiting would evaluate text in the page, which the content policy forbids.
    """
    for _ in range(int(seconds * 10)):
        if page.evaluate(expression, argument):
            return
        page.wait_for_timeout(100)
    raise AssertionError(f"never true: {expression}")


AT_REST = """([pictures]) => {
  const canvas = document.querySelector("canvas");
  const rests = canvas?.dataset.detail === "full" && !document.body.innerText.includes("Computing…");
  return rests && canvas.dataset.pictures === pictures ? "" : (canvas?.dataset.pictures ?? "none");
}"""


def settle(page: Page) -> None:
    """Wait until the stage shows something in full detail and draws no more."""
    pictures = ""
    for _ in range(120):
        found = page.evaluate(AT_REST, [pictures])
        if not found:
            return
        pictures = found
        page.wait_for_timeout(300)
    raise AssertionError("the stage does not come to rest")


def settled(page: Page) -> np.ndarray:
    """The 3D view once it has stopped changing and shows something."""
    settle(page)
    return stage_pixels(page)
