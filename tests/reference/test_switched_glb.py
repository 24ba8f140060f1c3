"""GLB files of pieces whose faces change: one mesh is shown at a time, by the rules of glTF 2.0."""

import io
import json

import numpy as np
import pytest
import trimesh

from tests.conftest import study
from tests.reference.test_files import validated
from zygomorph.core.document.study import parse_study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver_glb import deliver_glb


class Switched:
    """The meshes of a GLB that have a size at a time, by the rules of glTF 2.0."""

    def __init__(self, data: bytes) -> None:
        import pygltflib

        self.document = pygltflib.GLTF2.load_from_bytes(data)
        self.blob = self.document.binary_blob()

    def points(self, frame: float) -> list[np.ndarray]:
        from zygomorph.core.formats.read_glb import accessor_array

        found, document = [], self.document
        animation = document.animations[0]
        for number, node in enumerate(document.nodes):
            if node.mesh is None:
                continue
            channel = next(c for c in animation.channels if c.target.node == number)
            sampler = animation.samplers[channel.sampler]
            assert (channel.target.path, sampler.interpolation) == ("scale", "STEP")
            times = accessor_array(document, self.blob, sampler.input).ravel()
            scales = accessor_array(document, self.blob, sampler.output)
            scale = scales[np.searchsorted(times, frame / 24 + 1e-7) - 1]
            if frame == 0:
                assert np.allclose(node.scale, scale)
            if scale.any():
                position = document.meshes[node.mesh].primitives[0].attributes.POSITION
                points = accessor_array(document, self.blob, position)
                found.append(points * scale + (node.translation or 0))
        return found


@pytest.mark.parametrize("numbers", ["plain", "compact"])
def test_of_a_piece_whose_faces_change_one_mesh_is_shown_at_a_time(numbers, tmp_path):
    keys = {
        "signal": "keys",
        "keys": [{"frame": f, "value": v} for f, v in ((0, 1), (8, 3), (24, 1))],
    }
    made = study({"step": "icosphere", "values": {"halvings": keys}})
    delivered = deliver_glb(made, Evaluator(), numbers=numbers)
    issues = validated(delivered.data, tmp_path)
    assert issues["numErrors"] == issues["numWarnings"] == 0, issues["messages"][:3]
    file, evaluator = Switched(delivered.data), Evaluator()
    counts = set()
    for frame in (0, 3, 8, 12.5, 23, 24):
        (points,) = file.points(frame)
        true = evaluator.evaluate(made, Request("p", float(int(frame) % 24))).mesh.points
        assert points.shape == true.shape
        assert points == pytest.approx(true, abs=1e-3)
        counts.add(len(points))
    assert len(counts) >= 3
    # Frames that are the same are one mesh.
    assert delivered.details[0]["meshes"] < 24
    assert trimesh.load(io.BytesIO(delivered.data), file_type="glb").geometry


def test_what_is_empty_at_first_appears_in_the_file_and_stays(tmp_path):
    grow = {"signal": "keys", "keys": [{"frame": 4, "value": 100.0}, {"frame": 20, "value": 0.0}]}
    made = study(
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "remove", "values": {"share": grow}},
    )
    one_way = {**made.document, "loop": {**made.document["loop"], "one_way": True}}
    delivered = deliver_glb(parse_study(json.dumps(one_way)), Evaluator())
    assert validated(delivered.data, tmp_path)["numErrors"] == 0
    file = Switched(delivered.data)
    assert file.points(0) == []
    assert len(file.points(12)) == len(file.points(23)) == 1


def test_a_piece_without_points_at_any_frame_is_refused():
    gone = {"step": "remove", "values": {"share": 100.0}}
    with pytest.raises(ZygomorphError, match="no points at any frame"):
        deliver_glb(study({"step": "icosphere"}, gone), Evaluator())
