"""Points as a solid layer sees them: along its own axes, from its own centre."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.masks.measured import measured_points
from zygomorph.core.mesh import Mesh
from zygomorph.core.place import rotation
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import axis_frame
from zygomorph.core.triples import apart, transform

ONE = np.ones(1, np.float32)

# What is measured of a point in local axes, of which y is the axis.
MEASURES = ("box", "cylinder", "ring", "along", "from_centre", "from_axis", "turn")


@kernel(types.void(F2, F2, types.int32, F1, F1, F1, F1, F1W))
def _measure(points, rows, kind, a, b, c, soft, out):  # type: ignore[no-untyped-def]
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
            apart(flat, lo, m, x, y, z)
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


def seen_from(turn: np.ndarray, origin: np.ndarray) -> np.ndarray:
    """(3, 4) float32 rows that carry a point into axes ``turn`` (3, 3) at an origin."""
    return np.ascontiguousarray(
        np.concatenate([turn, -(turn @ origin)[:, None]], axis=1), np.float32
    )


def axis_rows(values: Resolved) -> np.ndarray:
    """Rows of a layer with an axis and a centre."""
    turn, centre = axis_frame(values)
    return seen_from(turn.astype(np.float64), centre.astype(np.float64))


def turned_rows(values: Resolved) -> np.ndarray:
    """Rows of a layer with three turns and a centre."""
    return seen_from(rotation(values.vector("turn")).T, values.vector("centre"))


def measure(
    kind: str,
    mesh: Mesh,
    values: Resolved,
    context: Context,
    rows: np.ndarray,
    *lengths: np.ndarray,
    soft: np.ndarray = ONE,
) -> np.ndarray:
    """One of MEASURES at the points, (P,) float32.

    lengths : up to three, each (1,) or (P,) metres
    soft : (1,) or (P,), a share
    """
    tiny = np.float32(1e-6)
    a, b, c = [np.maximum(x, tiny) for x in lengths] + [ONE] * (3 - len(lengths))
    points = measured_points(mesh, values, context)
    out = np.empty(len(points), np.float32)
    _measure(points, rows, MEASURES.index(kind), a, b, c, np.maximum(soft, tiny), out)
    return out
