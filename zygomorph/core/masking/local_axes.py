"""Points as a solid layer sees them: along its own axes, from its own centre."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.masks.local_axes import MEASURES, measure_points
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.masking.measured import measured_points
from zygomorph.core.transforms.axis_frame import axis_frame

ONE = np.ones(1, np.float32)


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
    measure_points(points, rows, MEASURES.index(kind), a, b, c, np.maximum(soft, tiny), out)
    return out
