"""Copies that a USD file places by an instancer: each as if it stood there itself."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError

MOST_COPIES = 200_000


def placed_copies(instancer: Any) -> Iterator[tuple[Any, np.ndarray]]:
    """The prim that is copied, and where each copy is put in the instancer's own space, (4, 4);
    points are rows before it."""
    from pxr import Usd, UsdGeom

    first = Usd.TimeCode.EarliestTime()
    prim = instancer.GetPrim()
    sources = [
        prim.GetStage().GetPrimAtPath(path)
        for path in instancer.GetPrototypesRel().GetForwardedTargets()
    ]
    numbers = np.array(instancer.GetProtoIndicesAttr().Get(first) or [], np.int64)
    if len(numbers) > MOST_COPIES:
        raise MeshFileError(
            f"{prim.GetPath()} places {len(numbers):,} copies; the limit is {MOST_COPIES:,}.",
            "Export fewer, or bring in what is copied alone.",
        )
    if len(numbers) and not (numbers.min() >= 0 and numbers.max() < len(sources)):
        raise MeshFileError(
            f"{prim.GetPath()} copies something that is not there.",
            "The file is damaged; export it again.",
        )
    mask = list(instancer.ComputeMaskAtTime(first))
    places = instancer.ComputeInstanceTransformsAtTime(
        first,
        first,
        UsdGeom.PointInstancer.IncludeProtoXform,
        UsdGeom.PointInstancer.IgnoreMask,
    )
    if len(places) != len(numbers):
        raise MeshFileError(
            f"{prim.GetPath()} places {len(places):,} copies but names {len(numbers):,}.",
            "The file is damaged; export it again.",
        )
    for k, (number, place) in enumerate(zip(numbers.tolist(), places, strict=True)):
        if not mask or mask[k]:
            yield sources[number], np.array(place, np.float64)
