"""Displacement: how far the points are from where they are at rest."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.span import between
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, number

_SET = ("range", ("set",))


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    apart = mesh.points - mesh.rest
    far = np.sqrt(np.einsum("ij,ij->i", apart, apart))
    if values.discrete("range") == "found":
        return far / np.maximum(far.max(initial=0), np.float32(1e-9))
    return between(far, values.array("low"), values.array("high"))


DEFINITION = MaskDefinition(
    key="displacement",
    title="Displacement",
    group=SURFACE,
    help="Rises with how far the points were moved from the rest shape.",
    also=("moved", "offset", "amount", "distance from rest"),
    values={
        "range": choice(
            "found",
            "Between",
            "What is told apart.",
            {"found": "none and the most there is", "set": "two lengths in metres"},
        ),
        "low": number(
            0.0,
            "From",
            "Moved this far, the weight is 0.",
            "m",
            (0.0, 2.0),
            hard=(-1e6, 1e6),
            shown_when=_SET,
        ),
        "high": number(
            0.5,
            "To",
            "Moved this far, the weight is 1.",
            "m",
            (0.0, 2.0),
            hard=(-1e6, 1e6),
            shown_when=_SET,
        ),
    },
    sentence="displacement[ from {low} to {high}]",
    apply=apply,
    acts_on=lambda mesh: mesh.rest is not mesh.points and bool((mesh.rest != mesh.points).any()),
    per_element=frozenset({"low", "high"}),
    order=56,
)
