"""The table of elements, and what of it the stage shows."""

import csv

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import document
from tests.web.actions import stored_study
from tests.web.conftest import differs, settle, settled, wait_until_changed

SHEET = {"step": "sheet", "values": {"columns": 20, "rows": 10}}
BUMP = {"step": "formula", "values": {"offset": "0.3 * x"}}


def test_rows_are_sorted_filtered_counted_and_taken_away(page: Page, tmp_path):
    stored_study(page, document(SHEET, BUMP))
    page.get_by_role("button", name="Table", exact=True).click()
    table = page.get_by_role("region", name="Table")
    expect(table.get_by_role("status")).to_have_text("231 points")
    cells = table.get_by_role("table").locator("tbody tr")
    expect(cells).to_have_count(50)
    expect(table).to_contain_text("1 to 50 of 231")
    table.get_by_role("button", name="y (m)").click()
    table.get_by_role("button", name="y (m)").click()
    expect(cells.first.locator("td").nth(2)).to_have_text("0.3000")
    table.get_by_role("button", name="Filter x").click()
    low = page.get_by_label("x, from")
    low.fill("zero")
    expect(page.get_by_text("not a number")).to_be_visible()
    low.fill("0.5")
    page.keyboard.press("Escape")
    expect(table.get_by_role("status")).to_have_text("66 of 231 pass the filters")
    table.get_by_role("button", name="Statistics").click()
    expect(table.locator("tfoot")).to_contain_text("Median")
    expect(table.locator("tfoot tr").first.locator("td").nth(1)).to_have_text("0.5000")
    with page.expect_download() as taken:
        table.get_by_role("link", name="CSV").click()
    path = tmp_path / "points.csv"
    taken.value.save_as(path)
    rows = list(csv.reader(path.open()))
    assert len(rows) == 67
    assert min(float(row[1]) for row in rows[1:]) >= 0.5
    table.get_by_role("button", name="Faces").click()
    expect(table.get_by_role("status")).to_have_text("200 faces")
    expect(table).to_contain_text("area (m²)")
    table.get_by_role("button", name="Shards").click()
    expect(table).to_contain_text("There are no shards here")
    table.get_by_role("button", name="Close the table").click()
    expect(table).to_have_count(0)


@pytest.mark.thorough
@pytest.mark.sharp
def test_a_column_is_shown_on_the_stage(page: Page):
    stored_study(page, document(SHEET, BUMP))
    page.get_by_role("button", name="Table", exact=True).click()
    table = page.get_by_role("region", name="Table")
    expect(table.get_by_role("status")).to_have_text("231 points")
    plain = settled(page)
    table.get_by_label("Column on the stage").click()
    page.get_by_role("option", name="y", exact=True).click()
    expect(page.get_by_role("img", name="Heat from -0.3000 to 0.3000")).to_be_visible()
    heated = wait_until_changed(page, plain)
    # Bright where it is high: to the right.
    settle(page)
    sums = settled(page).sum(axis=2)
    shown = np.abs(heated - plain).max(axis=2) > 24
    # The legend below is only a few rows high.
    columns = np.flatnonzero(shown.sum(axis=0) > 30)
    left, right = (sums[:, k][shown[:, k]].mean() for k in columns[[0, -1]])
    assert right > left + 15
    table.get_by_label("How the stage shows it").click()
    page.get_by_role("option", name="as numbers").click()
    written = page.locator("canvas[data-numbers]")
    expect(written).to_have_count(1)
    settle(page)
    # As many as there is room for, none over another.
    assert 15 < int(written.get_attribute("data-numbers")) <= 231
    expect(page.get_by_role("img", name="Heat from")).to_have_count(0)
    settle(page)
    table.get_by_label("Column on the stage").click()
    page.get_by_role("option", name="nothing").click()
    expect(written).to_have_count(0)
    settle(page)
    assert differs(settled(page), plain) < 0.01
