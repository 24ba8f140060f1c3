"""Markers: what they carry goes where they go, turns as they turn, and keeps its place when it is
attached or let go."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.animation.loop_closure import moving_numbers
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.geometry.affine import placement, transformed, turns_of
from zygomorph.core.inspect.attach import attach, let_go, remove_carrier
from zygomorph.core.inspect.seam import seam
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.transforms.tracks import transform_tracks
from zygomorph.core.transforms.world_transform import parents_of_piece, world_transform

TURN = st.tuples(*[st.floats(-170, 170)] * 3)
MOVE = st.tuples(*[st.floats(-3, 3)] * 3)
ONES = np.ones(3)


def keyed(first, last, frame=12):
    ends = [{"frame": 0, "value": first}, {"frame": frame, "value": last}]
    return {"signal": "keys", "keys": [{**key, "ease": "linear"} for key in ends]}


def marked(*steps, marker=None, more=(), **piece):
    """A study of a piece and a marker "m" that stands where it is told."""
    made = document(*(steps or ({"step": "box"},)), **piece)
    first = {"id": "m", "name": "Marker", "place": {"move": [0.0] * 3, **(marker or {})}}
    return made | {"markers": [first, *more]}


def edited(made, operations):
    read = TypeAdapter(list[Operation]).validate_python(operations)
    return check_document(apply_edit(dict(made.document), read)[0])


def points_at(made, frame, piece="p"):
    found = Evaluator().evaluate(made, Request(piece, frame))
    return transformed(found.mesh.points, found.place)


BY_M = {"by": "marker", "id": "m"}


def test_a_piece_goes_and_turns_with_its_marker():
    path = {"move": [keyed(0.0, 2.0), 0.0, 0.0], "turn": [0.0, keyed(0.0, 90.0), 0.0]}
    made = check_document(marked(marker=path, place={"move": [1.0, 0, 0]}, carried=BY_M))
    start, end = points_at(made, 0.0), points_at(made, 12.0)
    about_y = rotation(np.array([0.0, 90.0, 0.0]))
    assert np.allclose(end, start @ about_y.T + [2.0, 0, 0], atol=1e-5)


@given(TURN, MOVE, TURN, MOVE)
def test_what_is_attached_keeps_its_place_and_so_does_what_is_let_go(turn, move, own, at):
    place = {"move": list(at), "turn": list(own), "scale": [1.0, 2.0, 0.5]}
    marker = {"turn": list(turn), "move": [keyed(move[0], 5.0), move[1], move[2]]}
    made = check_document(marked(marker=marker, place=place))
    before = plan_piece(made, "p").place_at(np.array([7.0]))
    held = edited(made, attach(made, "/pieces/p", "marker", "m", 7.0))
    assert np.allclose(plan_piece(held, "p").place_at(np.array([7.0])), before, atol=1e-5)
    later = np.array([12.0])
    moved = plan_piece(held, "p").place_at(later)
    free = edited(held, let_go(held, "/pieces/p", 12.0))
    assert free.pieces[0]["carried"] is None
    assert np.allclose(plan_piece(free, "p").place_at(later), moved, atol=1e-4)


def test_from_one_carrier_to_another_it_keeps_its_place():
    other = {"id": "n", "name": "Other", "place": {"move": [0, 4.0, 0], "turn": [0, 0, 30.0]}}
    made = check_document(
        marked(marker={"move": [keyed(0.0, 3.0), 0, 0]}, more=[other], carried=BY_M)
    )
    there = points_at(made, 12.0)
    again = edited(made, attach(made, "/pieces/p", "marker", "n", 12.0))
    assert again.pieces[0]["carried"]["id"] == "n"
    assert np.allclose(points_at(again, 12.0), there, atol=1e-5)


def test_carriers_take_others_along_but_not_their_size():
    marker = {"move": [keyed(0.0, 1.0), 0, 0]}
    made = marked(
        marker=marker,
        more=[{"id": "n", "name": "N", "carried": BY_M, "place": {"turn": [0, 90.0, 0]}}],
        carried=BY_M,
        place={"scale": [3.0, 3.0, 3.0]},
    )
    child = {"id": "q", "name": "Q", "recipe": [{"id": "f", "step": "box"}]}
    child |= {"carried": {"by": "piece", "id": "p"}, "place": {"move": [0, 1.0, 0]}}
    third = {**child, "id": "r", "carried": {"by": "marker", "id": "n"}}
    made["pieces"] += [child, third]
    study = check_document(made)
    assert np.ptp(points_at(study, 12.0, "q"), axis=0) == pytest.approx(ONES, abs=1e-5)
    assert points_at(study, 12.0, "q").mean(axis=0) == pytest.approx([1, 1, 0], abs=1e-5)
    assert points_at(study, 12.0, "r").mean(axis=0) == pytest.approx([1, 1, 0], abs=1e-5)


RINGS = {"centre": [0.0, 0.0, 0.0], "amplitude": 0.2, "wavelength": 0.4}
SHEET = {"step": "sheet", "values": {"width": 4.0, "depth": 4.0, "columns": 40, "rows": 40}}


def test_a_step_carried_by_a_marker_happens_where_the_marker_is():
    slide = {"move": [keyed(0.0, 0.7), 0, 0]}
    made = check_document(
        marked(SHEET, {"step": "rings", "values": RINGS, "carried": BY_M}, marker=slide)
    )
    moved = {**RINGS, "centre": [0.7, 0.0, 0.0]}
    by_hand = check_document(document(SHEET, {"step": "rings", "values": moved}))
    assert np.allclose(points_at(made, 12.0), points_at(by_hand, 12.0), atol=1e-5)
    assert not np.allclose(points_at(made, 12.0), points_at(made, 0.0), atol=0.05)
    assert plan_piece(made, "p").moves


@given(TURN)
def test_a_turned_step_is_the_step_on_what_is_turned_back(turn):
    bend = {"step": "bend", "values": {"angle": 60.0}}
    box = {"step": "box", "values": {"across": 3}}
    made = check_document(marked(box, {**bend, "carried": BY_M}, marker={"turn": list(turn)}))
    turned = rotation(np.array(turn))
    back = {"step": "place", "values": {"turn": turns_of(turned.T[None])[0].tolist()}}
    by_hand = points_at(check_document(document(box, back, bend)), 0.0) @ turned.T
    assert np.allclose(points_at(made, 0.0), by_hand, atol=1e-4)


def test_a_step_measured_in_space_is_carried_in_space():
    noise = {"step": "displace", "values": {"sampled": "space", "size": 0.5}}
    at = {"move": [1.0, 0, 0], "turn": [0, 0, 0]}
    made = check_document(marked(SHEET, {**noise, "carried": BY_M}, marker=at, place=at))
    # The piece and what carries its pattern went the same way.
    home = check_document(document(SHEET, noise))
    assert plan_piece(made, "p").steps[1].samples_space
    assert np.allclose(points_at(made, 0.0) - [1.0, 0, 0], points_at(home, 0.0), atol=1e-5)


def test_a_mask_goes_with_its_marker_while_the_piece_turns():
    ball = {"id": "b", "layer": "ball", "carried": BY_M, "values": {"radius": 0.5}}
    push = {"step": "inflate", "where": {"layers": [ball]}}
    made = check_document(
        marked(
            SHEET, push, marker={"move": [0.0, 0, keyed(0.0, 1.0)]}, place={"turn": [0, 90.0, 0]}
        )
    )
    held = edited(made, attach(made, "/pieces/p/recipe/s1/where/layers/b", "marker", "m", 0.0))
    found = Evaluator().evaluate(held, Request("p", 12.0, mask_of="s1"))
    on_stage = transformed(found.mesh.points, found.place)
    assert on_stage[found.weights > 0.8].mean(axis=0)[[0, 2]] == pytest.approx([0, 1.0], abs=0.05)


def test_markers_that_carry_each_other_are_refused():
    made = marked(more=[{"id": "n", "name": "N", "carried": BY_M}])
    made["markers"][0]["carried"] = {"by": "marker", "id": "n"}
    with pytest.raises(DocumentError, match="carry itself"):
        check_document(made)
    with pytest.raises(DocumentError, match="used twice"):
        check_document(marked(more=[{"id": "m", "name": "Again"}]))


def test_what_is_gone_carries_nothing():
    gone = {"by": "marker", "id": "gone"}
    steps = ({"step": "box"}, {"step": "bend", "carried": gone})
    made = check_document(marked(*steps, carried=gone, place={"move": [1.0, 0, 0]}))
    alone = check_document(document({"step": "box"}, {"step": "bend"}, place={"move": [1.0, 0, 0]}))
    assert np.allclose(points_at(made, 0.0), points_at(alone, 0.0))
    with pytest.raises(ZygomorphError, match="no marker"):
        attach(made, "/pieces/p", "marker", "gone", 0.0)


def test_frames_are_told_apart_by_what_carries_their_piece():
    def key(**marker):
        more = [{"id": "n", "name": "N", "place": marker}]
        made = marked(carried=BY_M, more=more)
        made["markers"][0]["carried"] = {"by": "marker", "id": "n"}
        return piece_key(check_document(made), "p", False)

    assert key(move=[1, 0, 0]) != key(move=[2, 0, 0])
    assert set(parents_of_piece(check_document(marked(carried=BY_M)), "p")) == {("marker", "m")}


def test_a_marker_that_does_not_return_opens_the_seam_of_what_it_carries():
    away = {"move": [keyed(0.0, 1.0, 24), 0, 0]}
    there = {"move": [{"signal": "cycle", "low": 0.0, "high": 1.0}, 0, 0]}
    states = [
        seam(check_document(marked(marker=each, carried=BY_M)), "p", Evaluator()).state
        for each in (away, there)
    ]
    assert states == ["open", "closed"]
    moving = next(moving_numbers(check_document(marked(marker=away))))
    assert (moving.address, moving.piece) == ("/markers/m/place/move/0", "")


@given(st.lists(TURN, min_size=2, max_size=6))
def test_turns_are_those_of_the_rotations(turns):
    rotations = np.stack([rotation(np.array(turn)) for turn in turns])
    found = np.stack([rotation(turn) for turn in turns_of(rotations)])
    assert np.allclose(found, rotations, atol=1e-6)


def test_a_turn_goes_on_beyond_half_a_turn():
    angles = np.linspace(0, 720, 49)
    found = turns_of(np.stack([rotation(np.array([0.0, a, 0.0])) for a in angles]))
    about_y = np.stack([rotation(t) for t in found])
    assert np.abs(np.diff(found, axis=0)).max() < 20
    assert np.allclose(about_y, [rotation(np.array([0.0, a, 0.0])) for a in angles], atol=1e-6)


def test_a_carried_piece_is_delivered_where_it_stands():
    path = {"move": [keyed(0.0, 2.0, 24), 0, 0], "turn": [20.0, keyed(0.0, 300.0, 24), 0.0]}
    place = {"move": [1.0, 0, 0], "turn": [0, 0, 40.0], "scale": [1, 2, 1]}
    made = check_document(marked(marker=path, place=place, carried=BY_M))
    plan = plan_piece(made, "p")
    tracks = transform_tracks(plan.world, np.arange(25.0))
    for frame in (0, 7, 24):
        parts = (tracks[name][frame] for name in ("move", "turn", "scale"))
        assert np.allclose(placement(*parts), plan.place_at(np.array([float(frame)])), atol=1e-5)
    glb = deliver_glb(made, Evaluator()).data
    header = json.loads(glb[20 : 20 + int.from_bytes(glb[12:16], "little")])
    paths = {c["target"]["path"] for a in header["animations"] for c in a["channels"]}
    assert {"translation", "rotation"} <= paths


def test_a_marker_keeps_to_the_values_that_it_has():
    wrong = marked(marker={"scale": [1, 1, 1]})
    with pytest.raises(DocumentError, match="scale"):
        check_document(wrong)
    world = world_transform(check_document(marked(marker={"move": [1, 2, 3]})), "marker", "m")
    assert world is not None
    assert world.at(np.zeros(1))[:3, 3].tolist() == [1, 2, 3]


def test_when_a_marker_goes_what_it_carried_stays_where_it_is():
    slide = {"move": [keyed(0.0, 2.0), 0, 0], "turn": [0, 30.0, 0]}
    bend = {"step": "bend", "carried": BY_M}
    made = check_document(marked({"step": "box"}, bend, marker=slide, carried=BY_M))
    there = plan_piece(made, "p").place_at(np.array([12.0]))
    left = edited(made, remove_carrier(made, "/markers/m", 12.0))
    assert left.markers == []
    assert left.pieces[0]["carried"] is None
    assert left.pieces[0]["recipe"][1]["carried"] is None
    assert np.allclose(plan_piece(left, "p").place_at(np.array([0.0])), there, atol=1e-5)
    with pytest.raises(ZygomorphError, match="nothing at"):
        remove_carrier(made, "/markers/gone", 0.0)
    with pytest.raises(ZygomorphError, match="carries others"):
        remove_carrier(made, "/pieces/p/recipe/s1", 0.0)


def test_when_a_piece_goes_what_it_carried_stays_where_it_is():
    made = marked(place={"move": [keyed(0.0, 2.0), 0, 0], "scale": [2.0, 2.0, 2.0]})
    child = {"id": "q", "name": "Q", "recipe": [{"id": "f", "step": "box"}]}
    made["pieces"].append({**child, "carried": {"by": "piece", "id": "p"}})
    study = check_document(made)
    there = points_at(study, 12.0, "q")
    left = edited(study, remove_carrier(study, "/pieces/p", 12.0))
    assert [piece["id"] for piece in left.pieces] == ["q"]
    assert np.allclose(points_at(left, 0.0, "q"), there, atol=1e-5)
