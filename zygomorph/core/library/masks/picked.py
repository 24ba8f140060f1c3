"""Elements that were picked on the stage."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.elements import elements_of
from zygomorph.core.geodesic import distance_from
from zygomorph.core.masks.at_rest import once_at_rest
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, number, picked


def flags(runs: Sequence[Sequence[int]], count: int) -> np.ndarray:
    """(count,) bool: which elements the runs, (first, how many) each, hold; those beyond the
    last element are left out."""
    found = np.zeros(count, bool)
    for first, many in runs:
        found[first : first + many] = True
    return found


def runs_of(chosen: np.ndarray) -> list[list[int]]:
    """Flags, (n,) bool, as runs of (first, how many)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], chosen, [False]]).astype(np.int8)))
    return [[int(a), int(b - a)] for a, b in zip(edges[::2], edges[1::2], strict=True)]


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    elements = elements_of(mesh, values.word("of"))
    chosen = flags(values.word("picked"), len(elements)).astype(np.float32)
    weights = elements.at_points(chosen)
    soft = values.scalar("soft")
    if soft <= 0 or not chosen.any():
        return weights

    def away() -> np.ndarray:
        at = replace(mesh, points=mesh.rest)
        # Of a face, all its points are picked.
        return distance_from(at.topology, at.points, np.flatnonzero(weights > 0), lines=True)

    far = once_at_rest(mesh, ("picked", values.word("of")), away, of=values.word("picked"))
    return np.maximum(weights, 1 - far / soft).astype(np.float32)


DEFINITION = Definition(
    sort="layer",
    key="picked",
    title="Picked",
    group="drawn",
    help="The elements that you pick on the stage: by click, by box, or by where they face.",
    also=("select", "selection", "chosen", "faces"),
    values={
        "of": choice(
            "faces",
            "Of",
            "What is picked.",
            {"points": "points", "faces": "faces", "shards": "shards", "curves": "curves"},
        ),
        "picked": picked("Picked", "The elements that are in."),
        "soft": number(
            0.0,
            "Soft rim",
            "How far it falls off beyond them, along the surface at rest.",
            "m",
            (0.0, 1.0),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
    },
    sentence="picked {of}",
    apply=apply,
    surface=True,
    handle="pick",
    order=64,
)
