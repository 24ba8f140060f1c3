"""The document: what is refused, and where the error points."""

import json
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import ROOT, document, surface
from zygomorph.core.document.schema import VERSION, study_model
from zygomorph.core.document.study import check_document, parse_study
from zygomorph.core.errors import DocumentError
from zygomorph.core.registry import describe_catalogue
from zygomorph.core.values.entries import recipe_definitions

BALL = {"step": "icosphere"}


def problems(made) -> dict[str, str]:
    with pytest.raises(DocumentError) as caught:
        check_document(made) if isinstance(made, dict) else parse_study(made)
    return dict(caught.value.problems)


def with_values(**values):
    return document({"step": "icosphere", "values": values})


@pytest.mark.parametrize(
    ("made", "path", "message"),
    [
        (with_values(radios=1), "/pieces/0/recipe/0/values/radios", "not known"),
        (with_values(radius="1"), "/pieces/0/recipe/0/values/radius", "number"),
        (with_values(radius=-1), "/pieces/0/recipe/0/values/radius", "greater than"),
        (with_values(halvings=99), "/pieces/0/recipe/0/values/halvings", "less than"),
        (with_values(halvings=2.5), "/pieces/0/recipe/0/values/halvings", "integer"),
        (with_values(radius={"signal": "cycel"}), "/pieces/0/recipe/0/values/radius/signal", "did you mean 'cycle'"),
        (with_values(radius={"signal": "keys"}), "/pieces/0/recipe/0/values/radius/keys", "required"),
        (with_values(radius={"signal": "cycle", "cycles": -1}), "/pieces/0/recipe/0/values/radius/cycles", "greater"),
        (document({"step": "icosfere"}), "/pieces/0/recipe/0/step", "did you mean 'icosphere'"),
        (document({"step": "twist"}), "/pieces/0/recipe/0/step", "begins with a form"),
        (document(BALL, BALL), "/pieces/0/recipe/1/step", "only stand first"),
        (document(BALL) | {"colour": 1}, "/colour", "not known"),
        (document(BALL) | {"version": 99}, "/version", "99"),
        (document(BALL) | {"format": "other"}, "/format", "zygomorph-study"),
        (document(BALL) | {"loop": {"frames": 0}}, "/loop/frames", "greater"),
        (document(BALL, looks=surface(gradient="puce")), "/pieces/0/looks/0/values/gradient", "not known"),
        (b'{"format": ', "", "line 1, column"),
        (b"\xff\xff{}", "", "UTF-8"),
        (b"[]", "", "JSON object"),
        (b'{"a": NaN}', "", "NaN is not a number"),
        (b"[" * 100_000, "", "nested too deeply"),
    ],
)  # fmt: skip
def test_errors_name_their_path(made, path, message):
    found = problems(made)
    assert path in found
    assert message in found[path]


def test_ids_are_used_once():
    made = document(BALL, {"step": "twist"})
    made["pieces"][0]["recipe"][1]["id"] = "s0"
    assert "used twice" in problems(made)["/pieces/0/recipe/1/id"]


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(),
        lambda x: st.lists(x) | st.dictionaries(st.text(), x),
    )
)
def test_any_json_is_a_study_or_a_clear_error(value):
    for made in (value, {**document(BALL), "pieces": value}, with_values(radius=value)):
        try:
            check_document(made)
        except DocumentError as error:
            assert error.problems


def test_the_demo_studies_are_valid():
    for path in sorted((ROOT / "examples").glob("*.json")):
        assert parse_study(path.read_bytes()).name


def test_the_schema_tells_of_every_step():
    text = json.dumps(study_model().model_json_schema())
    for key in recipe_definitions():
        assert f'"const": "{key}"' in text


SORTS = ("forms", "steps", "signals", "looks")


def test_the_catalogue_describes_every_value():
    described = describe_catalogue()
    library = ROOT / "zygomorph" / "core" / "library"
    for sort, folder in ({"layers": "masks"} | {k: k for k in SORTS}).items():
        folders = [folder, "systems"] if folder == "steps" else [folder]
        every = [path for name in folders for path in (library / name).glob("*.py")]
        files = [path for path in every if path.stem != "__init__"]
        declared = {re.search(r'^    key="(.+)",$', f.read_text(), re.M)[1] for f in files}
        assert declared == {entry["key"] for entry in described[sort]}, sort
    for sort in ("forms", "steps", "layers", "signals"):
        for entry in described[sort]:
            for name, value in entry["values"].items():
                assert value["help"].endswith("."), (entry["key"], name)
                assert value["label"]
    json.dumps(described)


def test_sentences_read_every_value_they_name():
    from zygomorph.core.document.loop import Loop
    from zygomorph.core.inspect.sentences import sentence

    for definition in recipe_definitions().values():
        said = sentence(definition, {}, Loop())
        assert "{" not in said
        assert said[0].isupper()


def test_a_document_of_version_1_is_brought_up_to_date():
    old = document(BALL, {"step": "displace", "values": {"noise": "ridged", "amount": 0.2}})
    old["version"] = 1
    old["pieces"][0]["recipe"][1]["where"] = {
        "layers": [{"id": "l", "layer": "noise", "values": {"noise": "ridged"}}]
    }
    new = check_document(old).document
    step = new["pieces"][0]["recipe"][1]
    assert new["version"] == VERSION
    assert step["values"] == {"noise": "gradient", "fold": "ridged", "amount": 0.2}
    assert step["where"]["layers"][0]["values"] == {"noise": "gradient", "fold": "ridged"}
    assert old["pieces"][0]["recipe"][1]["values"]["noise"] == "ridged"


def test_a_damaged_document_of_version_1_is_still_explained():
    for pieces in (None, [3], [{"recipe": [{"where": 5}]}], [{"recipe": 7}]):
        with pytest.raises(DocumentError):
            check_document(
                {"format": "zygomorph-study", "version": 1, "name": "x", "pieces": pieces}
            )
