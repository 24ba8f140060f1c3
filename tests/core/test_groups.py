"""Groups of steps and presets."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.groups import check_preset, preset_of, uses
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request


def grouped(**more):
    """A ball that is bent alone, then twisted and displaced as a group."""
    made = document(
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "bend", "values": {"angle": 20}},
        {"step": "twist", "values": {"angle": 70}},
        {"step": "displace", "values": {"amount": 0.2}},
    )
    piece = made["pieces"][0]
    ids = [step["id"] for step in piece["recipe"]]
    for step in piece["recipe"][2:]:
        step["group"] = "g"
    front = [{"id": "f", "step": ids[2], "value": "values/angle", "name": "Turn"}]
    piece["groups"] = [{"id": "g", "name": "Whirl", "front": front}]
    return made | more


def applied(study: Study, operations):
    read = TypeAdapter(list[Operation]).validate_python(operations)
    return check_document(apply_edit(dict(study.document), read)[0])


def points_of(study: Study, piece="piece"):
    return Evaluator().evaluate(study, Request(piece)).mesh.points


def only_piece(study):
    return study.pieces[0]["id"]


def test_a_step_names_a_group_that_is_there():
    made = grouped()
    made["pieces"][0]["recipe"][1]["group"] = "nowhere"
    with pytest.raises(DocumentError) as raised:
        check_document(made)
    assert raised.value.problems == [
        ("/pieces/0/recipe/1/group", "there is no group 'nowhere'"),
    ]


def test_a_form_stands_in_no_group():
    made = grouped()
    made["pieces"][0]["recipe"][0]["group"] = "g"
    with pytest.raises(DocumentError, match="recipe/0/group"):
        check_document(made)


@pytest.mark.parametrize(
    "path",
    [
        "angle",
        "values/angle/0",
        "where/values/angle",
        "values/",
        "where/layers//values/x",
        "/values/a",
    ],
)
def test_a_front_names_a_value_of_a_step_or_a_layer(path):
    made = grouped()
    made["pieces"][0]["groups"][0]["front"][0]["value"] = path
    with pytest.raises(DocumentError, match="front/0/value"):
        check_document(made)


def test_groups_change_nothing_of_the_shape():
    study = check_document(grouped())
    plain = copy.deepcopy(grouped())
    for step in plain["pieces"][0]["recipe"]:
        step.pop("group", None)
    del plain["pieces"][0]["groups"]
    piece = only_piece(study)
    np.testing.assert_array_equal(points_of(study, piece), points_of(check_document(plain), piece))


def test_a_preset_does_in_another_study_what_its_group_did():
    study = check_document(grouped())
    piece = only_piece(study)
    preset = check_preset(preset_of(study, piece, "g"))
    other = check_document(
        document(
            {"step": "icosphere", "values": {"halvings": 2}},
            {"step": "bend", "values": {"angle": 20}},
        )
    )
    operations, group = uses(other, piece, preset, None)
    used = applied(other, operations)
    np.testing.assert_array_equal(points_of(used, piece), points_of(study, piece))
    made = used.piece(piece)
    assert [s.get("group") for s in made["recipe"]] == [None, None, group, group]
    assert made["groups"][0]["name"] == "Whirl"
    # What is shown first points to the copy, not to the step it was made of.
    assert made["groups"][0]["front"][0]["step"] == made["recipe"][2]["id"]


def test_two_uses_of_a_preset_are_independent():
    study = check_document(grouped())
    piece = only_piece(study)
    preset = preset_of(study, piece, "g")
    first = applied(study, uses(study, piece, preset, None)[0])
    both = applied(first, uses(first, piece, preset, None)[0])
    recipe = both.piece(piece)["recipe"]
    ids = [step["id"] for step in recipe]
    assert len(set(ids)) == len(ids) == 8
    changed = applied(
        both, [{"do": "set", "path": f"/pieces/{piece}/recipe/{ids[-2]}/values/angle", "value": 1}]
    )
    angles = [s["values"]["angle"] for s in changed.piece(piece)["recipe"] if s["step"] == "twist"]
    assert angles == [70, 70, 1]
    assert preset["steps"][0]["values"]["angle"] == 70


def test_a_preset_stands_after_the_step_that_was_named():
    study = check_document(grouped())
    piece = only_piece(study)
    form = study.piece(piece)["recipe"][0]["id"]
    operations, _ = uses(study, piece, preset_of(study, piece, "g"), form)
    kinds = [s["step"] for s in applied(study, operations).piece(piece)["recipe"]]
    assert kinds == ["icosphere", "twist", "displace", "bend", "twist", "displace"]
    with pytest.raises(ZygomorphError, match="no step 'nowhere'"):
        uses(study, piece, preset_of(study, piece, "g"), "nowhere")


def test_a_piece_that_the_other_study_lacks_is_left_open():
    made = grouped()
    made["pieces"][0]["recipe"][3] = {
        "id": "d",
        "step": "drape",
        "group": "g",
        "values": {"piece": "table", "offset": 0.1},
    }
    made["pieces"].append(
        {"id": "table", "name": "Table", "recipe": [{"id": "form", "step": "sheet"}]}
    )
    study = check_document(made)
    piece = only_piece(study)
    preset = preset_of(study, piece, "g")
    here = uses(study, piece, preset, None)[0][-1]["item"]
    assert here["values"]["piece"] == "table"
    other = check_document(document({"step": "icosphere"}))
    there = uses(other, only_piece(other), preset, None)[0][-1]["item"]
    assert there["values"] == {"piece": "", "offset": 0.1}


def test_an_empty_group_is_no_preset():
    made = grouped()
    made["pieces"][0]["groups"].append({"id": "none", "name": "Nothing"})
    study = check_document(made)
    with pytest.raises(ZygomorphError, match="holds no step"):
        preset_of(study, only_piece(study), "none")
    with pytest.raises(ZygomorphError, match="no group 'lost'"):
        preset_of(study, only_piece(study), "lost")


@pytest.mark.parametrize(
    ("change", "place"),
    [
        ({"format": "other"}, "/format"),
        ({"steps": []}, "/steps"),
        ({"steps": [{"id": "a", "step": "icosphere"}]}, "/steps/0/step"),
        ({"steps": [{"id": "a", "step": "twist"}, {"id": "a", "step": "bend"}]}, "/steps"),
        ({"front": [{"id": "f", "step": "lost", "value": "values/angle"}]}, "/front/0/step"),
        ({"extra": 1}, "/extra"),
        ({"made_on": {"form": {"id": "a", "step": "twist"}}}, "/made_on/form/step"),
    ],
)
def test_a_wrong_preset_is_refused_with_its_place(change, place):
    study = check_document(grouped())
    preset = preset_of(study, only_piece(study), "g")
    with pytest.raises(DocumentError) as raised:
        check_preset(preset | change)
    assert raised.value.problems[0][0] == place


@pytest.mark.parametrize("wrong", [None, [], "preset", 4])
def test_what_is_no_object_is_no_preset(wrong):
    with pytest.raises(DocumentError):
        check_preset(wrong)
