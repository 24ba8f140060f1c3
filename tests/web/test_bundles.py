"""Studies out of the gallery with all they use, and in again by drag."""

import io
import re
import zipfile

from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import drop_data, new_study, stored_study

BALL = {"step": "icosphere", "values": {"halvings": 2}}


def test_a_study_is_saved_from_the_gallery_and_comes_back_by_drag(page: Page, tmp_path):
    stored_study(page, document(BALL) | {"name": "To be sent"})
    page.goto("/")
    card = page.get_by_role("article").filter(has_text="To be sent")
    card.hover()
    with page.expect_download() as download:
        card.get_by_role("link", name="Save To be sent with all it uses").click()
    path = tmp_path / "sent.zip"
    download.value.save_as(path)
    assert download.value.suggested_filename == "to-be-sent.zip"
    drop_data(page, {"sent.zip": path.read_bytes()})
    # One alone is opened.
    expect(page).to_have_url(re.compile("/study/"))
    expect(page.get_by_role("textbox", name="Name of the study")).to_have_value("To be sent")


def test_of_a_zip_of_studies_each_is_told_of_and_a_wrong_one_says_why(page: Page):
    stored_study(page, document(BALL) | {"name": "One of many"})
    address = page.url.replace("/study/", "/api/studies/")
    study = page.request.get(f"{address}/bundle").body()
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("one.zip", study)
        archive.writestr("torn.zip", study[: len(study) // 2])
    drop_data(page, {"both.zip": out.getvalue()})
    told = page.get_by_role("alert")
    expect(told).to_contain_text("is in the gallery")
    expect(told).to_contain_text("torn.zip: This is no bundle that can be read")
    # On an open study too, which stays open.
    new_study(page)
    drop_data(page, {"one.zip": study})
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_role("region", name="Recipe")).to_be_visible()
