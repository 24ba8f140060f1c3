"""Mesh files as they come: odd but right ones are read, wrong ones are explained."""

import json
import struct

import numpy as np
import pytest

from tests.conftest import obj_text, volume
from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.read import read_here as read_mesh
from zygomorph.core.formats.soup import Soup, to_mesh, weld
from zygomorph.core.formats.write import write_ply, write_stl
from zygomorph.core.values.entries import definitions

TETRAHEDRON = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]], float)
FACES = np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])


def obj(text):
    return read_mesh(text.encode(), "a.obj")


def test_a_closed_mesh_has_its_volume_and_no_open_edge():
    mesh, report = obj(obj_text(TETRAHEDRON, FACES))
    assert volume(mesh) == pytest.approx(1 / 6)
    assert report.open_edges == 0
    assert report.size == [1.0, 1.0, 1.0]


@pytest.mark.parametrize(
    "text",
    [
        "v 0 0 0\nv 1 0 0\nv 0 1 0\nf -3 -2 -1\n",
        "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1// 2// 3//\n".replace("//", ""),
        "# comment\n\no part\ng group\ns off\nv 0 0 0 1.0\nv 1 0 0 1.0\nv 0 1 0 1.0\nf 1 2 3\n",
        "mtllib none.mtl\nusemtl red\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n",
        "v 0 0 0\r\nv 1 0 0\r\nv 0 1 0\r\nf 1 2 3\r\n",
        "v 0 0 0\nv 1e0 0 0\nv 0 1 0\nvt 0 0\nvn 0 0 1\nf 1/1/1 2/1/1 3/1/1\n",
    ],
)
def test_obj_in_its_dialects(text):
    mesh, report = obj(text)
    assert (report.points, report.faces) == (3, 1)
    assert mesh.points.max() == 1


def test_polygons_stay_polygons():
    mesh, _ = obj("v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 2 0\nv 0 1 0\nf 1 2 3 4 5\n")
    assert np.diff(mesh.topology.face_starts).tolist() == [5]


def test_a_polygon_may_have_hundreds_of_corners():
    angle = np.arange(700) * 2 * np.pi / 700
    ring = np.stack([np.cos(angle), np.zeros(700), np.sin(angle)], axis=1)
    mesh, _ = obj(obj_text(ring, [list(range(700)), [0, 1, 2]]))
    assert np.diff(mesh.topology.face_starts).tolist() == [700, 3]


@pytest.mark.parametrize("corner", ["6/8-", "5//e8f", "1/2/3/4", "0x1", "1.5", "--1"])
def test_a_damaged_corner_names_its_line(corner):
    text = "".join(f"v {k} 0 {k * k}\n" for k in range(6)) + f"f 1 2 {corner}\n"
    with pytest.raises(MeshFileError, match="Line 7"):
        obj(text)


def test_doubled_points_are_joined_and_faces_that_vanish_are_dropped():
    text = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 0\nv 1 0 0\nf 1 2 3\nf 1 4 2\nf 4 5 3\n"
    _, report = obj(text)
    assert (report.points, report.joined_points) == (3, 2)
    assert (report.faces, report.dropped_faces) == (2, 1)


def test_minus_zero_is_zero_when_points_are_joined():
    points, number = weld(np.array([[0.0, 0, 0], [-0.0, 0, 0], [1, 0, 0]]))
    assert len(points) == 2
    assert number.tolist() == [0, 0, 1]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("v 0 0\n", "Line 1"),
        ("v 0 0 0\nv 1 0 zero\n", "Line 2"),
        ("v 0 0 inf\n", "Line 1"),
        ("v 0 0 0\nf 0 1 2\n", "Line 2"),
        ("v 0 0 0\nf 1 2 -9\n", "Line 2"),
        ("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 7\n", "point"),
        ("v 1e30 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "1e9"),
        ("hello\n", "no points"),
    ],
)
def test_a_wrong_obj_says_where(text, words):
    with pytest.raises(MeshFileError, match=words) as caught:
        obj(text)
    assert caught.value.hint


@pytest.mark.parametrize("name", ["a.fbx", "a", "a.obj.zip", ".obj.exe"])
def test_files_of_other_kinds_are_named(name):
    with pytest.raises(MeshFileError, match="not read here") as caught:
        read_mesh(b"x", name)
    assert ".obj" in caught.value.hint


def test_endings_are_read_in_any_case():
    assert read_mesh(obj_text(TETRAHEDRON, FACES).encode(), "A.OBJ")[1].faces == 4


def mesh_of_tetrahedron():
    return obj(obj_text(TETRAHEDRON, FACES))[0]


@pytest.mark.parametrize("cut", [0.1, 0.5, 0.9, 0.99])
@pytest.mark.parametrize(("write", "name"), [(write_ply, "a.ply"), (write_stl, "a.stl")])
def test_files_cut_short_are_explained(write, name, cut):
    data = write(mesh_of_tetrahedron())
    with pytest.raises(MeshFileError):
        read_mesh(data[: int(len(data) * cut)], name)


