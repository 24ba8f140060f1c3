"""A step with a parent is applied in the parent's space: it acts where it would had the parent not
moved since the step was attached, and its result moves with the parent."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import inverse, transformed
from zygomorph.core.geometry.mesh import Mesh

Apply = Callable[[Mesh, Resolved, np.ndarray, Context], Mesh]


def in_parent_space(apply: Apply, motion: np.ndarray | None) -> Apply:
    """The work of a step, applied in its parent's space.

    motion : (4, 4) how the parent has moved since the step was attached, in the piece's own
        coordinates; None for a step without a parent
    """
    if motion is None:
        return apply
    back = inverse(motion)

    def moved(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
        def other(piece: str) -> Other:
            found = context.other(piece)
            return replace(found, matrix=back @ found.matrix)

        # What is measured on the stage is measured there as it was, too: see PlannedStep.motion.
        there = replace(context, other=other)
        made = apply(mesh.moved(transformed(mesh.points, back)), values, weights, there)
        return made.moved(transformed(made.points, motion))

    return moved
