"""The order of the elements of a mesh, from 0 for the first to 1 for the last: along it a value is
spread or delayed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.geometry.affine import transformed, unit
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.per_element import DEFAULTS


def _span(values: np.ndarray) -> np.ndarray:
    """Values from their least to their greatest as 0 to 1; 0 where all are one."""
    if len(values) == 0:
        return values
    low, high = values.min(), values.max()
    return (values - low) / max(float(high - low), 1e-12)


def order_of(
    given: Mapping[str, Any], mesh: Mesh, context: Context, of: str = "points"
) -> np.ndarray:
    """(n,) float64 from 0 to 1: the place of the element of each point, or of each of what ``of``
    names, in the order.

    given : as the document has it (see :mod:`zygomorph.core.values.per_element`)

    Raises ZygomorphError where the mesh has no such elements, or the other piece is not there.
    """
    asked = DEFAULTS | {k: v for k, v in given.items() if k in DEFAULTS}
    elements = elements_of(mesh, asked["over"])
    if asked["by"] == "order":
        ids = elements.ids()
        found = ids.astype(np.float64) / max(int(ids.max(initial=0)), 1)
    elif asked["by"] == "position":
        found = _span(elements.centres.astype(np.float64) @ unit(np.array(asked["axis"])))
    elif asked["by"] == "chance":
        found = chance(elements.ids(), asked["seed"]).astype(np.float64)
    else:
        found = _span(_distance(asked, elements.centres, context))
    if asked["reverse"]:
        found = 1 - found
    if asked["over"] == of:
        return found
    wanted = elements_of(mesh, of)
    return wanted.from_others(found.astype(np.float32), elements).astype(np.float64)


def _distance(asked: Mapping[str, Any], centres: np.ndarray, context: Context) -> np.ndarray:
    """(K,) metres from a point of the piece, from the camera, or from another piece's surface."""
    if asked["by"] == "piece":
        _, away, _ = search_other(context.other(asked["piece"]), context).nearest(centres)
        return away
    origin, places = np.array(asked["origin"]), centres
    if asked["by"] == "camera":
        origin, places = context.viewer, transformed(centres, context.place)
    found: np.ndarray = np.linalg.norm(places.astype(np.float64) - origin, axis=1)
    return found
