"""What a viewer draws of a result: points that are one for each side of what is drawn apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.planned import PlannedLook
from zygomorph.core.evaluation.results import Result
from zygomorph.core.evaluation.watched import Watched, at_written_points
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.normals import point_normals, with_normals
from zygomorph.core.geometry.smoothing import drawn_geometry, drawn_weights
from zygomorph.core.geometry.splitting import cut_apart, meetings
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.masking.blending import weights
from zygomorph.core.shared.appearance import Appearance

# UVs that differ by less are one.
UV_ALIKE = 1e-5
# Points of curves and loose points that are written out for a viewer.
MOST_WRITTEN = 2_000_000


@dataclass(frozen=True)
class Drawn:
    """result : with what is drawn as its geometry, and its weights at the points of that
    appearance : of the points of that geometry, or of its bases and copies
    """

    result: Result
    appearance: Appearance


def drawable(result: Result) -> Result:
    """Points at sharp edges are one for each side. Copies of curves and loose points are written
    out, evenly chosen ones where they are too many: a viewer draws copies of surfaces only."""
    drawn = drawn_geometry(result.geometry)
    if drawn is not result.geometry:
        result = replace(result, geometry=drawn, weights=_drawn_weights(result))
    geometry = result.geometry
    if geometry.copies is None or all(mesh.topology.face_count for mesh in geometry.bases):
        return result
    return written_out(result, MOST_WRITTEN)


def written_out(result: Result, most: int) -> Result:
    """The result with its copies as one mesh; of more points than ``most`` only so many of the
    copies, evenly chosen, and without weights."""
    geometry = result.geometry
    if geometry.copies is None:
        return result
    some = geometry.some(most)
    own = result.weights
    if own is not None and len(own) > 1:
        known = Watched(own, result.weighed)
        own = None if some is not geometry else at_written_points(geometry, known)
    return replace(result, geometry=Geometry((some.real,)), weights=own, weighed="points")


def _drawn_weights(result: Result) -> np.ndarray | None:
    own = result.weights
    if own is None or len(own) == 1 or result.weighed == "copies":
        return own
    return drawn_weights(result.geometry, own)


def cut_for_looks(
    result: Result, looks: Sequence[PlannedLook], times: np.ndarray, context: Context
) -> Result:
    """The result cut apart where a look that takes whole faces ends, and where UVs meet that differ
    if a pattern or picture lies by them; normals stay as they are."""
    whole = [look for look in looks if look.whole_faces and look.layers]
    by_uv = any(_lies_by_uv(look) for look in looks)
    if not whole and not by_uv:
        return result
    bases, carried, first = [], [], 0
    own = result.weights
    weighed = own is not None and len(own) > 1 and result.weighed != "copies"
    for mesh in result.geometry.bases:
        structure = _cut(mesh, whole, by_uv, times, context)
        bases.append(mesh if structure is None else _apart(mesh, structure))
        if weighed:
            assert own is not None
            part = own[first : first + len(mesh.points)]
            carried.append(part if structure is None else structure.origins["point"].carry(part))
            first += len(mesh.points)
    geometry = replace(result.geometry, bases=tuple(bases))
    return replace(result, geometry=geometry, weights=np.concatenate(carried) if carried else own)


def _lies_by_uv(look: PlannedLook) -> bool:
    masks = [look.layers, *(by.layers for by in look.by)]
    return any(
        layer.definition.by_uv(layer.own.still.discrete_values) for mask in masks for layer in mask
    )


def _cut(
    mesh: Mesh, looks: Sequence[PlannedLook], by_uv: bool, times: np.ndarray, context: Context
) -> Structure | None:
    topology = mesh.topology
    if topology.face_count == 0:
        return None
    labels = np.zeros((topology.face_count, len(looks)), np.uint8)
    for column, look in enumerate(looks):
        layers = [layer.at(times, context.place) for layer in look.layers]
        try:
            with np.errstate(all="ignore"):
                labels[:, column] = np.rint(
                    weights(mesh, layers, context, None, "faces") * np.float32(255)
                )
        except ZygomorphError:
            # The look is left out then, see :mod:`zygomorph.core.evaluation.shading`.
            continue
    uv = mesh.get("corner", UV) if by_uv else None
    # What is found is kept beside the UVs, whose address is then no other's.
    key = ("cut for looks", labels.tobytes(), id(uv))
    _, found = topology.derived(key, lambda: (uv, _cut_between(topology, labels, uv)))
    structure: Structure | None = found
    return structure


def _cut_between(topology: Topology, labels: np.ndarray, uv: np.ndarray | None) -> Structure | None:
    edge, one, other = meetings(topology)
    faces = topology.corner_face
    differ = (labels[faces[one]] != labels[faces[other]]).any(axis=1)
    if uv is not None:
        differ |= _uv_differ(topology, uv, one, other)
    cut = np.zeros(len(topology.edges), bool)
    cut[edge[differ]] = True
    if not cut.any():
        return None
    made = cut_apart(topology, cut, elsewhere=False)
    return replace(made, topology=replace(made.topology, closed_as_welded=topology.closed))


def _uv_differ(
    topology: Topology, uv: np.ndarray, one: np.ndarray, other: np.ndarray
) -> np.ndarray:
    """(M,) bool: sides that meet but have other UVs at an end."""
    after, corners = topology.next_corner, topology.corners
    opposed = corners[one] != corners[other]
    begins = np.where(opposed, after[other], other)
    ends = np.where(opposed, other, after[other])

    def apart(a: np.ndarray, b: np.ndarray) -> np.ndarray:
        found: np.ndarray = (np.abs(uv[a] - uv[b]) > UV_ALIKE).any(axis=1)
        return found

    return apart(one, begins) | apart(after[one], ends)


def _apart(mesh: Mesh, structure: Structure) -> Mesh:
    """The mesh with its points cut apart, and the normals that it has as a whole."""
    point = structure.origins["point"]
    own = {
        name: structure.carried_attribute("point", name, array)
        for name, array in mesh.attributes.get("point", {}).items()
    }
    attributes = {**mesh.attributes, "point": own}
    apart = Mesh(point.carry(mesh.points), structure.topology, attributes)
    return with_normals(apart, point.carry(point_normals(mesh)))
