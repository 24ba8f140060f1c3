"""A geometry and its mirror image."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.geometry import Copies, Geometry
from zygomorph.core.geometry.mesh import ELEMENT_ID, NORMAL, REST, Mesh
from zygomorph.core.geometry.topology import Topology, turned_over

# What a base is mirrored by, so that its copies need no placement that turns it inside out.
ACROSS_X = np.diag([-1.0, 1.0, 1.0, 1.0])


def reflection(normal: np.ndarray, place: np.ndarray) -> np.ndarray:
    """(4, 4) mirror image in the plane through a place; normal : (3,) unit"""
    matrix = np.eye(4)
    matrix[:3, :3] -= 2 * np.outer(normal, normal)
    matrix[:3, 3] = 2 * normal * float(normal @ place)
    return matrix


def mirrored_mesh(mesh: Mesh, matrix: np.ndarray) -> Mesh:
    """A mesh as its mirror image, whose faces look outwards again."""
    topology = mesh.topology

    def turned() -> tuple[np.ndarray, Topology]:
        order = turned_over(topology.face_starts)
        cut = None
        if topology.cut is not None:
            number = np.empty(len(order), np.int32)
            number[order] = np.arange(len(order), dtype=np.int32)
            cut = number[topology.cut][:, ::-1].copy()
        return order, replace(topology, corners=topology.corners[order], grid=None, cut=cut)

    order, made = topology.derived(("mirrored",), turned)
    attributes = {domain: dict(named) for domain, named in mesh.attributes.items()}
    for name, values in attributes.get("corner", {}).items():
        attributes["corner"][name] = values[order]
    point = attributes.setdefault("point", {})
    point[REST] = transformed(mesh.rest, matrix)
    if NORMAL in point:
        point[NORMAL] = np.ascontiguousarray(point[NORMAL] @ matrix[:3, :3].T, np.float32)
    return Mesh(transformed(mesh.points, matrix), made, attributes)


def mirrored(geometry: Geometry, matrix: np.ndarray, original: bool) -> Geometry:
    """A geometry and its mirror image as copies, or the image alone.

    matrix : (4, 4) reflection
    """
    inner = geometry.copies
    images = tuple(mirrored_mesh(mesh, ACROSS_X) for mesh in geometry.bases)
    if inner is None:
        inner = Copies(np.zeros(1, np.int32), np.eye(4, dtype=np.float32)[None, :3])

    def image(placements: np.ndarray) -> np.ndarray:
        turned = np.einsum("ij,njk->nik", matrix[:3, :3], placements.astype(np.float64))
        turned[:, :, 3] += matrix[:3, 3]
        turned[:, :, :3] = turned[:, :, :3] @ ACROSS_X[:3, :3]
        return turned.astype(np.float32)

    attributes = dict(inner.attributes)
    if REST in attributes:
        attributes[REST] = image(inner.rest)
    if not original:
        return Geometry(images, Copies(inner.base, image(inner.placements), attributes))
    both = {n: np.concatenate([inner.attributes[n], v]) for n, v in attributes.items()}
    first = int(inner.ids.max(initial=-1)) + 1
    both[ELEMENT_ID] = np.concatenate([inner.ids, inner.ids + first])
    return Geometry(
        (*geometry.bases, *images),
        Copies(
            np.concatenate([inner.base, inner.base + np.int32(len(geometry.bases))]),
            np.concatenate([inner.placements, image(inner.placements)]),
            both,
        ),
    )
