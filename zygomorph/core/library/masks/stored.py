"""A weight that an earlier step stored under a name."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import ELEMENTS
from zygomorph.core.values.value import Value


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    name = values.discrete("name")
    stored = mesh.get("point", MASK + name)
    if stored is None:
        known = [
            n.removeprefix(MASK) for n in mesh.attributes.get("point", {}) if n.startswith(MASK)
        ]
        raise ZygomorphError(
            f"No mask is stored under the name {name!r} above this step.",
            f"Stored here: {', '.join(known)}."
            if known
            else "Give the mask of a step above a name to store it.",
        )
    return stored


DEFINITION = MaskDefinition(
    key="stored",
    title="Stored mask",
    group=ELEMENTS,
    help="The weight that a step above stored under a name.",
    also=("saved", "remembered", "named"),
    values={"name": Value("text", "", "Name", "The name it was stored under.", moves=False)},
    sentence="stored as {name}",
    apply=apply,
    begins_empty=True,
    reach="pointwise",
    order=90,
)
