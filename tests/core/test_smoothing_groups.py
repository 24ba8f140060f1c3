"""Smoothing groups: edges that are drawn sharp, of a surface whose points stay joined."""

import io

import numpy as np
import pytest
import trimesh

from tests.conftest import study
from tests.core.test_boolean import cutter
from tests.random_values import made_of
from zygomorph.api.frames import FrameOptions, pack_frame, pack_topology
from zygomorph.core.evaluation.drawable import drawable
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.write import write_obj
from zygomorph.core.geometry.mesh import MASK, SMOOTHING
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.geometry.smoothing import drawn_apart

CUBE = {"step": "box", "values": {"size": [1, 1, 1], "across": 1, "up": 1, "deep": 1}}
BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}}
FRACTURE = {"step": "fracture", "values": {"count": 12, "gap": 0.0}}


def mesh_of(*steps, other=None):
    made = made_of(*steps, other=other or cutter())
    return Evaluator().evaluate(made, Request("p", 0.0)).mesh


def corner_normals(mesh):
    drawn = drawn_apart(mesh)
    return point_normals(drawn)[drawn.topology.corners]


def face_normals(mesh):
    areas = face_vector_areas(mesh)
    units = areas / np.linalg.norm(areas, axis=1, keepdims=True)
    return units[mesh.topology.corner_face]


def test_a_cube_is_closed_and_drawn_with_24_points_that_look_along_the_axes():
    mesh = mesh_of(CUBE)
    assert (len(mesh.points), mesh.topology.closed) == (8, True)
    drawn = drawn_apart(mesh)
    assert len(drawn.points) == 24
    assert corner_normals(mesh) == pytest.approx(face_normals(mesh), abs=1e-6)


def test_displacing_a_cube_keeps_it_closed():
    mesh = mesh_of(CUBE, {"step": "inflate", "values": {"amount": 0.1}})
    assert (len(mesh.points), mesh.topology.closed) == (8, True)


def test_sides_of_a_cylinder_are_round_and_its_caps_flat():
    mesh = mesh_of({"step": "cylinder", "values": {"around": 24, "rows": 4, "cap_rings": 2}})
    normals, flat = corner_normals(mesh), face_normals(mesh)
    caps = np.abs(flat[:, 1]) > 0.9
    assert normals[caps] == pytest.approx(flat[caps], abs=1e-6)
    # On the side the normal is that of the round form: straight away from the axis.
    away = mesh.points[mesh.topology.corners][~caps] * [1, 0, 1]
    away /= np.linalg.norm(away, axis=1, keepdims=True)
    assert normals[~caps] == pytest.approx(away, abs=1e-4)


def test_walls_of_shards_are_drawn_flat_and_the_outside_round():
    mesh = mesh_of(BALL, FRACTURE)
    assert mesh.topology.closed
    normals, flat = corner_normals(mesh), face_normals(mesh)
    inner = (mesh.get("face", MASK + "inner") > 0)[mesh.topology.corner_face]
    # Walls between Voronoi cells are planes. Slivers have no direction that float32 could tell.
    areas = np.linalg.norm(face_vector_areas(mesh), axis=1)[mesh.topology.corner_face]
    told = inner & (areas > 1e-5)
    assert normals[told] == pytest.approx(flat[told], abs=5e-3)
    outwards = mesh.points[mesh.topology.corners][~inner]
    outwards /= np.linalg.norm(outwards, axis=1, keepdims=True)
    # Of a rim only the outer faces count, so that it leans by less than a face does.
    assert np.einsum("ij,ij->i", normals[~inner], outwards).min() > 0.97


def test_a_corner_that_a_box_cut_out_has_three_flat_sides():
    mesh = mesh_of(
        BALL, {"step": "boolean", "values": {"piece": "o"}}, other=cutter(move=[0.5, 0.5, 0.5])
    )
    cut = (mesh.get("face", MASK + "cut") > 0)[mesh.topology.corner_face]
    normals = corner_normals(mesh)[cut]
    assert np.abs(normals).max(axis=1) == pytest.approx(np.ones(len(normals)), abs=1e-3)
    assert len(np.unique(np.round(normals), axis=0)) == 3


def test_sides_of_extruded_faces_are_flat():
    mesh = mesh_of(CUBE, {"step": "extrude", "values": {"depth": 0.3, "inset": 0.1}})
    assert mesh.topology.closed
    assert corner_normals(mesh) == pytest.approx(face_normals(mesh), abs=1e-5)


@pytest.mark.parametrize(
    "step",
    [
        {"step": "subdivide", "values": {"way": "smooth", "levels": 1}},
        {"step": "shade", "values": {"way": "smooth"}},
        {"step": "voxels", "values": {"size": 0.1}},
        {"step": "bevel", "values": {"width": 0.1}},
    ],
    ids=lambda step: step["step"],
)
def test_what_rounds_the_surface_is_drawn_round(step):
    mesh = mesh_of(CUBE, step)
    groups = mesh.get("face", SMOOTHING)
    assert groups is None or len(np.unique(groups)) == 1


def test_a_viewer_is_told_that_what_is_drawn_apart_is_closed():
    made = study(CUBE)
    drawn = Evaluator().drawn(made, Request("p", 0.0))
    topology = drawn.result.geometry.mesh.topology
    assert (topology.point_count, topology.closed) == (24, False)
    assert b'"closed":true' in bytes(pack_topology(topology))
    frame = bytes(pack_frame("p", drawn, FrameOptions(0.0)))
    assert b'"points":8' in frame
    assert b'"drawn":24' in frame


def test_weights_are_drawn_with_the_points_they_are_of():
    made = study(
        CUBE,
        {
            "step": "inflate",
            "values": {"amount": 0.0},
            "where": {
                "layers": [{"id": "l", "layer": "linear", "values": {"direction": [1, 0, 0]}}]
            },
        },
    )
    step = made.pieces[0]["recipe"][1]["id"]
    found = Evaluator().evaluate(made, Request("p", 0.0, mask_of=step))
    drawn = drawable(found)
    assert len(np.unique(found.weights)) > 1
    places = {tuple(p): w for p, w in zip(found.mesh.points, found.weights, strict=True)}
    assert [places[tuple(p)] for p in drawn.mesh.points] == list(drawn.weights)


def test_glb_and_obj_have_the_normals_of_both_sides_of_an_edge():
    made = study(CUBE)
    glb = trimesh.load(io.BytesIO(deliver_glb(made, Evaluator()).data), file_type="glb")
    (read,) = glb.geometry.values()
    assert np.abs(read.vertex_normals).max(axis=1) == pytest.approx(np.ones(24), abs=1e-3)
    lines = write_obj(mesh_of(CUBE)).decode().splitlines()
    assert sum(line.startswith("v ") for line in lines) == 8
    assert sum(line.startswith("vn ") for line in lines) == 24
