"""The examples of docs/adding-an-entry.md: each is an entry as it stands there, in one file."""

import re
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.entries import definitions, recipe_definitions

TEXT = (Path(__file__).parents[2] / "docs" / "adding-an-entry.md").read_text()
BOX = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}


def examples() -> dict[str, Definition]:
    found = {}
    for block in re.findall(r"```python\n(.*?)```", TEXT, re.S):
        names: dict = {}
        exec(block, names)
        found[names["DEFINITION"].key] = names["DEFINITION"]
    return found


EXAMPLES = examples()


@pytest.fixture
def found(request):
    """The geometry that an example makes of a cube."""
    key = request.param
    kept = [dict(entries) for entries in (definitions("step"), recipe_definitions())]
    for entries in (definitions("step"), recipe_definitions()):
        entries[key] = EXAMPLES[key]
    document = study(BOX).document
    piece = document["pieces"][0]
    recipe = [*piece["recipe"], {"id": "e", "step": key, "values": {}}]
    whole = Study({**document, "pieces": [{**piece, "recipe": recipe}]})
    yield Evaluator().evaluate(whole, Request("p")).geometry
    for entries, before in zip((definitions("step"), recipe_definitions()), kept, strict=True):
        entries.clear()
        entries.update(before)


def test_there_is_an_example_of_each_sort_that_is_a_step():
    assert {type(d).__name__ for d in EXAMPLES.values()} == {
        "DeformDefinition",
        "TopologyDefinition",
        "CopiesDefinition",
    }


@pytest.mark.parametrize("found", ["inflate"], indirect=True)
def test_the_deformer_moves_every_point_along_its_normal(found):
    assert np.linalg.norm(found.mesh.points, axis=1) == pytest.approx(np.sqrt(3) + 0.1, abs=1e-5)


@pytest.mark.parametrize("found", ["split"], indirect=True)
def test_a_split_cube_has_24_points_and_edges_and_nothing_has_moved(found):
    mesh = found.mesh
    assert (len(mesh.points), len(mesh.topology.edges), mesh.topology.face_count) == (24, 24, 6)
    assert np.allclose(np.abs(mesh.points), 1)
    # Points that were one have one id.
    assert len(np.unique(mesh.ids("point"))) == 8
    assert mesh.get("corner", "uv").shape == (24, 2)


@pytest.mark.parametrize("found", ["stack"], indirect=True)
def test_a_stack_stands_one_on_the_other(found):
    assert found.copies.centres[:, 1].tolist() == [0, 2, 4, 6, 8]
    assert found.point_count == 40
