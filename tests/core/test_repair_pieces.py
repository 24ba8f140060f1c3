"""Each fault of a mesh has a repair of its own, which takes that away and nothing else."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import volume
from tests.core.test_repair import form, together, without_faces
from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import make_mesh
from zygomorph.core.geometry.repair.crowded import parted
from zygomorph.core.geometry.repair.examine import examine, repairs
from zygomorph.core.geometry.repair.holes import openings
from zygomorph.core.geometry.repair.leave_out import doubled_faces, loose_points
from zygomorph.core.geometry.repair.shells import parts_of
from zygomorph.core.library.forms.imported import repaired
from zygomorph.core.values.entries import definitions

LOOP = Loop(24, 24)
DEFINITION = definitions("form")["imported"]
CUBE = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
CORNERS = np.array([(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)], float)


def quads(points, rows):
    corners = np.array(rows).reshape(-1)
    return make_mesh(np.array(points, np.float32), corners, np.arange(len(rows) + 1) * 4)


def repaired_by(mesh, **values):
    context = Context(LOOP, 0.0, np.eye(4), lambda _: mesh)
    given = {"mesh": "0" * 64, **values}
    return repaired(resolve(DEFINITION.values, given, np.zeros(1), LOOP), context)


def offers(mesh, filled_at=""):
    found = examine(mesh)
    return {r.key: r for r in repairs(found, found, True, openings(mesh), filled_at)}


def two_cubes_at_an_edge():
    """The second stands across the first's edge between its points 6 and 7."""
    moved = CORNERS + np.array([1, 1, 0])
    points = np.concatenate([CORNERS, moved])
    same = {8 + 0: 6, 8 + 1: 7}
    rows = CUBE + [tuple(same.get(8 + k, 8 + k) for k in row) for row in CUBE]
    return quads(points, rows)


def test_two_solids_that_share_an_edge_become_two_solids():
    mesh = two_cubes_at_an_edge()
    assert examine(mesh).crowded_edges == 1
    apart = parted(mesh)
    found = examine(apart)
    assert (found.crowded_edges, found.open_edges, found.parts) == (0, 0, 2)
    assert volume(apart) == pytest.approx(2)
    # Nothing has moved.
    before = mesh.points[mesh.topology.corners]
    assert np.array_equal(apart.points[apart.topology.corners], before)


def test_a_wall_within_a_solid_is_parted_and_the_solid_stays_closed():
    # The wall goes from edge (0, 1) to edge (6, 7) of the cube.
    mesh = quads(CORNERS, [*CUBE, (0, 1, 7, 6)])
    assert examine(mesh).crowded_edges == 2
    apart = parted(mesh)
    found = examine(apart)
    assert (found.crowded_edges, found.parts, found.open_edges) == (0, 2, 4)
    solid = parts_of(apart.topology) == parts_of(apart.topology)[0]
    assert solid.sum() == 6


def test_pages_that_meet_in_a_spine_are_parted():
    spine = [(0, 0, 0), (0, 1, 0)]
    rims = [(np.cos(a), y, np.sin(a)) for a in (0, 1, 2) for y in (0, 1)]
    mesh = quads(spine + rims, [(0, 1, 3 + 2 * k, 2 + 2 * k) for k in range(3)])
    apart = parted(mesh)
    assert examine(apart).crowded_edges == 0
    assert len(apart.points) == 12


@settings(max_examples=30, deadline=None)
@given(st.lists(st.permutations(range(8)).map(lambda p: tuple(p[:4])), min_size=1, max_size=12))
def test_parting_leaves_no_crowded_edge_and_moves_nothing(rows):
    mesh = quads(CORNERS, rows)
    apart = parted(mesh)
    assert examine(apart).crowded_edges == 0
    before = mesh.points[mesh.topology.corners]
    assert np.array_equal(apart.points[apart.topology.corners], before)


def test_loose_points_are_left_out():
    ball = form("icosphere", halvings=2)
    mesh = make_mesh(
        np.concatenate([[[9, 9, 9]], ball.points, [[7, 7, 7]]]).astype(np.float32),
        ball.topology.corners + 1,
        ball.topology.face_starts,
    ).with_attribute("point", "order", np.arange(len(ball.points) + 2, dtype=np.float32))
    assert loose_points(mesh.topology).tolist() == [0, len(ball.points) + 1]
    assert offers(mesh)["unused"].problem == "2 points are used by no face."
    whole = repaired_by(mesh, **offers(mesh)["unused"].values)
    assert np.array_equal(whole.points, ball.points)
    assert np.array_equal(whole.topology.corners, ball.topology.corners)
    assert whole.get("point", "order")[0] == 1
    # A cloud is not taken away.
    cloud = make_mesh(ball.points, np.zeros(0, np.int32), np.zeros(1, np.int32))
    assert len(repaired_by(cloud, unused=True).points) == len(ball.points)
    assert "unused" not in offers(cloud)


