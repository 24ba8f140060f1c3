"""Several meshes as one: their elements one mesh after the other, with everything known of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zygomorph.core.geometry.mesh import DOMAINS, ELEMENT_ID, NORMAL, REST, SHARD, UNIT, Mesh
from zygomorph.core.geometry.topology import Topology


def _stacked(parts: Sequence[Topology]) -> Topology:
    points = np.cumsum([0, *(part.point_count for part in parts)])
    corners = np.cumsum([0, *(len(part.corners) for part in parts)])
    along = np.cumsum([0, *(len(part.curve_points) for part in parts)])
    cut = None
    if any(part.cut is not None for part in parts):
        cut = np.concatenate(
            [p.drawn_corners + c for p, c in zip(parts, corners[:-1], strict=True)]
        )
        cut = cut.astype(np.int32)

    def starts(of: Sequence[np.ndarray], first: np.ndarray) -> np.ndarray:
        each = [a[:-1] + b for a, b in zip(of, first[:-1], strict=True)]
        return np.concatenate([*each, first[-1:]]).astype(np.int32)

    def numbers(of: Sequence[np.ndarray]) -> np.ndarray:
        each = [a + b for a, b in zip(of, points[:-1], strict=True)]
        return np.concatenate(each).astype(np.int32)

    return Topology(
        int(points[-1]),
        numbers([p.corners for p in parts]),
        starts([p.face_starts for p in parts], corners),
        numbers([p.curve_points for p in parts]),
        starts([p.curve_starts for p in parts], along),
        np.concatenate([p.curve_closed for p in parts]),
        cut=cut,
    )


def joined_topology(meshes: Sequence[Mesh]) -> Topology:
    """That of the meshes together, found once for the same ones."""
    first, *others = (mesh.topology for mesh in meshes)
    key = ("joined", *(id(other) for other in others))
    # The others are kept beside what was found, so that their addresses are not others'.
    _, found = first.derived(key, lambda: (others, _stacked([first, *others])))
    return found


def _filled(mesh: Mesh, domain: str, name: str, like: np.ndarray) -> np.ndarray:
    """An attribute of one of the meshes, and 0 where it has none."""
    known = mesh.get(domain, name)
    if known is not None and known.shape[1:] == like.shape[1:]:
        return known
    return np.zeros((mesh.count(domain), *like.shape[1:]), like.dtype)


def joined(meshes: Sequence[Mesh]) -> Mesh:
    """One mesh. Attributes that only some have are 0 on the others.

    Where one has shards, each without is one shard more. Ids of later meshes follow after those of
    earlier ones. A single mesh is itself.
    """
    if len(meshes) == 1:
        return meshes[0]
    topology = joined_topology(meshes)
    if any(mesh.get("face", SHARD) is not None for mesh in meshes):
        meshes = [
            mesh
            if mesh.get("face", SHARD) is not None
            else mesh.with_attribute("face", SHARD, np.zeros(mesh.topology.face_count, np.int32))
            for mesh in meshes
        ]
    attributes: dict[str, dict[str, np.ndarray]] = {}
    for domain in DOMAINS:
        found: dict[str, np.ndarray] = {}
        for mesh in meshes:
            for name, values in mesh.attributes.get(domain, {}).items():
                if name not in found and name not in (REST, ELEMENT_ID, SHARD, NORMAL, UNIT):
                    found[name] = np.concatenate(
                        [_filled(each, domain, name, values) for each in meshes]
                    )
        ids, first = [], 0
        for mesh in meshes:
            own = mesh.ids(domain) + first
            ids.append(own)
            first = int(own.max(initial=first - 1)) + 1
        if first:
            attributes[domain] = {**found, ELEMENT_ID: np.concatenate(ids)}
    shards, first = [], 0
    for mesh in meshes:
        shard = mesh.get("face", SHARD)
        if shard is not None:
            shards.append(shard + first)
            first += mesh.count("shard")
    if shards:
        attributes["face"][SHARD] = np.concatenate(shards).astype(np.int32)
    attributes["point"][REST] = np.concatenate([mesh.rest for mesh in meshes])
    return Mesh(np.concatenate([mesh.points for mesh in meshes]), topology, attributes)