def test_an_stl_that_announces_more_than_it_has():
    data = bytearray(write_stl(mesh_of_tetrahedron()))
    data[80:84] = struct.pack("<I", 4_000_000_000)
    with pytest.raises(MeshFileError, match="announces 4,000,000,000 triangles"):
        read_mesh(bytes(data), "a.stl")


def test_a_text_stl_is_read():
    lines = ["solid a"]
    for face in TETRAHEDRON[FACES]:
        lines += ["facet normal 0 0 0", "outer loop"]
        lines += [f"vertex {x} {y} {z}" for x, y, z in face] + ["endloop", "endfacet"]
    mesh, report = read_mesh("\n".join([*lines, "endsolid a"]).encode(), "a.stl")
    assert (report.points, report.faces, report.open_edges) == (4, 4, 0)
    assert volume(mesh) == pytest.approx(1 / 6)


def glb(document, blob=b""):
    text = json.dumps(document).encode()
    text += b" " * (-len(text) % 4)
    blob += b"\0" * (-len(blob) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if blob:
        chunks += struct.pack("<I4s", len(blob), b"BIN\0") + blob
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def triangle_glb(**node):
    blob = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], "<f4").tobytes()
    return glb(
        {
            "asset": {"version": "2.0"},
            "scene": 0,
            "scenes": [{"nodes": [0]}],
            "nodes": [{"mesh": 0, **node}],
            "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
            "buffers": [{"byteLength": len(blob)}],
            "bufferViews": [{"buffer": 0, "byteLength": len(blob)}],
            "accessors": [
                {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3",
                 "min": [0, 0, 0], "max": [1, 1, 0]}
            ],
        },
        blob,
    )  # fmt: skip


def test_a_glb_stands_where_its_nodes_place_it():
    mesh, _ = read_mesh(triangle_glb(translation=[5, 0, 0], scale=[2, 2, 2]), "a.glb")
    assert mesh.points.max(axis=0).tolist() == [7, 2, 0]


def test_a_mirrored_node_still_faces_outwards():
    mesh, _ = read_mesh(triangle_glb(scale=[-1, 1, 1]), "a.glb")
    a, b, c = mesh.points[mesh.topology.corners]
    assert np.cross(b - a, c - a)[2] > 0


@pytest.mark.parametrize(
    ("document", "words"),
    [
        (
            {"asset": {"version": "2.0"}, "extensionsRequired": ["KHR_draco_mesh_compression"]},
            "draco",
        ),
        ({"asset": {"version": "2.0"}}, "no triangles"),
        ({"asset": {"version": "2.0"}, "scenes": [{"nodes": [7]}], "scene": 0}, "damaged"),
        ([], ""),
    ],
)
def test_a_glb_that_cannot_be_read_says_why(document, words):
    with pytest.raises(MeshFileError, match=f"(?i){words}"):
        read_mesh(glb(document), "a.glb")


def test_nodes_in_a_circle_end():
    document = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"children": [1]}, {"children": [0]}],
    }
    with pytest.raises(MeshFileError, match="more than once"):
        read_mesh(glb(document), "a.glb")


def imported(mesh, **values):
    definition = definitions("form")["imported"]
    given = {"mesh": "a" * 64, **values}
    found = resolve(definition.values, given, np.zeros(1), Loop())
    return definition.apply(found, Context(asset=lambda digest: mesh))


def test_fitting_centres_a_mesh_and_makes_it_one_metre():
    mesh = mesh_of_tetrahedron().moved((TETRAHEDRON * 37 + 500).astype(np.float32))
    fitted = imported(mesh)
    assert np.allclose(fitted.points.min(axis=0), -0.5, atol=1e-5)
    assert np.allclose(fitted.points.max(axis=0), 0.5, atol=1e-5)
    assert np.array_equal(fitted.rest, fitted.points)
    assert np.allclose(imported(mesh, fit=False, scale=2.0).points, mesh.points * 2)


def test_z_up_is_turned_to_y_up_and_not_mirrored():
    turned = imported(mesh_of_tetrahedron(), up="z", fit=False)
    assert np.allclose(turned.points[3], [0, 1, 0])
    assert volume(turned) == pytest.approx(1 / 6)


def test_uvs_at_corners_survive_the_joining_of_points():
    points = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 0, 0], [1, 1, 0], [0, 1, 0]], float)
    uv = np.array([[0, 0], [1, 0], [1, 1], [0.5, 0], [0.9, 1], [0, 1]], np.float32)
    mesh, report = to_mesh(Soup(points, np.arange(6), np.array([0, 3, 6]), {"uv": uv}))
    assert report.joined_points == 2
    assert np.array_equal(mesh.get("corner", "uv"), uv)
