"""The steps that break and repeat, on meshes that were brought in and have holes."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import make_mesh, uniform_faces

FRONT = {
    "layers": [
        {
            "id": "l",
            "layer": "linear",
            "profile": "linear",
            "values": {"direction": [1, 0, 0], "position": [0, 0, 0], "width": 0.3},
        }
    ]
}
SOLIDS = [
    {"step": "split"},
    {"step": "extrude", "values": {"depth": -0.02, "back": True}},
    {"step": "spread", "values": {"amount": 0.1, "of": "shards"}, "where": FRONT},
    {"step": "turn_each", "values": {"size": 30, "turn": 50, "of": "shards"}, "where": FRONT},
]
RECIPES = {
    "solids": SOLIDS,
    "reduced": [{"step": "reduce", "values": {"share": 8.0}}, {"step": "shade"}],
    "last": [{"step": "reduce", "values": {"share": 0.0}}],
    "cut": [{"step": "remove", "values": {"way": "contour"}, "where": FRONT}],
    "cage": [{"step": "reduce", "values": {"share": 10.0}}, {"step": "struts"}],
    "dual": [{"step": "dual"}, {"step": "bevel", "values": {"width": 0.01}}],
    "round": [{"step": "subdivide", "values": {"way": "loop", "levels": 1, "crease": 50.0}}],
    "parts": [{"step": "split", "values": {"way": "sharp"}}, {"step": "spread"}],
}


def brought_in(points, faces):
    points = points - (points.min(axis=0) + points.max(axis=0)) / 2
    return make_mesh(points / np.ptp(points, axis=0).max(), *uniform_faces(faces))


@pytest.mark.parametrize("name", ["bunny", "teapot"])
@pytest.mark.parametrize("recipe", RECIPES)
def test_recipes_run_on_open_meshes_too(request, name, recipe):
    mesh = brought_in(*request.getfixturevalue(name))
    evaluator = Evaluator(asset=lambda digest: mesh)
    form = {"step": "imported", "values": {"mesh": "0" * 64}}
    before = evaluator.evaluate(study(form), Request("p")).mesh
    after = evaluator.evaluate(study(form, *RECIPES[recipe]), Request("p", 3.0)).mesh
    assert np.isfinite(after.points).all()
    assert after.topology.face_count > 0
    size = np.ptp(before.points, axis=0).max()
    assert np.ptp(after.points, axis=0).max() < 1.5 * size
    if recipe in ("solids", "cage"):
        assert after.topology.closed
    if recipe == "last":
        assert after.topology.face_count == 1
    if recipe == "cut":
        assert after.points[:, 0].max() < 0.02 * size
