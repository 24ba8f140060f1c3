"""What is picked by what is picked already, or by size: neighbours, the rim, the largest."""

from __future__ import annotations

import numpy as np
import scipy

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.elements import Elements
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.geometry.splitting import meetings

# Shards, copies and curves are neighbours where their centres are no farther apart than this times
# the usual distance to the nearest: in a honeycomb the next but one are at 1.73.
NEAR = 1.6


def neighbours(elements: Elements) -> np.ndarray:
    """(n, 2) pairs of elements that are next to each other: points along edges, faces across them,
    and what shares no edge with others, by the distance of its centres."""
    topology = elements.mesh.topology
    if elements.domain == "point":
        pairs = np.concatenate([topology.edges, topology.curve_segments])
    elif elements.domain == "face":
        _, one, other = meetings(topology)
        pairs = np.stack([topology.corner_face[one], topology.corner_face[other]], axis=1)
    else:
        pairs = np.zeros((0, 2), np.int64)
    return pairs if len(pairs) else _near(elements.centres.astype(np.float64))


def _near(centres: np.ndarray) -> np.ndarray:
    """(n, 2) pairs of places that are about as near as the nearest usually are."""
    if len(centres) < 2:
        return np.zeros((0, 2), np.int64)
    tree = scipy.spatial.cKDTree(centres)
    nearest = tree.query(centres, k=2)[0][:, 1]
    found: np.ndarray = tree.query_pairs(NEAR * float(np.median(nearest)), output_type="ndarray")
    return found


def grown(elements: Elements, picked: np.ndarray, times: int) -> np.ndarray:
    """(K,) bool: the picked ones with their neighbours, so many times; below 0 without those that
    have neighbours which are not picked."""
    pairs = neighbours(elements)
    found = picked.copy() if times > 0 else ~picked
    for _ in range(abs(times)):
        reached = found.copy()
        reached[pairs[found[pairs[:, 0]], 1]] = True
        reached[pairs[found[pairs[:, 1]], 0]] = True
        found = reached
    return found if times > 0 else ~found


def sizes(elements: Elements) -> np.ndarray:
    """(K,) how large each is: the area of its faces, or the length of a curve.

    Raises ZygomorphError for loose points, which have no size.
    """
    mesh = elements.mesh
    if elements.domain == "curve":
        ends = mesh.points[mesh.topology.curve_segments].astype(np.float64)
        length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
        curve = np.repeat(
            np.arange(mesh.topology.curve_count),
            np.diff(mesh.topology.curve_starts) - 1 + mesh.topology.curve_closed,
        )
        return np.bincount(curve, length, len(elements))
    if mesh.topology.face_count == 0:
        raise ZygomorphError("Loose points have no size.", "Pick them by click, box or distance.")
    area = np.linalg.norm(face_vector_areas(mesh).astype(np.float64), axis=1) / 2
    if elements.domain == "face":
        return area
    if elements.domain == "shard":
        shard = mesh.get("face", "shard")
        assert shard is not None
        return np.bincount(shard, area, len(elements))
    # Of a point the mean of its faces.
    return between_domains(mesh, area.astype(np.float32), "face", "point").astype(np.float64)


def by_size(elements: Elements, share: float, largest: bool) -> np.ndarray:
    """(K,) bool: the largest or smallest share of them, at least one; those of one size as the last
    of them are in, too, so that it does not depend on their order."""
    found = sizes(elements)
    if len(found) == 0:
        return np.zeros(0, bool)
    many = min(max(1, round(share * len(found))), len(found))
    ordered = np.sort(found)
    # Float32 areas of equal faces differ in their last digits.
    slack = 1e-5 * float(ordered[-1])
    chosen: np.ndarray = (
        found >= ordered[-many] - slack if largest else found <= ordered[many - 1] + slack
    )
    return chosen
