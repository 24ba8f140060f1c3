"""Values of one domain read on another: points, corners, faces and shards.

The rule both ways: a whole is the mean of its parts, a part takes its whole's value.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.mesh import Mesh


def between_domains(mesh: Mesh, values: np.ndarray, source: str, target: str) -> np.ndarray:
    """Read values of one domain on another: a whole is the mean of its parts, a part takes its
    whole's value.

    values : (n,) float32 for points, corners, faces or shards
    """
    if source == target:
        return values
    topology = mesh.topology
    if source == "point" and target == "corner":
        return values[topology.corners]
    if source == "face" and target == "corner":
        return values[topology.corner_face]
    if source == "corner" and target == "face":
        return _mean_by(values, topology.corner_face, topology.face_count)
    if source == "corner" and target == "point":
        return _mean_by(values, topology.corners, topology.point_count)
    shard = mesh.get("face", "shard")
    if source == "face" and target == "shard" and shard is not None:
        return _mean_by(values, shard, mesh.count("shard"))
    if source == "shard" and target == "face" and shard is not None:
        return values[shard]
    steps = {
        ("point", "face"): "corner",
        ("face", "point"): "corner",
        ("point", "shard"): "face",
        ("corner", "shard"): "face",
        ("shard", "point"): "face",
        ("shard", "corner"): "face",
    }
    if (source, target) not in steps:
        raise ValueError(f"Values on {source}s cannot be read on {target}s here.")
    middle = steps[source, target]
    return between_domains(mesh, between_domains(mesh, values, source, middle), middle, target)


def _mean_by(values: np.ndarray, group: np.ndarray, count: int) -> np.ndarray:
    total = np.bincount(group, weights=values, minlength=count)
    members = np.bincount(group, minlength=count)
    return (total / np.maximum(members, 1)).astype(np.float32)
