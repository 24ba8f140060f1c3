"""Delivering from the screen, and what comes in again."""

import json
import zipfile

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document, surface
from tests.web.actions import (
    add_step,
    drop_file,
    new_study,
    stored_study,
    study_state,
)
from zygomorph.cli import main
from zygomorph.core.formats.clips import facts_of, pictures_in

BALL = {"step": "icosphere", "values": {"halvings": 4}}
SMALL = {"step": "icosphere", "values": {"halvings": 2}}
PLAIN = {"backdrop": "plain", "values": {"colour": "#204060"}}


def blinking() -> dict:
    """A loop of six frames whose picture differs from each to the next."""
    grows = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0.2, "high": 1.0}
    ball = {"step": "icosphere", "values": {"halvings": 2, "radius": grows}}
    look = surface(colour="#ffffff", roughness=100.0)
    return document(ball, frames=6, looks=look) | {"backdrop": PLAIN, "lights": []}


def covered(picture) -> float:
    """Share of a picture that is not its backdrop."""
    away = abs(picture[..., :3].astype(int) - [0x20, 0x40, 0x60]).max(axis=-1)
    return float((away > 20).mean())


def test_a_clip_is_drawn_by_the_window_and_holds_every_frame(page: Page, tmp_path):
    stored_study(page, blinking())
    page.get_by_role("button", name="Deliver", exact=True).click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_test_id("picture-size")).to_have_text("1280 × 720")
    sheet.get_by_role("combobox", name="Longer side").click()
    page.get_by_role("option", name="640 pixels").click()
    sheet.get_by_role("combobox", name="Samples").click()
    page.get_by_role("option", name="1, quick").click()
    sheet.get_by_label("How often").fill("2")
    sheet.get_by_role("button", name="Make it").click()
    expect(sheet.get_by_role("img", name="The last picture")).to_be_visible(timeout=60_000)
    save = sheet.get_by_role("link", name="Save")
    expect(save).to_be_visible(timeout=90_000)
    expect(sheet.get_by_role("status")).to_contain_text("640 × 360, 12 pictures, 24 a second")
    with page.expect_download() as download:
        save.click()
    path = tmp_path / "loop.mp4"
    download.value.save_as(path)
    facts = facts_of(path)
    assert (facts.frames, facts.width, facts.height, facts.rate) == (12, 640, 360, 24)
    sizes = [covered(picture) for picture in pictures_in(path)]
    # The ball grows from frame to frame, and begins again with the second loop.
    assert sizes[:6] == sorted(sizes[:6])
    assert sizes[5] > 4 * sizes[0] > 0
    assert abs(sizes[6] - sizes[0]) < 0.002


@pytest.mark.thorough
def test_pictures_are_called_off_while_they_are_drawn(page: Page):
    stored_study(page, document(SMALL, frames=2000))
    page.get_by_role("button", name="Deliver", exact=True).click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name="Make it").click()
    expect(sheet.get_by_role("progressbar")).to_be_visible()
    sheet.get_by_role("button", name="Cancel").click()
    expect(sheet).to_contain_text("Cancelled. What was made of it is kept")
    expect(page.locator("iframe")).to_have_count(0)


def test_the_command_line_draws_without_a_window(tmp_path, capsys):
    study = tmp_path / "study.json"
    study.write_text(json.dumps(blinking()))
    out = tmp_path / "out"
    given = ["--size", "64x48", "--samples", "1", "--frames", "0-2", "--data", str(tmp_path)]
    assert main(["deliver", str(study), "--as", "png", "--out", str(out), *given]) == 0
    assert [file.name for file in sorted(out.iterdir())] == [f"test_000{k}.png" for k in range(3)]
    assert "64 × 48, 3 pictures" in capsys.readouterr().out


def test_without_a_browser_the_command_line_says_so(tmp_path, capsys, monkeypatch):
    monkeypatch.setattr("zygomorph.jobs.chromium.chromium", lambda: None)
    study = tmp_path / "study.json"
    study.write_text(json.dumps(blinking()))
    out = tmp_path / "a.mp4"
    given = ["--out", str(out), "--data", str(tmp_path)]
    assert main(["deliver", str(study), "--as", "mp4", *given]) == 1
    assert "no Chromium is installed" in capsys.readouterr().err
    assert not out.exists()


@pytest.mark.thorough
def test_a_sequence_is_delivered_as_a_zip(page: Page, tmp_path):
    stored_study(page, document(BALL, {"step": "twist"}))
    page.get_by_role("button", name="Deliver", exact=True).click()
    page.get_by_role("combobox", name="Deliver as").click()
    page.get_by_role("option", name="PLY sequence").click()
    page.get_by_label("Last frame").fill("4")
    page.get_by_role("button", name="Make it").click()
    save = page.get_by_role("link", name="Save")
    expect(save).to_be_visible(timeout=60_000)
    with page.expect_download() as download:
        save.click()
    download.value.save_as(tmp_path / "sequence.zip")
    with zipfile.ZipFile(tmp_path / "sequence.zip") as archive:
        assert len(archive.namelist()) == 5
        assert archive.read(archive.namelist()[0]).startswith(b"ply")


def test_a_delivery_is_cancelled(page: Page):
    heavy = {"step": "icosphere", "values": {"halvings": 6}}
    turning = {"step": "displace", "values": {"evolve": {"signal": "cycle", "shape": "saw"}}}
    stored_study(page, document(heavy, turning, frames=2000))
    page.get_by_role("button", name="Deliver", exact=True).click()
    page.get_by_role("combobox", name="Deliver as").click()
    page.get_by_role("option", name="OBJ sequence").click()
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("dialog")).to_contain_text("Cancelled. What was made of it is kept")


@pytest.mark.thorough
def test_the_study_itself_goes_out_and_comes_in_again(page: Page, tmp_path):
    new_study(page)
    add_step(page, "Bend")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_role("button", name="Deliver", exact=True).click()
    page.get_by_role("combobox", name="Deliver as").click()
    page.get_by_role("option", name="The document alone").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Save").click()
    path = tmp_path / "study.json"
    download.value.save_as(path)
    before = study_state(page)["document"]
    assert json.loads(path.read_text()) == before
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    drop_file(page, "again.json", path.read_text())
    expect(page.locator("[data-step]")).to_have_count(2)
    assert study_state(page)["document"] == before
