"""Origins: which old elements each new element of a topology comes from, and in what shares.

Whatever is known of elements follows them by this: positions, attributes, stored masks, ids.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import DOMAINS, ELEMENT_ID, Mesh
from zygomorph.core.kernels.combine import combine_rows, take_rows


@dataclass(frozen=True, eq=False)
class Origin:
    """A sparse matrix from old to new elements, row by row, as in SciPy's CSR format.

    starts : (n + 1,) int32, where the parents of each new element begin
    parents : (K,) int32, numbers of old elements
    weights : (K,) float32, summing to 1 for each new element; None where every new element is one
        old element, unchanged
    continues : (n,) int32, the old element that each new one goes on as, whose id it keeps; -1
        where it is a new one. None: those that ``parents`` names, where each has one
    """

    starts: np.ndarray
    parents: np.ndarray
    weights: np.ndarray | None = None
    continues: np.ndarray | None = None

    @classmethod
    def taken(cls, parents: np.ndarray) -> Origin:
        """Each new element is one old element, unchanged."""
        parents = np.ascontiguousarray(parents, np.int32)
        return cls(np.arange(len(parents) + 1, dtype=np.int32), parents)

    @classmethod
    def mixed(cls, parents: np.ndarray, weights: np.ndarray) -> Origin:
        """Each new element comes from equally many: both (n, k)."""
        count, width = parents.shape
        return cls(
            np.arange(count + 1, dtype=np.int32) * np.int32(width),
            np.ascontiguousarray(parents.reshape(-1), np.int32),
            np.ascontiguousarray(weights.reshape(-1), np.float32),
        )

    @classmethod
    def anew(cls, parents: np.ndarray, weights: np.ndarray) -> Origin:
        """The same of new elements none of which goes on as an old one."""
        made = cls.mixed(parents, weights)
        new = np.full(len(parents), -1, np.int32)
        return cls(made.starts, made.parents, made.weights, new)

    @classmethod
    def of_matrix(cls, matrix: scipy.sparse.csr_array, continues: np.ndarray) -> Origin:
        """From an (n, old) matrix whose rows sum to 1."""
        return cls(
            np.ascontiguousarray(matrix.indptr, np.int32),
            np.ascontiguousarray(matrix.indices, np.int32),
            np.ascontiguousarray(matrix.data, np.float32),
            np.ascontiguousarray(continues, np.int32),
        )

    def __len__(self) -> int:
        return len(self.starts) - 1

    @cached_property
    def strongest(self) -> np.ndarray:
        """(n,) int32: the parent with the largest share, the first of those that share it."""
        if self.weights is None:
            return self.parents
        if len(self) == 0:
            return self.parents[:0]
        sizes = np.diff(self.starts)
        largest = np.maximum.reduceat(self.weights, self.starts[:-1])
        found = np.flatnonzero(self.weights == np.repeat(largest, sizes))
        rows = np.repeat(np.arange(len(self)), sizes)[found]
        return self.parents[found[np.concatenate([[True], rows[1:] != rows[:-1]])]]

    def after(self, first: Origin) -> Origin:
        """From the elements before ``first`` to those that this one makes of its results."""
        continues = None
        if self.continues is not None or first.continues is not None:
            own = self.strongest if self.continues is None else self.continues
            earlier = first.strongest if first.continues is None else first.continues
            continues = np.where(own >= 0, earlier[np.maximum(own, 0)], -1).astype(np.int32)
        if first.weights is None:
            return Origin(self.starts, first.parents[self.parents], self.weights, continues)
        count = int(first.parents.max(initial=-1)) + 1
        product = self._matrix(len(first)) @ first._matrix(count)
        made = Origin.of_matrix(product, np.full(len(self), -1))
        return Origin(made.starts, made.parents, made.weights, continues)

    def _matrix(self, width: int) -> scipy.sparse.csr_array:
        weights = np.ones(len(self.parents)) if self.weights is None else self.weights
        shape = (len(self), width)
        return scipy.sparse.csr_array((weights.astype(float), self.parents, self.starts), shape)

    def carry(self, values: np.ndarray) -> np.ndarray:
        """Values of the new elements, (n, …), from those of the old ones.

        Real numbers are mixed by weight; whole numbers and flags, which cannot be mixed, come
        from the parent with the largest share.
        """
        if self.weights is None:
            if values.dtype == np.float32 and values.ndim == 2 and values.shape[1] == 3:
                taken = np.empty((len(self), 3), np.float32)
                take_rows(self.parents, np.ascontiguousarray(values), taken)
                return taken
            return values[self.parents]
        if not np.issubdtype(values.dtype, np.floating):
            return values[self.strongest]
        width = math.prod(values.shape[1:])
        columns = np.ascontiguousarray(values.reshape(len(values), width), np.float32)
        out = np.empty((len(self), columns.shape[1]), np.float32)
        combine_rows(self.starts, self.parents, self.weights, columns, out)
        return out.reshape(len(self), *values.shape[1:]).astype(values.dtype, copy=False)

    def carry_ids(self, ids: np.ndarray) -> np.ndarray:
        """Ids of the new elements: what goes on keeps its own, and others follow after all old
        ones."""
        if self.continues is None:
            return ids[self.strongest]
        new = self.continues < 0
        found = ids[np.maximum(self.continues, 0)] if len(ids) else np.zeros(len(new), np.int64)
        first = int(ids.max(initial=-1)) + 1
        found[new] = first + np.arange(np.count_nonzero(new))
        return found


def carry_attributes(
    old: Mesh, by_domain: Mapping[str, Origin]
) -> dict[str, dict[str, np.ndarray]]:
    """Attributes of the new mesh; a domain without an origin starts with none."""
    return {
        domain: {
            name: by_domain[domain].carry_ids(values)
            if name == ELEMENT_ID
            else by_domain[domain].carry(values)
            for name, values in old.attributes.get(domain, {}).items()
        }
        for domain in DOMAINS
        if domain in by_domain and old.attributes.get(domain)
    }


def carry_some(mesh: Mesh, by_domain: Mapping[str, Origin]) -> dict[str, dict[str, np.ndarray]]:
    """Attributes of the new mesh; a domain without an origin keeps those it has."""
    kept = {domain: dict(named) for domain, named in mesh.attributes.items()}
    return kept | carry_attributes(mesh, by_domain)
