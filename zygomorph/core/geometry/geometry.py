"""What steps pass on: one mesh, or bases and a table of copies of them.

A copy draws one base at one placement. Copies are elements: masks, chance and order see each as a
unit. They stay a table, through to the graphics card, until a step needs real points.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, NORMAL, REST, SHARD, SIZE, UNIT, Mesh
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.copies import bounds_of_copies, centres_and_ups


@dataclass(frozen=True, eq=False)
class Copies:
    """A table of copies, K of them.

    base : (K,) int32, which base each draws
    placements : (K, 3, 4) float32, upper rows of the matrix from the base to the piece
    attributes : name -> (K, …): ids under ``id``, stored masks, and under ``rest`` the placements
        that are remembered
    """

    base: np.ndarray
    placements: np.ndarray
    attributes: Mapping[str, np.ndarray] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.base)

    @property
    def centres(self) -> np.ndarray:
        """(K, 3) float32, metres: where the origin of each base is placed."""
        return np.ascontiguousarray(self.placements[:, :, 3])

    @property
    def rest(self) -> np.ndarray:
        """(K, 3, 4) float32: the remembered placements, or the present ones."""
        return self.attributes.get(REST, self.placements)

    @property
    def ids(self) -> np.ndarray:
        return self.attributes.get(ELEMENT_ID, np.arange(len(self)))

    def with_attribute(self, name: str, values: np.ndarray) -> Copies:
        return replace(self, attributes={**self.attributes, name: values})

    def as_points(self) -> Mesh:
        """A loose point for each copy, with what is known of it: what masks are read on and
        deformers are asked with. Its normal is the way in which the base's own y axis points."""
        centres, ups = np.empty((2, len(self), 3), np.float32)
        centres_and_ups(self.placements, centres, ups)
        rest = centres
        if REST in self.attributes:
            rest = np.ascontiguousarray(self.attributes[REST][:, :, 3])
        named = {n: v for n, v in self.attributes.items() if n.startswith(MASK)}
        return Mesh(
            centres,
            Topology(len(self)),
            {
                "point": {
                    **named,
                    REST: rest,
                    NORMAL: ups,
                    ELEMENT_ID: self.ids,
                    UNIT: np.arange(len(self), dtype=np.int32),
                    SIZE: np.abs(self.placements[:, :, 0]).max(axis=1).astype(np.float32),
                }
            },
        )


@dataclass(frozen=True, eq=False)
class Geometry:
    """One mesh, or bases with copies of them.

    bases : the meshes; without copies there is one, and it is the geometry itself
    forces : what will move the points of a system after them
    """

    bases: tuple[Mesh, ...]
    copies: Copies | None = None
    forces: tuple[Any, ...] = ()

    @classmethod
    def of(cls, made: Mesh | Geometry) -> Geometry:
        return made if isinstance(made, Geometry) else cls((made,))

    @property
    def mesh(self) -> Mesh:
        """The mesh itself where there are no copies, or the first base."""
        return self.bases[0]

    @property
    def point_count(self) -> int:
        """Points that are seen: of copies, those of all together."""
        return self._seen([len(mesh.points) for mesh in self.bases])

    @property
    def work(self) -> int:
        """How many things a step works on: points of the mesh, or copies."""
        return len(self.mesh.points) if self.copies is None else len(self.copies)

    @property
    def face_count(self) -> int:
        return self._seen([mesh.topology.face_count for mesh in self.bases])

    def _seen(self, each: list[int]) -> int:
        if self.copies is None or len(each) == 1:
            return each[0] * (1 if self.copies is None else len(self.copies))
        return int(np.array(each)[self.copies.base].sum())

    @property
    def box(self) -> tuple[np.ndarray, np.ndarray, bool]:
        """Lowest and highest corner of what is seen, (3,) float32, and whether all is finite."""
        boxes = [box_of(mesh.points) for mesh in self.bases]
        if self.copies is None:
            return boxes[0]
        lows = np.stack([low for low, _, _ in boxes]).astype(np.float32)
        highs = np.stack([high for _, high, _ in boxes]).astype(np.float32)
        bounds = np.empty((3, 3), np.float32)
        bounds_of_copies(self.copies.placements, self.copies.base, lows, highs, bounds)
        fine = all(finite for *_, finite in boxes) and bool(np.isfinite(bounds).all())
        if len(self.copies) == 0:
            bounds[:] = 0
            fine = True
        return bounds[0], bounds[1], fine

    @property
    def shape(self) -> str:
        """The same where the same elements are there, wherever they are."""
        digests = "/".join(mesh.topology.digest for mesh in self.bases)
        return digests if self.copies is None else f"{digests} x {len(self.copies)}"

    def probes(self) -> np.ndarray:
        """(n, 3) float32 points that tell where everything is: those of the mesh, or those of the
        bases and of each copy its centre and the ends of its three axes."""
        if self.copies is None:
            return self.mesh.points
        reach = self.reach[self.copies.base][:, None, None]
        axes = self.copies.placements[:, :, :3].transpose(0, 2, 1) * reach
        axes = axes + self.copies.centres[:, None]
        parts = [mesh.points for mesh in self.bases]
        parts += [self.copies.centres, axes.reshape(-1, 3)]
        return np.concatenate(parts).astype(np.float32)

    @cached_property
    def reach(self) -> np.ndarray:
        """(B,) metres: how far each base reaches from its own origin."""
        boxes = [box_of(mesh.points) for mesh in self.bases]
        return np.array([np.linalg.norm(np.maximum(-low, high)) for low, high, _ in boxes])

    @property
    def size_in_bytes(self) -> int:
        own = sum(mesh.size_in_bytes for mesh in self.bases)
        if self.copies is None:
            return own
        table = [self.copies.base, self.copies.placements, *self.copies.attributes.values()]
        return own + sum(array.nbytes for array in table)

    def some(self, most_points: int) -> Geometry:
        """The same with evenly chosen copies, so that no more points are seen than so many."""
        count = self.point_count
        if self.copies is None or count <= most_points:
            return self
        kept = max(1, int(len(self.copies) * most_points / count))
        chosen = np.linspace(0, len(self.copies) - 1, kept).astype(int)
        table = self.copies
        attributes = {name: values[chosen] for name, values in table.attributes.items()}
        return replace(
            self, copies=Copies(table.base[chosen], table.placements[chosen], attributes)
        )

    @cached_property
    def real(self) -> Mesh:
        """One mesh of real points: every copy written out, each a shard of its own.

        Raises ZygomorphError where that is beyond the budget of points.
        """
        if self.copies is None:
            return self.mesh
        within_budget(
            self.point_count,
            what=f"Written out, {len(self.copies):,} copies have",
            hint="Let the step act on the copies as wholes, or on what is copied, or make fewer",
        )
        return written_out(self.bases, self.copies)


