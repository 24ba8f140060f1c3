"""Carry attributes through a change of topology.

A step that makes new elements says, for each, which old elements it comes from and in what
shares. All attributes are then carried by this one routine.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.mesh import DOMAINS, Mesh


@dataclass(frozen=True)
class Provenance:
    """Parents of each new element.

    parents : (n, k) int, numbers of old elements
    weights : (n, k) float32, summing to 1 in each row
    """

    parents: np.ndarray
    weights: np.ndarray

    @classmethod
    def taken(cls, parents: np.ndarray) -> Provenance:
        """Each new element is one old element, unchanged."""
        column = np.asarray(parents).reshape(-1, 1)
        return cls(column, np.ones(column.shape, np.float32))

    def carry(self, values: np.ndarray) -> np.ndarray:
        """Values of the new elements.

        Real numbers are mixed by weight; whole numbers and flags, which cannot be mixed, come
        from the parent with the largest share.
        """
        if not np.issubdtype(values.dtype, np.floating):
            strongest = np.argmax(self.weights, axis=1)
            return values[self.parents[np.arange(len(self.parents)), strongest]]
        shape = self.weights.shape + (1,) * (values.ndim - 1)
        mixed = (values[self.parents] * self.weights.reshape(shape)).sum(axis=1)
        return mixed.astype(values.dtype)


def carry_attributes(
    old: Mesh, by_domain: Mapping[str, Provenance]
) -> dict[str, dict[str, np.ndarray]]:
    """Attributes of the new mesh; a domain without provenance starts with none."""
    return {
        domain: {
            name: by_domain[domain].carry(values)
            for name, values in old.attributes.get(domain, {}).items()
        }
        for domain in DOMAINS
        if domain in by_domain and old.attributes.get(domain)
    }


def carry_some(mesh: Mesh, by_domain: Mapping[str, Provenance]) -> dict[str, dict[str, np.ndarray]]:
    """Attributes of the new mesh; a domain without provenance keeps those it has."""
    kept = {domain: dict(named) for domain, named in mesh.attributes.items()}
    return kept | carry_attributes(mesh, by_domain)


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
