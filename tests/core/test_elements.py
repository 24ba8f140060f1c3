"""Formulas at points, faces and shards."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.inspect.formula_plot import plot_formula

TILES = {
    "step": "tiling",
    "values": {"kind": "square", "columns": 4, "rows": 3, "size": 0.5, "gap": 10.0},
}


def mesh_of(form, **values):
    made = study(form, {"step": "formula", "values": values}) if values else study(form)
    return Evaluator().evaluate(made, Request("p")).mesh


def areas(mesh):
    return np.linalg.norm(face_vector_areas(mesh).astype(float), axis=1) / 2


def shard_means(mesh, values):
    shard = mesh.get("face", "shard")[mesh.topology.corner_face]
    corners = values[mesh.topology.corners].astype(float)
    sizes = np.bincount(shard)
    return np.stack([np.bincount(shard, c) / sizes for c in corners.T], axis=1)


@pytest.mark.parametrize("of", ["faces", "shards"])
def test_a_size_scales_each_tile_about_its_own_centre(of):
    before, after = mesh_of(TILES), mesh_of(TILES, writes="size", of=of, size="0.5 + 0.1 * i")
    # An area goes with the square of a length.
    share = (0.5 + 0.1 * np.arange(12)) ** 2
    np.testing.assert_allclose(areas(after), areas(before) * share, rtol=1e-5)
    np.testing.assert_allclose(
        shard_means(after, after.points), shard_means(before, before.points), atol=1e-6
    )


@settings(max_examples=25, deadline=None)
@given(st.floats(-720, 720))
def test_a_turn_keeps_every_distance_to_the_centre(angle):
    before, after = mesh_of(TILES), mesh_of(TILES, writes="turn", of="shards", turn=str(angle))
    shard = np.zeros(len(before.points), int)
    shard[before.topology.corners] = before.get("face", "shard")[before.topology.corner_face]
    centres = shard_means(before, before.points)[shard]
    far = [np.linalg.norm(m.points - centres, axis=1) for m in (before, after)]
    np.testing.assert_allclose(far[1], far[0], atol=2e-6)
    # Tiles lie flat: they turn about the vertical, and no point leaves the plane.
    np.testing.assert_allclose(after.points[:, 1], before.points[:, 1], atol=1e-6)


def test_a_positive_turn_is_counter_clockwise_seen_from_where_the_normal_points():
    before, after = mesh_of(TILES), mesh_of(TILES, writes="turn", of="faces", turn="90")
    centre = shard_means(before, before.points)[0]
    first = before.topology.corners[0]
    x, _, z = before.points[first] - centre
    # About +y a quarter turn takes x to -z and z to x (right-handed).
    np.testing.assert_allclose(after.points[first] - centre, [z, 0, -x], atol=1e-6)


def test_an_offset_at_shards_carries_each_as_a_whole():
    after = mesh_of(TILES, writes="offset", elements="shards", offset="0.1 * i")
    shard = after.get("face", "shard")[after.topology.corner_face]
    np.testing.assert_allclose(after.points[after.topology.corners, 1], 0.1 * shard, atol=1e-6)


def test_a_position_at_faces_moves_their_centres_there():
    after = mesh_of(TILES, writes="position", elements="faces", to_x="x", to_y="q", to_z="2 * z")
    before = shard_means(mesh_of(TILES), mesh_of(TILES).points)
    found = shard_means(after, after.points)
    np.testing.assert_allclose(found[:, 1], np.arange(12) / 12, atol=1e-6)
    np.testing.assert_allclose(found[:, 2], 2 * before[:, 2], atol=1e-6)


def test_a_point_of_several_faces_goes_as_far_as_they_carry_it_in_the_mean():
    """Faces of a ball grow about their centres: every point is pushed outwards by its neighbours."""
    ball = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 3}}
    same, larger = (mesh_of(ball, writes="size", size=s).points for s in ("1", "1.5"))
    np.testing.assert_allclose(same, mesh_of(ball).points, atol=1e-6)
    assert np.all(np.linalg.norm(larger, axis=1) > np.linalg.norm(same, axis=1))


@pytest.mark.parametrize(("elements", "count"), [("points", 48), ("faces", 12), ("shards", 12)])
def test_index_and_count_are_those_of_the_chosen_elements(elements, count):
    made = study(TILES, {"step": "formula", "values": {"writes": "value", "elements": elements}})
    plot = plot_formula(Evaluator(), made, "p", "s1", "i / n", 0.0)
    assert plot.count == count
    assert plot.high[-1] == pytest.approx((count - 1) / count)


def test_a_value_at_shards_is_read_by_masks_at_their_points():
    mesh = mesh_of(TILES, writes="value", elements="shards", value="i", name="mine")
    stored = mesh.get("point", MASK + "mine")
    shard = mesh.get("face", "shard")[mesh.topology.corner_face]
    np.testing.assert_array_equal(stored[mesh.topology.corners], shard)


def test_normals_and_uvs_of_faces_are_those_of_the_face():
    box = {"step": "box", "values": {"size": [2, 2, 2], "across": 1, "up": 1, "deep": 1}}
    # Pushed along their own normals, the sides of a box move apart: each corner takes the mean of
    # three of them, a third of the way along each axis.
    out = mesh_of(
        box, writes="position", elements="faces", to_x="x + nx", to_y="y + ny", to_z="z + nz"
    )
    np.testing.assert_allclose(np.abs(out.points), 1 + 1 / 3, atol=1e-6)
    sheet = {"step": "sheet", "values": {"columns": 4, "rows": 1, "width": 4.0, "depth": 1.0}}
    found = mesh_of(sheet, writes="position", elements="faces", to_x="x", to_y="u", to_z="z")
    assert found.points[:, 1].min() == pytest.approx(1 / 8)
    assert found.points[:, 1].max() == pytest.approx(7 / 8)


@pytest.mark.parametrize(
    ("form", "values", "message"),
    [
        ({"step": "circle"}, {"writes": "size"}, "no faces"),
        ({"step": "cloth", "values": {"columns": 9, "rows": 9}}, {"writes": "turn"}, "no faces"),
        ({"step": "icosphere"}, {"writes": "turn", "of": "shards"}, "no shards"),
    ],
)
def test_what_has_no_such_elements_says_so(form, values, message):
    with pytest.raises(StepError, match=message) as raised:
        mesh_of(form, **values)
    assert raised.value.hint


def test_every_free_letter_is_a_value_of_the_artist():
    sheet = {"step": "sheet", "values": {"columns": 2, "rows": 2}}
    raised = mesh_of(sheet, writes="position", to_x="x", to_y="g + h * k", to_z="z", g=1, h=2, k=3)
    np.testing.assert_allclose(raised.points[:, 1], 7.0)
