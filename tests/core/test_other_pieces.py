"""Steps that use another piece: form from a piece, remember, drape, blend."""

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import pieces_for, plan_piece, used_pieces
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.inspect.sentences import describe_motion

SAW = {"signal": "cycle", "shape": "saw", "low": 0.0, "high": 1.0}
BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}}


def piece(identity: str, *steps, **more) -> dict:
    recipe = [{"id": f"s{k}", **step} for k, step in enumerate(steps)]
    return {"id": identity, "name": identity.title(), "recipe": recipe, **more}


def made(*pieces) -> Study:
    return check_document(document(BALL) | {"pieces": list(pieces)})


def points(study: Study, identity: str, frame: float = 0.0) -> np.ndarray:
    return Evaluator().evaluate(study, Request(identity, frame)).mesh.points


def from_piece(identity: str, **values) -> dict:
    return {"step": "piece", "values": {"piece": identity, **values}}


def test_a_form_from_a_piece_is_what_that_piece_has_become():
    pushed = piece("source", BALL, {"step": "displace"}, place={"move": [1.0, 0.0, 0.0]})
    study = made(pushed, piece("made", from_piece("source")))
    assert np.array_equal(points(study, "made"), points(study, "source"))
    # Where it stands: carried by the other's place, seen from this piece's own.
    there = piece("there", from_piece("source", stands="stage"), place={"move": [0.0, 2.0, 0.0]})
    study = made(pushed, there)
    apart = points(study, "there") - points(study, "source")
    assert np.allclose(apart, [1, -2, 0], atol=1e-6)


def test_what_uses_a_moving_piece_moves_with_it():
    waves = piece("waves", {"step": "sheet"}, {"step": "wave", "values": {"phase": SAW}})
    study = made(waves, piece("made", from_piece("waves")), piece("still", BALL))
    assert plan_piece(study, "made").moves
    assert not plan_piece(study, "still").moves
    assert not np.array_equal(points(study, "made", 0), points(study, "made", 6))
    assert np.array_equal(points(study, "made", 6), points(study, "waves", 6))


def test_a_place_that_moves_counts_too():
    carried = piece("carried", BALL, place={"move": [SAW, 0.0, 0.0]})
    sheet = ({"step": "sheet"}, {"step": "drape", "values": {"piece": "carried"}})
    study = made(carried, piece("cloth", *sheet))
    assert plan_piece(study, "cloth").moves


def test_the_key_of_frames_changes_with_the_pieces_that_are_used():
    keys = []
    for radius in (0.5, 0.6):
        ball = piece("a", {"step": "icosphere", "values": {"radius": radius}})
        study = made(ball, piece("b", from_piece("a")), piece("c", from_piece("b")))
        assert used_pieces(study, "c") == ["b", "a"]
        keys.append([piece_key(study, p, False) for p in "abc"])
    assert all(x != y for x, y in zip(*keys, strict=True))


def test_the_cache_does_not_mistake_one_other_piece_for_another():
    evaluator = Evaluator()
    found = []
    for radius in (0.5, 0.8):
        ball = piece("a", {"step": "icosphere", "values": {"radius": radius, "halvings": 2}})
        study = made(ball, piece("b", from_piece("a")))
        mesh = evaluator.evaluate(study, Request("b")).mesh
        found.append(np.linalg.norm(mesh.points, axis=1).max())
    assert found == pytest.approx([0.5, 0.8])


def test_pieces_that_wait_for_each_other_are_named():
    study = made(
        piece("a", from_piece("b")), piece("b", from_piece("c")), piece("c", from_piece("a"))
    )
    with pytest.raises(StepError, match="“A” → “B” → “C” → “A”") as caught:
        Evaluator().evaluate(study, Request("a"))
    assert caught.value.step_id == "s0"
    assert pieces_for(study, "a") == []


def test_a_piece_that_is_gone_or_not_chosen_is_said():
    with pytest.raises(StepError, match="No other piece is chosen"):
        points(made(piece("a", from_piece(""))), "a")
    with pytest.raises(StepError, match="no piece 'gone'"):
        points(made(piece("a", from_piece("gone"))), "a")


def test_a_fault_in_the_other_piece_names_it():
    broken = piece("broken", BALL, {"step": "tube"})
    with pytest.raises(StepError, match="“Broken”, which it uses, cannot be made: There are no"):
        points(made(broken, piece("a", from_piece("broken"))), "a")


def test_sentences_name_the_piece():
    study = made(piece("source", BALL), piece("made", from_piece("source")))
    said = describe_motion(study)[1]["steps"][0]["sentence"]
    assert said == "Takes “Source”"


