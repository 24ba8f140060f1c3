"""The table of elements over HTTP."""

import csv
import io

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Request

LAYER = {"id": "l", "layer": "linear"}


@pytest.fixture
def made(client, service):
    steps = [
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "twist", "where": {"layers": [LAYER]}},
    ]
    state = client.post("/api/studies", json={"document": document(*steps)}).json
    mesh = service.evaluator.evaluate(Study(state["document"]), Request("p", 3.0)).mesh
    return f"/api/studies/{state['id']}/pieces/p", mesh


def test_a_page_has_rows_in_order_and_the_figures_of_all(client, made):
    address, mesh = made
    found = client.get(f"{address}/table?frame=3&sort=y&descending=true&first=10&count=5").json
    assert (found["total"], found["matching"], len(found["rows"])) == (162, 162, 5)
    order = np.argsort(-mesh.points[:, 1], kind="stable")
    assert [r["number"] for r in found["rows"]] == order[10:15].tolist()
    assert np.allclose(found["places"], mesh.points[order[10:15]])
    named = {c["key"]: c for c in found["columns"]}
    assert named["x"]["least"] == pytest.approx(float(mesh.points[:, 0].min()))
    assert named["moved"]["most"] > 0
    assert "mask" not in named


def test_filters_and_the_mask_of_a_step(client, made):
    address, _ = made
    query = "frame=3&mask_of=s1&filter=y~0~&filter=mask~0.5~1"
    found = client.get(f"{address}/table?{query}&count=500").json
    key = [c["key"] for c in found["columns"]].index("mask")
    assert 0 < found["matching"] < 162
    assert all(r["values"][1] >= 0 and r["values"][key] >= 0.5 for r in found["rows"])
    text = client.get(f"{address}/table.csv?{query}")
    assert text.mimetype == "text/csv"
    assert "piece-points.csv" in text.headers["Content-Disposition"]
    rows = list(csv.reader(io.StringIO(text.text)))
    assert [int(r[0]) for r in rows[1:]] == [r["number"] for r in found["rows"]]


def test_a_column_is_given_at_the_points_as_shares_of_its_range(client, made):
    address, mesh = made
    data = client.get(f"{address}/heat?frame=3&column=y").data
    low, high = np.frombuffer(data[:8], "<f4")
    shares = np.frombuffer(data[8:], np.uint8)
    assert len(shares) == len(mesh.points)
    assert low + shares / 255 * (high - low) == pytest.approx(mesh.points[:, 1], abs=0.005)
    faces = client.get(f"{address}/heat?frame=3&column=area&domain=face").data
    assert len(faces) == 8 + len(mesh.points)


def test_numbers_come_with_the_places_of_their_elements(client, made):
    address, mesh = made
    data = client.get(f"{address}/numbers?frame=3&column=y").data
    count, normals = np.frombuffer(data[:8], "<u4")
    assert (count, normals) == (len(mesh.points), 1)
    floats = np.frombuffer(data[8:], "<f4")
    assert floats[:count] == pytest.approx(mesh.points[:, 1])
    assert floats[count : 4 * count].reshape(-1, 3) == pytest.approx(mesh.points)
    length = np.linalg.norm(floats[4 * count :].reshape(-1, 3), axis=1)
    assert length == pytest.approx(np.ones(count), abs=1e-4)


def test_of_many_numbers_a_fair_choice_is_given_that_is_always_the_same(client, made):
    address, mesh = made
    data = client.get(f"{address}/numbers?frame=3&column=y&most=50").data
    assert np.frombuffer(data[:4], "<u4")[0] == 50
    assert client.get(f"{address}/numbers?frame=3&column=y&most=50").data == data
    places = np.frombuffer(data[208:808], "<f4").reshape(-1, 3)
    assert len(np.unique(places, axis=0)) == 50
    # From everywhere, not only from where the points begin.
    assert np.ptp(places[:, 0]) > 0.7 * np.ptp(mesh.points[:, 0])
    high = client.get(f"{address}/numbers?frame=3&column=y&filter=y~0~").data
    assert np.frombuffer(high[8 : 8 + 4 * 20], "<f4").min() >= 0


@pytest.mark.parametrize(
    ("query", "status", "words"),
    [
        ("table?sort=w", 422, "no column 'w'"),
        ("table?filter=x~a~", 422, "not a number"),
        ("table?domain=corner", 422, "domain"),
        ("table?count=501", 422, "count"),
        ("heat?column=w", 422, "no column 'w'"),
        ("heat", 422, "column"),
        ("numbers?column=w", 422, "no column 'w'"),
        ("numbers?column=y&most=0", 422, "most"),
        ("table.csv?sort=w", 422, "no column 'w'"),
    ],
)
def test_what_is_wrong_is_said(client, made, query, status, words):
    answer = client.get(f"{made[0]}/{query}")
    assert answer.status_code == status
    assert words in str(answer.json["error"])
