"""Edits and their inverses."""

import copy

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.document.edits import (
    EditError,
    Operation,
    apply_edit,
    clash,
    touched_paths,
    value_at,
)

OPERATIONS = TypeAdapter(list[Operation])
BASE = "/pieces/p/recipe"


def sample():
    steps = [{"step": "icosphere"}, {"step": "twist"}, {"step": "bend"}, {"step": "taper"}]
    return document(*steps)


def edit(made, *operations):
    return apply_edit(made, OPERATIONS.validate_python(list(operations)))


def order(made):
    return [s["id"] for s in made["pieces"][0]["recipe"]]


def test_set_insert_move_remove():
    made, _ = edit(
        sample(),
        {"do": "set", "path": f"{BASE}/s1/values/angle", "value": 12},
        {"do": "insert", "path": BASE, "item": {"id": "n", "step": "bend"}, "after": "s1"},
        {"do": "move", "path": f"{BASE}/s3", "after": "s0"},
        {"do": "remove", "path": f"{BASE}/s2"},
    )
    assert order(made) == ["s0", "s3", "s1", "n"]
    assert value_at(made, f"{BASE}/s1/values/angle") == 12


ids = st.sampled_from(["s1", "s2", "s3"])
operations = st.one_of(
    st.builds(
        lambda i, v: {"do": "set", "path": f"{BASE}/{i}/values/angle", "value": v},
        ids,
        st.integers(),
    ),
    st.builds(
        lambda i, a: {"do": "move", "path": f"{BASE}/{i}", "after": a},
        ids,
        st.sampled_from(["s0", "s1", "s2", "s3"]),
    ),
    st.builds(lambda i: {"do": "remove", "path": f"{BASE}/{i}"}, ids),
    st.builds(
        lambda n, a: {
            "do": "insert",
            "path": BASE,
            "item": {"id": f"n{n}", "step": "bend"},
            "after": a,
        },
        st.integers(0, 9),
        ids,
    ),
)


@given(st.lists(operations, max_size=6))
def test_the_inverse_takes_everything_back(wanted):
    made = sample()
    before = copy.deepcopy(made)
    inverses = []
    now = made
    for operation in wanted:
        try:
            now, inverse = edit(now, operation)
        except EditError:
            continue
        inverses.append(inverse)
    for inverse in reversed(inverses):
        now, _ = edit(now, *inverse)
    for step in now["pieces"][0]["recipe"]:
        if not step.get("values"):
            step.pop("values", None)
    assert now == before
    assert made == before


@pytest.mark.parametrize(
    "operation",
    [
        {"do": "set", "path": "/pieces/q/name", "value": 1},
        {"do": "remove", "path": f"{BASE}/s9"},
        {"do": "move", "path": f"{BASE}/s1", "after": "s9"},
        {"do": "insert", "path": "/name", "item": {"id": "x"}},
        {"do": "set", "path": "/name/deeper", "value": 1},
    ],
)
def test_a_place_that_is_not_there_is_an_error_and_changes_nothing(operation):
    made = sample()
    with pytest.raises(EditError):
        edit(made, operation)
    assert made == sample()


def test_edits_clash_only_where_one_path_holds_the_other():
    assert clash(["/a/b"], ["/a/c", "/ab"]) is None
    assert clash(["/a/b"], ["/a/b"]) == "/a/b"
    assert clash(["/a"], ["/a/b/c"]) == "/a/b/c"
    assert clash(["/a/b/c"], ["/a/b"]) == "/a/b/c"


def test_an_insertion_touches_the_new_element_only():
    inserted = OPERATIONS.validate_python(
        [{"do": "insert", "path": BASE, "item": {"id": "n"}, "after": "s1"}]
    )
    assert touched_paths(inserted) == [f"{BASE}/n"]
    assert clash(touched_paths(inserted), [f"{BASE}/s1/values/angle"]) is None


def test_a_signal_in_a_vector_is_found_by_its_number():
    made = document({"step": "box"}, place={"move": [{"signal": "cycle"}, 0, 0]})
    path = "/pieces/p/place/move/0"
    after, inverse = edit(made, {"do": "set", "path": path, "value": {"signal": "drift"}})
    assert value_at(after, path) == {"signal": "drift"}
    assert edit(after, *inverse)[0] == made
    # What has an id is not.
    with pytest.raises(EditError):
        value_at(made, "/pieces/0")
