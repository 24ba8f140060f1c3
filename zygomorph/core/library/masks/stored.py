"""A weight that an earlier step stored under a name."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.mesh import MASK, Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import Value


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    name = values.word("name")
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


DEFINITION = Definition(
    sort="layer",
    key="stored",
    title="Stored mask",
    group="elements",
    help="The weight that a step above stored under a name.",
    also=("saved", "remembered", "named"),
    values={"name": Value("text", "", "Name", "The name it was stored under.", moves=False)},
    sentence="stored as {name}",
    apply=apply,
    alone=True,
    order=90,
)
