"""The mask of a step that is watched on the stage, followed through the steps after it to what is
drawn in the end."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from zygomorph.core.evaluation.apply_step import Applied, Weighed
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.runs import ragged


class Watched(NamedTuple):
    """weights : (n,) or (1,) float32, of what ``weighed`` says"""

    weights: np.ndarray
    weighed: Weighed


def watched(before: Geometry | None, made: Applied) -> Watched:
    """The mask of a step, at the points or copies that it acted on.

    before : what the step was given
    """
    weights = made.weights
    if before is None or made.units == "points" or len(weights) == 1:
        return Watched(weights, made.weighed)
    meshes = before.bases if made.weighed == "bases" else (before.real,)
    parts, first = [], 0
    for mesh in meshes:
        elements = elements_of(mesh, made.units)
        own = weights[first : first + len(elements)]
        parts.append(elements.at_points(np.ascontiguousarray(own)))
        first += len(elements)
    return Watched(np.concatenate(parts), made.weighed)


def at_written_points(geometry: Geometry, known: Watched) -> np.ndarray:
    """A mask of copies or bases at the points of the mesh in which all copies are written out."""
    table = geometry.copies
    if table is None or len(known.weights) == 1:
        return known.weights
    counts = np.array([len(mesh.points) for mesh in geometry.bases])
    if known.weighed == "copies":
        return np.repeat(known.weights, counts[table.base])
    starts = np.cumsum(counts) - counts
    found: np.ndarray = known.weights[ragged(starts[table.base], counts[table.base])]
    return found


def followed(known: Watched, before: Geometry, made: Applied) -> Watched:
    """The mask after a step: at the elements that come from those it was of.

    before : what the step was given
    """
    weights, weighed = known
    after = made.geometry
    if len(weights) == 1:
        return known
    # The step's own mask may be of what it made, or of all copies written out, already.
    if before.copies is not None and after.copies is None and weighed != "points":
        weights, weighed = at_written_points(before, known), "points"
    elif after.copies is not None and before.copies is None and weighed == "points":
        weighed = "bases"
    elif after.copies is not None and weighed == "copies":
        weights = np.tile(weights, len(after.copies) // max(len(weights), 1))
    if made.origins is None or weighed == "copies":
        return Watched(weights, weighed)
    parts, first = [], 0
    for origin, count in made.origins:
        own = np.ascontiguousarray(weights[first : first + count])
        if len(origin.parents) and origin.parents.max() >= count:
            # Other pieces were taken in behind it, of which the mask knows nothing.
            own = np.pad(own, (0, int(origin.parents.max()) + 1 - count))
        parts.append(origin.carry(own))
        first += count
    return Watched(np.concatenate(parts), weighed)
