"""Let go behind a front: what is held stays exactly, what has gone comes back exactly."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.inspect.seam import seam

CLOTH = {"step": "cloth", "values": {"columns": 40, "rows": 40}}
BALL = {"step": "icosphere", "values": {"radius": 0.6, "halvings": 2}}
SPLIT = {"step": "split"}
SWEEP = {"signal": "cycle", "shape": "sine", "low": -2.0, "high": 2.0}


def front(at, **more):
    layer = {
        "layer": "linear",
        "profile": "linear",
        "values": {"position": [at, 0.0, 0.0], "direction": [1.0, 0.0, 0.0], "width": 0.5, **more},
    }
    return {"layers": [{"id": "l", **layer}]}


def let_go(form, at, *before, frames=48, **values):
    step = {"step": "let_go", "values": {"uneven": 30.0, "fall": 0.3, "swirl": 0.2, **values}}
    return study(form, *before, {**step, "where": front(at)}, frames=frames)


def mesh_of(document, frame=0.0):
    return Evaluator().evaluate(document, Request("p", frame)).mesh


@pytest.mark.parametrize(
    ("form", "before", "of"),
    [(CLOTH, (), "points"), (BALL, (), "faces"), (BALL, (SPLIT,), "shards")],
)
def test_what_is_not_released_has_not_moved_by_a_bit(form, before, of):
    made = mesh_of(let_go(form, 0.0, *before, of=of))
    gone = made.get("point", "mask:gone")
    held = gone == 0
    assert 0 < held.sum() < len(gone)
    assert np.array_equal(made.points[held], made.rest[held])
    assert np.linalg.norm(made.points - made.rest, axis=1)[gone > 0.9].min() > 0.05


@pytest.mark.parametrize("of", ["points", "faces"])
def test_before_the_front_all_is_exactly_there_and_comes_back(of):
    form = CLOTH if of == "points" else BALL
    document = let_go(form, SWEEP, of=of)
    evaluator = Evaluator()

    def at(frame):
        return evaluator.evaluate(document, Request("p", frame)).mesh

    whole = [f for f in range(48) if at(f).get("point", "mask:gone").max() == 0]
    assert whole
    for frame in whole:
        assert np.array_equal(at(frame).points, at(frame).rest)
    assert max(at(f).get("point", "mask:gone").min() for f in range(48)) == 1
    assert seam(document, "p", evaluator).state == "closed"


def test_after_the_front_nothing_is_left_of_what_shrinks():
    made = mesh_of(let_go(BALL, -9.0, of="faces", shrink=100.0))
    corners = made.points[made.topology.corners.reshape(-1, 3)].astype(float)
    sides = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
    gone = made.get("point", "mask:gone")
    if gone.min() < 1:
        made = mesh_of(let_go(BALL, 9.0, of="faces", shrink=100.0))
        corners = made.points[made.topology.corners.reshape(-1, 3)].astype(float)
        sides = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
    assert sides.max() < 1e-5


def test_faces_keep_their_shape_while_they_spin():
    made = mesh_of(let_go(BALL, 0.0, of="faces", shrink=0.0, spin=200.0))
    triangles = made.topology.corners.reshape(-1, 3)

    def sides(points):
        corners = points[triangles].astype(float)
        return np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)

    assert sides(made.points) == pytest.approx(sides(made.rest), abs=1e-5)
