"""Placements of copies: one after the other, one within the other, faded by a mask."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.geometry import Copies, Geometry
from zygomorph.core.geometry.mesh import ELEMENT_ID, REST

# Of a copy: its placement, where it is at rest, what is packed for a viewer, and what deformers
# are asked with (measured; rounded up).
COPY_BYTES = 400


def within(outer: np.ndarray, inner: np.ndarray) -> np.ndarray:
    """(N · M, 3, 4): each inner placement, (M, 3, 4), within each outer one, (N, 3, 4)."""
    turned = np.einsum("nij,mjk->nmik", outer[:, :, :3], inner)
    turned[..., 3] += outer[:, None, :, 3]
    return np.ascontiguousarray(turned.reshape(-1, 3, 4), np.float32)


@dataclass(frozen=True)
class Places:
    """Placements of copies with what is known of each.

    placements : (K, 3, 4)
    ids : (K,) stable numbers, or None where they are those in which the placements stand
    attributes : name -> (K, …), such as stored masks of what they stand on
    """

    placements: np.ndarray
    ids: np.ndarray | None = None
    attributes: Mapping[str, np.ndarray] = field(default_factory=dict)


def composed(geometry: Geometry, made: np.ndarray | Places | Geometry) -> Geometry:
    """Copies of a geometry, each at one of the placements; of copies, all of them at each.

    made : (K, 3, 4) placements alone, with what is known of each, or the copies themselves
    Raises ZygomorphError where that would be more than the budget allows.
    """
    if isinstance(made, Geometry):
        return made
    places = made if isinstance(made, Places) else Places(made)
    placements, inner = places.placements, geometry.copies
    outer_ids = np.arange(len(placements)) if places.ids is None else places.ids
    count = len(placements) * (1 if inner is None else len(inner))
    within_budget(count, COPY_BYTES, unit="copies", hint="Make fewer of them")
    if inner is None:
        if len(geometry.bases) != 1:
            raise ValueError("Several bases without copies are no geometry.")
        placed = np.ascontiguousarray(placements, np.float32)
        own = dict(places.attributes)
        if places.ids is not None:
            own[ELEMENT_ID] = outer_ids
        return Geometry(geometry.bases, Copies(np.zeros(count, np.int32), placed, own))
    attributes = {name: np.repeat(v, len(inner), axis=0) for name, v in places.attributes.items()}
    attributes |= {
        name: np.tile(values, (len(placements),) + (1,) * (values.ndim - 1))
        for name, values in inner.attributes.items()
    }
    step = int(inner.ids.max(initial=-1)) + 1
    attributes[ELEMENT_ID] = (outer_ids[:, None] * step + inner.ids[None, :]).reshape(-1)
    if REST in inner.attributes:
        attributes[REST] = within(placements, inner.rest)
    base = np.tile(inner.base, len(placements))
    return Geometry(geometry.bases, Copies(base, within(placements, inner.placements), attributes))


def faded(copies: Copies, weights: np.ndarray) -> Copies:
    """Each copy as large as its weight says, about its centre; weights : (K,) or (1,)."""
    placements = copies.placements.copy()
    placements[:, :, :3] *= np.broadcast_to(weights, len(copies))[:, None, None]
    attributes = dict(copies.attributes)
    # Where it stands at rest it has its whole size.
    attributes.setdefault(REST, copies.placements)
    return Copies(copies.base, placements, attributes)


def placed(geometry: Geometry, matrix: np.ndarray) -> Geometry:
    """The geometry with its rest shape elsewhere; matrix : (4, 4)"""
    copies = geometry.copies
    if copies is not None:
        outer = np.asarray(matrix, np.float32)[None, :3]
        attributes = dict(copies.attributes)
        if REST in attributes:
            attributes[REST] = within(outer, copies.rest)
        moved = replace(copies, placements=within(outer, copies.placements), attributes=attributes)
        return replace(geometry, copies=moved)
    mesh = geometry.mesh
    kept = {domain: dict(named) for domain, named in mesh.attributes.items()}
    kept.setdefault("point", {})[REST] = transformed(mesh.rest, matrix)
    points = transformed(mesh.points, matrix)
    return Geometry((replace(mesh, points=points, attributes=kept),))