def test_remembered_shapes_are_the_rest_shape_from_there_on():
    # Displacing on the rest shape, then turning, equals turning, then displacing (checks).
    turn = {"step": "place", "values": {"turn": [0.0, 40.0, 0.0]}}
    push = {"step": "displace", "values": {"sampled": "rest", "along": "normal"}}
    first = made(piece("a", BALL, push, turn))
    second = made(piece("a", BALL, turn, push))
    assert np.allclose(points(first, "a"), points(second, "a"), atol=1e-5)
    third = made(piece("a", BALL, turn, {"step": "remember"}, push))
    assert not np.allclose(points(third, "a"), points(second, "a"), atol=1e-3)


@pytest.mark.parametrize("what", ["mask", "order", "x", "y", "z", "upright"])
def test_values_are_remembered_under_a_name(what):
    layer = {"id": "l", "layer": "ball", "values": {"radius": 0.4, "centre": [0.5, 0.0, 0.0]}}
    keep = {"step": "remember", "values": {"what": what, "name": "kept"}}
    study = made(piece("a", BALL, keep | {"where": {"layers": [layer]}}))
    mesh = Evaluator().evaluate(study, Request("a")).mesh
    kept = mesh.get("point", MASK + "kept")
    assert kept.shape == (len(mesh.points),)
    low = -1.0 if what == "upright" else 0.0
    assert kept.min() == pytest.approx(low, abs=0.03)
    assert kept.max() == pytest.approx(1.0, abs=0.03)


def test_values_come_from_another_piece_of_equal_count():
    other = piece("other", {"step": "icosphere", "values": {"radius": 0.9, "halvings": 3}})
    take = {"step": "remember", "values": {"source": "piece", "piece": "other"}}
    mesh = Evaluator().evaluate(made(other, piece("a", BALL, take)), Request("a")).mesh
    assert np.linalg.norm(mesh.rest, axis=1) == pytest.approx(np.full(len(mesh.points), 0.9))
    uneven = piece("other", {"step": "icosphere", "values": {"halvings": 2}})
    with pytest.raises(StepError, match="162 points, this piece 642"):
        points(made(uneven, piece("a", BALL, take)), "a")


def test_a_sheet_drapes_over_a_ball_and_misses_beside_it():
    ball = piece("ball", {"step": "icosphere", "values": {"radius": 0.5, "halvings": 6}})
    sheet = piece(
        "sheet",
        {"step": "sheet", "values": {"width": 2.0, "depth": 2.0, "columns": 40, "rows": 40}},
        {"step": "place", "values": {"move": [0.0, 1.0, 0.0]}},
        {"step": "drape", "values": {"piece": "ball", "offset": 0.05}},
    )
    mesh = Evaluator().evaluate(made(ball, sheet), Request("sheet")).mesh
    x, y, z = mesh.points.T.astype(float)
    across = np.hypot(x, z)
    inside, outside = across < 0.49, across > 0.501
    # The upper half of a sphere, 5 cm over it (derived).
    assert np.allclose(y[inside], np.sqrt(0.25 - across[inside] ** 2) + 0.05, atol=3e-3)
    assert np.all(y[outside] == 1.0)
    hit = mesh.get("point", MASK + "hit")
    assert np.all(hit[inside] == 1)
    assert np.all(hit[outside] == 0)


def test_points_go_to_the_nearest_place_within_a_limit():
    ball = piece("ball", {"step": "icosphere", "values": {"radius": 0.5, "halvings": 6}})
    shell = piece(
        "shell",
        {"step": "icosphere", "values": {"radius": 1.0, "halvings": 3}},
        {"step": "drape", "values": {"piece": "ball", "way": "nearest", "offset": 0.1}},
    )
    found = points(made(ball, shell), "shell")
    assert np.linalg.norm(found, axis=1) == pytest.approx(np.full(len(found), 0.6), abs=2e-3)
    shell["recipe"][1]["values"]["limit"] = 0.3
    still = points(made(ball, shell), "shell")
    assert np.linalg.norm(still, axis=1) == pytest.approx(np.full(len(still), 1.0), abs=1e-5)


@pytest.mark.parametrize(("by", "amount"), [("number", 25.0), ("nearest", 50.0)])
def test_blending_goes_a_share_of_the_way(by, amount):
    # Between two balls about one centre, radii mix (derived).
    large = piece("large", {"step": "icosphere", "values": {"radius": 1.0, "halvings": 3}})
    blend = {"step": "blend", "values": {"piece": "large", "amount": amount, "by": by}}
    found = points(made(large, piece("a", BALL, blend)), "a")
    radius = 0.5 + 0.5 * amount / 100
    assert np.linalg.norm(found, axis=1) == pytest.approx(np.full(len(found), radius), abs=2e-2)


def test_a_drape_on_curves_says_that_there_are_no_faces():
    line = piece("line", {"step": "line"})
    sheet = piece("sheet", {"step": "sheet"}, {"step": "drape", "values": {"piece": "line"}})
    with pytest.raises(StepError, match="“Line” has no faces"):
        points(made(line, sheet), "sheet")
