"""Two pieces that swap: as large, around one middle, and one leaves exactly as the other comes."""

import numpy as np
import pytest
from pydantic import TypeAdapter

from tests.random_values import made_of
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.inspect.swapping import swap

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 4}}
BOX = {"step": "box", "values": {"size": [1, 3, 1]}}
TURNING = {"signal": "cycle", "shape": "saw", "low": 0.0, "high": 360.0}
PLACE = {"move": [1.0, 2.0, 0.0], "turn": [0.0, TURNING, 20.0], "scale": [2.0, 2.0, 2.0]}


def swapped(one_way=False, own=(BALL,)):
    other = {"id": "o", "name": "Box", "place": {"move": [9.0, 0.0, 0.0]}}
    made = made_of(*own, other={**other, "recipe": [{"id": "f", **BOX}]})
    made.document["pieces"][0]["place"] = PLACE
    made.document["loop"] |= {"frames": 100, "one_way": one_way}
    study = check_document(made.document)
    operations = swap(Evaluator(), study, "p", "o", 0.0, check_document)
    checked = [TypeAdapter(Operation).validate_python(each) for each in operations]
    return check_document(apply_edit(study.document, checked)[0])


def on_stage(study, piece, frame, until=None):
    found = Evaluator().evaluate(study, Request(piece, frame, until=until))
    return transformed(found.mesh.points, found.place)


@pytest.mark.parametrize("frame", [0.0, 30.0])
def test_both_have_one_middle_and_size_and_turn_together(frame):
    study = swapped()
    ball = on_stage(study, "p", frame, study.pieces[0]["recipe"][0]["id"])
    box = on_stage(study, "o", frame, "f")
    assert box.mean(axis=0) == pytest.approx(ball.mean(axis=0), abs=2e-3)
    # A ball of 1 m, twice as large; the box is as long along its own longest side.
    centred = box - box.mean(axis=0)
    axes = np.linalg.svd(centred, full_matrices=False)[2]
    assert np.ptp(centred @ axes[0]) == pytest.approx(2.0, abs=0.01)


def test_one_is_whole_while_the_other_is_not_there_and_the_loop_closes():
    study = swapped()
    counts = {
        (piece, frame): len(on_stage(study, piece, frame))
        for piece in ("p", "o")
        for frame in (0.0, 50.0, 100.0)
    }
    assert [counts["p", f] for f in (0.0, 50.0, 100.0)] == [2562, 0, 2562]
    assert [counts["o", f] for f in (0.0, 50.0, 100.0)] == [0, 2402, 0]


def test_under_way_the_one_ends_where_the_other_begins():
    study = swapped()
    frame = 20.0
    place = Evaluator().evaluate(study, Request("p", frame)).place
    back = np.linalg.inv(place)
    ball = transformed(on_stage(study, "p", frame), back)
    box = transformed(on_stage(study, "o", frame), back)
    rises = np.ptp(ball, axis=0).argmin()
    assert ball[:, rises].min() == pytest.approx(box[:, rises].max(), abs=0.02)


def test_a_one_way_swap_begins_with_the_one_and_ends_with_the_other():
    study = swapped(one_way=True)
    last = float(study.loop.last)
    assert len(on_stage(study, "p", 0.0)) == 2562
    assert len(on_stage(study, "o", 0.0)) == 0
    assert len(on_stage(study, "p", last)) == 0
    assert len(on_stage(study, "o", last)) == 2402


def test_a_piece_does_not_swap_with_itself_or_with_none():
    study = made_of(BALL)
    for other in ("p", "gone"):
        with pytest.raises(ZygomorphError):
            swap(Evaluator(), study, "p", other, 0.0, check_document)


@pytest.mark.parametrize(
    "steps",
    [[BALL, {"step": "row", "values": {"count": 3, "move": [0.0, 1.2, 0.0]}}], [{"step": "helix"}]],
    ids=["copies", "curve"],
)
def test_copies_and_curves_leave_bit_by_bit_too(steps):
    study = swapped(own=steps)
    counts = [len(on_stage(study, "p", frame)) for frame in (0.0, 20.0, 50.0)]
    assert counts[0] > counts[1] > counts[2] == 0
