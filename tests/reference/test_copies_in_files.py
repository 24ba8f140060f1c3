"""Copies in files: read by general-purpose libraries and by the rules of glTF 2.0 and USD, they are
where the program has them."""

import json

import numpy as np
import pygltflib
import pytest
import trimesh
from pxr import Usd, UsdGeom, UsdValidation
from scipy.spatial.transform import Rotation

from tests.conftest import by_height, study, surface
from tests.reference.test_files import validated
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver import deliver_sequence
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.formats.read import read_here
from zygomorph.core.formats.read_glb import accessor_array

BOX = {"step": "box", "values": {"size": [0.4, 0.3, 0.2], "across": 1, "up": 1, "deep": 1}}
ROW = {
    "step": "row",
    "values": {
        "count": 5,
        "move": [0.7, 0.1, 0],
        "turn": [0, 25, 10],
        "size": 85.0,
        "way": "chain",
    },
}
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}
WAVE = {
    "step": "wave",
    "values": {"amplitude": 0.3, "phase": SAW},
    "where": {"moves": "tilted"},
}
LOOK = surface((by_height(-1.0, 1.0),))


def made(*steps):
    return study(*steps, frames=12, looks=LOOK)


def truth(document, frame=0.0) -> np.ndarray:
    """(K, P, 3) points of every copy."""
    mesh = Evaluator().evaluate(document, Request("p", frame)).mesh
    return mesh.points.reshape(5, 8, 3)


def sorted_points(points: np.ndarray) -> np.ndarray:
    """(K, P, 3), points of each copy in an order of their own."""
    rounded = np.round(points.astype(float), 4)
    order = np.lexsort((rounded[:, :, 2], rounded[:, :, 1], rounded[:, :, 0]), axis=1)
    return np.take_along_axis(points, order[:, :, None], axis=1)


@pytest.mark.parametrize("numbers", ["plain", "compact"])
@pytest.mark.parametrize("copies_as", ["nodes", "instances"])
def test_still_copies_are_read_back_where_they_are(numbers, copies_as, tmp_path):
    document = made(BOX, ROW)
    data = deliver_glb(document, Evaluator(), numbers=numbers, copies_as=copies_as).data
    issues = validated(data, tmp_path)
    assert issues["numErrors"] == 0, issues["messages"][:3]
    mesh, _ = read_here(data, "made.glb")
    expected = truth(document).reshape(-1, 3)
    # Corners of a box have UVs of their own, so that its points are there several times.
    for point in expected:
        assert np.linalg.norm(mesh.points - point, axis=1).min() < 2e-4
    for point in mesh.points:
        assert np.linalg.norm(expected - point, axis=1).min() < 2e-4


def test_trimesh_reads_a_node_for_each_copy():
    document = made(BOX, ROW)
    data = deliver_glb(document, Evaluator()).data
    scene = trimesh.load(trimesh.util.wrap_as_stream(data), file_type="glb")
    assert len(scene.geometry) == 1
    assert len(scene.graph.nodes_geometry) == 5
    low, high = scene.bounds
    points = truth(document).reshape(-1, 3)
    assert np.allclose(low, points.min(axis=0), atol=1e-4)
    assert np.allclose(high, points.max(axis=0), atol=1e-4)


class Nodes:
    """The copies of a GLB at any time, rebuilt from the file alone by the rules of glTF 2.0."""

    def __init__(self, data: bytes) -> None:
        document = pygltflib.GLTF2.load_from_bytes(data)
        blob = document.binary_blob()
        self.base = accessor_array(
            document, blob, document.meshes[0].primitives[0].attributes.POSITION
        )
        self.nodes = {k: n for k, n in enumerate(document.nodes) if n.mesh is not None}
        self.channels = {}
        for channel in document.animations[0].channels if document.animations else []:
            sampler = document.animations[0].samplers[channel.sampler]
            self.channels[channel.target.node, channel.target.path] = (
                accessor_array(document, blob, sampler.input).ravel(),
                accessor_array(document, blob, sampler.output),
            )

    def _value(self, node: int, path: str, frame: float) -> np.ndarray:
        still = getattr(self.nodes[node], path)
        if (node, path) not in self.channels:
            return np.array(still)
        times, rows = self.channels[node, path]
        return np.array([np.interp(frame / 24, times, column) for column in rows.T])

    def points(self, frame: float) -> np.ndarray:
        found = []
        for node in self.nodes:
            turn = self._value(node, "rotation", frame)
            own = self.base * self._value(node, "scale", frame)
            own = Rotation.from_quat(turn / np.linalg.norm(turn)).apply(own)
            found.append(own + self._value(node, "translation", frame))
        return np.stack(found)


