"""The queue on the screen: jobs are begun, led, survive a restart, and their frames are seen."""

from __future__ import annotations

import io
import re
import socket
import subprocess
import sys
from pathlib import Path

import av
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect

from tests.conftest import document
from tests.jobs.conftest import TURNING
from tests.jobs.test_kills import kill_group
from tests.web.conftest import SCALE, open_context

SMALL = {"width": 64, "height": 36, "samples": 2, "first": 0}


class Program:
    """The program itself, on a folder and a port of its own."""

    def __init__(self, folder: Path) -> None:
        with socket.socket() as found:
            found.bind(("127.0.0.1", 0))
            self.port = int(found.getsockname()[1])
        self.address = f"http://127.0.0.1:{self.port}"
        self._command = [str(Path(sys.executable).with_name("zygomorph")), "serve"]
        self._command += ["--data", str(folder), "--port", str(self.port)]
        self.start()

    def start(self) -> None:
        self._process = subprocess.Popen(
            self._command, stdout=subprocess.PIPE, text=True, start_new_session=True
        )
        assert self._process.stdout is not None
        assert "ready" in self._process.stdout.readline()

    def kill(self) -> None:
        kill_group(self._process)


@pytest.fixture
def program(tmp_path):
    made = Program(tmp_path)
    yield made
    made.kill()


@pytest.fixture
def own_page(browser: Browser, program: Program):
    context = open_context(browser, program.address, SCALE)
    yield context.new_page()
    context.close()


def order(page: Page, last: int, **more) -> str:
    """A study, and a final clip of it that is ordered; its id."""
    made = document(*TURNING, frames=48)
    study = page.request.post("/api/studies", data={"document": made}).json()["id"]
    body = {"study": study, "kind": "mp4", **SMALL, "last": last, **more}
    answer = page.request.post("/api/finals", data=body)
    assert answer.status == 202, answer.text()
    return str(answer.json()["id"])


def no_serious_finding(page: Page) -> None:
    """axe-core (Deque), rules of WCAG 2 A and AA."""
    found = Axe().run(page).response["violations"]
    assert [v["id"] for v in found if v["impact"] in ("serious", "critical")] == []


def test_two_jobs_one_called_off_the_other_through_a_restart_and_another_clip(
    own_page: Page, program: Program
):
    page = own_page
    first, second = order(page, 47, samples=64), order(page, 47)
    page.goto("/queue")
    expect(page.get_by_role("heading", name="Queue")).to_be_visible()
    called_off, kept = page.get_by_test_id(f"job {second}"), page.get_by_test_id(f"job {first}")
    no_serious_finding(page)
    called_off.get_by_role("button", name="Cancel").click()
    expect(called_off).to_contain_text("Called off.")
    # In the middle of the other.
    expect(kept).to_contain_text(re.compile(r"[1-9]\d* of 48 frames"), timeout=60_000)
    program.kill()
    program.start()
    page.reload()
    expect(kept).to_contain_text("test.mp4", timeout=90_000)
    expect(called_off).to_contain_text("Called off.")
    # Its frames, and another clip of them.
    page.get_by_role("button", name=re.compile("^Frames of")).first.click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_test_id("frames").get_by_role("button")).to_have_count(48)
    page.keyboard.press("ArrowRight")
    expect(dialog).to_contain_text("Picture 2 of 48")
    no_serious_finding(page)
    dialog.get_by_label("Pictures a second").fill("12")
    dialog.get_by_role("button", name="Make the clip").click()
    made = page.get_by_role("article", name=re.compile("made before"))
    expect(made).to_contain_text("test.mp4", timeout=30_000)
    save = made.get_by_role("link", name=re.compile("^Save"))
    data = page.request.get(save.get_attribute("href")).body()
    with av.open(io.BytesIO(data)) as clip:
        stream = clip.streams.video[0]
        assert stream.average_rate == 12
        # The same seconds with half as many pictures.
        assert sum(1 for _ in clip.decode(stream)) == 24


def test_the_queue_says_when_there_is_nothing(own_page: Page):
    own_page.goto("/queue")
    expect(own_page.get_by_text("Nothing has been delivered yet")).to_be_visible()
    own_page.get_by_role("link", name="Studies").click()
    own_page.get_by_role("link", name="Queue").click()
    expect(own_page).to_have_url(re.compile("/queue$"))


def test_jobs_stand_still_go_on_and_change_their_order(own_page: Page):
    page = own_page
    first, second = order(page, 47, samples=256), order(page, 1)
    page.goto("/queue")
    rows = page.get_by_role("article")
    expect(rows).to_have_count(2)
    one = page.get_by_test_id(f"job {first}")
    one.get_by_role("button", name=re.compile("^Pause")).click()
    expect(one).to_contain_text("Paused.")
    expect(page.get_by_test_id(f"job {second}")).to_contain_text("test.mp4", timeout=60_000)
    # With the keyboard, as rows of a recipe are moved.
    handle = page.get_by_test_id(f"job {second}").get_by_label(re.compile("^Move"))
    handle.focus()
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    page.keyboard.press("ArrowUp")
    page.wait_for_timeout(300)
    page.keyboard.press("Space")
    expect(rows.first).to_have_attribute("data-testid", f"job {second}")
    one.get_by_role("button", name=re.compile("^Go on")).click()
    expect(one.get_by_role("progressbar")).to_be_visible()
    one.get_by_role("button", name="Cancel").click()
    one.get_by_role("button", name=re.compile("^Remove")).click()
    expect(rows).to_have_count(1)
