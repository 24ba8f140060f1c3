"""A step that something carries: it happens where it would had its carrier not moved, and what it
made moves with the carrier."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from zygomorph.core.carriers import inverse
from zygomorph.core.context import Context, Other
from zygomorph.core.mesh import Mesh
from zygomorph.core.place import transformed
from zygomorph.core.resolve import Resolved

Apply = Callable[[Mesh, Resolved, np.ndarray, Context], Mesh]


def riding(apply: Apply, since: np.ndarray | None) -> Apply:
    """The work of a step, carried.

    since : (4, 4) how the carrier has moved since the step was attached, in the piece; None where
        nothing carries it
    """
    if since is None:
        return apply
    back = inverse(since)

    def carried(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
        def other(piece: str) -> Other:
            found = context.other(piece)
            return replace(found, matrix=back @ found.matrix)

        # What is measured on the stage is measured there as it was, too: see PlannedStep.since.
        there = replace(context, other=other)
        made = apply(mesh.moved(transformed(mesh.points, back)), values, weights, there)
        return made.moved(transformed(made.points, since))

    return carried
