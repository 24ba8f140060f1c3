"""Elements that were picked on the stage."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geodesic import distance_from
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.runs import flags
from zygomorph.core.masking.at_rest import once_at_rest
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import DRAWN
from zygomorph.core.values.value import choice, number, picked


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    elements = elements_of(mesh, values.discrete("of"))
    chosen = flags(values.discrete("picked"), len(elements)).astype(np.float32)
    weights = elements.at_points(chosen)
    soft = values.scalar("soft")
    if soft <= 0 or not chosen.any():
        return weights

    def away() -> np.ndarray:
        at = replace(mesh, points=mesh.rest)
        # Of a face, all its points are picked.
        return distance_from(at.topology, at.points, np.flatnonzero(weights > 0), lines=True)

    far = once_at_rest(mesh, ("picked", values.discrete("of")), away, of=values.discrete("picked"))
    return np.maximum(weights, 1 - far / soft).astype(np.float32)


DEFINITION = MaskDefinition(
    key="picked",
    title="Picked",
    group=DRAWN,
    help="The elements that you pick on the stage: by click, by box, or by where they face.",
    also=("select", "selection", "chosen", "faces"),
    values={
        "of": choice(
            "faces",
            "Of",
            "What is picked.",
            {
                "points": "points",
                "faces": "faces",
                "shards": "shards",
                "copies": "copies",
                "curves": "curves",
            },
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
    begins_empty=True,
    reach="neighbourhood",
    handle="pick",
    on_copies="base",
    order=64,
)
