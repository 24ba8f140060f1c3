"""Points, faces, shards or curves as units: where each is, and how points follow it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, NORMAL, REST, SHARD, UNIT, UV, Mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.combine import combine_rows
from zygomorph.core.kernels.elements import (
    carry_with_elements,
    means_of_faces,
    move_with_elements,
    normals_of_shards,
    units_or_up,
)

KINDS = {
    "points": "point",
    "faces": "face",
    "shards": "shard",
    "copies": "copy",
    "curves": "curve",
}


@dataclass(frozen=True)
class Elements:
    """The elements of a mesh of one domain, K of them.

    domain : "point", "face", "shard" or "curve"
    """

    mesh: Mesh
    domain: str

    def __len__(self) -> int:
        return self.mesh.count(self.domain)

    @cached_property
    def centres(self) -> np.ndarray:
        """(K, 3) float32, metres; of others than points the mean of their corners or points."""
        mesh = self.mesh
        if self.domain == "point":
            return mesh.points
        if self.domain == "curve":
            means = [_curve_means(mesh.topology, column) for column in mesh.points.T]
            return np.stack(means, axis=1)
        centres = face_centres(mesh)
        return _means_of_shards(mesh, centres) if self.domain == "shard" else centres

    def numbers(self) -> tuple[np.ndarray, int]:
        """The number of each, from 0 on, (K,), and how many there are. Points with which a deformer
        is asked what becomes of a shard or copy have the number of that."""
        units = self.mesh.get("point", UNIT) if self.domain == "point" else None
        if units is None:
            return np.arange(len(self)), len(self)
        return units, int(units.max(initial=-1)) + 1

    def ids(self) -> np.ndarray:
        """(K,) stable numbers, which chance and order go by."""
        if self.domain == "curve":
            return np.arange(len(self))
        return self.mesh.ids(self.domain)

    def normals(self) -> np.ndarray:
        """(K, 3) float32 units; of shards the mean of their faces by area, or, where these look
        every way as those of a solid do, that of the first of them."""
        if self.domain == "point":
            return point_normals(self.mesh)
        if self.domain == "curve":
            return np.tile(np.array([[0, 1, 0]], np.float32), (len(self), 1))
        areas = face_vector_areas(self.mesh)
        out = np.empty((len(self), 3), np.float32)
        if self.domain == "shard":
            starts, faces, _, _ = _faces_of_shards(self.mesh)
            normals_of_shards(starts, faces, areas, out)
        else:
            units_or_up(areas, out)
        return out

    def read(self, values: np.ndarray, source: str = "point") -> np.ndarray:
        """Values of another domain, (n,), as those of these elements, (K,): means of the parts."""
        if len(values) == 1:
            return values
        if self.domain == "curve":
            return _curve_means(self.mesh.topology, values)
        return between_domains(self.mesh, values, source, self.domain)

    def at_points(self, values: np.ndarray) -> np.ndarray:
        """Values of these elements, (K,), at the points, (P,)."""
        if self.domain == "curve":
            return _along_curves(self.mesh.topology, values)
        return between_domains(self.mesh, values, self.domain, "point")

    def own(self, values: np.ndarray) -> np.ndarray:
        """Values of these elements, (K,) or (1,), from theirs or from those of the points."""
        if len(values) in (1, len(self)):
            return values
        return self.read(np.ascontiguousarray(values, np.float32))

    def from_others(self, values: np.ndarray, others: Elements) -> np.ndarray:
        """Values of other elements of the same mesh as those of these."""
        if others.domain == self.domain:
            return values
        if "curve" in (others.domain, self.domain):
            return self.read(others.at_points(values))
        return between_domains(self.mesh, values, others.domain, self.domain)

    def as_points(self) -> Mesh:
        """A loose point for each element, with what is known of it: what a mask is read on."""
        if self.domain == "point":
            return self.mesh
        kept = {
            name: self.read(values)
            for name, values in self.mesh.attributes.get("point", {}).items()
            if name.startswith(MASK)
        }
        rest = self.centres
        if self.mesh.rest is not self.mesh.points:
            rest = np.stack([self.read(np.ascontiguousarray(c)) for c in self.mesh.rest.T], axis=1)
        kept |= {
            name: values
            for name, values in self.mesh.attributes.get(self.domain, {}).items()
            if name.startswith(MASK)
        }
        kept |= {REST: rest, NORMAL: self.normals(), ELEMENT_ID: self.ids()}
        if self.domain == "face" and self.mesh.get("corner", UV) is not None:
            columns = self.mesh.attributes["corner"][UV].T
            kept[UV] = np.stack(
                [self.read(np.ascontiguousarray(c), "corner") for c in columns], axis=1
            )
        return Mesh(self.centres, Topology(len(self)), {"point": kept})

    def _of_face(self) -> np.ndarray:
        if self.domain == "face":
            return np.arange(self.mesh.topology.face_count)
        shard = self.mesh.get("face", SHARD)
        assert shard is not None
        return shard

    def carried(self, moves: np.ndarray) -> np.ndarray:
        """How far each point goes, (P, 3), where the elements go so far, (K, 3)."""
        if self.domain == "point":
            return moves
        return self.moved(moves=moves) - self.mesh.points

    def spun(self, sizes: np.ndarray, angles: np.ndarray) -> np.ndarray:
        """How far each point goes, (P, 3), where faces or shards change in place.

        sizes : (K,) times as large, about their centres
        angles : (K,) radians, about their normals
        A point of several elements goes as far as they carry it in the mean.
        """
        return self.moved(sizes, angles) - self.mesh.points

    def moved(
        self,
        sizes: np.ndarray | None = None,
        angles: np.ndarray | None = None,
        axes: np.ndarray | None = None,
        moves: np.ndarray | None = None,
    ) -> np.ndarray:
        """The points, (P, 3) float32, where faces or shards are sized and turned about their
        centres and carried. A point of several elements goes as far as they take it in the mean.

        sizes : (K,) or (1,) times as large
        angles : (K,) or (1,) radians, about ``axes``, (K, 3) units, or about their normals
        moves : (K, 3) metres
        """
        out = np.empty_like(self.mesh.points)
        if sizes is None and angles is None:
            assert moves is not None
            own = np.ascontiguousarray(moves, np.float32)
            carry_with_elements(*self._around_points(), self.mesh.points, own, out)
            return out
        count = len(self)
        spin = np.empty((count, 3), np.float32)
        spin[:, 0] = 1 if sizes is None else sizes
        spin[:, 1] = 1 if angles is None else np.cos(angles)
        spin[:, 2] = 0 if angles is None else np.sin(angles)
        if axes is None:
            axes = self.normals() if angles is not None else np.zeros((count, 3))
        if moves is None:
            moves = np.zeros((count, 3))
        move_with_elements(
            *self._around_points(),
            self.mesh.points,
            np.ascontiguousarray(self.centres, np.float32),
            np.ascontiguousarray(axes, np.float32),
            spin,
            np.ascontiguousarray(moves, np.float32),
            out,
        )
        return out

    def _around_points(self) -> tuple[np.ndarray, np.ndarray]:
        """The elements around each point, one for each of its faces: starts (P + 1,), elements."""
        starts, faces = self.mesh.topology.point_faces
        if self.domain == "face":
            return starts, faces
        shard = self._of_face()
        _, found = self.mesh.topology.derived(
            ("shards around points", id(shard)),
            lambda: (shard, np.ascontiguousarray(shard[faces], np.int32)),
        )
        return starts, found


def _curve_of(topology: Topology) -> np.ndarray:
    """The curve that each entry of ``curve_points`` belongs to."""
    return np.repeat(np.arange(topology.curve_count), np.diff(topology.curve_starts))


def _curve_means(topology: Topology, values: np.ndarray) -> np.ndarray:
    curve = _curve_of(topology)
    total = np.bincount(curve, values[topology.curve_points], topology.curve_count)
    members = np.maximum(np.diff(topology.curve_starts), 1)
    return (total / members).astype(np.float32)


def _along_curves(topology: Topology, values: np.ndarray) -> np.ndarray:
    """Of each point the value of its curve; 0 where it lies on none."""
    found = np.zeros(topology.point_count, np.float32)
    found[topology.curve_points] = values[_curve_of(topology)]
    return found


def _faces_of_shards(mesh: Mesh) -> tuple[np.ndarray, ...]:
    """The faces of each shard, as rows of shares that sum to 1: starts (K + 1,), faces, shares."""
    shard = mesh.get("face", SHARD)
    assert shard is not None
    count = mesh.count("shard")

    def found() -> tuple[np.ndarray, ...]:
        members = np.bincount(shard, minlength=count)
        starts = np.concatenate([[0], np.cumsum(members)]).astype(np.int32)
        faces = np.argsort(shard, kind="stable").astype(np.int32)
        shares = np.repeat(1 / np.maximum(members, 1), members).astype(np.float32)
        # The array is kept beside what was found, so that its address is not another's.
        return starts, faces, shares, shard

    return mesh.topology.derived(("faces of shards", id(shard)), found)


def _means_of_shards(mesh: Mesh, values: np.ndarray) -> np.ndarray:
    """(K, 3) float32: of each shard the mean of what its faces have, (F, 3)."""
    starts, faces, shares, _ = _faces_of_shards(mesh)
    out = np.empty((mesh.count("shard"), 3), np.float32)
    combine_rows(starts, faces, shares, values, out)
    return out


def face_centres(mesh: Mesh) -> np.ndarray:
    """(F, 3) float32, metres: the mean of each face's corners."""
    out = np.empty((mesh.topology.face_count, 3), np.float32)
    means_of_faces(mesh.points, mesh.topology.corners, mesh.topology.face_starts, out)
    return out


def elements_of(mesh: Mesh, kind: str) -> Elements:
    """The points, faces, shards, copies or curves of a mesh.

    Raises ZygomorphError where it has none.
    """
    domain = KINDS[kind]
    units = mesh.get("point", UNIT)
    if domain in ("copy", "shard", "face") and units is not None:
        # Each point, or each square of points, stands for one.
        domain = "shard" if mesh.topology.face_count else "point"
    if domain == "copy":
        raise ZygomorphError(
            "There are no copies here.", "Choose shards for copies that were written out."
        )
    if domain == "point":
        return Elements(mesh, domain)
    if domain == "curve":
        if mesh.topology.curve_count == 0:
            raise ZygomorphError("There are no curves here.", "Choose points, or take strands.")
        return Elements(mesh, domain)
    if mesh.topology.face_count == 0:
        raise ZygomorphError(f"There are no {kind} here.", "Curves and loose points have points.")
    if domain == "shard" and mesh.get("face", SHARD) is None:
        raise ZygomorphError("There are no shards here.", "Choose faces, or take a tiling.")
    return Elements(mesh, domain)
