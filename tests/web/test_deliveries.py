"""Delivering from the screen, and what comes in again."""

import json
import zipfile

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import (
    add_step,
    drop_file,
    new_study,
    stored_study,
    study_state,
)

BALL = {"step": "icosphere", "values": {"halvings": 4}}


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
    expect(page.get_by_role("dialog")).to_contain_text("Cancelled. Nothing was written.")


def test_the_study_itself_goes_out_and_comes_in_again(page: Page, tmp_path):
    new_study(page)
    add_step(page, "Bend")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_role("button", name="Deliver", exact=True).click()
    page.get_by_role("combobox", name="Deliver as").click()
    page.get_by_role("option", name="The study itself").click()
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