def test_doubled_faces_are_left_out_whichever_way_they_look():
    ball = form("icosphere", halvings=1)
    rows = ball.topology.corners.reshape(-1, 3)
    more = np.concatenate([rows, rows[3:5], rows[7:8, ::-1]])
    mesh = make_mesh(ball.points, more.reshape(-1), np.arange(len(more) + 1) * 3)
    assert doubled_faces(mesh.topology).tolist() == [len(rows), len(rows) + 1, len(rows) + 2]
    assert offers(mesh)["doubled"].action == "Leave out 3 faces"
    whole = repaired_by(mesh, **offers(mesh)["doubled"].values)
    assert np.array_equal(whole.topology.corners, ball.topology.corners)
    assert whole.topology.closed


def torn_cup():
    """A cup with two holes of different size in its wall."""
    tube = form("cylinder", caps=False)
    middles = tube.points[tube.topology.corners.reshape(-1, 4)].mean(axis=1)
    around = np.arctan2(middles[:, 2], middles[:, 0])
    small = (np.abs(around - 1) < 0.08) & (np.abs(middles[:, 1]) < 0.03)
    large = (np.abs(around + 1) < 0.2) & (np.abs(middles[:, 1]) < 0.1)
    assert 0 < small.sum() < large.sum()
    return without_faces(tube, np.flatnonzero(small | large))


def test_rims_are_told_from_holes():
    cup = torn_cup()
    found = examine(cup)
    assert (found.holes, found.rims) == (2, 2)
    offered = offers(cup)
    assert offered["rim-0"].minor and not offered["hole-0"].minor
    # A sheet's border is no hole.
    assert [r.minor for r in offers(form("sheet")).values()] == [True]


def test_holes_are_filled_all_together_and_rims_stay_open():
    cup = torn_cup()
    whole = repaired_by(cup, **offers(cup)["fill"].values)
    found = examine(whole)
    assert (found.holes, found.rims) == (0, 2)


def test_holes_are_filled_one_by_one():
    cup = torn_cup()
    once = offers(cup)["hole-1"]
    smaller = repaired_by(cup, **once.values)
    assert examine(smaller).holes == 1
    # The next one is filled beside it.
    both = offers(smaller, once.values["fill_at"])["hole-0"]
    assert both.values["fill_at"].startswith(once.values["fill_at"])
    assert examine(repaired_by(cup, **both.values)).holes == 0
    # A rim is filled too where somebody wants it.
    rim = offers(cup)["rim-0"]
    assert examine(repaired_by(cup, **rim.values)).rims == 1


def test_holes_are_filled_up_to_a_length():
    cup = torn_cup()
    large, small = (each.around for each in openings(cup) if not each.is_rim)
    assert examine(repaired_by(cup, fill_up_to=(small + large) / 2)).holes == 1
    assert examine(repaired_by(cup, fill_up_to=0.0)).holes == 2
    assert examine(repaired_by(cup, fill=True)).open_edges == 0


def test_several_faults_are_put_right_together():
    ball = form("icosphere", halvings=2)
    torn = without_faces(ball, [3])
    rows = torn.topology.corners.reshape(-1, 3)
    more = np.concatenate([rows, rows[10:12]]) + 1
    points = np.concatenate([[[5, 5, 5]], torn.points]).astype(np.float32)
    mesh = make_mesh(points, more.reshape(-1), np.arange(len(more) + 1) * 3)
    values = {}
    for _ in range(6):
        offered = [r for r in offers(repaired_by(mesh, **values)).values() if not r.minor]
        offered = [r for r in offered if r.key not in ("centre", "ground")]
        if not offered:
            break
        values |= offered[0].values
    whole = repaired_by(mesh, **values)
    assert whole.topology.closed
    assert len(whole.points) == len(ball.points)


@pytest.mark.parametrize("text", ["1 2", "a b c", "1 2 3 4", "1 2 nan", "0 0 0; 1"])
def test_a_place_that_is_none_is_told(text):
    with pytest.raises(ZygomorphError, match="no place of a hole"):
        repaired_by(torn_cup(), fill_at=text)


def test_parts_that_only_lie_together_are_not_crowded():
    assert examine(together(form("box"), form("box"))).crowded_edges == 0
