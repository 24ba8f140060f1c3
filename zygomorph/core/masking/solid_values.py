"""Values that several solid layers share, and values that suit a mesh."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.value import Value, direction, number, vector


def softness(of: str) -> Value:
    return number(
        60.0,
        "Softness",
        f"Share of {of} over which it falls off.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
    )


def centre(of: str) -> Value:
    return vector((0.0, 0.0, 0.0), "Centre", f"The middle of {of}.")


def axis(help: str) -> Value:
    return direction((0.0, 1.0, 0.0), "Axis", help)


def length(default: float, label: str, help: str, **more: Any) -> Value:
    return number(default, label, help, "m", (0.01, 3.0), hard=(0.0, 1e6), **more)


def box_of_mesh(mesh: Mesh) -> tuple[np.ndarray, np.ndarray] | None:
    """Middle and size of a mesh, each (3,) metres; None without points."""
    if len(mesh.points) == 0:
        return None
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    return (low + high) / 2, high - low


def rounded(vector_: np.ndarray) -> list[float]:
    return [round(float(v), 3) for v in vector_]
