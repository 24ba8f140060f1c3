"""Topology, attributes, origins, normals."""

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tests.reference.test_deformers import form
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.mesh import Mesh, make_mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.origins import Origin, carry_attributes
from zygomorph.core.geometry.topology import LEAST_DERIVED_BYTES, Topology
from zygomorph.core.memo.held import held_bytes


def quad_pair() -> Mesh:
    """Two unit squares side by side, in the plane z = 0."""
    points = np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0], [0, 1, 0], [1, 1, 0], [2, 1, 0]])
    return make_mesh(points, np.array([0, 1, 4, 3, 1, 2, 5, 4]), np.array([0, 4, 8]))


def test_edges_of_two_quads_are_seven():
    assert len(quad_pair().topology.edges) == 7


def test_points_know_their_faces():
    starts, faces = quad_pair().topology.point_faces
    around = [sorted(faces[starts[p] : starts[p + 1]]) for p in range(6)]
    assert around == [[0], [0, 1], [1], [0], [0, 1], [1]]


def test_a_concave_polygon_is_cut_into_triangles_that_fill_it():
    # An L of area 3: a fan from its first corner would cover more than it.
    ring = np.array([[0, 0, 0], [2, 0, 0], [2, 1, 0], [1, 1, 0], [1, 2, 0], [0, 2, 0.0]])
    mesh = make_mesh(np.roll(ring, 3, axis=0), np.arange(6), np.array([0, 6]))
    corners = mesh.points[mesh.topology.triangles(mesh.points)]
    areas = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 2] / 2
    assert len(areas) == 4
    assert (areas > 0).all()
    assert areas.sum() == pytest.approx(3)


# A dart: a square of which one corner is pushed in beyond the middle, at the first or second corner.
DARTS = [
    np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [1, 2, 0], [0, 2, 0.0]]),
    np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [1, 2, 0], [0, 2, 0.0]]),
]
DARTS[0][0], DARTS[1][1] = [1.4, 1.6, 0], [0.6, 1.2, 0]


@pytest.mark.parametrize("first", [0, 1])
def test_who_asks_first_does_not_decide_how_others_are_cut(first):
    topology = make_mesh(DARTS[0], np.arange(5), np.array([0, 5])).topology
    for ring in (DARTS[first], DARTS[1 - first]):
        corners = ring[topology.triangles(ring.astype(np.float32))]
        areas = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 2] / 2
        x, y = ring[:, 0], ring[:, 1]
        shoelace = (x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2
        assert (areas > 0).all()
        assert areas.sum() == pytest.approx(shoelace)


def test_the_triangles_of_large_faces_are_told_by_the_digest():
    topology = make_mesh(DARTS[0], np.arange(5), np.array([0, 5])).topology
    cut = [topology.triangulated(ring.astype(np.float32)) for ring in DARTS]
    assert cut[0].digest != cut[1].digest
    assert cut[0].triangulated(DARTS[1]) is cut[0]
    assert quad_pair().topology.triangulated(quad_pair().points).cut is None


def test_what_a_frame_derives_of_a_topology_is_found_again_at_the_next():
    """Nine users of one topology, over five rounds: nine computations, not one for each use."""
    topology, made = quad_pair().topology, []
    for _ in range(5):
        for user in range(9):
            topology.derived(("user", user), lambda user=user: made.append(user) or np.zeros(100))
    assert made == list(range(9))


def test_what_is_derived_of_a_topology_stays_within_its_limit():
    topology = quad_pair().topology
    for user in range(40):
        topology.derived(("user", user), lambda: np.zeros(1_000_000))
    assert held_bytes(topology) <= LEAST_DERIVED_BYTES + 10_000


def test_triangles_keep_the_order_of_their_faces():
    corners = np.array([0, 1, 4, 3, 1, 2, 5])
    topology = Topology(6, corners.astype(np.int32), np.array([0, 4, 7], np.int32))
    triangles = topology.triangles(quad_pair().points)
    assert triangles.tolist() == [[0, 1, 4], [0, 4, 3], [1, 2, 5]]


def test_point_normals_agree_with_trimesh():
    mesh = form("icosphere", halvings=4)
    bumpy = mesh.moved((mesh.points * (1 + 0.2 * np.sin(9 * mesh.points[:, :1]))).astype("f4"))
    solid = trimesh.Trimesh(bumpy.points, bumpy.topology.triangles(bumpy.points), process=False)
    own = point_normals(bumpy)
    # trimesh weighs by angle and ours by area, so they agree only nearly.
    assert np.einsum("ij,ij->i", own, solid.vertex_normals).min() > 0.99
    assert np.allclose(np.linalg.norm(own, axis=1), 1, atol=1e-5)


def test_a_quads_normal_does_not_depend_on_its_diagonal():
    lifted = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0.4], [0, 1, 0]])
    one = make_mesh(lifted, np.arange(4), np.array([0, 4]))
    other = make_mesh(lifted, np.roll(np.arange(4), 1), np.array([0, 4]))
    assert np.allclose(point_normals(one), point_normals(other), atol=1e-6)


