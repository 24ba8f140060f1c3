"""Local axes of a deformer: an origin, a spine, and two directions across it."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.value import Value, direction, number, vector

AXIS_VALUES: dict[str, Value] = {
    "axis": direction((0.0, 1.0, 0.0), "Axis", "The direction along which it acts.", main=False),
    "centre": vector((0.0, 0.0, 0.0), "Centre", "A point on the axis.", main=False),
    "low": number(
        -0.5, "From", "Where it begins, along the axis from the centre.", "m", (-3.0, 3.0)
    ),
    "high": number(0.5, "To", "Where it ends, along the axis from the centre.", "m", (-3.0, 3.0)),
}


def axis_frame(values: Resolved, turn_degrees: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """(3, 3) float32 rows (side, spine, other side), right-handed, and the (3,) float32 centre."""
    return spine_rows(tuple(values.vector("axis").tolist()), turn_degrees), values.vector(
        "centre"
    ).astype(np.float32)


@lru_cache(maxsize=256)
def spine_rows(axis: tuple[float, ...], turn_degrees: float = 0.0) -> np.ndarray:
    """(3, 3) float32 rows (side, spine, other side) of a spine in this direction, right-handed."""
    spine = unit(np.array(axis))
    # For the common axes the sides are the coordinate axes.
    helper = np.array([1.0, 0.0, 0.0]) if abs(spine[0]) < 0.9 else np.array([0.0, 0.0, -1.0])
    side = unit(helper - spine * (helper @ spine))
    other = np.cross(side, spine)
    angle = np.radians(turn_degrees)
    # Right-handed about the spine, as a turn is.
    turned = np.cos(angle) * side - np.sin(angle) * other
    rows = np.stack([turned, spine, np.cross(turned, spine)])
    return rows.astype(np.float32)


def limits(values: Resolved) -> tuple[np.ndarray, np.ndarray]:
    """Begin and end along the spine, in order, (1,) or (n,) float32 each."""
    low, high = values.array("low"), values.array("high")
    return np.minimum(low, high), np.maximum(low, high)


# A form lower than this share of its longest side lies flat.
FLAT = 0.05


def spine_of(size: np.ndarray) -> int:
    """The axis along which a form of this size, (3,), is told apart: upright, or along the longest
    side of one that lies flat."""
    return int(size.argmax()) if size[1] < FLAT * size.max() else 1


def limits_of(mesh: Mesh) -> dict[str, Any]:
    """Limits that hold the whole mesh along an axis through its middle: upright, or along the
    longest side of a form that lies flat and would have nothing to bend upright."""
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    size = high - low
    axis = spine_of(size)
    half = round(float(size[axis]) / 2, 4) or 0.5
    return {
        "axis": np.eye(3)[axis].tolist(),
        "centre": [round(float(m), 4) for m in (low + high) / 2],
        "low": -half,
        "high": half,
    }


def has_width(mesh: Mesh) -> bool:
    """Whether a mesh is more than a straight line: that turns about itself and has no width."""
    if len(mesh.points) < 3:
        return False
    spread = np.linalg.svd(mesh.points - mesh.points.mean(axis=0), compute_uv=False)
    return bool(spread[1] > 1e-4 * spread[0])
