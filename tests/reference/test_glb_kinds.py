"""GLB files that are more than plain meshes, put together by hand after the glTF 2.0 specification
(Khronos), and read as it says."""

import io
import json
import struct

import numpy as np
import pytest
import trimesh

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.read import read_here

TRIANGLE = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], "<f4")


class Glb:
    """A GLB under construction; arrays become accessors."""

    def __init__(self) -> None:
        self.blob = b""
        self.document: dict = {"asset": {"version": "2.0"}, "bufferViews": [], "accessors": []}

    def view(self, array: np.ndarray) -> int:
        self.blob += b"\0" * (-len(self.blob) % 4)
        place = {"buffer": 0, "byteOffset": len(self.blob), "byteLength": array.nbytes}
        self.document["bufferViews"].append(place)
        self.blob += array.tobytes()
        return len(self.document["bufferViews"]) - 1

    def accessor(self, array: np.ndarray, kind: str, **more) -> int:
        component = {"<f4": 5126, "|u1": 5121, "<u2": 5123, "<u4": 5125}[array.dtype.str]
        entry = {"bufferView": self.view(array), "componentType": component, "type": kind}
        self.document["accessors"].append(entry | {"count": len(array)} | more)
        return len(self.document["accessors"]) - 1

    def data(self, **parts) -> bytes:
        document = self.document | {"buffers": [{"byteLength": len(self.blob)}]} | parts
        text = json.dumps(document).encode()
        text += b" " * (-len(text) % 4)
        blob = self.blob + b"\0" * (-len(self.blob) % 4)
        chunks = struct.pack("<I4s", len(text), b"JSON") + text
        chunks += struct.pack("<I4s", len(blob), b"BIN\0") + blob
        return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def one(glb: Glb, primitive: dict, node: dict | None = None, mesh: dict | None = None, **more):
    parts = {
        "meshes": [{"primitives": [primitive]} | (mesh or {})],
        "nodes": [{"mesh": 0} | (node or {}), *more.pop("others", [])],
        "scenes": [{"nodes": more.pop("roots", [0])}],
        "scene": 0,
    }
    return glb.data(**parts, **more)


def points(data: bytes) -> np.ndarray:
    return read_here(data, "made.glb")[0].points


def test_weights_that_a_file_sets_shape_the_mesh():
    glb = Glb()
    lift = np.array([[0, 0, 2], [0, 0, 0], [0, 0, 0]], "<f4")
    primitive = {
        "attributes": {"POSITION": glb.accessor(TRIANGLE, "VEC3")},
        "targets": [{"POSITION": glb.accessor(lift, "VEC3")}],
    }
    assert points(one(glb, primitive, mesh={"weights": [0.5]}))[0, 2] == pytest.approx(1)
    # Those of the node stand above those of the mesh (3.7.2.2).
    data = one(glb, primitive, node={"weights": [0.25]}, mesh={"weights": [0.5]})
    assert points(data)[0, 2] == pytest.approx(0.5)
    assert points(one(glb, primitive))[0, 2] == 0


def test_a_sparse_accessor_replaces_some_values():
    glb = Glb()
    position = glb.accessor(TRIANGLE, "VEC3")
    indices = glb.view(np.array([2], "<u2"))
    values = glb.view(np.array([[5, 6, 7]], "<f4"))
    sparse = {
        "count": 1,
        "indices": {"bufferView": indices, "componentType": 5123},
        "values": {"bufferView": values},
    }
    glb.document["accessors"][position]["sparse"] = sparse
    primitive = {"attributes": {"POSITION": position}}
    assert points(one(glb, primitive)).tolist() == [[0, 0, 0], [1, 0, 0], [5, 6, 7]]
    # Without a view of its own all others are 0.
    del glb.document["accessors"][position]["bufferView"]
    indices = glb.view(np.array([1, 2], "<u2"))
    values = glb.view(np.array([[1, 0, 0], [0, 1, 0]], "<f4"))
    sparse["indices"]["bufferView"], sparse["values"]["bufferView"], sparse["count"] = (
        indices,
        values,
        2,
    )
    assert points(one(glb, primitive)).tolist() == TRIANGLE.tolist()


