"""The table of elements, held against NumPy, plain Python and Python's own csv and statistics."""

import csv
import io
import statistics as plain

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from tests.conftest import document
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.csv import as_csv
from zygomorph.core.inspect.table import Column, Filter, Table, select, statistics, table_of


def evaluated(*steps):
    return Evaluator().evaluate(check_document(document(*steps)), Request("p", 0.0)).mesh


NUMBERS = arrays.arrays(
    np.float32,
    st.integers(0, 40),
    elements=st.floats(-5, 5, width=32).map(lambda v: float(round(v))),
)


def one_column(values) -> Table:
    return Table("point", {"v": Column("v", "", values)}, np.zeros((len(values), 3), np.float32))


@given(NUMBERS, st.booleans(), st.floats(-4, 0), st.floats(0, 4))
@settings(max_examples=60, deadline=None)
def test_rows_are_chosen_and_ordered_as_plain_python_does(values, descending, low, high):
    found = select(one_column(values), [Filter("v", low, high)], "v", descending)
    kept = [k for k, v in enumerate(values) if low <= v <= high]
    expected = sorted(kept, key=lambda k: -values[k] if descending else values[k])
    assert found.tolist() == expected


@given(NUMBERS)
@settings(max_examples=40, deadline=None)
def test_figures_are_those_of_pythons_statistics(values):
    found = statistics(values)
    assert found["count"] == len(values)
    if len(values) == 0:
        assert found["mean"] is None
        return
    exact = values.astype(float).tolist()
    assert found["mean"] == pytest.approx(plain.fmean(exact))
    assert found["median"] == pytest.approx(plain.median(exact))
    assert found["deviation"] == pytest.approx(plain.pstdev(exact), abs=1e-9)
    assert (found["least"], found["most"]) == (min(exact), max(exact))


def test_points_tell_place_normal_and_way_from_rest():
    mesh = evaluated(
        {"step": "icosphere", "values": {"radius": 2.0, "halvings": 2}},
        {"step": "inflate", "values": {"amount": 0.5}},
    )
    table = table_of(mesh, "point", np.full(len(mesh.points), 0.25, np.float32))
    columns = {name: c.values for name, c in table.columns.items()}
    assert np.allclose(columns["moved"], 0.5, atol=1e-5)
    radius = np.sqrt(columns["x"] ** 2 + columns["y"] ** 2 + columns["z"] ** 2)
    assert np.allclose(radius, 2.5, atol=1e-3)
    assert np.allclose(columns["nx"], columns["x"] / 2.5, atol=2e-2)
    assert (columns["mask"] == 0.25).all()
    assert table.columns["x"].unit == "m"


def test_faces_tell_area_sides_and_shard():
    mesh = evaluated({"step": "tiling", "values": {"columns": 3, "rows": 2}})
    table = table_of(mesh, "face")
    assert len(table) == mesh.topology.face_count
    assert set(table.columns["sides"].values.tolist()) == {6}
    area = table.columns["area"].values
    assert np.allclose(area, area[0], rtol=1e-4)
    assert np.allclose(np.abs(table.columns["ny"].values), 1, atol=1e-5)
    shards = table_of(mesh, "shard")
    assert len(shards) == 6
    assert np.allclose(shards.columns["area"].values, area, rtol=1e-4)
    assert np.allclose(shards.places, table.places, atol=1e-5)


def test_what_steps_store_is_a_column():
    mesh = evaluated({"step": "sheet", "values": {"columns": 2, "rows": 2}})
    marked = mesh.with_attribute("point", "speed", np.arange(9, dtype=np.float32))
    marked = marked.with_attribute("point", "way", np.ones((9, 3), np.float32))
    columns = table_of(marked, "point").columns
    assert columns["@speed"].values.tolist() == list(range(9))
    assert {"@way.x", "@way.y", "@way.z"} <= set(columns)
    assert "@rest" not in columns and "@rest.x" not in columns


def test_curves_and_loose_points_have_no_faces_and_no_shards():
    mesh = evaluated({"step": "circle", "values": {"count": 5}})
    assert len(table_of(mesh, "point")) == 5
    assert "nx" not in table_of(mesh, "point").columns
    assert len(table_of(mesh, "face")) == 0
    assert len(table_of(mesh, "shard")) == 0


def test_text_gives_the_same_numbers_again():
    mesh = evaluated({"step": "icosphere", "values": {"halvings": 1}})
    table = table_of(mesh, "point")
    rows = select(table, [Filter("y", 0.0, None)], "y", True)
    read = list(csv.reader(io.StringIO("".join(as_csv(table, rows)))))
    assert read[0][:4] == ["number", "x (m)", "y (m)", "z (m)"]
    assert [int(r[0]) for r in read[1:]] == rows.tolist()
    again = np.array([r[1:4] for r in read[1:]], np.float32)
    assert np.array_equal(again, mesh.points[rows])


def test_what_is_not_there_is_named():
    table = one_column(np.zeros(3, np.float32))
    with pytest.raises(ZygomorphError, match="no column 'w'") as caught:
        select(table, [Filter("w", 0, 1)])
    assert "v" in caught.value.hint
    with pytest.raises(ZygomorphError, match="no column 'u'"):
        select(table, [], "u")
    with pytest.raises(ZygomorphError, match="no table of 'corner'"):
        table_of(evaluated({"step": "box"}), "corner")