class _Written:
    """Which elements of the bases, one after the other, all copies come to, in one domain.

    index : (n,) numbers among the elements of all bases
    copy : (n,) the copy that each is of
    first : (K,) where each copy begins among them
    """

    def __init__(self, counts: list[int], base: np.ndarray) -> None:
        each = np.array(counts)
        starts = np.cumsum(each) - each
        sizes = each[base]
        self.index = ragged(starts[base], sizes)
        self.copy = np.repeat(np.arange(len(base)), sizes)
        self.first = np.cumsum(sizes) - sizes
        self.sizes = sizes

    def taken(self, arrays: list[np.ndarray]) -> np.ndarray:
        """Values of the bases' elements, each with its own first dimension, as those of all."""
        found: np.ndarray = np.concatenate(arrays)[self.index]
        return found

    def numbered(self, arrays: list[np.ndarray], first: np.ndarray) -> np.ndarray:
        """The same of numbers of other elements, of which each copy has its own."""
        return (self.taken(arrays) + first[self.copy]).astype(np.int32)

    @property
    def starts(self) -> np.ndarray:
        return np.concatenate([self.first, [len(self.index)]]).astype(np.int32)


def _starts(written: _Written, arrays: list[np.ndarray]) -> np.ndarray:
    sizes = written.taken([np.diff(array) for array in arrays])
    return np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32)


def written_out(bases: tuple[Mesh, ...], copies: Copies) -> Mesh:
    """All copies as one mesh, in the order of the table.

    Attributes that all bases have go on; of a copy's own, stored masks become those of its points.
    Shards of the bases, or where they have none the copies themselves, are the shards.
    """
    domains = ("point", "corner", "face")
    written = {d: _Written([mesh.count(d) for mesh in bases], copies.base) for d in domains}
    point, corner, face = (written[d] for d in domains)
    parts = [mesh.topology for mesh in bases]
    curve = _Written([t.curve_count for t in parts], copies.base)
    cut = None
    if any(t.cut is not None for t in parts):
        triangle = _Written([len(t.drawn_corners) for t in parts], copies.base)
        cut = triangle.taken([t.drawn_corners for t in parts])
        cut = (cut + corner.first[triangle.copy, None]).astype(np.int32)
    topology = Topology(
        len(point.index),
        corner.numbered([t.corners for t in parts], point.first),
        _starts(face, [t.face_starts for t in parts]),
        _Written([len(t.curve_points) for t in parts], copies.base).numbered(
            [t.curve_points for t in parts], point.first
        ),
        _starts(curve, [t.curve_starts for t in parts]),
        curve.taken([t.curve_closed for t in parts]),
        cut=cut,
    )
    attributes: dict[str, dict[str, np.ndarray]] = {}
    for domain in domains:
        shared = set.intersection(*(set(m.attributes.get(domain, {})) for m in bases))
        attributes[domain] = {
            name: written[domain].taken([mesh.attributes[domain][name] for mesh in bases])
            for name in shared - {ELEMENT_ID, REST, NORMAL, SHARD}
        }
    for name, values in copies.attributes.items():
        if name.startswith(MASK):
            attributes["point"][name] = values[point.copy]

    def placed(placements: np.ndarray, arrays: list[np.ndarray]) -> np.ndarray:
        own = placements[point.copy]
        found = np.einsum("nij,nj->ni", own[:, :, :3], point.taken(arrays)) + own[:, :, 3]
        return np.ascontiguousarray(found, np.float32)

    attributes["point"][REST] = placed(copies.rest, [mesh.rest for mesh in bases])
    own = [mesh.get("face", SHARD) for mesh in bases]
    counts = [1 if s is None else m.count("shard") for m, s in zip(bases, own, strict=True)]
    shards = [
        np.zeros(m.count("face"), np.int32) if s is None else s
        for m, s in zip(bases, own, strict=True)
    ]
    attributes["face"][SHARD] = face.numbered(shards, _Written(counts, copies.base).first)
    points = placed(copies.placements, [mesh.points for mesh in bases])
    return Mesh(points, topology, attributes)
