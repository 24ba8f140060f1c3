"""What is wrong with a mesh is found, and each repair takes it away."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import volume
from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.mesh import PART, SHARD, UV, make_mesh
from zygomorph.core.geometry.repair.examine import examine, repairs
from zygomorph.core.geometry.repair.holes import filled, hole_sides
from zygomorph.core.geometry.repair.merge import joined, split_by
from zygomorph.core.geometry.repair.shells import parts_of, turned_faces, with_faces_turned
from zygomorph.core.library.forms.imported import repaired
from zygomorph.core.values.entries import definitions

LOOP = Loop(24, 24)
DEFINITION = definitions("form")["imported"]


def form(key, **values):
    definition = definitions("form")[key]
    context = Context(LOOP, 0.0, np.eye(4))
    return definition.apply(resolve(definition.values, values, np.zeros(1), LOOP), context)


def without_faces(mesh, gone):
    """The mesh without some faces; all must have the same number of corners."""
    rows = np.delete(mesh.topology.corners.reshape(-1, mesh.topology.sides), gone, axis=0)
    return make_mesh(mesh.points, rows.reshape(-1), np.arange(len(rows) + 1) * mesh.topology.sides)


def together(*meshes):
    """Several meshes as one."""
    first, corners, starts, parts = 0, [], [0], []
    for number, mesh in enumerate(meshes):
        corners.append(mesh.topology.corners + first)
        starts += (mesh.topology.face_starts[1:] + starts[-1]).tolist()
        parts += [number] * mesh.topology.face_count
        first += len(mesh.points)
    points = np.concatenate([m.points for m in meshes])
    made = make_mesh(points, np.concatenate(corners), np.array(starts))
    return made.with_attribute("face", PART, np.array(parts, np.int32))


def test_a_whole_ball_has_nothing_to_repair():
    found = examine(form("icosphere", halvings=3))
    assert (found.parts, found.holes, found.turned_faces, found.close_points) == (1, 0, 0, 0)
    assert repairs(found, found.measured(np.zeros((2, 3))), True) == []


@pytest.mark.parametrize("gone", [[5], [5, 6], list(range(40)), [0, 100, 200, 300]])
def test_holes_are_found_and_filled(gone):
    ball = form("icosphere", halvings=3)
    torn = without_faces(ball, gone)
    found = examine(torn)
    assert found.holes + found.rims >= 1
    assert found.open_edges == sum(len(hole) for hole in hole_sides(torn.topology))
    whole = filled(torn)
    assert examine(whole).open_edges == 0
    assert whole.topology.closed
    assert volume(whole) == pytest.approx(volume(ball), rel=0.05)
    # What was there stays as it was.
    assert np.array_equal(whole.points[: len(torn.points)], torn.points)
    assert np.array_equal(
        whole.topology.corners[: len(torn.topology.corners)], torn.topology.corners
    )


def test_a_hole_of_many_sides_gets_a_point_in_its_middle():
    tube = form("cylinder", caps=False)
    found = examine(tube)
    # They are as wide as the tube itself, and so likely meant.
    assert (found.holes, found.rims) == (0, 2)
    whole = filled(tube)
    assert len(whole.points) == len(tube.points) + 2
    assert np.allclose(whole.points[-2:, [0, 2]], 0, atol=1e-6)
    assert volume(whole) == pytest.approx(volume(form("cylinder", caps=True)), rel=1e-5)


def test_holes_that_touch_in_a_point_are_two():
    sheet = form("sheet", columns=4, rows=4)
    torn = without_faces(sheet, [5, 10])
    # Its outer rim is an opening too.
    assert sorted(len(hole) for hole in hole_sides(torn.topology)) == [4, 4, 16]


def test_what_fills_a_hole_has_attributes_of_its_rim():
    sheet = without_faces(form("sheet", columns=6, rows=6), [14, 15])
    uv = np.stack([sheet.points[sheet.topology.corners, axis] for axis in (0, 2)], axis=1)
    marked = sheet.with_attribute("corner", UV, uv).with_attribute(
        "point", "height", sheet.points[:, 0].copy()
    )
    whole = filled(marked)
    assert len(whole.get("corner", UV)) == len(whole.topology.corners)
    added = whole.get("point", "height")[len(sheet.points) :]
    assert np.allclose(added, whole.points[len(sheet.points) :, 0], atol=1e-6)


@given(st.lists(st.booleans(), min_size=320, max_size=320))
@settings(max_examples=25, deadline=None)
def test_any_faces_of_a_ball_that_are_turned_are_found(turned):
    ball = form("icosphere", halvings=2)
    turned = np.array(turned)
    muddled = with_faces_turned(ball, turned)
    assert np.array_equal(turned_faces(muddled), turned)
    assert np.array_equal(
        with_faces_turned(muddled, turned).topology.corners, ball.topology.corners
    )


def test_a_shell_that_looks_inward_as_a_whole_is_turned():
    ball = form("icosphere", halvings=2)
    inward = with_faces_turned(ball, np.ones(ball.topology.face_count, bool))
    assert turned_faces(inward).all()
    assert volume(with_faces_turned(inward, turned_faces(inward))) == pytest.approx(volume(ball))


def test_a_hollow_keeps_its_inner_side():
    outer = form("icosphere", halvings=2)
    inner = outer.moved(outer.points * np.float32(0.5))
    hollow = together(outer, with_faces_turned(inner, np.ones(320, bool)))
    assert not turned_faces(hollow).any()
    # Both outward is the mistake then.
    assert turned_faces(together(outer, inner)).sum() == 320


def test_a_flat_sheet_keeps_the_side_that_most_faces_have():
    sheet = form("sheet", columns=5, rows=5)
    few = np.zeros(25, bool)
    few[[3, 7]] = True
    assert np.array_equal(turned_faces(with_faces_turned(sheet, few)), few)


def test_a_band_with_one_side_is_left_alone():
    angle = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    across = np.array([-0.2, 0.2])
    radius = 1 + across[None, :] * np.cos(angle / 2)[:, None]
    points = np.stack(
        [
            radius * np.cos(angle)[:, None],
            across[None, :] * np.sin(angle / 2)[:, None],
            radius * np.sin(angle)[:, None],
        ],
        axis=2,
    ).reshape(-1, 3)
    quads = [[2 * k, 2 * k + 1, 2 * k + 3, 2 * k + 2] for k in range(23)] + [[46, 47, 0, 1]]
    band = make_mesh(points, np.array(quads).reshape(-1), np.arange(25) * 4)
    assert not turned_faces(band).any()


def test_points_that_nearly_coincide_are_joined_in_their_middle():
    left, right = (
        form("sheet", width=1, columns=2, rows=2),
        form("sheet", columns=2, rows=2, width=1),
    )
    right = right.moved(right.points + np.float32([1.0002, 0, 0]))
    both = together(left, right)
    assert examine(both).close_points == 0
    near = joined(both, 1e-3)
    assert len(near.points) == len(both.points) - 3
    assert near.topology.face_count == 8
    assert np.isclose(near.points[:, 0], 0.5001, atol=1e-5).sum() == 3
    assert examine(near).open_edges == 12
    # What collapses goes.
    assert joined(both, 10.0).topology.face_count == 0


def test_examining_offers_to_join_what_the_file_left_apart():
    left = form("sheet", columns=2, rows=2)
    right = left.moved(left.points + np.float32([left.points[:, 0].max() * 2 + 1e-6, 0, 0]))
    found = examine(together(left, right))
    assert found.close_points == 3
    offered = {r.key: r for r in repairs(found, found, True)}
    assert offered["join"].action == "Join 3 points"
    after = examine(joined(together(left, right), offered["join"].values["join"]))
    assert after.close_points == 0


def test_parts_are_told_apart_and_split():
    tetra = form("icosphere", halvings=0)
    three = together(*(tetra.moved(tetra.points + np.float32([k * 3, 0, 0])) for k in range(3)))
    assert np.array_equal(parts_of(three.topology), np.repeat([0, 1, 2], 20))
    halves = np.arange(20) % 2
    apart = split_by(tetra, halves)
    assert len(parts_of(apart.topology)) == 20
    assert np.allclose(apart.points[apart.topology.corners], tetra.points[tetra.topology.corners])


def context_of(mesh):
    return Context(LOOP, 0.0, np.eye(4), asset=lambda digest: mesh)


def brought(mesh, **values):
    given = resolve(DEFINITION.values, {"mesh": "a" * 64, **values}, np.zeros(1), LOOP)
    return DEFINITION.apply(given, context_of(mesh))


def test_the_form_takes_repairs_in_an_order_that_works():
    """Joined first, or its seams would be filled; turned next, so that fills look outward."""
    ball = form("icosphere", halvings=2)
    torn = without_faces(ball, [3])
    loose = split_by(torn, np.arange(319) % 2)
    muddled = with_faces_turned(loose, np.arange(319) < 50)
    made = brought(muddled, join=1e-5, turn=True, fill=True, fit=False)
    assert made.topology.closed
    assert made.topology.face_count == 320
    assert volume(made) == pytest.approx(volume(ball), rel=1e-4)
    given = resolve(DEFINITION.values, {"mesh": "a" * 64, "fill": True}, np.zeros(1), LOOP)
    context = context_of(torn)
    assert repaired(given, context) is repaired(given, context)


def test_units_ground_and_centre():
    ball = form("icosphere", halvings=1, radius=10.0)
    away = ball.moved(ball.points + np.float32([100, 50, 0]))
    made = brought(away, fit=False, unit="cm")
    assert np.allclose(made.points, away.points / 100, atol=1e-6)
    made = brought(away, fit=False, unit="mm", centre=True, ground=True)
    low, high = made.points.min(axis=0), made.points.max(axis=0)
    assert low[1] == pytest.approx(0, abs=1e-7)
    assert (low + high)[[0, 2]] == pytest.approx(0, abs=1e-6)
    found = examine(away)
    offered = [r.key for r in repairs(found, found, False)]
    assert offered == ["centre", "ground"]
    small = found.measured(away.points * 1e-4)
    assert "scale" in [r.key for r in repairs(found, small, False)]


def test_parts_become_shards():
    tetra = form("icosphere", halvings=0)
    two = together(tetra, tetra.moved(tetra.points + np.float32([0.5, 0, 0])))
    assert brought(two).get("face", SHARD) is None
    for parts in ("objects", "connected"):
        assert brought(two, parts=parts).count("shard") == 2
    assert brought(tetra, parts="objects").count("shard") == 1
