"""The points around each point of a triangle mesh, in order.

With them a normal is found in one pass over the points: the areas of the triangles around a point
p sum to Σ (a - p) × (b - p) over neighbours a, b that follow each other in the ring. A ring is read
as closed; where it is not, at a border or where several fans of triangles meet in one point, p
itself stands between their ends, whose products with p - p vanish.
"""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.compiled import CHUNKS, I1, I1W, I2, first_of, kernel

# Finding the next triangle of a fan costs the square of their number. Around a pole with more
# triangles each is a fan of its own, which costs their number only.
LONGEST_SEARCH = 64


@kernel(types.void(I2, I1, I1, I1W, I1W), first=40)
def _walk(triangles, starts, faces, counts, room):  # type: ignore[no-untyped-def]
    """Rings into ``room`` (3 C,), of which each corner of a point offers three places, and their
    lengths into ``counts`` (P,)."""
    n = counts.shape[0]
    most = 0
    for p in range(n):
        most = max(most, starts[p + 1] - starts[p])
    for chunk in prange(CHUNKS):
        begin = np.empty(most, np.int32)
        end = np.empty(most, np.int32)
        left = np.empty(most, np.uint8)
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo = starts[p]
            degree = starts[p + 1] - lo
            ring = room[3 * lo : 3 * (lo + degree)]
            for k in range(degree):
                f = faces[lo + k]
                a, b, c = triangles[f, 0], triangles[f, 1], triangles[f, 2]
                begin[k] = b if a == p else (c if b == p else a)
                end[k] = c if a == p else (a if b == p else b)
                left[k] = 1
                if degree > LONGEST_SEARCH:
                    ring[3 * k] = begin[k]
                    ring[3 * k + 1] = end[k]
                    ring[3 * k + 2] = p
            if degree > LONGEST_SEARCH:
                counts[p] = 3 * degree
                continue
            size = 0
            remaining = degree
            while remaining > 0:
                # A fan begins where no other triangle leads to, or anywhere if it is closed.
                at = -1
                for k in range(degree):
                    if left[k] == 1:
                        led = False
                        for j in range(degree):
                            if left[j] == 1 and end[j] == begin[k]:
                                led = True
                                break
                        if at < 0 or not led:
                            at = k
                        if not led:
                            break
                first = begin[at]
                whole = remaining == degree
                last = first
                while at >= 0:
                    ring[size] = begin[at]
                    size += 1
                    last = end[at]
                    left[at] = 0
                    remaining -= 1
                    at = -1
                    for k in range(degree):
                        if left[k] == 1 and begin[k] == last:
                            at = k
                            break
                if not (whole and remaining == 0 and last == first):
                    ring[size] = last
                    ring[size + 1] = p
                    size += 2
            counts[p] = size


@kernel(types.void(I1, I1, I1, I1W), first=80)
def _gather(room, starts, begins, out):  # type: ignore[no-untyped-def]
    for p in prange(begins.shape[0] - 1):
        first, begin = 3 * starts[p], begins[p]
        # A slice would do, but takes 3 s to compile for one thread.
        for k in range(begins[p + 1] - begin):
            out[begin + k] = room[first + k]


def rings(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    """Where each point's ring begins, (P + 1,), and the points of the rings, both int32.

    All faces of ``topology`` have three corners. Found once and kept with it.
    """
    kept: tuple[np.ndarray, np.ndarray] | None = topology.__dict__.get("_rings")
    if kept is None:
        starts, faces = topology.point_faces
        counts = np.empty(topology.point_count, np.int32)
        room = np.empty(3 * len(topology.corners), np.int32)
        _walk(topology.corners.reshape(-1, 3), starts, faces, counts, room)
        begins = np.zeros(topology.point_count + 1, np.int32)
        np.cumsum(counts, out=begins[1:])
        around = np.empty(begins[-1], np.int32)
        _gather(room, starts, begins, around)
        kept = topology.__dict__["_rings"] = (begins, around)
    return kept
