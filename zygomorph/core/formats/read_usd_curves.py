"""Curves of a USD file as points in order.

Cubic ones are followed through their segments. The matrices and how ends are treated: the schema of
UsdGeomBasisCurves in OpenUSD.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError

# From (t³, t², t, 1) to the weights of four control points.
BASES = {
    "bezier": np.array([[-1, 3, -3, 1], [3, -6, 3, 0], [-3, 3, 0, 0], [1, 0, 0, 0]], float),
    "bspline": np.array([[-1, 3, -3, 1], [3, -6, 3, 0], [-3, 0, 3, 0], [1, 4, 1, 0]]) / 6,
    "catmullRom": np.array([[-1, 3, -3, 1], [2, -5, 4, -1], [-1, 0, 1, 0], [0, 2, 0, 0]]) / 2,
}
# Points along each segment.
SPAN = 12


def followed(points: np.ndarray, basis: str, wrap: str) -> np.ndarray:
    """(N, 3) points along a cubic curve through its control points, (n, 3); a periodic one ends
    where it begins. Fewer control points than a segment needs are joined by straight lines."""
    step = 3 if basis == "bezier" else 1
    if wrap == "pinned" and basis != "bezier" and len(points) > 1:
        # One more point at each end, so that the curve begins and ends at its own.
        before, after = 2 * points[0] - points[1], 2 * points[-1] - points[-2]
        points = np.concatenate([[before], points, [after]])
    count = len(points) // step if wrap == "periodic" else (len(points) - 4) // step + 1
    if len(points) < (3 if wrap == "periodic" else 4) or count < 1:
        return points
    first = np.arange(count) * step
    control = points[(first[:, None] + np.arange(4)) % len(points)]
    t = np.arange(SPAN) / SPAN
    powers = np.stack([t**3, t**2, t, np.ones(SPAN)], axis=1)
    along = np.einsum("tk,skc->stc", powers @ BASES[basis], control).reshape(-1, 3)
    end = np.ones(4) @ BASES[basis] @ control[-1]
    return np.concatenate([along, [end]])


def curve_arrays(curves: Any) -> list[np.ndarray]:
    """(N, 3) points of each curve of a prim, in its own space."""
    from pxr import Usd

    first = Usd.TimeCode.EarliestTime()
    given = curves.GetPointsAttr().Get(first)
    points = np.array(given if given is not None else [], np.float64).reshape(-1, 3)
    counts = np.array(curves.GetCurveVertexCountsAttr().Get(first) or [], np.int64)
    if counts.sum() != len(points) or (counts < 0).any():
        raise MeshFileError(
            f"{curves.GetPrim().GetPath()} announces {int(counts.sum()):,} points of curves but "
            f"has {len(points):,}.",
            "The file is damaged; export it again.",
        )
    kind, basis, wrap = (
        str(attribute.Get())
        for attribute in (curves.GetTypeAttr(), curves.GetBasisAttr(), curves.GetWrapAttr())
    )
    found = []
    for own in np.split(points, np.cumsum(counts)[:-1]):
        if kind == "cubic" and basis in BASES:
            found.append(followed(own, basis, wrap))
        elif wrap == "periodic" and len(own):
            found.append(np.concatenate([own, own[:1]]))
        else:
            found.append(own)
    return found
