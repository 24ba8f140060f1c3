"""Of loose points some are left out before the work, where that changes nothing for the others."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document, resolved, study
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context, Other
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.decimation import left_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import ELEMENT_ID, loose_points
from zygomorph.core.values.entries import definitions

CLOTH = {"step": "cloth", "values": {"columns": 60, "rows": 40}}
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}
PUSH = {"step": "displace", "values": {"along": "vector", "travel": SAW}}
FRONT = {"layers": [{"id": "l", "layer": "linear", "values": {"width": 1.0}}], "store": "edge"}
POINTWISE = [d for d in definitions("step").values() if d.pointwise]
POINTWISE += [d for d in definitions("layer").values() if d.reach == "pointwise"]
CLOUD = np.random.default_rng(2).normal(size=(400, 3)).astype(np.float32)


@pytest.mark.parametrize("definition", POINTWISE, ids=lambda d: d.key)
def test_what_is_declared_pointwise_is(definition):
    mesh = loose_points(CLOUD).with_attribute("point", "mask:edge", CLOUD[:, 0].copy())
    values = {"stored": {"name": "edge"}, "let_go": {"of": "points"}}.get(definition.key, {})
    given_values = resolved(definition, **values)
    chosen = np.arange(0, len(CLOUD), 7)
    few = loose_points(CLOUD[chosen]).with_attribute("point", "mask:edge", CLOUD[chosen, 0].copy())
    few = few.with_attribute("point", ELEMENT_ID, chosen)

    other = Other("Ball", Geometry.of(form("icosphere", halvings=2)), np.eye(4), "ball")
    context = Context(other=lambda _: other)

    def run(of, part):
        if definition.sort == "layer":
            return definition.apply(of, given_values, context)
        weights = np.linspace(0, 1, len(CLOUD), dtype=np.float32)[part]
        return definition.apply(of, given_values, np.ascontiguousarray(weights), context).points

    whole = run(mesh, slice(None))
    assert np.allclose(run(few, chosen), whole[chosen], atol=1e-6)


def evaluated(recipe, stride=1, evaluator=None, frame=3.0, mask_of=None):
    request = Request("p", frame, stride=stride, mask_of=mask_of)
    return (evaluator or Evaluator()).evaluate(study(*recipe), request)


@given(st.integers(2, 50), st.floats(0, 20))
def test_thin_frames_are_one_of_every_so_many_points_of_the_whole(stride, frame):
    twist = {"step": "twist", "values": {"angle": SAW}, "where": FRONT}
    recipe = (CLOTH, PUSH, twist)
    whole = evaluated(recipe, frame=frame, mask_of="s2")
    thin = evaluated(recipe, stride, frame=frame, mask_of="s2")
    left = left_of(2400, stride)
    assert np.allclose(thin.mesh.points, whole.mesh.points[left], atol=1e-6)
    assert np.allclose(thin.weights, whole.weights[left], atol=1e-6)
    stored = "mask:edge"
    assert np.allclose(
        thin.mesh.get("point", stored), whole.mesh.get("point", stored)[left], atol=1e-6
    )
    assert (thin.whole, [s.points for s in thin.steps]) == (2400, [2400] * 3)


@pytest.mark.parametrize(
    "together",
    [
        {"step": "formula", "values": {"offset": "0.1 * q"}},
        {"step": "displace", "values": {}, "where": {"layers": [{"id": "l", "layer": "ball"}]}},
    ],
    ids=["formula", "alone"],
)
def test_what_counts_points_sees_all_of_them(together):
    recipe = (CLOTH, together, PUSH)
    whole, thin = evaluated(recipe), evaluated(recipe, 9)
    assert np.allclose(thin.mesh.points, whole.mesh.points[left_of(2400, 9)], atol=1e-6)
    assert thin.whole == len(whole.mesh.points)


def test_faces_and_curves_are_never_thinned():
    for kind in ("sheet", "helix"):
        whole = evaluated(({"step": kind}, PUSH))
        thin = evaluated(({"step": kind}, PUSH), 9)
        assert np.array_equal(thin.mesh.points, whole.mesh.points)


def test_whole_and_thin_frames_do_not_take_each_others_place_in_the_cache():
    evaluator = Evaluator()
    for stride in (1, 5, 1, 5, 3):
        found = evaluated((CLOTH, PUSH), stride, evaluator)
        assert len(found.mesh.points) == len(range(0, 2400, stride))
    keys = {evaluated((CLOTH, PUSH), stride, evaluator).key for stride in (1, 5, 3)}
    assert len(keys) == 3


def test_another_piece_that_is_used_is_whole():
    pieces = [
        {
            "id": "p",
            "name": "Thin",
            "recipe": [{"id": "a", "step": "piece", "values": {"piece": "q"}}],
        },
        {"id": "q", "name": "Whole", "recipe": [{"id": "b", **CLOTH}]},
    ]
    made = document(CLOTH) | {"pieces": pieces}
    found = Evaluator().evaluate(check_document(made), Request("p", 0.0, stride=9))
    assert (found.whole, len(found.mesh.points)) == (2400, 267)


def over_the_points(by):
    return {
        "signal": "cycle",
        "low": -0.3,
        "high": 0.3,
        "stagger": {"over": "points", "by": by, "delay": 1.0},
    }


@pytest.mark.parametrize(
    "step",
    [
        {"step": "jitter", "values": {"way": "steady"}},
        {"step": "jitter", "values": {"along": "normal", "amount": over_the_points("chance")}},
        {"step": "let_go", "values": {"of": "points", "swirl": 0.4}, "where": FRONT},
        {"step": "inflate", "values": {"amount": over_the_points("chance")}},
    ],
    ids=["jitter", "jitter by chance", "let go", "inflate by chance"],
)
def test_chance_goes_by_the_number_that_a_point_has_among_all(step):
    whole, thin = evaluated((CLOTH, step)), evaluated((CLOTH, step), 7)
    assert np.allclose(thin.mesh.points, whole.mesh.points[left_of(2400, 7)], atol=1e-6)
    assert not np.allclose(whole.mesh.points, evaluated((CLOTH,)).mesh.points)


@given(st.integers(0, 3000), st.integers(1, 80))
def test_one_of_every_so_many_is_left(count, stride):
    left = left_of(count, stride)
    assert len(left) == -(-count // stride)
    assert np.array_equal(left // stride, np.arange(len(left)))
    assert len(left) == 0 or left[-1] < count


def test_no_column_of_a_grid_is_left_out():
    """Of 1,640 columns, each 41st point would be every 41st column."""
    columns, counts = np.unique(left_of(1_640_000, 41) % 1640, return_counts=True)
    assert len(columns) == 1640
    # As chance has it, about 24 each (binomial, six deviations).
    assert np.abs(counts - 1000 / 41).max() < 6 * np.sqrt(1000 / 41)
