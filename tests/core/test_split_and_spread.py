"""Splitting faces, and moving, sizing and turning what came apart."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from tests.random_values import small
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}
BALL = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 2}}
SPLIT = {"step": "split"}


def result(*steps, frame=0.0, **request):
    return Evaluator().evaluate(study(*steps), Request("p", frame, **request))


def made(*steps, **more):
    return result(*steps, **more).mesh


def front(position, width=0.001, profile="hard", **more):
    values = {"direction": [-1, 0, 0], "position": [position, 0, 0], "width": width}
    return {"id": "l", "layer": "linear", "profile": profile, "values": values, **more}


def spread(amount=0.5, of="shards", **values):
    return {"step": "spread", "values": {"amount": amount, "of": of, **values}}


def test_a_split_cube_has_24_points_and_24_edges_and_nothing_has_moved():
    # Common practice: six quads that share nothing.
    before, after = made(CUBE), made(CUBE, SPLIT)
    assert (len(after.points), len(after.topology.edges), after.topology.face_count) == (24, 24, 6)
    old = before.points[before.topology.corners]
    assert np.array_equal(after.points[after.topology.corners], old)
    assert after.get("face", "shard").tolist() == [0, 1, 2, 3, 4, 5]


def test_along_sharp_edges_a_cylinder_falls_into_its_side_and_two_caps():
    mesh = made(
        {"step": "cylinder", "values": {"around": 24, "rows": 1, "cap_rings": 1}},
        {**SPLIT, "values": {"way": "sharp"}},
    )
    assert mesh.count("shard") == 3
    assert (
        len(mesh.points)
        == len(
            made({"step": "cylinder", "values": {"around": 24, "rows": 1, "cap_rings": 1}}).points
        )
        + 48
    )


@pytest.mark.parametrize("position", [-0.5, 0.0, 0.4])
def test_along_the_border_of_a_mask_there_are_two_parts(position):
    where = {"layers": [front(position)]}
    mesh = made(BALL, {**SPLIT, "values": {"way": "border"}, "where": where})
    assert mesh.count("shard") == 2
    # Each part is whole: only the ring between them has two points at a place.
    doubled = len(mesh.points) - len(made(BALL).points)
    assert 0 < doubled < 60
    assert mesh.topology.border.sum() == 2 * doubled


def test_a_mask_says_which_faces_come_apart():
    mesh = made(BALL, {**SPLIT, "where": {"layers": [front(0.03)]}})
    whole = made(BALL)
    middle = whole.points[whole.topology.corners.reshape(-1, 3)].mean(axis=1)
    apart = int((middle[:, 0] < 0.03).sum())
    # Those outside stay one part.
    assert mesh.count("shard") == apart + 1


def test_split_parts_are_split_again_and_the_rest_keep_their_numbers():
    halves = {"step": "split", "values": {"way": "border"}, "where": {"layers": [front(0.03)]}}
    again = {"step": "split", "where": {"layers": [front(0.03)]}}
    once, twice = made(BALL, halves), made(BALL, halves, again)
    assert once.count("shard") == 2
    ids = twice.ids("shard")
    assert (
        len(np.unique(ids))
        == twice.count("shard")
        == 1 + np.bincount(once.get("face", "shard")).max()
    )
    assert {0, 1} <= set(ids.tolist())


@settings(max_examples=20)
@given(
    st.sampled_from(["normal", "centre", "axis"]),
    st.floats(0, 100),
    st.sampled_from(["faces", "shards"]),
)
def test_nothing_moves_at_0(way, uneven, of):
    mesh = made(BALL, SPLIT, spread(0.0, of, way=way, uneven=uneven))
    assert np.array_equal(mesh.points, made(BALL, SPLIT).points)


def test_along_their_normals_the_faces_of_a_cube_go_straight_out():
    mesh = made(CUBE, SPLIT, spread(0.5))
    assert np.sort(np.abs(mesh.points), axis=1) == pytest.approx(np.tile([1, 1, 1.5], (24, 1)))


def test_away_from_a_centre_each_goes_by_the_amount():
    centre = np.array([0.3, -0.2, 0.1])
    before, after = (
        made(BALL, SPLIT),
        made(BALL, SPLIT, spread(0.7, way="centre", centre=centre.tolist())),
    )
    face = before.topology.corners.reshape(-1, 3)
    old, new = before.points[face].mean(axis=1), after.points[face].mean(axis=1)
    assert np.linalg.norm(new - old, axis=1) == pytest.approx(0.7, abs=1e-5)
    assert np.linalg.norm(np.cross(new - old, old - centre), axis=1) == pytest.approx(0, abs=1e-5)


def test_by_chance_each_goes_from_a_part_of_the_amount_to_all_of_it():
    mesh = made(CUBE, SPLIT, spread(1.0, uneven=60.0))
    out = np.abs(mesh.points).max(axis=1) - 1
    assert out.min() >= 0.4 - 1e-6
    assert out.max() <= 1 + 1e-6
    assert len(np.unique(out.round(4))) == 6


def test_a_hard_front_takes_each_face_whole_or_not_at_all():
    whole = made(BALL, SPLIT)
    mesh = made(BALL, SPLIT, {**spread(0.3), "where": {"layers": [front(0.03)]}})
    far = np.linalg.norm(mesh.points - whole.points, axis=1).reshape(-1)
    by_face = far[mesh.topology.corners.reshape(-1, 3)]
    assert np.ptp(by_face, axis=1).max() < 1e-6
    moved = by_face[:, 0]
    middle = whole.points[whole.topology.corners.reshape(-1, 3)].mean(axis=1)[:, 0]
    assert moved[middle < 0.03] == pytest.approx(0.3, abs=1e-5)
    assert np.array_equal(moved[middle > 0.03], np.zeros((middle > 0.03).sum(), np.float32))


def test_faces_that_share_points_pull_each_other():
    mesh = made(CUBE, spread(0.5, "faces", apart=False))
    # A corner goes with its three faces in the mean.
    assert np.abs(mesh.points) == pytest.approx(1 + 0.5 / 3)


def test_keys_mirrored_in_time_open_and_close_it():
    keys = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": 0}, {"frame": 12, "value": 0.5}, {"frame": 24, "value": 0}],
    }
    at = {f: made(BALL, SPLIT, spread(keys), frame=f).points for f in (0.0, 5.0, 12.0, 19.0, 24.0)}
    assert np.array_equal(at[0.0], at[24.0])
    assert at[5.0] == pytest.approx(at[19.0], abs=1e-6)
    assert np.array_equal(at[0.0], made(BALL, SPLIT).points)


def test_a_stagger_over_shards_moves_one_after_the_other():
    signal = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": 0}, {"frame": 2, "value": 1}],
        "stagger": {"by": "order", "over": "shards", "delay": 0.5, "closes": False},
    }
    still = made(CUBE, SPLIT).points
    moved = made(CUBE, SPLIT, spread(signal), frame=6.0).points
    far = np.linalg.norm(moved - still, axis=1)[made(CUBE, SPLIT).topology.corners].reshape(6, 4)
    assert np.ptp(far, axis=1).max() < 1e-6
    # At frame 6 of 24, half a loop is dealt out among six: the k-th began 12 k / 5 frames later.
    assert far[:, 0] == pytest.approx(np.clip((6 - 2.4 * np.arange(6)) / 2, 0, 1), abs=1e-5)


@settings(max_examples=20)
@given(st.floats(-200, 200), st.floats(-180, 180), st.sampled_from(["normal", "axis"]))
def test_each_keeps_its_centre_and_its_shape(size, turn, about):
    values = {"size": size, "turn": turn, "about": about, "of": "shards", "axis": [0.3, 1, -0.2]}
    before, after = made(BALL, SPLIT), made(BALL, SPLIT, {"step": "turn_each", "values": values})
    face = before.topology.corners.reshape(-1, 3)
    old, new = before.points[face].astype(float), after.points[face].astype(float)
    assert new.mean(axis=1) == pytest.approx(old.mean(axis=1), abs=1e-5)

    def sides(corners):
        return np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2)

    assert sides(new) == pytest.approx(sides(old) * abs(size) / 100, abs=1e-5)


def test_turned_about_its_normal_each_stays_in_its_plane():
    mesh = made(
        CUBE, SPLIT, {"step": "turn_each", "values": {"size": 100, "turn": 45, "of": "shards"}}
    )
    assert np.abs(mesh.points).max(axis=1) == pytest.approx(np.sqrt(2), abs=1e-5)
    assert np.sort(np.abs(mesh.points), axis=1)[:, 1] == pytest.approx(1, abs=1e-5)


@pytest.mark.parametrize("of", ["shards", "faces"])
def test_at_size_0_nothing_is_left_of_what_a_front_has_reached(of):
    vanish = {
        "step": "turn_each",
        "values": {"size": 0, "of": of},
        "where": {"layers": [front(0.03)]},
    }
    mesh, whole = made(BALL, SPLIT, vanish), made(BALL, SPLIT)
    face = mesh.topology.corners.reshape(-1, 3)
    middle = whole.points[face].mean(axis=1)[:, 0]
    extent = np.ptp(mesh.points[face], axis=1).max(axis=1)
    assert extent[middle < 0.03].max() < 1e-6
    assert np.array_equal(mesh.points[face][middle > 0.03], whole.points[face][middle > 0.03])


def test_copies_are_moved_sized_and_turned_about_their_centres():
    row = {"step": "row", "values": {"count": 3, "move": [1, 0, 0], "centred": False}}
    turn = {"step": "turn_each", "values": {"size": 50, "turn": 90, "of": "copies"}}
    table = result(CUBE, row, turn, spread(2.0, "copies", way="axis")).geometry.copies
    assert table.centres.tolist() == [[0, 2, 0], [1, 2, 0], [2, 2, 0]]
    expected = np.array([[0, 0, 0.5], [0, 0.5, 0], [-0.5, 0, 0]])
    for placement in table.placements:
        assert placement[:, :3] == pytest.approx(expected, abs=1e-5)


def test_shards_of_what_is_copied_are_moved_in_the_base():
    row = {"step": "row", "values": {"count": 3}}
    geometry = result(CUBE, SPLIT, row, spread(0.5)).geometry
    assert len(geometry.copies) == 3
    assert np.abs(geometry.bases[0].points).max() == pytest.approx(1.5)


def test_without_shards_it_is_said_what_helps():
    with pytest.raises(StepError, match="no shards"):
        made(CUBE, spread(0.5))


def test_a_watched_mask_follows_the_points_through_changes_of_topology():
    push = {
        "id": "push",
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {"layers": [front(0.03)]},
    }
    found = result(BALL, push, SPLIT, {"step": "extrude"}, mask_of="push")
    assert len(found.weights) == len(found.mesh.points)
    plain = made(BALL, SPLIT)
    sides = made(BALL, SPLIT, {"step": "extrude", "values": {"depth": 0.0}})
    assert len(plain.points) < len(sides.points)
    far = np.abs(sides.points[:, 0] - 0.03) > 0.02
    assert found.weights[far] == pytest.approx((sides.points[far, 0] < 0.03).astype(float))


def test_a_mask_of_faces_is_watched_at_their_points_and_stored_for_both():
    where = {"layers": [front(0.03)], "store": "left"}
    found = result(BALL, SPLIT, {"id": "w", **spread(0.0), "where": where}, mask_of="w")
    mesh = found.mesh
    on_faces, at_points = mesh.get("shard", MASK + "left"), mesh.get("point", MASK + "left")
    assert set(np.unique(on_faces)) == {0.0, 1.0}
    assert np.array_equal(at_points, found.weights)
    assert np.array_equal(at_points[mesh.topology.corners.reshape(-1, 3)[:, 0]], on_faces)


@pytest.mark.parametrize("form", ["torus", "tiling", "box", "text", "cylinder", "disc"])
@pytest.mark.parametrize("way", ["every", "sharp"])
def test_split_any_form_keeps_its_surface(form, way):
    base = {"step": form, "values": small(form)}
    before, after = made(base), made(base, {"step": "split", "values": {"way": way}})
    assert np.array_equal(
        after.points[after.topology.corners], before.points[before.topology.corners]
    )
    assert after.count("shard") >= 1
    for shard in range(min(after.count("shard"), 20)):
        mine = after.get("face", "shard") == shard
        own = np.unique(after.topology.corners[mine[after.topology.corner_face]])
        other = np.unique(after.topology.corners[~mine[after.topology.corner_face]])
        assert len(np.intersect1d(own, other)) == 0


@pytest.mark.parametrize(
    "step", [spread(0.4, "faces"), {"step": "turn_each", "values": {"size": 40}}]
)
def test_faces_that_share_points_are_cut_apart_where_the_mask_is(step):
    whole = made(BALL)
    mesh = made(BALL, {**step, "where": {"layers": [front(0.03)]}})
    middle = whole.points[whole.topology.corners.reshape(-1, 3)].mean(axis=1)[:, 0]
    corners = mesh.topology.corners.reshape(-1, 3)
    assert np.array_equal(
        mesh.points[corners][middle > 0.03],
        whole.points[whole.topology.corners.reshape(-1, 3)][middle > 0.03],
    )
    uses = np.bincount(mesh.topology.corners)
    # Faces that went are alone, and those that stay are joined as they were.
    assert uses[corners[middle < 0.03]].max() == 1
    assert len(mesh.points) < 3 * len(corners)
    assert np.isclose(uses[corners[middle > 0.4]], 6).mean() > 0.7


def watched_mask(*steps):
    found = result(*steps, mask_of="w")
    return found, found.weights


def test_the_mask_of_copies_that_a_step_makes_is_watched_on_these():
    row = {"step": "row", "values": {"count": 4, "move": [1, 0, 0], "centred": False}}
    watched = {"id": "w", **row, "where": {"layers": [front(1.5)]}}
    found, weights = watched_mask(CUBE, watched)
    assert (found.weighed, weights.tolist()) == ("copies", [1, 1, 0, 0])
    # Each of three copies of the whole row.
    found, weights = watched_mask(CUBE, watched, {**row, "values": {"count": 3}})
    assert (found.weighed, weights.tolist()) == ("copies", [1, 1, 0, 0] * 3)
    found, weights = watched_mask(CUBE, watched, {"step": "real"})
    assert (found.weighed, weights.tolist()) == ("points", [1] * 16 + [0] * 16)


def test_the_mask_of_a_step_that_needs_points_is_watched_on_all_copies():
    row = {"step": "row", "values": {"count": 3, "move": [3, 0, 0], "centred": False}}
    twist = {"id": "w", "step": "twist", "values": {"angle": 0.0}}
    twist["where"] = {"layers": [front(1.5)], "moves": "points"}
    found, weights = watched_mask(CUBE, row, twist)
    assert found.weighed == "points"
    assert np.array_equal(weights, (found.mesh.points[:, 0] < 1.5).astype(np.float32))
