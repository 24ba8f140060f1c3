"""Distances in local axes, by which solids and bands weigh points."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.kernels.structure_of_arrays import split, transform

# What is measured of a point in local axes, of which y is the axis.
MEASURES = ("box", "cylinder", "ring", "along", "from_centre", "from_axis", "turn")


@kernel(types.void(F2, F2, types.int32, F1, F1, F1, F1, F1W))
def measure_points(points, rows, kind, a, b, c, soft, out):  # type: ignore[no-untyped-def]
    """kind : number of MEASURES. Of a solid, 0 at its rim and 1 where it has become full, of
    which the lengths a, b, c say where its rim is and soft which share of them is its shell; of
    the others a length in metres, or an angle in cycles."""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((7, BLOCK), np.float32)
        x, y, z, ra, rb, rc, s = (
            work[0],
            work[1],
            work[2],
            work[3],
            work[4],
            work[5],
            work[6],
        )
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(a, lo, m, ra)
            load(b, lo, m, rb)
            load(c, lo, m, rc)
            load(soft, lo, m, s)
            split(flat, lo, m, x, y, z)
            transform(rows, m, x, y, z)
            w = out[lo : lo + m]
            if kind == 0:
                for i in range(m):
                    dx = (ra[i] - abs(x[i])) / (ra[i] * s[i])
                    dy = (rb[i] - abs(y[i])) / (rb[i] * s[i])
                    dz = (rc[i] - abs(z[i])) / (rc[i] * s[i])
                    w[i] = min(dx, min(dy, dz))
            elif kind == 1:
                for i in range(m):
                    across = np.sqrt(x[i] * x[i] + z[i] * z[i])
                    da = (ra[i] - across) / (ra[i] * s[i])
                    db = (rb[i] - abs(y[i])) / (rb[i] * s[i])
                    w[i] = min(da, db)
            elif kind == 2:
                for i in range(m):
                    across = np.sqrt(x[i] * x[i] + z[i] * z[i]) - ra[i]
                    w[i] = (rb[i] - np.sqrt(across * across + y[i] * y[i])) / (rb[i] * s[i])
            elif kind == 3:
                for i in range(m):
                    w[i] = y[i]
            elif kind == 4:
                for i in range(m):
                    w[i] = np.sqrt(x[i] * x[i] + y[i] * y[i] + z[i] * z[i])
            elif kind == 5:
                for i in range(m):
                    w[i] = np.sqrt(x[i] * x[i] + z[i] * z[i])
            else:
                for i in range(m):
                    # Right-handed about y: from the side towards minus the other side.
                    w[i] = np.arctan2(-z[i], x[i]) / float32(2.0 * np.pi)
