"""Surfaces cut finer for pictures, so that what lies on them is as sharp as pixels are.

Patterns and pictures are read at points. Viewers read them at every pixel; who draws triangles
needs as many points. The shape stays what it is, and so does its shading.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from zygomorph.core.evaluation.planned import PlannedLook
from zygomorph.core.evaluation.results import Result
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals, with_normals
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.subdivision import subdivided
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.triangulation import triangulated

MOST_LEVELS = 6
MOST_POINTS = 1_500_000
# Of its edges, so many are as short as is wanted.
SHARE = 90


def has_prints(looks: Sequence[PlannedLook]) -> bool:
    """Whether a pattern or a picture lies on what has these looks."""
    masks = [mask for look in looks for mask in (look.layers, *(by.layers for by in look.by))]
    return any(layer.definition.printed is not None for mask in masks for layer in mask)


def finer(result: Result, edge: float) -> Result:
    """The result with triangles whose edges are no longer than so much, metres, as far as there is
    room; copies stay as they are."""
    geometry = result.geometry
    if geometry.copies is not None or geometry.mesh.topology.face_count == 0:
        return result
    mesh = geometry.mesh
    levels = _levels(mesh, edge)
    if levels == 0:
        return result
    structure = _structure(mesh.topology, levels)
    point = structure.origins["point"]
    normals = point.carry(point_normals(mesh))
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
    fine = with_normals(structure.carried(mesh, point.carry(mesh.points)), normals)
    weights = result.weights
    if weights is not None and len(weights) > 1:
        weights = point.carry(weights)
    return replace(result, geometry=Geometry((fine,)), weights=weights)


def _levels(mesh: Mesh, edge: float) -> int:
    topology = mesh.topology
    ends = mesh.points[topology.edges]
    long = float(np.percentile(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1), SHARE))
    wanted = int(np.ceil(np.log2(max(long / max(edge, 1e-9), 1))))
    levels = min(wanted, MOST_LEVELS)
    while levels and len(mesh.points) * 4**levels > MOST_POINTS:
        levels -= 1
    return levels


def _structure(topology: Topology, levels: int) -> Structure:
    def make() -> Structure:
        first = triangulated(topology, np.ones(topology.face_count, bool))
        return subdivided(first.topology, levels, "plain").after(first)

    found: Structure = topology.derived(("finer", levels), make)
    return found