def test_an_attribute_of_the_wrong_length_is_refused():
    with pytest.raises(ValueError, match=r"3 entries for 6 elements"):
        quad_pair().with_attribute("point", "weight", np.zeros(3))


def test_domains_are_counted():
    mesh = quad_pair().with_attribute("face", "shard", np.array([0, 1]))
    assert [mesh.count(d) for d in ("point", "corner", "face", "shard")] == [6, 8, 2, 2]


def test_an_origin_mixes_numbers_and_takes_the_strongest_parent_of_whole_ones():
    made = Origin.mixed(np.array([[0, 1], [2, 1]]), np.float32([[0.5, 0.5], [0.9, 0.1]]))
    assert np.allclose(made.carry(np.float32([0, 2, 10])), [1, 9.2])
    assert made.carry(np.array([7, 8, 9])).tolist() == [7, 9]
    pairs = np.float32([[0, 0], [2, 4], [10, 10]])
    assert np.allclose(made.carry(pairs), [[1, 2], [9.2, 9.4]])


def test_all_attributes_are_carried_by_their_origin():
    mesh = quad_pair().with_attribute("point", "heat", np.arange(6, dtype=np.float32))
    carried = carry_attributes(mesh, {"point": Origin.taken(np.array([5, 5, 0]))})
    assert carried["point"]["heat"].tolist() == [5, 5, 0]
    assert set(carried["point"]) == {"heat", "rest"}


def test_a_whole_is_the_mean_of_its_parts_and_parts_take_the_wholes_value():
    mesh = quad_pair().with_attribute("face", "shard", np.array([0, 0]))
    heat = np.float32([0, 1, 2, 0, 1, 2])
    on_faces = between_domains(mesh, heat, "point", "face")
    assert on_faces.tolist() == [0.5, 1.5]
    assert between_domains(mesh, on_faces, "face", "point").tolist() == [0.5, 1, 1.5, 0.5, 1, 1.5]
    assert between_domains(mesh, heat, "point", "shard").tolist() == [1]
    assert between_domains(mesh, np.float32([4]), "shard", "face").tolist() == [4, 4]
    with pytest.raises(ValueError, match="cannot be read"):
        between_domains(mesh, heat, "point", "copy")


@given(st.integers(1, 5000), st.integers(0, 99))
def test_the_box_is_that_of_numpy(count, seed):
    points = np.random.default_rng(seed).normal(size=(count, 3)).astype(np.float32)
    low, high, finite = box_of(points)
    assert finite
    assert np.array_equal(low, points.min(axis=0))
    assert np.array_equal(high, points.max(axis=0))


@pytest.mark.parametrize("wrong", [np.nan, np.inf, -np.inf])
def test_the_box_notices_what_is_not_finite(wrong):
    points = np.zeros((10_000, 3), np.float32)
    points[7777, 1] = wrong
    assert box_of(points)[2] is False


