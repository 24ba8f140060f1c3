"""Push every point out along its normal."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.extent import extent_of
from zygomorph.core.mesh import Mesh
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.pushing import push
from zygomorph.core.values import number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    height = np.ones(len(mesh.points), np.float32)
    normals = point_normals(mesh)
    return mesh.moved(push(mesh.points, normals, height, values.array("amount"), weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"amount": found.share(0.08)} if found else {}


DEFINITION = Definition(
    sort="step",
    key="inflate",
    title="Inflate",
    group="push",
    help="Swells the surface along its normals, or shrinks it.",
    also=("fatten", "swell", "push", "offset", "puff"),
    values={
        "amount": number(0.1, "Amount", "How far out; below 0, inwards.", "m", (-0.5, 0.5)),
    },
    sentence="Inflate by {amount}",
    apply=apply,
    each=frozenset({"amount"}),
    suggest=suggest,
    order=20,
)