def test_a_sparse_accessor_that_replaces_what_is_not_there_is_refused():
    glb = Glb()
    position = glb.accessor(TRIANGLE, "VEC3")
    glb.document["accessors"][position]["sparse"] = {
        "count": 1,
        "indices": {"bufferView": glb.view(np.array([99], "<u2")), "componentType": 5123},
        "values": {"bufferView": glb.view(np.array([[5, 6, 7]], "<f4"))},
    }
    with pytest.raises(MeshFileError, match="replaces entries"):
        points(one(glb, {"attributes": {"POSITION": position}}))


def test_a_skinned_mesh_stands_where_its_joints_put_it():
    # 3.7.3.2: the transform of the node that has the skin is not used.
    glb = Glb()
    joints = np.zeros((3, 4), "|u1")
    joints[1, 0] = 1
    shares = np.zeros((3, 4), "<f4")
    shares[:, 0] = 1
    back = np.stack([np.eye(4), np.eye(4)]).astype("<f4")
    back[1, 3, :3] = [-1, 0, 0]  # column by column
    primitive = {
        "attributes": {
            "POSITION": glb.accessor(TRIANGLE, "VEC3"),
            "JOINTS_0": glb.accessor(joints, "VEC4"),
            "WEIGHTS_0": glb.accessor(shares, "VEC4"),
        }
    }
    skin = {"joints": [1, 2], "inverseBindMatrices": glb.accessor(back, "MAT4")}
    data = one(
        glb,
        primitive,
        node={"skin": 0, "translation": [100, 0, 0]},
        skins=[skin],
        others=[{"children": [2]}, {"translation": [1, 0, 4]}],
        roots=[0, 1],
    )
    assert points(data).tolist() == [[0, 0, 0], [1, 0, 4], [0, 1, 0]]


def test_copies_by_the_graphics_card_are_copies():
    glb = Glb()
    places = np.array([[0, 0, 0], [10, 0, 0]], "<f4")
    turns = np.array([[0, 0, 0, 1], [0, 0, np.sqrt(0.5), np.sqrt(0.5)]], "<f4")
    sizes = np.array([[1, 1, 1], [2, 2, 2]], "<f4")
    attributes = {
        "TRANSLATION": glb.accessor(places, "VEC3"),
        "ROTATION": glb.accessor(turns, "VEC4"),
        "SCALE": glb.accessor(sizes, "VEC3"),
    }
    primitive = {"attributes": {"POSITION": glb.accessor(TRIANGLE, "VEC3")}}
    data = one(
        glb,
        primitive,
        node={"extensions": {"EXT_mesh_gpu_instancing": {"attributes": attributes}}},
        extensionsUsed=["EXT_mesh_gpu_instancing"],
        extensionsRequired=["EXT_mesh_gpu_instancing"],
    )
    found = points(data)
    assert len(found) == 6
    # A quarter turn about z takes x to y.
    assert np.allclose(found[3:], [[10, 0, 0], [10, 2, 0], [8, 0, 0]], atol=1e-6)


def test_places_that_are_almost_the_same_are_joined_only_where_they_are():
    # The same joining as trimesh finds it, by places alone.
    random = np.random.default_rng(0)
    ball = trimesh.creation.icosphere(subdivisions=3)
    soup = ball.triangles.reshape(-1, 3).astype(np.float32)
    soup += random.choice([0, 1e-3], (len(soup), 1), p=[0.9, 0.1]).astype(np.float32)
    text = trimesh.Trimesh(soup, np.arange(len(soup)).reshape(-1, 3), process=False)
    file = io.BytesIO()
    text.export(file, file_type="stl")
    mesh, _ = read_here(file.getvalue(), "soup.stl")
    assert len(mesh.points) == len(np.unique(soup, axis=0))