@given(st.data())
def test_an_origin_keeps_sums_of_numbers_within_their_parents(data):
    old = data.draw(st.integers(1, 8))
    new = data.draw(st.integers(1, 12))
    width = data.draw(st.integers(1, 3))
    index = st.integers(0, old - 1)
    parents = np.array(
        data.draw(
            st.lists(st.lists(index, min_size=width, max_size=width), min_size=new, max_size=new)
        )
    )
    raw = np.array(
        data.draw(
            st.lists(
                st.lists(st.floats(0.1, 1), min_size=width, max_size=width),
                min_size=new,
                max_size=new,
            )
        )
    )
    origin = Origin.mixed(parents, (raw / raw.sum(axis=1, keepdims=True)).astype(np.float32))
    values = np.array(data.draw(st.lists(st.floats(-5, 5), min_size=old, max_size=old)), np.float32)
    carried = origin.carry(values)
    assert len(carried) == new
    # A weighted mean lies between its parents, and a constant stays itself.
    assert (carried >= values[parents].min(axis=1) - 1e-5).all()
    assert (carried <= values[parents].max(axis=1) + 1e-5).all()
    assert np.allclose(origin.carry(np.full(old, 3.5, np.float32)), 3.5, atol=1e-5)
    flags = origin.carry(np.arange(old))
    assert set(flags) <= set(range(old))


@pytest.mark.parametrize("source", ["point", "corner", "face", "shard"])
@pytest.mark.parametrize("target", ["point", "corner", "face", "shard"])
def test_a_constant_is_the_same_on_every_domain(source, target):
    mesh = quad_pair().with_attribute("face", "shard", np.array([0, 1], np.int32))
    values = np.full(mesh.count(source), 0.25, np.float32)
    assert between_domains(mesh, values, source, target).tolist() == [0.25] * mesh.count(target)


def test_copies_do_not_know_points():
    mesh = quad_pair()
    with pytest.raises(ValueError, match="cannot be read"):
        between_domains(mesh, np.zeros(3, np.float32), "copy", "point")


@given(st.integers(3, 9), st.integers(0, 1000))
def test_any_star_shaped_polygon_is_filled_by_its_triangles(sides, seed):
    random = np.random.default_rng(seed)
    angle = np.sort(random.uniform(0, 2 * np.pi, sides))
    if (np.diff(np.append(angle, angle[0] + 2 * np.pi)) > np.pi * 0.9).any():
        return  # its middle would lie outside
    radius = random.uniform(0.3, 1.0, sides)
    ring = np.stack([radius * np.cos(angle), radius * np.sin(angle), np.zeros(sides)], axis=1)
    mesh = make_mesh(ring, np.arange(sides), np.array([0, sides]))
    a, b, c = (mesh.points[mesh.topology.triangles(mesh.points)][:, k] for k in range(3))
    areas = np.cross(b - a, c - a)[:, 2] / 2
    x, y = ring[:, 0], ring[:, 1]
    shoelace = 0.5 * (x * np.roll(y, -1) - y * np.roll(x, -1)).sum()
    assert areas.sum() == pytest.approx(shoelace, abs=1e-5)
    if sides > 4:
        assert (areas > -1e-6).all()


TETRAHEDRON = [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]]


@pytest.mark.parametrize(
    ("faces", "closed"),
    [
        (TETRAHEDRON, True),
        (TETRAHEDRON[:3], False),
        ([[0, 1, 2], *TETRAHEDRON[1:]], False),
        ([*TETRAHEDRON, [0, 1, 2]], False),
        ([], False),
    ],
    ids=["whole", "a face missing", "a face turned over", "a face too many", "nothing"],
)
def test_a_surface_is_closed_where_every_side_is_met_by_one_other(faces, closed):
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]], np.float32)
    topology = Topology(
        4,
        np.array(faces, np.int32).reshape(-1),
        np.arange(0, 3 * len(faces) + 1, 3, dtype=np.int32),
    )
    assert topology.closed is closed
    if faces:
        # trimesh 5 as the reference.
        other = trimesh.Trimesh(points, faces, process=False)
        assert topology.closed is bool(other.is_watertight and other.is_winding_consistent)
