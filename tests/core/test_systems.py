"""Steps that follow from the frames before: started, advanced, told at any frame, kept and closed.

The system here is made for the test: points that go after the points they are given, as if held
by a spring without mass. In one frame the distance shrinks to a share of itself.
"""

import numpy as np
import pytest

from zygomorph.core.document.beginnings import completed
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.definitions import SystemDefinition
from zygomorph.core.values.entries import definitions, recipe_definitions
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.value import number

CALLS = []


def start(mesh, values, weights, context):
    CALLS.append(("start", context.frame))
    return mesh.points


def advance(state, mesh, values, weights, context, frames):
    CALLS.append(("advance", context.frame))
    share = np.float32(values.scalar("slack") ** frames)
    behind = mesh.points + share * (state - mesh.points)
    return (mesh.points + weights[:, None] * (behind - mesh.points)).astype(np.float32)


def emit(state, mesh, values, weights, context):
    return mesh.moved(state)


LAG = SystemDefinition(
    key="lag",
    title="Lag",
    group=PUSH,
    help="Follows late.",
    values={
        "slack": number(0.5, "Slack", "What is left of the way a frame later.", "", (0.0, 1.0))
    },
    sentence="Lag by {slack}",
    apply=lambda *_: None,
    start=start,
    advance=advance,
    emit=emit,
)
STEP = {
    "signal": "keys",
    "keys": [{"frame": 0, "value": 0, "ease": "held"}, {"frame": 4, "value": 1}],
}


@pytest.fixture(autouse=True)
def known():
    for entries in (definitions("step"), recipe_definitions()):
        entries["lag"] = LAG
    CALLS.clear()
    yield
    for entries in (definitions("step"), recipe_definitions()):
        del entries["lag"]


def made(slack=0.5, after=(), **more):
    recipe = [
        {"id": "f", "step": "icosphere", "values": {"halvings": 1}},
        {"id": "m", "step": "place", "values": {"move": [STEP, 0, 0]}},
        {"id": "l", "step": "lag", "values": {"slack": slack}, **more},
        *after,
    ]
    piece = {"id": "p", "name": "Piece", "recipe": recipe}
    return Study(completed({"name": "S", "loop": {"frames": 48, "rate": 24}, "pieces": [piece]}))


def middle(document, frame, evaluator=None, **more):
    mesh = (evaluator or Evaluator()).evaluate(document, Request("p", frame, **more)).mesh
    return float(mesh.points[:, 0].mean())


def test_it_follows_by_the_share_that_it_says():
    # The step comes at frame 4; k frames later ½ᵏ⁺¹ of the way is left.
    for frame in range(4, 12):
        assert middle(made(), frame) == pytest.approx(1 - 0.5 ** (frame - 3), abs=1e-5)
    assert middle(made(), 3.0) == pytest.approx(0, abs=1e-6)


def test_before_its_first_frame_the_mesh_is_as_it_was():
    assert middle(made(), -2.0) == pytest.approx(0, abs=1e-6)
    assert CALLS == []


def test_every_frame_is_walked_once_and_going_back_is_free():
    evaluator, document = Evaluator(), made()
    middle(document, 24.0, evaluator)
    assert [frame for _, frame in CALLS] == list(range(25))
    assert CALLS[0][0] == "start"
    CALLS.clear()
    middle(document, 12.0, evaluator)
    middle(document, 24.0, evaluator)
    assert CALLS == []


def test_any_order_of_frames_gives_the_same():
    evaluator, document = Evaluator(), made()
    for frame in (20.0, 3.0, 11.5, 5.0):
        assert middle(document, frame, evaluator) == middle(document, frame)


def test_a_change_after_it_walks_nothing_and_one_of_its_own_begins_anew():
    evaluator = Evaluator()
    middle(made(), 24.0, evaluator)
    CALLS.clear()
    twist = {"id": "t", "step": "twist", "values": {"angle": 20.0}}
    middle(made(after=[twist]), 24.0, evaluator)
    assert CALLS == []
    middle(made(slack=0.9), 24.0, evaluator)
    assert len(CALLS) == 25


def test_its_mask_says_where_it_acts():
    layer = {
        "id": "b",
        "layer": "ball",
        "profile": "hard",
        "values": {"radius": 9.0, "softness": 0},
    }
    where = {
        "layers": [
            {**layer, "strength": 0.0},
            layer | {"id": "c", "invert": True, "blend": "multiply"},
        ]
    }
    assert middle(made(where=where), 4.0) == pytest.approx(1.0, abs=1e-5)


def test_a_walk_is_cancelled_between_frames_and_goes_on_from_there():
    evaluator, document = Evaluator(), made()
    asked = []

    def soon():
        asked.append(None)
        return len(CALLS) >= 10

    with pytest.raises(Cancelled):
        evaluator.evaluate(document, Request("p", 40.0, cancelled=soon))
    assert asked
    assert 10 <= len(CALLS) <= 12
    CALLS.clear()
    middle(document, 40.0, evaluator)
    assert len(CALLS) <= 31


def test_while_it_is_dragged_some_frames_are_walked():
    far = made()
    far.document["loop"]["frames"] = 600
    dragged = middle(far, 500.0, dragged=True)
    assert len(CALLS) <= 61
    assert dragged == pytest.approx(1.0, abs=1e-3)


def test_a_piece_with_a_system_moves_without_signals():
    from zygomorph.core.evaluation.plan import plan_piece

    assert plan_piece(made(), "p").moves