def test_copies_that_move_play_within_the_tolerance():
    document = made(BOX, ROW, WAVE)
    delivered = deliver_glb(document, Evaluator())
    played = Nodes(delivered.data)
    assert len(played.nodes) == 5
    size = np.ptp(truth(document).reshape(-1, 3), axis=0)
    for frame in np.arange(0, 12.01, 0.5):
        expected, found = truth(document, float(frame)), played.points(float(frame))
        for copy in range(5):
            apart = np.linalg.norm(found[copy][:, None] - expected[copy][None], axis=2)
            assert apart.min(axis=1).max() < 2e-3 * np.linalg.norm(size)
    first, last = played.points(0.0), played.points(12.0)
    assert np.allclose(first, last, atol=1e-5)


def test_instances_that_move_are_refused_with_the_way_out():
    with pytest.raises(ZygomorphError, match="stand still") as error:
        deliver_glb(made(BOX, ROW, WAVE), Evaluator(), copies_as="instances")
    assert "a node for each" in error.value.hint.lower()


def test_a_base_that_moves_has_shapes_and_its_copies_play_them():
    swell = {
        "step": "inflate",
        "values": {"amount": {"signal": "cycle", "high": 0.2}},
        "where": {"moves": "bases"},
    }
    data = deliver_glb(made(BOX, ROW, swell), Evaluator()).data
    document = pygltflib.GLTF2.load_from_bytes(data)
    assert len(document.meshes) == 1
    assert document.meshes[0].primitives[0].targets
    moved = {c.target.node for c in document.animations[0].channels if c.target.path == "weights"}
    assert moved == {k for k, n in enumerate(document.nodes) if n.mesh is not None}


def stage_of(data: bytes, tmp_path) -> Usd.Stage:
    path = tmp_path / "made.usdc"
    path.write_bytes(data)
    return Usd.Stage.Open(str(path))


def test_a_point_instancer_has_every_copy_at_every_frame(tmp_path):
    document = made(BOX, ROW, WAVE)
    stage = stage_of(deliver_usd(document, Evaluator()), tmp_path)
    (instancer,) = [p for p in stage.Traverse() if p.IsA(UsdGeom.PointInstancer)]
    own = UsdGeom.PointInstancer(instancer)
    base = UsdGeom.Mesh(stage.GetPrimAtPath(own.GetPrototypesRel().GetTargets()[0]))
    points = np.array(base.GetPointsAttr().Get(Usd.TimeCode(0)))
    for frame in (0, 5, 12):
        time = Usd.TimeCode(frame)
        matrices = np.array(own.ComputeInstanceTransformsAtTime(time, time)).reshape(-1, 4, 4)
        found = np.stack([points @ m[:3, :3] + m[3, :3] for m in matrices])
        assert np.abs(found - truth(document, float(frame))).max() < 1e-4
    # Its colours are one for each copy, of linear light.
    colours = UsdGeom.PrimvarsAPI(own).GetPrimvar("displayColor")
    assert len(colours.Get(Usd.TimeCode(0))) == 5


def test_openusd_has_nothing_to_object_to_in_an_instancer(tmp_path):
    stage = stage_of(deliver_usd(made(BOX, ROW, WAVE), Evaluator()), tmp_path)
    validators = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    errors = UsdValidation.ValidationContext(validators).Validate(stage)
    assert [e.GetMessage() for e in errors] == []


def test_the_instancer_is_read_back(tmp_path):
    document = made(BOX, ROW)
    mesh, _ = read_here(deliver_usd(document, Evaluator()), "made.usdc")
    expected = truth(document).reshape(-1, 3)
    assert len(mesh.points) == 40
    assert np.allclose(np.sort(mesh.points, axis=0), np.sort(expected, axis=0), atol=1e-4)


def test_a_sequence_of_meshes_has_all_copies_written_out():
    document = made(BOX, ROW)
    ((_, data),) = deliver_sequence(document, Evaluator(), "ply", range(1))
    assert len(read_here(data, "a.ply")[0].points) == 40


def test_the_details_tell_the_copies():
    (detail,) = deliver_glb(made(BOX, ROW), Evaluator()).details
    # A file has each corner of a box once for each of its three sides.
    assert (detail["copies"], detail["points"]) == (5, 5 * 24)
    json.dumps(detail)
