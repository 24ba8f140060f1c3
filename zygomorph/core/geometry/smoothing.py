"""Smoothing groups: which edges are drawn sharp though the faces there share their points.

The points stay joined, so that whatever moves them keeps the surface closed; only where it is drawn
or written to a file they become one for each side of a sharp edge. The term is that of the OBJ
format ("s" in: Wavefront, Object Files, appendix B1; from memory).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import SMOOTHING, Mesh
from zygomorph.core.geometry.splitting import cut_apart, parts_between, sharp_edges
from zygomorph.core.geometry.structure import Structure


@dataclass(frozen=True, eq=False)
class _Drawn:
    """How a topology is cut for drawing; None where it has no sharp edge.

    groups : kept, so that its address stays its own
    """

    groups: np.ndarray
    structure: Structure | None


def _drawn(mesh: Mesh, groups: np.ndarray) -> _Drawn:
    topology = mesh.topology
    # Of each edge the group of one of its faces; where another has another, it is sharp.
    of_side, edge_of = groups[topology.corner_face], topology.side_edges
    any_group = np.zeros(len(topology.edges), groups.dtype)
    any_group[edge_of] = of_side
    sharp = np.zeros(len(topology.edges), bool)
    sharp[edge_of[of_side != any_group[edge_of]]] = True
    if not sharp.any():
        return _Drawn(groups, None)
    made = cut_apart(topology, sharp, elsewhere=False)
    apart = replace(made.topology, closed_as_welded=topology.closed)
    # What has been cut apart already is not looked through again.
    apart.derived(("drawn", id(groups)), lambda: _Drawn(groups, None))
    return _Drawn(groups, Structure(apart, made.origins))


def drawn_structure(mesh: Mesh) -> Structure | None:
    """How the mesh is cut apart at its sharp edges, found once for a topology and its groups; None
    where nothing is. Old points keep their numbers, faces and corners all of theirs."""
    groups = mesh.get("face", SMOOTHING)
    if groups is None:
        return None
    key = ("drawn", id(groups))
    found: _Drawn = mesh.topology.derived(key, lambda: _drawn(mesh, groups))
    return found.structure


def drawn_apart(mesh: Mesh) -> Mesh:
    """The mesh whose points are one for each side of a sharp edge; itself where none is sharp."""
    structure = drawn_structure(mesh)
    if structure is None:
        return mesh
    point = structure.origins["point"]
    # Faces, corners and shards are the same.
    own = {
        name: structure.carried_attribute("point", name, array)
        for name, array in mesh.attributes.get("point", {}).items()
    }
    attributes = {**mesh.attributes, "point": own}
    return Mesh(point.carry(mesh.points), structure.topology, attributes)


def drawn_geometry(geometry: Geometry) -> Geometry:
    """The same of every base."""
    bases = tuple(drawn_apart(mesh) for mesh in geometry.bases)
    same = all(one is other for one, other in zip(bases, geometry.bases, strict=True))
    return geometry if same else replace(geometry, bases=bases)


def drawn_weights(geometry: Geometry, weights: np.ndarray) -> np.ndarray:
    """(n,) weights of the points of all bases, one after the other, as those of the bases that are
    drawn."""
    found, first = [], 0
    for mesh in geometry.bases:
        own = weights[first : first + len(mesh.points)]
        structure = drawn_structure(mesh)
        found.append(own if structure is None else structure.origins["point"].carry(own))
        first += len(mesh.points)
    return np.concatenate(found)


def groups_of(mesh: Mesh) -> np.ndarray:
    """(F,) int32 smoothing groups; all one where there are none."""
    groups = mesh.get("face", SMOOTHING)
    return np.zeros(mesh.topology.face_count, np.int32) if groups is None else groups


def groups_by_angle(mesh: Mesh, degrees: float) -> np.ndarray:
    """(F,) int32: the parts into which edges that are sharper than so much, at rest, divide the
    faces; found once for a topology and its rest shape."""
    rest = mesh.rest

    def found() -> np.ndarray:
        return parts_between(mesh.topology, sharp_edges(mesh.moved(rest), degrees))

    # The rest shape is kept beside what was found, so that its address is not another's.
    key = ("groups by angle", degrees, id(rest))
    _, groups = mesh.topology.derived(key, lambda: (rest, found()))
    return groups


def without_groups(mesh: Mesh) -> Mesh:
    """The mesh drawn round everywhere."""
    if mesh.get("face", SMOOTHING) is None:
        return mesh
    attributes = {domain: dict(named) for domain, named in mesh.attributes.items()}
    del attributes["face"][SMOOTHING]
    return replace(mesh, attributes=attributes)
