"""Pages to send, opened from a disk without any server."""

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, expect

from tests.conftest import document
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.jobs.pages.make import page_of_model


def test_a_page_with_a_model_plays_is_turned_and_asks_for_nothing(browser: Browser, tmp_path):
    ball = {"step": "icosphere", "values": {"halvings": 3}}
    bend = {"step": "bend", "values": {"angle": {"signal": "cycle", "high": 150}}}
    study = Study(check_document(document(ball, bend) | {"name": "To <look> at"}).document)
    path = tmp_path / "page.html"
    path.write_bytes(page_of_model(study, deliver_glb(study, Evaluator(), numbers="compact").data))
    page = browser.new_page(viewport={"width": 480, "height": 360}, reduced_motion="reduce")
    asked, wrong = [], []
    page.on("request", lambda request: asked.append(request.url))
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.goto(path.as_uri())
    page.wait_for_selector("body[data-ready]")
    expect(page.locator("header")).to_have_text("To <look> at")

    def picture() -> np.ndarray:
        return np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)

    begin = picture()
    slider = page.get_by_role("slider", name="Moment of the loop")
    slider.fill("0.5")
    expect(page.locator("output")).to_have_text(re.compile(r"0\.5 s"))
    middle = picture()
    assert np.abs(begin - middle)[60:300].max() > 40
    page.mouse.move(240, 180)
    page.mouse.down()
    page.mouse.move(340, 200, steps=3)
    page.mouse.up()
    assert np.abs(picture() - middle)[60:300].max() > 20
    page.get_by_role("button", name="Play").click()
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    assert not wrong
    assert all(url.startswith(("file:", "data:", "blob:")) for url in asked)
    page.close()
