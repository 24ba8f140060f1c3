"""Undo where another window has changed the same, and edits of lists without ids."""

import pytest

from tests.conftest import document
from zygomorph.store.database import open_engine
from zygomorph.store.studies import OPERATIONS, EditClash, Studies

ANGLE, LOW = (f"/pieces/p/recipe/s1/values/{name}" for name in ("angle", "low"))
KEYS = {"signal": "keys", "keys": [{"frame": f, "value": float(f)} for f in (0, 10, 20)]}


@pytest.fixture
def studies(tmp_path):
    return Studies(open_engine(tmp_path / "studies.sqlite3"))


@pytest.fixture
def study(studies):
    steps = [{"step": "icosphere"}, {"step": "twist", "values": {"angle": 1.0, "low": -0.5}}]
    return studies.create(document(*steps, {"step": "bend", "values": {"angle": KEYS}})).id


def edit(studies, study, window, *operations, on=None):
    now = studies.get(study).revision if on is None else on
    return studies.edit(study, OPERATIONS.validate_python(list(operations)), now, window, "Edit")


def put(path, value):
    return {"do": "set", "path": path, "value": value}


def values(studies, study, step=1):
    return studies.document(study)["pieces"][0]["recipe"][step]["values"]


@pytest.fixture
def clashed(studies, study):
    """A sets low, then the angle; B sets the angle."""
    edit(studies, study, "A", put(LOW, -0.25))
    edit(studies, study, "A", put(ANGLE, 20.0))
    edit(studies, study, "B", put(ANGLE, 30.0))
    with pytest.raises(EditClash):
        studies.undo(study, "A")
    return study


def test_what_the_other_window_took_back_is_in_nobodys_way(studies, clashed):
    studies.undo(clashed, "B")
    studies.undo(clashed, "A")
    assert values(studies, clashed)["angle"] == 1.0
    studies.undo(clashed, "A")
    assert values(studies, clashed)["low"] == -0.5


def test_what_it_brought_back_is_again(studies, clashed):
    studies.undo(clashed, "B")
    studies.redo(clashed, "B")
    with pytest.raises(EditClash):
        studies.undo(clashed, "A")


def test_a_clashing_edit_is_skipped_and_older_ones_are_in_reach(studies, clashed):
    stored = studies.undo(clashed, "A", "skip")
    assert values(studies, clashed)["angle"] == 30.0
    assert stored.undo_label == "Edit"
    studies.undo(clashed, "A")
    assert values(studies, clashed) == {"angle": 30.0, "low": -0.5}


def test_a_clashing_edit_is_taken_back_over_the_other(studies, clashed):
    studies.undo(clashed, "A", "over")
    assert values(studies, clashed)["angle"] == 1.0
    # The other window's own undo clashes now, and can go over in its turn.
    with pytest.raises(EditClash):
        studies.undo(clashed, "B")
    studies.undo(clashed, "B", "over")
    assert values(studies, clashed)["angle"] == 20.0


def test_a_removed_step_comes_back_though_the_one_before_it_is_gone(studies, study):
    edit(studies, study, "A", {"do": "remove", "path": "/pieces/p/recipe/s2"})
    edit(studies, study, "B", {"do": "remove", "path": "/pieces/p/recipe/s1"})
    studies.undo(study, "A")
    assert [s["id"] for s in studies.document(study)["pieces"][0]["recipe"]] == ["s0", "s2"]


def test_what_has_lost_its_place_can_be_skipped(studies, study):
    edit(studies, study, "A", put(LOW, -0.25))
    edit(studies, study, "B", {"do": "remove", "path": "/pieces/p/recipe/s1"})
    with pytest.raises(EditClash):
        studies.undo(study, "A")
    with pytest.raises(EditClash):
        studies.undo(study, "A", "over")
    assert studies.undo(study, "A", "skip").undo_label is None


def test_an_edit_by_number_does_not_reach_another_key(studies, study):
    # A removes the first key; B, who has not seen it, means the second and would get the third.
    at = "/pieces/p/recipe/s2/values/angle/keys"
    seen = studies.get(study).revision
    edit(studies, study, "A", {"do": "remove", "path": f"{at}/0"})
    with pytest.raises(EditClash):
        edit(studies, study, "B", put(f"{at}/1/value", 99.0), on=seen)
    assert [k["value"] for k in values(studies, study, 2)["angle"]["keys"]] == [10.0, 20.0]


def test_components_of_a_vector_still_merge(studies, study):
    at = "/pieces/p/recipe/s1/values/centre"
    edit(studies, study, "A", put(at, [0.0, 0.0, 0.0]))
    seen = studies.get(study).revision
    edit(studies, study, "A", put(f"{at}/0", 1.0))
    edit(studies, study, "B", put(f"{at}/2", 2.0), on=seen)
    assert values(studies, study)["centre"] == [1.0, 0.0, 2.0]
